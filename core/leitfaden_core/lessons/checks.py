"""Fairness of a lesson: said before the lesson, not after it."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from leitfaden_core.channels import channel
from leitfaden_core.errors import LeitfadenError
from leitfaden_core.judge import SchoolRules, VerdictKind, judge_reading
from leitfaden_core.lessons.document import Conclude, Judge, Lesson, Measure, ReadingPlace, Show, reading_label
from leitfaden_core.lessons.items import car_for, read_value, size_ladder, station_key, station_view
from leitfaden_core.scripts import condition, reading_scripts
from leitfaden_core.simulate import Run


@dataclass(frozen=True)
class FairnessWarning:
    """Something that a trainer should know about a station; the lesson may still be published."""

    station: str
    code: str
    text: str


#: Simulated engines that one check may ask for; a thorough lesson asks for some dozens.
BUDGET = 240
#: Learners for whom every station is computed before a lesson is published.
TRIAL_SEEDS = (1, 7, 4711)
#: Progress: the share that is done, and what goes on.
Tell = Callable[[float, str], None]


def _silent(share: float, says: str) -> None:
    """Nobody asks how far it is."""


def engines_asked_for(lesson: Lesson) -> int:
    """Simulated engines that the concluding stations of a lesson ask for: each offered cause in all its sizes, each
    once.
    """
    sizes = {
        size.model_dump_json() if size else ""
        for station in lesson.stations
        if isinstance(station, Conclude)
        for cause in station.causes
        for size in size_ladder(cause)
    }
    return len(sizes)


def check_lesson(lesson: Lesson, tell: Tell = _silent) -> list[FairnessWarning]:
    """All warnings about a lesson, for the trainer's own car (seed 0)."""
    asked = engines_asked_for(lesson)
    found: list[FairnessWarning] = []
    if asked > BUDGET:
        text = f"The stations that conclude were not checked: their causes ask for {asked} simulated engines, and {BUDGET} is the limit. Offer fewer different causes."
        found.append(FairnessWarning(lesson.stations[0].id, "too_much", text))
    for index, station in enumerate(lesson.stations):
        tell(index / len(lesson.stations), f"station {index + 1} of {len(lesson.stations)} is checked")
        if isinstance(station, Judge):
            found += _check_judge(lesson, station)
        elif isinstance(station, Conclude) and asked <= BUDGET:
            found += _check_conclude(lesson, index)
        elif isinstance(station, Measure):
            found += _check_measure(lesson, station)
    return found


def publishing_problems(
    lesson: Lesson, rules: SchoolRules | None = None, tell: Tell = _silent
) -> list[FairnessWarning]:
    """Stations that some learner could not be given, with the reason for each: computed for several learners, as they
    would see it.
    """
    known = [script.id for script in reading_scripts()]
    if lesson.script not in known:
        text = f"The script '{lesson.script}' is for the model's own use; choose one of {', '.join(known)}."
        return [FairnessWarning(lesson.stations[0].id, "internal_script", text)]
    asked = engines_asked_for(lesson)
    if asked > BUDGET:
        text = f"The causes of all stations together ask for {asked} simulated engines, and {BUDGET} is the limit; offer fewer different causes."
        return [FairnessWarning(lesson.stations[0].id, "too_much", text)]
    found: dict[str, FairnessWarning] = {}
    for round_, seed in enumerate(TRIAL_SEEDS):
        for index, station in enumerate(lesson.stations):
            done = (round_ + index / len(lesson.stations)) / len(TRIAL_SEEDS)
            tell(done, f"station {index + 1} is tried for learner {round_ + 1} of {len(TRIAL_SEEDS)}")
            problem = _trial(lesson, index, seed, rules)
            if problem is not None:
                found.setdefault(station.id, FairnessWarning(station.id, *problem))
    return list(found.values())


def _trial(lesson: Lesson, index: int, seed: int, rules: SchoolRules | None) -> tuple[str, str] | None:
    """Why a learner could not be given this station, as code and sentence; None when all is well."""
    station = lesson.stations[index]
    try:
        undefined = _undefined(lesson, station, seed)
        if undefined is not None:
            return "not_defined", f"{station.title}: {undefined}."
        station_view(lesson, index, seed)
        station_key(lesson, index, seed, rules)
    except LeitfadenError as error:
        return error.code, f"{station.title}: {error.message}"
    return None


def _undefined(lesson: Lesson, station: object, seed: int) -> str | None:
    """The first reading or lane of a station that has no value, in words."""
    if isinstance(station, Show):
        run = car_for(lesson, seed).run
        empty = next((name for name in station.channels if not np.isfinite(run.lanes[name]).any()), None)
        return None if empty is None else f"{channel(empty).label} has no value anywhere along this script"
    for place, runs in _places_read(lesson, station, seed):
        if any(np.isnan(read_value(run, place)) for run in runs):
            return f"{reading_label(place)} is not defined at {condition(place.condition).label.lower()}; take it out"
    return None


def _places_read(lesson: Lesson, station: object, seed: int) -> list[tuple[ReadingPlace, list[Run]]]:
    """Where a station may read values, and from which runs."""
    if not isinstance(station, (Measure, Judge, Conclude)):
        return []
    car = car_for(lesson, seed)
    if isinstance(station, Measure):
        return [(station.reading, [car.run if station.faulty else car.good])]
    if isinstance(station, Judge):
        return [(place, [car.run, car.good]) for place in station.pool]
    return [(place, [car.run]) for place in station.readings]


def _check_judge(lesson: Lesson, station: Judge) -> list[FairnessWarning]:
    car = car_for(lesson, 0)
    kinds = {
        judge_reading(lesson.engine, p.condition, p.channel, read_value(car.run, p), p.stat).kind for p in station.pool
    }
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
        found.append(
            FairnessWarning(
                station.id, "cause_not_offered", f"{station.title}: the lesson's own fault is not among the causes."
            )
        )
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
        found.append(
            FairnessWarning(station.id, "none_right", f"{station.title}: no offered cause alone explains all readings.")
        )
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
