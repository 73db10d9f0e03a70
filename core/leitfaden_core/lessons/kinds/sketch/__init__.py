"""Sketch: draw what a trace will look like before it is seen; the difference to the model's is measured and shown.

The trace is drawn as so many knots over a condition. What counts at a knot is the mean of the trace around it, so that
noise and strokes that nobody could draw do not count.
"""

from collections.abc import Iterator, Sequence
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from leitfaden_core.channels import channel
from leitfaden_core.errors import MissingPart
from leitfaden_core.expect import band_of
from leitfaden_core.faults import FaultSpec, describe_fault
from leitfaden_core.judge import SchoolRules
from leitfaden_core.lessons.item import Item, reading_of
from leitfaden_core.lessons.kind import (
    BLANK,
    FairnessWarning,
    Mark,
    Remedy,
    Ruling,
    StationKind,
    at_its_place,
    taking_out,
    tolerance_ruling,
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
from leitfaden_core.quantities import UnitSystem, shown_difference
from leitfaden_core.simulate import FRAME, Run
from leitfaden_core.words import say

KNOTS = 13
#: Points of a trace that is shown.
POINTS = 120
#: A knot is met within this share of the axis, so many display steps, and so many deviations of sound engines.
SHARE, STEPS, DEVIATIONS = 0.06, 3.0, 1.0
#: What stands still on a sound engine has axes of its own: trims to their limits, lambda over what engines run at.
AXES = {"trim": (-30.0, 30.0), "lambda": (0.6, 1.6)}
#: Any other axis reaches beyond what the sound engine does along the drive by this share of its span, on both sides; it
#: must not tell where the faulty one goes.
BEYOND = 0.6

Value = Annotated[float, Field(ge=-1e9, le=1e9)]


class Sketch(StationDocument):
    """One displayed signal in one condition."""

    kind: Literal["sketch"] = "sketch"
    place: Annotated[ReadingPlace, Field(title="place")]
    tell_fault: Annotated[bool, Field(title="fault told")] = True


class SketchTrace(StationReading):
    """A signal over time: what the sound car shows, and the axes. [s], as the channel is kept"""

    seconds: list[float]
    sound: list[float | None]
    knots: list[float]
    low: float
    high: float


class SketchView(StationView):
    """The sound car's trace, what is going to be wrong, and empty knots."""

    kind: Literal["sketch"] = "sketch"
    trace: SketchTrace
    what_if: str = ""


class SketchAnswer(Answer):
    """A value at each knot, None where nothing is drawn yet."""

    kind: Literal["sketch"] = "sketch"
    drawn: Annotated[list[Value | None], Field(max_length=KNOTS)] = []


class SketchPart(KeyPart, SketchTrace):
    """The faulty car's trace, its means at the knots, and what is accepted around them."""

    faulty: list[float | None]
    right: list[float | None]
    tolerance: float
    reason: str


class SketchKey(StationKey):
    """What the trace looks like."""

    kind: Literal["sketch"] = "sketch"
    parts: list[SketchPart] = []


class MarkedSketchPart(SketchPart):
    """What was drawn over what came."""

    drawn: list[float | None] = []
    met: int = 0
    points: float | None = None


class MarkedSketch(MarkedStation):
    """The sketch over the trace."""

    kind: Literal["sketch"] = "sketch"
    parts: list[MarkedSketchPart] = []


class SketchKind(StationKind[Sketch]):
    """What will it look like?"""

    id = "sketch"
    document = Sketch
    view_shape = SketchView
    answer_shape = SketchAnswer
    key_shape = SketchKey
    marked_shape = MarkedSketch

    def places(self, station: Sketch) -> list[ReadingPlace]:
        return [station.place]

    def runs_read(self, item: Item[Sketch], place: ReadingPlace) -> list[Run]:
        return [item.car.run, item.car.good]

    def work(self, station: Sketch) -> float:
        return 2.0

    def names(self, station: Sketch, faults: tuple[FaultSpec, ...]) -> list[FaultSpec]:
        return list(faults) if station.tell_fault else []

    def shows_sound(self, station: Sketch, faults: tuple[FaultSpec, ...]) -> list[str]:
        return [station.place.channel]

    def silenced(self, station: Sketch) -> tuple[Remedy, ...]:
        return (Remedy(say("Do not name the fault there"), {"tell_fault": False}),)

    def view(self, item: Item[Sketch]) -> SketchView:
        faults = ", ".join(describe_fault(fault) for fault in item.faults)
        return SketchView(**self.heading(item), trace=_trace(item), what_if=faults if item.station.tell_fault else "")

    def key(self, item: Item[Sketch], rules: SchoolRules | None, units: UnitSystem) -> Sequence[SketchPart]:
        trace, place = _trace(item), item.station.place
        times, faulty = _stretch(item, item.car.run)
        right, sound = (_at_knots(*_stretch(item, run)) for run in (item.car.run, item.car.good))
        band = band_of(item.rig, place.condition, place.channel, place.stat)
        tolerance = max(
            SHARE * (trace.high - trace.low), STEPS * trace.step, DEVIATIONS * band.deviation if band else 0.0
        )
        apart = float(np.nanmax(np.abs(right - sound)))
        reason = say(
            "At most {apart} from the sound engine's; a knot is met within {tolerance}.",
            apart=shown_difference(apart, trace.quantity, units),
            tolerance=shown_difference(tolerance, trace.quantity, units),
        )
        return [
            SketchPart(
                **trace.model_dump(exclude={"digits"}),
                faulty=_plain(np.interp(trace.seconds, times, faulty)),
                right=_plain(np.clip(right, trace.low, trace.high)),
                tolerance=tolerance,
                reason=reason,
            )
        ]

    def warnings(self, item: Item[Sketch]) -> Iterator[FairnessWarning]:
        station = item.station
        part = self.key(item, None, UnitSystem.METRIC)[0]
        moved = _at_knots(*_stretch(item, item.car.run)) - _at_knots(*_stretch(item, item.car.good))
        if not np.any(np.abs(moved) > 1.5 * part.tolerance):
            text = say(
                "{title}: the faulty trace is as the sound one, within what is accepted; nothing is to be foreseen.",
                title=station.title,
            )
            yield FairnessWarning(station.id, "nothing_moves", text, (taking_out(),))
        if channel(station.place.channel).swings == "switching":
            text = say(
                "{title}: {label} switches; a mean over a stroke says little of it.",
                title=station.title,
                label=channel(station.place.channel).label,
            )
            yield FairnessWarning(station.id, "swings", text, (taking_out(),))
        beyond = np.array([value for value in part.faulty if value is not None])
        if np.mean((beyond < part.low) | (beyond > part.high)) > 0.1:
            text = say("{title}: the faulty trace leaves the axes; a smaller fault stays within.", title=station.title)
            yield FairnessWarning(station.id, "leaves_axes", text)

    def rulings(self, part: SketchPart, parts: Sequence[SketchPart]) -> list[Ruling]:
        return [tolerance_ruling("sketch", at_its_place(part), lambda times: {"tolerance": times * part.tolerance})]

    def require(self, view: SketchView, answer: SketchAnswer) -> None:
        if len(answer.drawn) != KNOTS or any(value is None for value in answer.drawn):
            raise MissingPart(say("the sketch is not complete; draw over the whole width"))

    def mark(self, parts: list[dict[str, Any]], answer: SketchAnswer, units: UnitSystem) -> Mark:
        part = parts[0]
        drawn = [*answer.drawn, *[None] * (KNOTS - len(answer.drawn))]
        asked = [(given, right) for given, right in zip(drawn, part["right"], strict=True) if right is not None]
        off = [abs(given - right) if given is not None else float("inf") for given, right in asked]
        met = sum(far <= part["tolerance"] for far in off)
        points = met / len(off) if off else None
        mean = float(np.mean([far for far in off if np.isfinite(far)] or [0.0]))
        told = say(
            "{met} of {all} knots met; {mean} off in the mean. {reason}",
            met=met,
            all=len(off),
            mean=shown_difference(mean, part["quantity"], units),
            reason=part["reason"],
        )
        return Mark(points, [part | {"drawn": drawn, "met": met, "points": points, "reason": told}])

    def right_answer(self, parts: list[dict[str, Any]]) -> SketchAnswer:
        low = parts[0]["low"]
        return SketchAnswer(drawn=[low if value is None else value for value in parts[0]["right"]])

    def printed(self, view: Any, parts: Any, units: UnitSystem) -> list[list[str]]:
        trace = view["trace"]
        rows = [[say("What if"), view["what_if"] or say("a fault"), ""]]
        told = parts[0]["reason"] if parts else BLANK
        return [*rows, [trace["condition_label"], trace["label"], told]]


def _stretch(item: Item[Sketch], run: Run) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Times and values of the signal over the condition. [s], as the channel is kept"""
    place = item.station.place
    rows = run.rows(run.script.span(place.condition))[place.channel].astype(np.float64)
    return np.arange(len(rows), dtype=np.float64) * FRAME, rows


def _at_knots(times: NDArray[np.float64], values: NDArray[np.float64]) -> NDArray[np.float64]:
    """Mean of the trace around each knot; NaN where it has no value there."""
    parts = np.array_split(values, KNOTS)
    means = [np.nanmean(part) if np.isfinite(part).any() else np.nan for part in parts]
    return np.array(means, dtype=np.float64)


def _trace(item: Item[Sketch]) -> SketchTrace:
    place, good = item.station.place, item.car.good
    times, values = _stretch(item, good)
    whole = good.rows((0.0, good.script.seconds))[place.channel].astype(np.float64)
    shown = reading_of(item.rig, place, None)
    low, high = float(np.nanmin(whole)), float(np.nanmax(whole))
    room = BEYOND * max(high - low, 10.0 * shown.step)
    low, high = AXES.get(shown.quantity, (low - room, high + room))
    seconds = np.linspace(times[0], times[-1], POINTS)
    width = (times[-1] - times[0]) / KNOTS
    return SketchTrace(
        **shown.model_dump(exclude={"digits"}),
        seconds=[round(float(time), 3) for time in seconds],
        sound=_plain(np.interp(seconds, times, values)),
        knots=[round((k + 0.5) * width, 3) for k in range(KNOTS)],
        low=low,
        high=high,
    )


def _plain(values: NDArray[np.float64]) -> list[float | None]:
    return [None if value != value else round(float(value), 6) for value in values]
