"""Predict: what will each reading do when the fault is there? Said before it is seen; the model decides."""

from collections.abc import Iterator, Sequence
from typing import Annotated, Any, Literal

from pydantic import Field

from leitfaden_core.errors import MissingPart
from leitfaden_core.expect import band_of
from leitfaden_core.faults import FaultSpec, describe_fault
from leitfaden_core.judge import SchoolRules, reading_scale
from leitfaden_core.lessons.item import Item, read_value, reading_of
from leitfaden_core.lessons.kind import (
    Draw,
    FairnessWarning,
    Mark,
    Question,
    Remedy,
    Ruling,
    StationKind,
    at_its_place,
    taking_out,
    value_in_words,
    without,
)
from leitfaden_core.lessons.shapes import (
    Answer,
    KeyPart,
    MarkedStation,
    ReadingPlace,
    StationDocument,
    StationKey,
    StationReading,
    StationView,
)
from leitfaden_core.quantities import UnitSystem, shown_number, unit_words
from leitfaden_core.rigs import shown_quantity
from leitfaden_core.simulate import Run
from leitfaden_core.words import inside, say

Way = Literal["higher", "lower", "same"]
WAYS: tuple[Way, ...] = ("higher", "lower", "same")
#: A reading has moved when it lies further from the sound car's than this many standard deviations of healthy engines,
#: and by more than a step of its display; it is the same below a third of that. Between the two it is no question.
MOVED, STAYED = 1.5, 0.5


class Predict(StationDocument):
    """Readings of which a learner says which way they go when the faults of the engine come in."""

    kind: Literal["predict"] = "predict"
    readings: Annotated[list[ReadingPlace], Field(min_length=1, max_length=8, title="readings")]
    tell_fault: Annotated[bool, Field(title="fault told")] = True


class PredictView(StationView):
    """Readings of the sound car, and what is going to be wrong."""

    kind: Literal["predict"] = "predict"
    readings: list[StationReading]
    what_if: str = ""


class PredictAnswer(Answer):
    """A way for each reading, None where there is none yet."""

    kind: Literal["predict"] = "predict"
    ways: Annotated[list[Way | None], Field(max_length=8)] = []


class PredictPart(KeyPart, StationReading):
    """A reading with where it went."""

    way: Way
    faulty_value: float | None
    reason: str


class PredictKey(StationKey):
    """Where each went."""

    kind: Literal["predict"] = "predict"
    parts: list[PredictPart] = []


class MarkedPredictPart(PredictPart):
    """A reading with what was predicted."""

    given: str | None = None
    points: float | None = None


class MarkedPredict(MarkedStation):
    """Predicted beside what happened."""

    kind: Literal["predict"] = "predict"
    parts: list[MarkedPredictPart] = []


