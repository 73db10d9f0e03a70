"""Own bench: readings of the real engine beside the learner, typed in and judged against band and instrument error.

Nobody knows what is wrong with that engine: what is marked is whether the verdict follows from the value that was
typed.
"""

from collections.abc import Iterator, Sequence
from typing import Annotated, Any, Literal

from pydantic import Field

from leitfaden_core.cautions import CAUTIONS
from leitfaden_core.errors import LeitfadenError, MissingPart
from leitfaden_core.expect import band_of
from leitfaden_core.judge import ANSWERS, SchoolRules, reading_scale
from leitfaden_core.lessons.item import Item, reading_of
from leitfaden_core.lessons.kind import BLANK, FairnessWarning, Mark, Ruling, StationKind, at_its_place, without
from leitfaden_core.lessons.kind import VERDICTS as VERDICT_WORDS
from leitfaden_core.lessons.shapes import (
    Answer,
    KeyPart,
    MarkedStation,
    Override,
    ReadingPlace,
    StationDocument,
    StationKey,
    StationReading,
    StationView,
)
from leitfaden_core.quantities import UnitSystem, parse_reading, shown, shown_difference
from leitfaden_core.scripts import condition
from leitfaden_core.simulate import Run
from leitfaden_core.words import inside, say

VERDICTS = tuple(str(kind) for kind in ANSWERS)
#: What counts as off: how far off is left to the one who stands at the engine.
OFF = ("suspect", "faulty")


class Own(StationDocument):
    """What is to be read on the real engine of that type, and the error of the instrument that is used. [%]"""

    kind: Literal["own"] = "own"
    readings: Annotated[list[ReadingPlace], Field(min_length=1, max_length=6, title="readings")]
    error_percent: Annotated[float, Field(ge=0.0, le=20.0, title="error of the instrument, %")] = 2.0


class OwnView(StationView):
    """What is to be read, and what is to be heeded before."""

    kind: Literal["own"] = "own"
    readings: list[StationReading]
    error_percent: float
    cautions: list[str] = []


class OwnReading(Answer):
    """A value as it was typed, with its unit, and the verdict on it."""

    kind: Literal["own"] = "own"
    value: Annotated[str, Field(max_length=60)] = ""
    verdict: Annotated[str, Field(max_length=20)] = ""


class OwnAnswer(Answer):
    """A value and a verdict for each reading; ``heeded``: the cautions were acknowledged."""

    kind: Literal["own"] = "own"
    heeded: bool = False
    readings: Annotated[list[OwnReading], Field(max_length=6)] = []


class OwnPart(KeyPart, StationReading):
    """The band of sound engines, widened by nothing."""

    low: float | None
    high: float | None
    error_percent: float
    reason: str = ""


class OwnKey(StationKey):
    """The bands."""

    kind: Literal["own"] = "own"
    parts: list[OwnPart] = []


class MarkedOwnPart(OwnPart):
    """What was typed and said, and what follows from it."""

    given: str = ""
    said: str = ""
    right: str = ""
    points: float | None = None


class MarkedOwn(MarkedStation):
    """Readings of the real engine with what follows from them."""

    kind: Literal["own"] = "own"
    parts: list[MarkedOwnPart] = []


