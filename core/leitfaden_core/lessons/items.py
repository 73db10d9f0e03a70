"""What a learner sees at a station, and the key: both computed from the model for the car that the learner's seed
gives.
"""

from dataclasses import dataclass, field
from typing import Any

import numpy as np

from leitfaden_core.chance import chance
from leitfaden_core.channels import channel, rounded
from leitfaden_core.expect import band_of, individual_engine
from leitfaden_core.faults import FaultSpec, describe_fault
from leitfaden_core.judge import SchoolRules, Verdict, VerdictKind, judge_reading, reading_scale
from leitfaden_core.lessons.document import (
    STAT_WORDS,
    Conclude,
    Judge,
    Lesson,
    Measure,
    ReadingPlace,
    Show,
    reading_label,
)
from leitfaden_core.quantities import QUANTITIES, UnitSystem, shown
from leitfaden_core.rigs import Rig
from leitfaden_core.scripts import condition, load_script
from leitfaden_core.simulate import Run, Statistics, cached_run, stored_statistics

#: A learner's car differs from the rig by this share of the healthy spread, its fault size by up to this share of the
#: chosen size.
CAR_SHARE = 0.5
SIZE_SHARE = 0.15
#: A cause explains a reading when it comes within this many standard deviations of the healthy spread.
EXPLAINS_WITHIN = 3.0
#: Share of judge readings taken from the faulty car; the others come from a sound one of the same type.
FAULTY_SHARE = 0.6
#: Shares of a judge station's readings that are off (suspect or faulty) and that cannot be decided.
OFF_SHARE, UNDECIDABLE_SHARE = 0.4, 0.2


@dataclass(frozen=True)
class Car:
    """The car in front of one learner: an individual of the rig, faults in this learner's size, and a sound sister of
    the same type.
    """

    lesson: Lesson
    seed: int
    faults: tuple[FaultSpec, ...]
    run: Run
    good: Run


@dataclass
class StationView:
    """What the learner may see: no key, no fault, no name that gives it away."""

    kind: str
    readings: list[dict[str, Any]] = field(default_factory=list)
    causes: list[dict[str, str]] = field(default_factory=list)
    channels: list[str] = field(default_factory=list)
    show_good: bool = False
    unit_question: str | None = None
    use_faulty: bool = True


@dataclass
class StationKey:
    """What is right, with the reason for each part. ``parts`` are in the order of the view's readings or causes."""

    kind: str
    parts: list[dict[str, Any]] = field(default_factory=list)


def car_for(lesson: Lesson, seed: int) -> Car:
    """The car that a seed gives. Seed 0 is the trainer's: exactly the rig and the chosen sizes."""
    rig, script = lesson.engine, load_script(lesson.script)
    individual = individual_engine(rig, seed, CAR_SHARE) if seed else None
    faults = tuple(_sized(fault, seed) for fault in lesson.faults)
    return Car(
        lesson,
        seed,
        faults,
        cached_run(rig, script, list(faults), seed, individual),
        cached_run(rig, script, [], seed, individual),
    )


def _sized(fault: FaultSpec, seed: int) -> FaultSpec:
    """The fault in this learner's size: up to 15 % smaller or larger, within the kind's range."""
    if not seed:
        return fault
    kind, values = fault.checked()
    share = float(chance(seed, "size", fault.kind).uniform(-SIZE_SHARE, SIZE_SHARE))
    return fault.model_copy(update={"params": kind.sized(values, 1.0 + share)})


def read_value(run: Run, place: ReadingPlace) -> float:
    """A reading from a run, with the resolution of its display. In the unit in which the channel is kept."""
    value = run.statistic(place.condition, place.channel, place.stat)
    if np.isnan(value):
        return value
    return rounded(value, reading_scale(run.rig, place.channel, place.stat)[1])


def _reading(rig: Rig, place: ReadingPlace, value: float | None) -> dict[str, Any]:
    entry = channel(place.channel)
    quantity, step = reading_scale(rig, place.channel, place.stat)
    return {
        "condition": place.condition,
        "condition_label": condition(place.condition).label,
        "channel": place.channel,
        "label": reading_label(place),
        "stat": place.stat,
        "stat_label": STAT_WORDS[place.stat],
        "quantity": quantity,
        "layer": str(entry.layer),
        "family": entry.family,
        "step": step,
        "value": None if value is None or np.isnan(value) else value,
        "unit": QUANTITIES[quantity].kept,
    }


