"""What a kind of station has to say for itself. A new kind is one folder in ``kinds`` and one line in its registry."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from typing import Any, ClassVar, Generic

import numpy as np
from pydantic import BaseModel

from leitfaden_core.channels import channel
from leitfaden_core.errors import LeitfadenError
from leitfaden_core.faults import FaultSpec
from leitfaden_core.judge import SchoolRules
from leitfaden_core.lessons.item import D, Item, read_value
from leitfaden_core.lessons.pictures import Picture
from leitfaden_core.lessons.shapes import (
    Answer,
    KeyPart,
    MarkedStation,
    Override,
    ReadingPlace,
    Seen,
    StationKey,
    StationReading,
    StationView,
    reading_label,
)
from leitfaden_core.live import Beginning, Cover
from leitfaden_core.quantities import UnitSystem, parse_reading, shown, shown_difference
from leitfaden_core.scripts import condition
from leitfaden_core.simulate import Run
from leitfaden_core.words import inside, say


@dataclass(frozen=True)
class Remedy:
    """A change that answers a warning, ready to be made: its words; fields of the station, as plain data, that become
    others; fields of the lesson likewise; or the station is taken out, or goes ``behind`` another one.
    """

    says: str
    station: dict[str, Any] = field(default_factory=dict)
    lesson: dict[str, Any] = field(default_factory=dict)
    takes_out: bool = False
    behind: str = ""


@dataclass(frozen=True)
class FairnessWarning:
    """Something that a trainer should know about a station; the lesson may still be published. ``remedies``: what would
    answer it, the best one first.
    """

    station: str
    code: str
    text: str
    remedies: tuple[Remedy, ...] = ()


def taking_out() -> Remedy:
    """The station goes."""
    return Remedy(say("Take the station out"), takes_out=True)


def without(field_name: str, entries: Sequence[BaseModel | None], gone: set[int], fewest: int) -> tuple[Remedy, ...]:
    """A list of a station without the entries at these places, as long as so many are left; else the station goes."""
    kept = [entry.model_dump(mode="json") if entry else None for k, entry in enumerate(entries) if k not in gone]
    if len(kept) < fewest:
        return (taking_out(),)
    return (Remedy(say("Take out: {count}", count=len(gone)), {field_name: kept}),)


@dataclass(frozen=True)
class LaneWish:
    """What lanes a station shows: a run, its channels, the sound run beside it, and whether the bands are drawn."""

    run: Run
    channels: list[str]
    good: Run | None = None
    bands: bool = False


@dataclass(frozen=True)
class Draw:
    """A learner's draw. ``hardest``: of what is off, the least distance from sound engines, in their spreads; for
    causes, the least distance of a wrong one. How many are off, of how many.
    """

    hardest: float | None
    off: int
    of: int


@dataclass
class Mark:
    """Points of an answer (0..1; None: nothing to mark) and its parts, each as the marked shape wants them."""

    points: float | None
    parts: list[dict[str, Any]] = field(default_factory=list)


@dataclass(frozen=True)
class Consequence:
    """What comes of a choice, and whether somebody could have been hurt."""

    comes: str
    hurts: bool


@dataclass(frozen=True)
class Question:
    """A question that can be asked on paper: some options, one or more of them right, and why. ``statement``: it is a
    sentence that is true or not.
    """

    text: str
    options: list[tuple[str, bool]]
    reason: str = ""
    statement: bool = False


@dataclass(frozen=True)
class Ruling:
    """A part of a key that a trainer may overrule: its name, the same for every learner; its words; what it may be
    instead, in words, with the ``changes`` of the part that each makes, and what it is now; for a band, its quantity
    and ends.
    """

    part: str
    label: str
    options: dict[str, str] = field(default_factory=dict)
    now: str = ""
    changes: dict[str, dict[str, Any]] = field(default_factory=dict)
    quantity: str = ""
    low: float | None = None
    high: float | None = None


#: What stands on paper where an answer is to be written.
BLANK = "…………………………"
VERDICTS = {"good": "good", "suspect": "suspect", "faulty": "faulty", "not_decidable": "not decidable here"}


class StationKind(Generic[D]):
    """One kind of station: its shapes, and what it does with an item.

    A kind that only shows something keeps the defaults of everything about keys, answers and marks.
    """

    id: ClassVar[str]
    #: Whether it asks which readings mean something: then it may show some that do not.
    asks_meaning: ClassVar[bool] = False
    #: Whether it asks what is wrong with the car.
    asks_cause: ClassVar[bool] = False
    #: Whether an answer gets points.
    marks: ClassVar[bool] = True
    document: type[D]
    view_shape: type[StationView]
    answer_shape: type[Answer] = Seen
    key_shape: type[StationKey]
    marked_shape: type[MarkedStation]

    def places(self, station: D) -> list[ReadingPlace]:
        """Where it may read values."""
        return []

    def channels(self, station: D) -> list[str]:
        """Channels that the engine must have."""
        return [place.channel for place in self.places(station)]

    def causes(self, station: D) -> list[FaultSpec]:
        """Faults that it offers, besides those of its car."""
        return []

    def engines(self, station: D) -> list[tuple[FaultSpec, ...]]:
        """Simulated engines that its key asks for, besides the car: the faults of each."""
        return []

    def work(self, station: D) -> float:
        """What its questions take a learner in the middle, reading apart; a trainer's estimate. [min]"""
        return 1.0

    def texts(self, station: D) -> list[str]:
        """What it says is so, besides its text."""
        return []

    def names(self, station: D, faults: tuple[FaultSpec, ...]) -> list[FaultSpec]:
        """Faults of which a learner reads there that they are in question, of a car with these ``faults``."""
        return []

    def shows_sound(self, station: D, faults: tuple[FaultSpec, ...]) -> list[str]:
        """Channels that a learner sees there of a sound engine, over time."""
        return []

    def silenced(self, station: D) -> tuple[Remedy, ...]:
        """What keeps it from naming them."""
        return ()

    def cautions(self, station: D) -> tuple[str, ...]:
        """Cautions, by their ids, of what is done there on a real engine."""
        return ()

    def view(self, item: Item[D]) -> StationView:
        """What a learner sees, numbers included, key left out."""
        return self.view_shape(**self.heading(item))

    def heading(self, item: Item[D]) -> dict[str, Any]:
        """What every view begins with."""
        station = item.station
        return {
            "kind": self.id,
            "index": item.index,
            "id": station.id,
            "title": station.title,
            "text": station.text,
            "rig": item.rig.id,
        }

    def lanes(self, item: Item[D]) -> LaneWish | None:
        """The lanes that it shows, if any."""
        return None

    def pictures(self, station: D) -> list[Picture]:
        """Own pictures that it shows."""
        return []

    def engine(self, item: Item[D]) -> tuple[Beginning, Cover] | None:
        """The running engine that it gives a learner, and what may be touched on it, if any."""
        return None

    def key(self, item: Item[D], rules: SchoolRules | None, units: UnitSystem) -> Sequence[KeyPart]:
        """The right answers for this learner, each with its reason."""
        return []

    def draw(self, item: Item[D]) -> Draw | None:
        """How hard this learner's draw is; None where that has no measure."""
        return None

    def warnings(self, item: Item[D]) -> Iterator[FairnessWarning]:
        """What is unfair about it, for the trainer's own car."""
        return iter(())

    def runs_read(self, item: Item[D], place: ReadingPlace) -> list[Run]:
        """From which runs a value may be read at a place."""
        return [item.car.run]

    def answers(self, station: D) -> float:
        """Answers a second that a learner's tool gets there, where the field of that name makes it slow; else 0."""
        return 0.0

    def undefined(self, item: Item[D]) -> str | None:
        """The first reading that has no value, in words."""
        for place in self.places(item.station):
            if any(np.isnan(read_value(run, place)) for run in self.runs_read(item, place)):
                where = inside(condition(place.condition).label)
                return say(
                    "{reading_label} is not defined at {where}; take it out",
                    reading_label=reading_label(place),
                    where=where,
                )
        return None

    def rulings(self, part: Any, parts: Sequence[Any]) -> list[Ruling]:
        """How a part of its key may be overruled, beside all ``parts`` of it."""
        return []

    def banded(self, part: Any, by: Override) -> dict[str, Any]:
        """What of a part becomes another by a band of the trainer's own."""
        return {}

    def consequence(self, parts: Any, step: str, choice: str, taken: dict[str, str]) -> Consequence | None:
        """What comes of a choice at a step, by the parts of its key as plain data, after the steps ``taken``; None
        where nothing is done step by step. UnknownName or MissingPart for what cannot be chosen now.
        """
        return None

    def with_steps(self, answer: Any, taken: dict[str, str]) -> Any:
        """An answer with the choices that were made step by step: they stay as they were made."""
        return answer

    def require(self, view: Any, answer: Any) -> None:
        """Refuse an answer that cannot be marked: MissingPart or UnknownName with one sentence that helps. ``view`` is
        what the learner was shown.
        """

    def mark(self, parts: Any, answer: Any, units: UnitSystem) -> Mark:
        """Points for an answer by the parts of a key that was computed, and perhaps kept, before. Needs no model."""
        return Mark(None)

    def right_answer(self, parts: Any) -> Answer:
        """An answer that gets all points."""
        return self.answer_shape(kind=self.id)

    def printed(self, view: Any, parts: Any, units: UnitSystem) -> list[list[str]]:
        """Rows of a worksheet, the first one its heading, from a view as plain data; with the parts of a key, the
        answers stand in it.
        """
        return []

    def questions(self, view: Any, parts: Any, units: UnitSystem) -> list[Question]:
        """What of it can be asked as questions with options, from a view and the parts of its key as plain data."""
        return []

    def weaknesses(self, parts: Any) -> tuple[int, int]:
        """In marked parts: faulty readings called good, and good readings called faulty."""
        return 0, 0


