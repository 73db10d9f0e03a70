"""Match: values of one engine, and the places where they were read; which belongs where?"""

from collections.abc import Iterator, Sequence
from itertools import combinations
from typing import Annotated, Any, Literal

from pydantic import Field

from leitfaden_core.chance import chance
from leitfaden_core.errors import MissingPart
from leitfaden_core.expect import band_of
from leitfaden_core.judge import SchoolRules, judge_reading
from leitfaden_core.lessons.item import Item, read_value, reading_of
from leitfaden_core.lessons.kind import (
    FairnessWarning,
    Mark,
    Ruling,
    StationKind,
    at_its_place,
    value_in_words,
    without,
)
from leitfaden_core.lessons.shapes import (
    Answer,
    KeyPart,
    MarkedStation,
    ReadingPlace,
    Shape,
    StationDocument,
    StationKey,
    StationReading,
    StationView,
)
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.rigs import shown_quantity
from leitfaden_core.simulate import Run
from leitfaden_core.words import inside, say

Id = Annotated[str, Field(max_length=4)]
#: Two values of one quantity are told apart by their place when sound engines keep them so many deviations apart. [-]
APART = 3.0


class Match(StationDocument):
    """Places whose values are handed out in another order."""

    kind: Literal["match"] = "match"
    readings: Annotated[list[ReadingPlace], Field(min_length=3, max_length=8, title="readings")]
    faulty: Annotated[bool, Field(title="values of the faulty engine")] = False


class MatchView(StationView):
    """The places without values, and the values (``values[k].channel`` and what tells of the place are left out)."""

    kind: Literal["match"] = "match"
    places: list[StationReading]
    values: list["LooseValue"]


class LooseValue(Shape):
    """A value with its unit; its id is its place in the learner's order."""

    id: str
    quantity: str
    step: float
    value: float | None
    digits: int


class MatchAnswer(Answer):
    """For each place, in the order of the view, the id of its value; None where there is none yet."""

    kind: Literal["match"] = "match"
    values: Annotated[list[Id | None], Field(max_length=8)] = []


class MatchPart(KeyPart, StationReading):
    """A place with its value, and the ids that are right: of equal values each."""

    ids: list[str]
    also: list[str] = []  # by the trainer's word
    reason: str


class MatchKey(StationKey):
    """Each place with its value."""

    kind: Literal["match"] = "match"
    parts: list[MatchPart] = []


class MarkedMatchPart(MatchPart):
    """A place with the value that was put there."""

    given: str | None = None
    given_value: float | None = None
    points: float | None = None


class MarkedMatch(MarkedStation):
    """Each place with what was put there."""

    kind: Literal["match"] = "match"
    parts: list[MarkedMatchPart] = []


