"""What learners can do after a lesson: sixty aims, each with what a lesson for it is made of.

Sizes of faults are given to the model; what they show, and whether it can be told at all, is computed when a lesson is
proposed.
"""

from functools import lru_cache
from importlib import resources
from typing import Annotated, Any, Literal

import yaml
from pydantic import BaseModel, ConfigDict, Field

from leitfaden_core.atlas import Page, has_device
from leitfaden_core.atlas.documents import page_called
from leitfaden_core.errors import UnknownName
from leitfaden_core.faults import FaultSpec
from leitfaden_core.rigs import load_rig

Size = Literal["easy", "medium", "hard"]
Words = Annotated[str, Field(min_length=1)]


class _Entry(BaseModel):
    """Strict: a misspelt field is an error."""

    model_config = ConfigDict(extra="forbid", frozen=True)


class SizedFault(_Entry):
    """A fault at three sizes, perhaps on an engine of its own, perhaps with a ``second`` one at the same time.

    ``repaired``: the engine is sound, and only its memory was learned with the fault.
    """

    kind: Words
    rig: str = ""
    fixed: dict[str, Any] = {}
    repaired: bool = False
    easy: dict[str, Any] = {}
    medium: dict[str, Any] = {}
    hard: dict[str, Any] = {}
    second: dict[str, Any] | None = None
    easy_second: dict[str, Any] = {}
    medium_second: dict[str, Any] = {}
    hard_second: dict[str, Any] = {}

    def at(self, size: Size) -> list[FaultSpec]:
        """The faults at a size: one, or two where two are meant."""
        found = [FaultSpec(kind=self.kind, params=self.fixed | getattr(self, size))]
        if self.second is not None:
            params = self.second.get("fixed", {}) | getattr(self, f"{size}_second")
            found.append(FaultSpec(kind=self.second["kind"], params=params))
        return found


class LookAlike(_Entry):
    """A kind of fault that looks like those of the aim, and why."""

    kind: Words
    because: Words


class Misconception(_Entry):
    """What learners say, and what the physics answers."""

    says: Words
    feedback: Words


class ByHand(_Entry):
    """A step that is no test of the catalogue."""

    do: Words


class Aim(_Entry):
    """An aim: what learners can do afterwards (``can``), for whom, on which engines, and what it is practised on.

    ``show``: lanes from the start; ``hide``: those that give it away too early. ``pages``: its devices in the
    atlas, of which an engine's first one is meant.
    ``orders``: orders of tests that are equally good, by their ids or as what hands ``do``. ``after``: aims that
    should have been reached before.
    """

    id: Words
    title: Words
    can: Words
    pages: tuple[str, ...] = Field(min_length=1)
    family: Words
    level: Literal["start", "journeyman", "expert"]
    minutes: Annotated[int, Field(ge=25, le=180)]
    rigs: tuple[str, ...] = Field(min_length=1)
    why: Words
    faults: tuple[SizedFault, ...] = Field(min_length=1)
    conditions: tuple[str, ...] = Field(min_length=1)
    show: tuple[str, ...] = Field(min_length=1)
    hide: tuple[str, ...]
    hide_because: Words
    look_alikes: tuple[LookAlike, ...]
    calculations: tuple[str, ...]
    misconceptions: tuple[Misconception, ...]
    known_errors: tuple[str, ...]
    orders: tuple[tuple[str | ByHand, ...], ...]
    after: tuple[str, ...]


@lru_cache
def aims() -> dict[str, Aim]:
    """All aims by their ids, in the order of the list."""
    raw = yaml.load(resources.files(__package__).joinpath("aims.yaml").read_text(encoding="utf-8"), yaml.CSafeLoader)
    return {entry["id"]: Aim.model_validate(entry) for entry in raw}


def aim_called(name: str) -> Aim:
    """The aim of that id, or UnknownName."""
    known = aims()
    if name not in known:
        raise UnknownName("aim", name, known)
    return known[name]


def page_for(aim: Aim, rig: str) -> Page | None:
    """The aim's device on that engine; None where it has none of them."""
    engine = load_rig(rig)
    return next((page for name in aim.pages if has_device(page := page_called(name), engine)), None)
