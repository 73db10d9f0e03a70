"""What the checks of fairness complain about is taken out of a proposed lesson, or exchanged."""

from typing import Any

from leitfaden_core.diagnose.procedures import tests_of
from leitfaden_core.faults import FaultSpec, describe_fault
from leitfaden_core.lessons.checks import check_lesson
from leitfaden_core.lessons.document import Lesson, parse_lesson
from leitfaden_core.lessons.kinds.predict import MOVED, STAYED, away
from leitfaden_core.lessons.marking import station_key

#: Rounds of mending before what still warns is dropped.
ROUNDS = 6
#: Stations below which nothing is dropped any more.
FEWEST = 8


def heeded(lesson: Lesson) -> Lesson:
    """The lesson without what the checks of fairness complain about."""
    for _round in range(ROUNDS):
        warnings = check_lesson(lesson)
        if not warnings:
            return lesson
        document = lesson.model_dump(mode="json")
        for station, code in dict.fromkeys((warning.station, warning.code) for warning in warnings):
            _mend(document, station, code, lesson)
        document["stations"] = [station for station in document["stations"] if not station.pop("_gone", False)]
        lesson = parse_lesson(document)
    return lesson


def _mend(document: dict[str, Any], station_id: str, code: str, lesson: Lesson) -> None:
    """Take out or exchange what one warning names."""
    station = next(entry for entry in document["stations"] if entry["id"] == station_id)
    index = [entry.id for entry in lesson.stations].index(station_id)
    if code == "two_right":
        _drop_explaining_causes(station, lesson, index)
    elif code == "in_between" and len(station["readings"]) > 2:
        station["readings"] = _clear_readings(station, lesson, index)
    elif code == "all_separate":
        _add_test(station, lesson, index)
    elif code == "small_pool":
        station["count"] = len(station["pool"])
    elif code == "below_resolution" and station["tolerance_percent"] < 40.0:
        station["tolerance_percent"] = min(50.0, 2.0 * station["tolerance_percent"])
    else:
        station["_gone"] = True


def _drop_explaining_causes(station: dict[str, Any], lesson: Lesson, index: int) -> None:
    parts = station_key(lesson, index, 0).model_dump()["parts"]
    wrong = {part["detail"] for part in parts if part["explains"] and not part["true_cause"]}
    kept = [
        cause
        for cause in station["causes"]
        if cause is None or describe_fault(FaultSpec.model_validate(cause)) not in wrong
    ]
    if "Nothing is wrong" in wrong:
        kept = [cause for cause in kept if cause is not None]
    station["causes"] = kept
    station["_gone"] = len(kept) < 2


def _clear_readings(station: dict[str, Any], lesson: Lesson, index: int) -> list[Any]:
    item = lesson.item(index, 0)
    clear = [
        raw
        for raw, place in zip(station["readings"], item.station.readings, strict=True)
        if not STAYED < abs(away(item, place)) < MOVED
    ]
    station["_gone"] = len(clear) < 2
    return clear


def _add_test(station: dict[str, Any], lesson: Lesson, index: int) -> None:
    """One more test that has nothing to do with either cause."""
    there = [test.id for test in tests_of(lesson.setting(lesson.stations[index]).rig)]
    idle = [name for name in ("look.fuel", "look.plugs and cables", "meter.grounds", "heat.ect") if name in there]
    fresh = [name for name in idle if name not in station["tests"]]
    station["_gone"] = not fresh
    station["tests"] = [*station["tests"][: 8 - 1], *fresh[:1]]