class PredictKind(StationKind[Predict]):
    """Which way will it go?"""

    id = "predict"
    document = Predict
    view_shape = PredictView
    answer_shape = PredictAnswer
    key_shape = PredictKey
    marked_shape = MarkedPredict

    def places(self, station: Predict) -> list[ReadingPlace]:
        return station.readings

    def runs_read(self, item: Item[Predict], place: ReadingPlace) -> list[Run]:
        return [item.car.run, item.car.good]

    def work(self, station: Predict) -> float:
        return 0.4 * len(station.readings)

    def names(self, station: Predict, faults: tuple[FaultSpec, ...]) -> list[FaultSpec]:
        return list(faults) if station.tell_fault else []

    def silenced(self, station: Predict) -> tuple[Remedy, ...]:
        return (Remedy(say("Do not name the fault there"), {"tell_fault": False}),)

    def view(self, item: Item[Predict]) -> PredictView:
        faults = ", ".join(describe_fault(fault) for fault in item.car.faults)
        return PredictView(
            **self.heading(item),
            readings=[reading_of(item.rig, place, read_value(item.car.good, place)) for place in item.station.readings],
            what_if=faults if item.station.tell_fault else "",
        )

    def key(self, item: Item[Predict], rules: SchoolRules | None, units: UnitSystem) -> Sequence[PredictPart]:
        return [_part(item, place, units) for place in item.station.readings]

    def draw(self, item: Item[Predict]) -> Draw:
        moved = [far for place in item.station.readings if (far := abs(away(item, place))) > STAYED]
        return Draw(min(moved, default=None), len(moved), len(item.station.readings))

    def warnings(self, item: Item[Predict]) -> Iterator[FairnessWarning]:
        station = item.station
        if not item.setting.faults:
            text = say("{title}: the engine of this station has no fault, so nothing will move.", title=station.title)
            yield FairnessWarning(station.id, "nothing_moves", text, (taking_out(),))
        between = {k for k, place in enumerate(station.readings) if STAYED < abs(away(item, place)) < MOVED}
        for place in station.readings:
            moves = abs(away(item, place))
            if STAYED < moves < MOVED:
                label = reading_of(item.rig, place, None)
                text = say(
                    (
                        "{title}: {reading} at {where} moves by {away:.1f} of the spread of sound engines; that "
                        "is neither moved nor the same. Choose another reading or a larger fault."
                    ),
                    title=station.title,
                    reading=label.label,
                    where=inside(label.condition_label),
                    away=moves,
                )
                yield FairnessWarning(station.id, "in_between", text, without("readings", station.readings, between, 2))

    def rulings(self, part: PredictPart, parts: Sequence[PredictPart]) -> list[Ruling]:
        words = {"higher": say("goes up"), "lower": say("goes down"), "same": say("stays")}
        changes: dict[str, dict[str, Any]] = {way: {"way": way} for way in WAYS}
        return [Ruling(part.place_name, at_its_place(part), words, part.way, changes)]

    def require(self, view: PredictView, answer: PredictAnswer) -> None:
        if len(answer.ways) != len(view.readings) or any(way is None for way in answer.ways):
            raise MissingPart("a prediction is missing; say of each reading whether it goes up, down, or stays")

    def mark(self, parts: list[dict[str, Any]], answer: PredictAnswer, units: UnitSystem) -> Mark:
        given = [*answer.ways, *[None] * (len(parts) - len(answer.ways))]
        marked = [
            part | {"given": way, "points": float(way == part["way"])} for part, way in zip(parts, given, strict=False)
        ]
        return Mark(sum(part["points"] for part in marked) / len(marked), marked)

    def right_answer(self, parts: list[dict[str, Any]]) -> PredictAnswer:
        return PredictAnswer(ways=[part["way"] for part in parts])

    def printed(self, view: Any, parts: Any, units: UnitSystem) -> list[list[str]]:
        rows = [[say("What if"), view["what_if"] or say("a fault"), "", ""]]
        for k, reading in enumerate(view["readings"]):
            told = f"{parts[k]['way']}: {parts[k]['reason']}" if parts else say("higher / same / lower")
            rows.append([reading["condition_label"], reading["label"], value_in_words(reading, units), told])
        return rows

    def questions(self, view: Any, parts: Any, units: UnitSystem) -> list[Question]:
        what = view["what_if"] or say("a fault")
        return [
            Question(
                f"{what}. {part['condition_label']}: {part['label']} {value_in_words(part, units)}",
                [(way, way == part["way"]) for way in WAYS],
                part["reason"],
            )
            for part in parts
        ]


def away(item: Item[Predict], place: ReadingPlace) -> float:
    """How far the faulty car's reading lies from the sound one's, in standard deviations of healthy engines."""
    sound, faulty = read_value(item.car.good, place), read_value(item.car.run, place)
    band = band_of(item.rig, place.condition, place.channel, place.stat)
    step = reading_scale(item.rig, place.channel, place.stat)[1]
    if sound != sound or faulty != faulty:
        return 0.0
    width = max(band.deviation if band is not None else 0.0, step / MOVED)
    return (faulty - sound) / width


def _part(item: Item[Predict], place: ReadingPlace, units: UnitSystem) -> PredictPart:
    moves = away(item, place)
    sound, faulty = read_value(item.car.good, place), read_value(item.car.run, place)
    way: Way = "same" if abs(moves) < (MOVED + STAYED) / 2.0 else "higher" if moves > 0.0 else "lower"
    quantity, step = shown_quantity(item.rig, place.channel), reading_scale(item.rig, place.channel, place.stat)[1]
    reason = say(
        "From {sound} to {faulty} {unit}: {away:.1f} of the spread of sound engines.",
        sound=shown_number(sound, quantity, step, units),
        faulty=shown_number(faulty, quantity, step, units),
        unit=unit_words(quantity, units),
        away=abs(moves),
    )
    return PredictPart(
        **reading_of(item.rig, place, sound).model_dump(),
        way=way,
        faulty_value=None if faulty != faulty else faulty,
        reason=reason,
    )