def _judge_draw(station: Judge, car: Car) -> list[tuple[ReadingPlace, bool]]:
    """Readings of a judge station for this seed: place, and whether it is from the faulty car.

    Every learner gets the same number of each kind, as far as the pool has them: OFF_SHARE of the readings off (suspect
    or faulty), UNDECIDABLE_SHARE not decidable, the others good, from either car. So the difficulty does not hang on
    the draw.
    """
    drawing = chance(car.seed, "readings", station.id)
    kinds: dict[str, list[tuple[ReadingPlace, bool]]] = {"off": [], "undecidable": [], "good": []}
    for k in drawing.permutation(len(station.pool)):
        place = station.pool[int(k)]
        faulty = bool(drawing.random() < FAULTY_SHARE)
        seen, other = ((place, side) for side in (faulty, not faulty))
        kind, kind_other = _kind_of(car, *seen), _kind_of(car, *other)
        # A place that can show the fault shows it as long as readings that are off are wanted.
        wanted = max(1, round(OFF_SHARE * station.count))
        if kind != "off" and kind_other == "off" and len(kinds["off"]) < wanted:
            seen, kind = other, kind_other
        kinds[kind].append(seen)
    off = kinds["off"][: max(1, round(OFF_SHARE * station.count))]
    undecidable = kinds["undecidable"][: max(1, round(UNDECIDABLE_SHARE * station.count))]
    good = kinds["good"][: max(station.count - len(off) - len(undecidable), 0)]
    rest = [entry for kind in kinds.values() for entry in kind if entry not in [*off, *undecidable, *good]]
    drawn = [*off, *undecidable, *good, *rest][: station.count]
    return [drawn[int(k)] for k in drawing.permutation(len(drawn))]


def _kind_of(car: Car, place: ReadingPlace, faulty: bool) -> str:
    """Whether a reading is off, undecidable or good, by the default rules: the draw must not depend on who asks."""
    verdict = judge_reading(
        car.lesson.engine,
        place.condition,
        place.channel,
        read_value(car.run if faulty else car.good, place),
        place.stat,
    )
    return {VerdictKind.GOOD: "good", VerdictKind.NOT_DECIDABLE: "undecidable"}.get(verdict.kind, "off")


def station_view(lesson: Lesson, index: int, seed: int) -> StationView:
    """What a learner with this seed sees at a station, numbers included, key left out."""
    station = lesson.stations[index]
    if isinstance(station, Show):
        return StationView("show", channels=station.channels, show_good=station.show_good)
    if isinstance(station, Measure):
        return StationView(
            "measure",
            readings=[_reading(lesson.engine, station.reading, None)],
            channels=[station.reading.channel],
            use_faulty=station.faulty,
        )
    if isinstance(station, Judge):
        car = car_for(lesson, seed)
        return StationView(
            "judge",
            readings=[
                _reading(car.lesson.engine, place, read_value(car.run if faulty else car.good, place))
                for place, faulty in _judge_draw(station, car)
            ],
        )
    if isinstance(station, Conclude):
        car = car_for(lesson, seed)
        readings = [_reading(car.lesson.engine, place, read_value(car.run, place)) for place in station.readings]
        causes = [
            {"id": str(k), "label": _cause_label(station.causes[number])}
            for k, number in enumerate(_cause_order(station, seed))
        ]
        return StationView("conclude", readings=readings, causes=causes)
    return StationView("explain")


def _cause_order(station: Conclude, seed: int) -> list[int]:
    """Another order for every learner, so that the place of an option says nothing."""
    return [int(k) for k in chance(seed, "causes", station.id).permutation(len(station.causes))]


def _cause_label(cause: FaultSpec | None) -> str:
    """Name of a cause without its size: the size would be a hint."""
    if cause is None:
        return "Nothing is wrong"
    kind, values = cause.checked()
    words = [value.replace("_", " ") for value in values.values() if isinstance(value, str)]
    return f"{kind.label} ({', '.join(words)})" if words else kind.label


def station_key(
    lesson: Lesson, index: int, seed: int, rules: SchoolRules | None = None, units: UnitSystem = UnitSystem.METRIC
) -> StationKey:
    """The right answers at a station for this seed, each with its reason."""
    station = lesson.stations[index]
    if isinstance(station, Measure):
        car = car_for(lesson, seed)
        value = read_value(car.run if station.faulty else car.good, station.reading)
        tolerance = max(abs(value) * station.tolerance_percent / 100.0, 2.0 * channel(station.reading.channel).step)
        verdict = judge_reading(
            lesson.engine, station.reading.condition, station.reading.channel, value, station.reading.stat, rules, units
        )
        return StationKey(
            "measure",
            [
                _reading(lesson.engine, station.reading, value)
                | {"tolerance": tolerance, "reason": verdict.reason, "verdict": str(verdict.kind)}
            ],
        )
    if isinstance(station, Judge):
        car = car_for(lesson, seed)
        parts = []
        for place, faulty in _judge_draw(station, car):
            value = read_value(car.run if faulty else car.good, place)
            verdict = judge_reading(lesson.engine, place.condition, place.channel, value, place.stat, rules, units)
            parts.append(_reading(lesson.engine, place, value) | _verdict_part(verdict) | {"from_faulty_car": faulty})
        return StationKey("judge", parts)
    if isinstance(station, Conclude):
        return StationKey("conclude", _cause_parts(lesson, station, seed, units))
    return StationKey(station.kind)


