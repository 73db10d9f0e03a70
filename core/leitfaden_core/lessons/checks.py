"""Fairness of a lesson: said before the lesson, not after it."""

from dataclasses import dataclass

from leitfaden_core.channels import channel
from leitfaden_core.judge import VerdictKind, judge_reading
from leitfaden_core.lessons.document import Conclude, Judge, Lesson, Measure, reading_label
from leitfaden_core.lessons.items import car_for, read_value, station_key
from leitfaden_core.scripts import condition


@dataclass(frozen=True)
class FairnessWarning:
    """Something that a trainer should know about a station; the lesson may still be published."""

    station: str
    code: str
    text: str


def check_lesson(lesson: Lesson) -> list[FairnessWarning]:
    """All warnings about a lesson, for the trainer's own car (seed 0)."""
    found: list[FairnessWarning] = []
    for index, station in enumerate(lesson.stations):
        if isinstance(station, Judge):
            found += _check_judge(lesson, station)
        elif isinstance(station, Conclude):
            found += _check_conclude(lesson, index)
        elif isinstance(station, Measure):
            found += _check_measure(lesson, station)
    return found


def _check_judge(lesson: Lesson, station: Judge) -> list[FairnessWarning]:
    car = car_for(lesson, 0)
    kinds = {judge_reading(lesson.rig, p.condition, p.channel, read_value(car.run, p), p.stat).kind for p in station.pool}
    found = []
    if lesson.faults and not kinds & {VerdictKind.SUSPECT, VerdictKind.FAULTY}:
        found.append(
            FairnessWarning(
                station.id,
                "fault_not_visible",
                f"{station.title}: the fault cannot be seen in any reading of this pool; every verdict would be good or not decidable.",
            )
        )
    if len(kinds) == 1:
        found.append(
            FairnessWarning(
                station.id,
                "one_verdict",
                f"{station.title}: all readings of the faulty car get the same verdict ({next(iter(kinds)).replace('_', ' ')}).",
            )
        )
    if station.count > len(station.pool):
        found.append(
            FairnessWarning(
                station.id,
                "small_pool",
                f"{station.title}: {station.count} readings are asked, the pool has {len(station.pool)}; learners get {len(station.pool)}.",
            )
        )
    return found


def _check_conclude(lesson: Lesson, index: int) -> list[FairnessWarning]:
    station = lesson.stations[index]
    parts = station_key(lesson, index, 0).parts
    explaining = [part for part in parts if part["explains"]]
    found = []
    if not any(part["true_cause"] for part in parts):
        found.append(FairnessWarning(station.id, "cause_not_offered", f"{station.title}: the lesson's own fault is not among the causes."))
    elif len(explaining) > 1:
        names = " and ".join(part["label"] for part in explaining)
        found.append(
            FairnessWarning(
                station.id,
                "two_right",
                f"{station.title}: {names} explain all readings; both count as right. Add a reading that separates them.",
            )
        )
    if not explaining:
        found.append(FairnessWarning(station.id, "none_right", f"{station.title}: no offered cause alone explains all readings."))
    return found


def _check_measure(lesson: Lesson, station: Measure) -> list[FairnessWarning]:
    place = station.reading
    car = car_for(lesson, 0)
    run = car.run if station.faulty else car.good
    value = read_value(run, place)
    if value != value:
        return [
            FairnessWarning(
                station.id,
                "not_defined",
                f"{station.title}: {reading_label(place)} is not defined at {condition(place.condition).label.lower()}.",
            )
        ]
    if abs(value) * station.tolerance_percent / 100.0 < channel(place.channel).step:
        return [
            FairnessWarning(
                station.id,
                "below_resolution",
                f"{station.title}: the tolerance is finer than the display's step; two steps are accepted instead.",
            )
        ]
    return []
