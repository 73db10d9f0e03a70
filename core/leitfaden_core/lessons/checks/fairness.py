"""What the model says of a lesson's stations: can each be answered, and by one answer only?"""

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
        (station.vehicle.rig, station.vehicle.script, size.model_dump_json() if size else "")
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
            "The stations that conclude were not checked: their causes ask for {asked} simulated engines, and {budget} is the limit. Offer fewer different causes.",
            asked=asked,
            budget=BUDGET,
        )
        found.append(FairnessWarning(lesson.stations[0].id, "too_much", text))
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
