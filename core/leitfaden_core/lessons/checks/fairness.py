"""What the model says of a lesson's stations: can each be answered, and by one answer only?"""

from dataclasses import replace

from leitfaden_core.faults import FaultSpec, describe_fault
from leitfaden_core.lessons.checks.progress import Tell, silent
from leitfaden_core.lessons.checks.readings import reading_warnings
from leitfaden_core.lessons.document import Lesson
from leitfaden_core.lessons.kind import FairnessWarning
from leitfaden_core.lessons.kinds import kind_called
from leitfaden_core.words import say

#: Simulated engines that one check may ask for; a thorough lesson asks for some dozens.
BUDGET = 240


def engines_asked_for(lesson: Lesson) -> int:
    """Simulated engines that the keys of a lesson ask for besides its cars: each offered cause in all its sizes, each
    once.
    """
    sizes = {
        (station.vehicle.rig, station.vehicle.script, " ".join(fault.model_dump_json() for fault in size))
        for station in lesson.stations
        for size in kind_called(station.kind).engines(station)
    }
    return len(sizes)


def check_lesson(lesson: Lesson, tell: Tell = silent) -> list[FairnessWarning]:
    """All warnings about a lesson, for the trainer's own car (seed 0)."""
    asked = engines_asked_for(lesson)
    found: list[FairnessWarning] = []
    if asked > BUDGET:
        text = say(
            (
                "The stations that conclude were not checked: their causes ask for {asked} simulated engines, "
                "and {budget} is the limit. Offer fewer different causes."
            ),
            asked=asked,
            budget=BUDGET,
        )
        found.append(FairnessWarning(lesson.stations[0].id, "too_much", text))
    for faults in lesson.or_else if asked <= BUDGET else []:
        told = ", ".join(describe_fault(fault) for fault in faults) or say("nothing wrong")
        found += [_with_cause(warning, told) for warning in _of_the_car(lesson, faults)]
    for index, station in enumerate(lesson.stations):
        tell(
            index / len(lesson.stations),
            say("station {index} of {count} is checked", index=index + 1, count=len(lesson.stations)),
        )
        kind = kind_called(station.kind)
        if asked <= BUDGET or not kind.engines(station):
            item = lesson.item(index, 0)
            found += [*reading_warnings(item), *kind.warnings(item)]
    return found


def _of_the_car(lesson: Lesson, faults: list[FaultSpec]) -> list[FairnessWarning]:
    """Warnings about the stations with the lesson's own car, if that had these faults."""
    other = lesson.model_copy(update={"faults": faults, "or_else": []})
    found: list[FairnessWarning] = []
    for index, station in enumerate(other.stations):
        if station.vehicle.faults is None:
            found += kind_called(station.kind).warnings(other.item(index, 0))
    return found


def _with_cause(warning: FairnessWarning, cause: str) -> FairnessWarning:
    """A warning that holds for some learners only; remedies of the fault itself would change it for all."""
    text = say("For learners whose car has {cause}: {warning}", cause=cause, warning=warning.text)
    return replace(warning, text=text, remedies=tuple(r for r in warning.remedies if not r.lesson))