class OwnKind(StationKind[Own]):
    """Readings of the real engine."""

    id = "own"
    document = Own
    view_shape = OwnView
    answer_shape = OwnAnswer
    key_shape = OwnKey
    marked_shape = MarkedOwn

    def places(self, station: Own) -> list[ReadingPlace]:
        return station.readings

    def runs_read(self, item: Item[Own], place: ReadingPlace) -> list[Run]:
        return []

    def work(self, station: Own) -> float:
        return 2.0 * len(station.readings)

    def cautions(self, station: Own) -> tuple[str, ...]:
        return ("exhaust_gas", "hot_parts", "moving_parts")

    def view(self, item: Item[Own]) -> OwnView:
        return OwnView(
            **self.heading(item),
            readings=[reading_of(item.rig, place, None) for place in item.station.readings],
            error_percent=item.station.error_percent,
            cautions=[CAUTIONS[name].words for name in self.cautions(item.station)],
        )

    def key(self, item: Item[Own], rules: SchoolRules | None, units: UnitSystem) -> Sequence[OwnPart]:
        parts = []
        for place in item.station.readings:
            band = band_of(item.rig, place.condition, place.channel, place.stat)
            parts.append(
                OwnPart(
                    **reading_of(item.rig, place, None).model_dump(exclude={"digits"}),
                    low=band.low if band else None,
                    high=band.high if band else None,
                    error_percent=item.station.error_percent,
                )
            )
        return parts

    def warnings(self, item: Item[Own]) -> Iterator[FairnessWarning]:
        station = item.station
        for k, place in enumerate(station.readings):
            less = without("readings", station.readings, {k}, 1)
            band = band_of(item.rig, place.condition, place.channel, place.stat)
            label, where = reading_of(item.rig, place, None).label, inside(condition(place.condition).label)
            if band is None:
                text = say("{title}: {label} has no band at {where}.", title=station.title, label=label, where=where)
                yield FairnessWarning(station.id, "no_band", text, less)
                continue
            error = abs(band.mean) * station.error_percent / 100.0
            step = reading_scale(item.rig, place.channel, place.stat)[1]
            if 2.0 * error > max(band.high - band.low, step):
                text = say(
                    (
                        "{title}: with an instrument of {percent:g} % nothing can be said of {label} at {where}: "
                        "its error is wider than the band."
                    ),
                    title=station.title,
                    percent=station.error_percent,
                    label=label,
                    where=where,
                )
                yield FairnessWarning(station.id, "instrument_too_coarse", text, less)

    def rulings(self, part: OwnPart, parts: Sequence[OwnPart]) -> list[Ruling]:
        return [Ruling(part.place_name, at_its_place(part), quantity=part.quantity, low=part.low, high=part.high)]

    def banded(self, part: OwnPart, by: Override) -> dict[str, Any]:
        return {"low": part.low if by.low is None else by.low, "high": part.high if by.high is None else by.high}

    def require(self, view: OwnView, answer: OwnAnswer) -> None:
        if view.cautions and not answer.heeded:
            raise MissingPart(say("the cautions are not acknowledged yet; read them, then begin"))
        if len(answer.readings) != len(view.readings) or any(
            not entry.value.strip() or entry.verdict not in VERDICTS for entry in answer.readings
        ):
            raise MissingPart(
                say(
                    "each reading needs a value with its unit, and a verdict: {list}",
                    list=", ".join(map(say, VERDICT_WORDS.values())),
                )
            )
        for reading, entry in zip(view.readings, answer.readings, strict=True):
            parse_reading(entry.value, reading.quantity)

    def mark(self, parts: list[dict[str, Any]], answer: OwnAnswer, units: UnitSystem) -> Mark:
        marked = [_marked(part, entry, units) for part, entry in zip(parts, answer.readings, strict=False)]
        points = [part["points"] for part in marked]
        return Mark(sum(points) / len(points) if points else 0.0, marked)

    def right_answer(self, parts: list[dict[str, Any]]) -> OwnAnswer:
        """As if the engine stood in the middle of each band."""
        readings = []
        for part in parts:
            entry = OwnReading(value=f"{_middle(part):.6g} {part['unit']}")
            readings.append(entry.model_copy(update={"verdict": _marked(part, entry, UnitSystem.METRIC)["right"]}))
        return OwnAnswer(readings=readings, heeded=True)

    def printed(self, view: Any, parts: Any, units: UnitSystem) -> list[list[str]]:
        rows = [[say("Condition"), say("Reading"), say("Value with unit"), say("Verdict")]]
        for k, reading in enumerate(view["readings"]):
            told = [BLANK, BLANK]
            if parts and parts[k]["low"] is not None:
                told = [_band(parts[k], units), ""]
            rows.append([reading["condition_label"], reading["label"], *told])
        return rows


def _middle(part: dict[str, Any]) -> float:
    return 0.5 * (part["low"] + part["high"]) if part["low"] is not None else 0.0


def _band(part: dict[str, Any], units: UnitSystem) -> str:
    low, high = (shown(part[side], part["quantity"], part["step"], units) for side in ("low", "high"))
    return say("sound engines: {low} to {high}", low=low, high=high)


def _marked(part: dict[str, Any], entry: OwnReading, units: UnitSystem) -> dict[str, Any]:
    told: dict[str, Any] = {"given": entry.value, "said": entry.verdict}
    if part["low"] is None:
        right, reason = "not_decidable", say("Sound engines have no band there.")
        return part | told | {"right": right, "points": float(entry.verdict == right), "reason": reason}
    try:
        value = parse_reading(entry.value, part["quantity"])
    except LeitfadenError as unread:
        return part | told | {"points": 0.0, "reason": unread.message}
    error = abs(value) * part["error_percent"] / 100.0
    beyond = max(part["low"] - value, value - part["high"])
    rights: tuple[str, ...]
    if beyond <= -error:
        rights, why = ("good",), say("within the band, by more than the instrument's error")
    elif beyond <= error:
        rights, why = ("not_decidable",), say("at the edge of the band, nearer than the instrument's error")
    else:
        rights, why = OFF, say("outside the band, by more than the instrument's error")
    wide = shown_difference(error, part["quantity"], units)
    reason = say("{band}; the instrument's error is {wide}: {why}.", band=_band(part, units), wide=wide, why=why)
    reason = f"{reason} {part.get('reason', '')}".strip()
    return part | told | {"right": rights[0], "points": float(entry.verdict in rights), "reason": reason}