class MatchKind(StationKind[Match]):
    """Which value belongs where?"""

    id = "match"
    document = Match
    view_shape = MatchView
    answer_shape = MatchAnswer
    key_shape = MatchKey
    marked_shape = MarkedMatch

    def places(self, station: Match) -> list[ReadingPlace]:
        return station.readings

    def runs_read(self, item: Item[Match], place: ReadingPlace) -> list[Run]:
        return [item.run(item.station.faulty)]

    def work(self, station: Match) -> float:
        return 0.5 * len(station.readings)

    def view(self, item: Item[Match]) -> MatchView:
        readings = _read(item)
        return MatchView(
            **self.heading(item),
            places=[reading.model_copy(update={"value": None}) for reading in readings],
            values=[
                LooseValue(id=str(k), **readings[index].model_dump(include={"quantity", "step", "value", "digits"}))
                for k, index in enumerate(_order(item))
            ],
        )

    def key(self, item: Item[Match], rules: SchoolRules | None, units: UnitSystem) -> Sequence[MatchPart]:
        readings, order = _read(item), _order(item)
        parts = []
        for place, reading in zip(item.station.readings, readings, strict=True):
            alike = [k for k, index in enumerate(order) if _equal(readings[index], reading)]
            value = read_value(item.run(item.station.faulty), place)
            verdict = judge_reading(item.rig, place.condition, place.channel, value, place.stat, rules, units)
            parts.append(
                MatchPart(**reading.model_dump(exclude={"digits"}), ids=[str(k) for k in alike], reason=verdict.reason)
            )
        return parts

    def warnings(self, item: Item[Match]) -> Iterator[FairnessWarning]:
        station, readings = item.station, _read(item)
        for (k, (one, first)), (_, (other, second)) in combinations(
            enumerate(zip(station.readings, readings, strict=True)), 2
        ):
            if shown_quantity(item.rig, one.channel) != shown_quantity(item.rig, other.channel):
                continue
            if _equal(first, second) or first.value is None or second.value is None:
                continue
            spreads = [band_of(item.rig, p.condition, p.channel, p.stat) for p in (one, other)]
            widest = max((band.deviation for band in spreads if band is not None), default=0.0)
            if abs(first.value - second.value) < APART * max(widest, first.step):
                text = say(
                    "{title}: {one} and {other} are too much alike to be matched; take one of them out.",
                    title=station.title,
                    one=f"{first.label}, {inside(first.condition_label)}",
                    other=f"{second.label}, {inside(second.condition_label)}",
                )
                yield FairnessWarning(station.id, "too_alike", text, without("readings", station.readings, {k}, 3))

    def rulings(self, part: MatchPart, parts: Sequence[MatchPart]) -> list[Ruling]:
        others = {str(k): other for k, other in enumerate(parts) if other.place_name != part.place_name}
        words = {name: say("also right: the value of {other}", other=at_its_place(o)) for name, o in others.items()}
        changes = {name: {"also": [*part.also, *other.ids]} for name, other in others.items()}
        return [Ruling(part.place_name, at_its_place(part), words, changes=changes)]

    def require(self, view: MatchView, answer: MatchAnswer) -> None:
        if len(answer.values) != len(view.places) or any(value is None for value in answer.values):
            raise MissingPart("a place has no value yet; give each place one")

    def mark(self, parts: list[dict[str, Any]], answer: MatchAnswer, units: UnitSystem) -> Mark:
        given = [*answer.values, *[None] * (len(parts) - len(answer.values))]
        by_id = {name: part["value"] for part in parts for name in part["ids"]}
        marked = [
            part | {"given": name, "given_value": by_id.get(name or ""), "points": float(name in _right(part))}
            for part, name in zip(parts, given, strict=False)
        ]
        return Mark(sum(part["points"] for part in marked) / len(marked), marked)

    def right_answer(self, parts: list[dict[str, Any]]) -> MatchAnswer:
        return MatchAnswer(values=[part["ids"][0] for part in parts])

    def printed(self, view: Any, parts: Any, units: UnitSystem) -> list[list[str]]:
        rows = [[say("Condition"), say("Reading"), say("Value")]]
        for k, place in enumerate(view["places"]):
            told = value_in_words(parts[k], units) if parts else "…"
            rows.append([place["condition_label"], place["label"], told])
        loose = " · ".join(value_in_words(value, units) for value in view["values"])
        return [*rows, ["", say("Values to be placed"), loose]]


def _right(part: dict[str, Any]) -> list[str]:
    return [*part["ids"], *part.get("also", [])]


def _read(item: Item[Match]) -> list[StationReading]:
    run = item.run(item.station.faulty)
    return [reading_of(item.rig, place, read_value(run, place)) for place in item.station.readings]


def _order(item: Item[Match]) -> list[int]:
    """Another order of the values for every learner."""
    count = len(item.station.readings)
    return [int(k) for k in chance(item.seed, "values", item.station.id).permutation(count)]


def _equal(one: StationReading, other: StationReading) -> bool:
    """Whether two values look the same."""
    return one.quantity == other.quantity and one.value == other.value
