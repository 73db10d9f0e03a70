"""Reflect: some words for the trainer; read by a person, marked by nobody."""

from typing import Annotated, Any, Literal

from pydantic import Field

from leitfaden_core.errors import MissingPart
from leitfaden_core.lessons.item import Item
from leitfaden_core.lessons.kind import (
    BLANK,
    Mark,
    StationKind,
)
from leitfaden_core.lessons.shapes import (
    Answer,
    KeyPart,
    MarkedStation,
    StationDocument,
    StationKey,
    StationView,
)
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.words import say


class Reflect(StationDocument):
    """A question that is answered in words."""

    kind: Literal["reflect"] = "reflect"
    words: Annotated[int, Field(ge=0, le=200, title="words asked for")] = 5


class ReflectView(StationView):
    """So many words at least."""

    kind: Literal["reflect"] = "reflect"
    words: int


class ReflectAnswer(Answer):
    """What was written."""

    kind: Literal["reflect"] = "reflect"
    text: Annotated[str, Field(max_length=4000)] = ""


class ReflectKey(StationKey):
    """Nothing is right or wrong."""

    kind: Literal["reflect"] = "reflect"


class ReflectPart(KeyPart):
    """What was written."""

    text: str


class MarkedReflect(MarkedStation):
    """The words, for the debrief."""

    kind: Literal["reflect"] = "reflect"
    parts: list[ReflectPart] = []


class ReflectKind(StationKind[Reflect]):
    """Words for the trainer."""

    id = "reflect"
    marks = False
    document = Reflect
    view_shape = ReflectView
    answer_shape = ReflectAnswer
    key_shape = ReflectKey
    marked_shape = MarkedReflect

    def work(self, station: Reflect) -> float:
        return 3.0

    def view(self, item: Item[Reflect]) -> ReflectView:
        return ReflectView(**self.heading(item), words=item.station.words)

    def require(self, view: ReflectView, answer: ReflectAnswer) -> None:
        if len(answer.text.split()) < view.words:
            raise MissingPart(say("write at least {words} words", words=view.words))

    def mark(self, parts: object, answer: ReflectAnswer, units: UnitSystem) -> Mark:
        return Mark(None, [{"text": answer.text}])

    def right_answer(self, parts: object) -> ReflectAnswer:
        return ReflectAnswer(text="one two three four five " * 40)

    def printed(self, view: Any, parts: Any, units: UnitSystem) -> list[list[str]]:
        return [[BLANK * 3], [BLANK * 3]]