def _verdict_part(verdict: Verdict) -> dict[str, Any]:
    band = verdict.band
    return {
        "verdict": str(verdict.kind),
        "reason": verdict.reason,
        "band_low": band.low if band else None,
        "band_high": band.high if band else None,
    }


def _cause_parts(lesson: Lesson, station: Conclude, seed: int, units: UnitSystem) -> list[dict[str, Any]]:
    """For each offered cause, in the learner's own order: whether it explains all readings of the car, and if not,
    which one rules it out.

    A cause counts in any size: what decides is the best of a ladder of sizes. Ids are places in the learner's order, so
    that neither the order nor a name on the wire tells anything to a neighbour.
    """
    car = car_for(lesson, seed)
    observed = [read_value(car.run, place) for place in station.readings]
    causes = [station.causes[number] for number in _cause_order(station, seed)]
    ladders = [size_ladder(cause) for cause in causes]
    runs = stored_statistics(
        car.run.rig, car.run.script, [[size] if size else [] for ladder in ladders for size in ladder]
    )
    parts, at = [], 0
    for k, (cause, ladder) in enumerate(zip(causes, ladders, strict=True)):
        misfits = [
            _worst_misfit(lesson.engine, station.readings, observed, found) for found in runs[at : at + len(ladder)]
        ]
        at += len(ladder)
        distance, place, seen, expected = min(misfits, key=lambda misfit: misfit[0])
        explains = distance <= EXPLAINS_WITHIN
        parts.append(
            {
                "id": str(k),
                "label": _cause_label(cause),
                "detail": describe_fault(cause) if cause is not None else _cause_label(cause),
                "explains": explains,
                "true_cause": _is_built_in(cause, lesson.faults),
                "reason": "explains all readings within the spread of healthy engines"
                if explains
                else _misfit_in_words(lesson.engine, place, seen, expected, units),
                "distance": round(distance, 2),
            }
        )
    return parts


def _worst_misfit(
    rig: Rig, places: list[ReadingPlace], observed: list[float], found: Statistics
) -> tuple[float, ReadingPlace, float, float]:
    """The reading that a cause explains worst: distance, place, value read, value that the cause would give."""
    expected = [found[place.condition][place.channel].get(place.stat, float("nan")) for place in places]
    rows = [
        (_distance(rig, place, seen, value), place, seen, value)
        for place, seen, value in zip(places, observed, expected, strict=True)
    ]
    return max(rows, key=lambda row: row[0])


def _misfit_in_words(rig: Rig, place: ReadingPlace, seen: float, expected: float, units: UnitSystem) -> str:
    quantity, step = reading_scale(rig, place.channel, place.stat)
    at = condition(place.condition).label.lower()
    is_here, would_be = shown(seen, quantity, step, units), shown(expected, quantity, step, units)
    return f"does not fit: {reading_label(place)} at {at} is {is_here}, this cause in its best size gives {would_be}"


def _is_built_in(cause: FaultSpec | None, faults: list[FaultSpec]) -> bool:
    if cause is None:
        return not faults
    return any(cause.kind == fault.kind and _words(cause) == _words(fault) for fault in faults)


def _words(fault: FaultSpec) -> list[str]:
    return [value for value in fault.checked()[1].values() if isinstance(value, str)]


def size_ladder(cause: FaultSpec | None) -> list[FaultSpec | None]:
    """A cause in the sizes that a technician would consider: the offered one and a ladder of smaller and larger ones."""
    if cause is None:
        return [None]
    kind, values = cause.checked()
    ladder = [
        cause.model_copy(update={"params": kind.sized(values, share)}) for share in (0.4, 0.65, 0.85, 1.15, 1.5, 2.0)
    ]
    return [cause, *(step for step in ladder if step.params != values)]


def _distance(rig: Rig, place: ReadingPlace, observed: float, expected: float) -> float:
    """Distance between two readings in standard deviations of the healthy spread. [-]

    A faulty engine spreads at least as much as a healthy one, and relative to its reading: a tenth of the shift from
    healthy is added.
    """
    band = band_of(rig, place.condition, place.channel, place.stat)
    if band is None or np.isnan(expected) or np.isnan(observed):
        return 0.0
    deviation = float(np.hypot(band.deviation, 0.05 * (expected - band.mean)))
    return abs(observed - expected) / deviation
