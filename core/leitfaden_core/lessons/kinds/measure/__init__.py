"""Measure: read a value at a condition, with its unit."""

from collections.abc import Iterator, Sequence
from typing import Annotated, Any, Literal

from pydantic import Field

from leitfaden_core.channels import channel
from leitfaden_core.errors import MissingPart
from leitfaden_core.judge import SchoolRules, judge_reading
from leitfaden_core.lessons.item import Item, read_value, reading_of
from leitfaden_core.lessons.kind import (
    BLANK,
    FairnessWarning,
    LaneWish,
    Mark,
    Remedy,
    Ruling,
    StationKind,
    at_its_place,
    taking_out,
    tolerance_ruling,
    typed_marked,
    value_in_words,
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
    reading_label,
)
from leitfaden_core.quantities import UnitSystem, parse_reading
from leitfaden_core.scripts import condition
from leitfaden_core.simulate import Run
from leitfaden_core.words import inside, say

#: A tolerance is not widened from here on: a value that near to nothing is no question. [%]
NO_WIDER = 40.0


class Measure(StationDocument):
    """Read a value at a condition, with its unit."""

    kind: Literal["measure"] = "measure"
    reading: Annotated[ReadingPlace, Field(title="reading")]
    tolerance_percent: Annotated[float, Field(ge=0.5, le=50, title="tolerance, %")] = 5.0
    faulty: Annotated[bool, Field(title="values of the faulty engine")] = True


class MeasureView(StationView):
    """What is to be read, without its value, and the lane in which it stands."""

    kind: Literal["measure"] = "measure"
    readings: list[StationReading]
    channels: list[str]
    focus: str | None = None


class MeasureAnswer(Answer):
    """A reading as it was typed, with its unit."""

    kind: Literal["measure"] = "measure"
    reading: Annotated[str, Field(max_length=60)] = ""


class MeasurePart(KeyPart, StationReading):
    """The value, what is accepted around it, and what it means."""

    tolerance: float
    verdict: str
    reason: str


class MeasureKey(StationKey):
    """One value."""

    kind: Literal["measure"] = "measure"
    parts: list[MeasurePart] = []


class MarkedMeasurePart(MeasurePart):
    """The value beside what was given."""

    given: str | None = None
    given_value: float | None = None
    points: float | None = None


class MarkedMeasure(MarkedStation):
    """One value, read right or not."""

    kind: Literal["measure"] = "measure"
    parts: list[MarkedMeasurePart] = []


class MeasureKind(StationKind[Measure]):
    """Read a value in a lane."""

    id = "measure"
    document = Measure
    view_shape = MeasureView
    answer_shape = MeasureAnswer
    key_shape = MeasureKey
    marked_shape = MarkedMeasure

    def places(self, station: Measure) -> list[ReadingPlace]:
        return [station.reading]

    def work(self, station: Measure) -> float:
        return 1.5

    def view(self, item: Item[Measure]) -> MeasureView:
        place = item.station.reading
        return MeasureView(
            **self.heading(item),
            has_lanes=True,
            readings=[reading_of(item.rig, place, None)],
            channels=[place.channel],
            focus=place.condition,
        )

    def lanes(self, item: Item[Measure]) -> LaneWish:
        return LaneWish(item.run(item.station.faulty), [item.station.reading.channel])

    def runs_read(self, item: Item[Measure], place: ReadingPlace) -> list[Run]:
        return [item.run(item.station.faulty)]

    def key(self, item: Item[Measure], rules: SchoolRules | None, units: UnitSystem) -> Sequence[MeasurePart]:
        station, place = item.station, item.station.reading
        value = read_value(item.run(station.faulty), place)
        made_up = item.run(station.faulty).substituted(place.condition, place.channel)
        verdict = judge_reading(item.rig, place.condition, place.channel, value, place.stat, rules, units, made_up)
        return [
            MeasurePart(
                **reading_of(item.rig, place, value).model_dump(),
                tolerance=max(abs(value) * station.tolerance_percent / 100.0, 2.0 * channel(place.channel).step),
                reason=verdict.reason,
                verdict=str(verdict.kind),
            )
        ]

    def warnings(self, item: Item[Measure]) -> Iterator[FairnessWarning]:
        station, place = item.station, item.station.reading
        value = read_value(item.run(station.faulty), place)
        if value != value:
            where = inside(condition(place.condition).label)
            text = say(
                "{title}: {reading_label} is not defined at {where}.",
                title=station.title,
                reading_label=reading_label(place),
                where=where,
            )
            yield FairnessWarning(station.id, "not_defined", text)
        elif abs(value) * station.tolerance_percent / 100.0 < channel(place.channel).step:
            text = say(
                "{title}: the tolerance is finer than the display's step; two steps are accepted instead.",
                title=station.title,
            )
            wider = min(50.0, 2.0 * station.tolerance_percent)
            remedy = Remedy(say("Accept {percent:g} %", percent=wider), {"tolerance_percent": wider})
            resolved = station.tolerance_percent < NO_WIDER
            yield FairnessWarning(station.id, "below_resolution", text, (remedy if resolved else taking_out(),))

    def rulings(self, part: MeasurePart, parts: Sequence[MeasurePart]) -> list[Ruling]:
        return [
            tolerance_ruling(part.place_name, at_its_place(part), lambda times: {"tolerance": times * part.tolerance})
        ]

    def require(self, view: MeasureView, answer: MeasureAnswer) -> None:
        if not answer.reading.strip():
            raise MissingPart("no reading was given; read the value in the lane and write it with its unit")
        parse_reading(answer.reading, view.readings[0].quantity)

    def mark(self, parts: list[dict[str, Any]], answer: MeasureAnswer, units: UnitSystem) -> Mark:
        marked = typed_marked(parts[0], answer.reading, units)
        return Mark(marked["points"], [marked])

    def right_answer(self, parts: list[dict[str, Any]]) -> MeasureAnswer:
        return MeasureAnswer(reading=f"{parts[0]['value']:.6g} {parts[0]['unit']}")

    def printed(self, view: Any, parts: Any, units: UnitSystem) -> list[list[str]]:
        rows = [[say("Condition"), say("Reading"), say("Value with unit")]]
        for k, reading in enumerate(view["readings"]):
            told = value_in_words(reading | {"value": parts[k]["value"]}, units) if parts else BLANK
            rows.append([reading["condition_label"], reading["label"], told])
        return rows