#: How much farther off, or nearer, a trainer may want an answer to be to be accepted. [-]
WIDER = {"half": 0.5, "double": 2.0, "fivefold": 5.0}


def tolerance_ruling(part: str, label: str, wider: Callable[[float], dict[str, Any]]) -> Ruling:
    """What is accepted around a value may be another; ``wider`` gives the changes of the part for a factor."""
    words = {
        "half": say("accept only half as far off"),
        "double": say("accept twice as far off"),
        "fivefold": say("accept five times as far off"),
    }
    return Ruling(part, label, words, changes={name: wider(times) for name, times in WIDER.items()})


def at_its_place(reading: StationReading) -> str:
    """A reading in words, with its condition."""
    return say("{reading} at {where}", reading=reading.label, where=inside(reading.condition_label))


def empty_lane(run: Run, channels: list[str]) -> str | None:
    """The first lane without a value anywhere along the run, in words."""
    empty = next((name for name in channels if not np.isfinite(run.lanes[name]).any()), None)
    return None if empty is None else say("{label} has no value anywhere along this script", label=channel(empty).label)


def value_in_words(reading: dict[str, Any], units: UnitSystem) -> str:
    """The value of a reading, as plain data, with its unit; a dash where there is none."""
    if reading["value"] is None:
        return "–"
    return shown(reading["value"], reading["quantity"], reading["step"], units)


def typed_marked(part: dict[str, Any], text: str, units: UnitSystem) -> dict[str, Any]:
    """A reading of a key, as plain data with ``value`` and ``tolerance`` in the unit in which its quantity is kept,
    beside what was typed: points (1 within the tolerance, else 0), and how far off it is in the learner's units.
    """
    try:
        given = parse_reading(text, part["quantity"])
    except LeitfadenError as error:
        return part | {"given": text, "given_value": None, "points": 0.0, "reason": error.message}
    off = abs(given - part["value"])
    points = float(off <= part["tolerance"])
    wide, limit = (shown_difference(size, part["quantity"], units) for size in (off, part["tolerance"]))
    judged = say("Read right") if points else say("Off by {wide}; accepted is within {limit}", wide=wide, limit=limit)
    told = say("{judged}. {reason}", judged=judged, reason=part["reason"])
    return part | {"given": text, "given_value": given, "points": points, "reason": told}
