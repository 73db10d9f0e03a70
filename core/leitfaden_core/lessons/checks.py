"""Fairness of a lesson: said before the lesson, not after it."""

from collections.abc import Callable

from leitfaden_core.errors import LeitfadenError
from leitfaden_core.judge import SchoolRules
from leitfaden_core.lessons.document import Lesson
from leitfaden_core.lessons.kind import FairnessWarning
from leitfaden_core.lessons.kinds import kind_called
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.scripts import reading_scripts
from leitfaden_core.words import say

#: Simulated engines that one check may ask for; a thorough lesson asks for some dozens.
BUDGET = 240
#: Learners for whom every station is computed before a lesson is published.
TRIAL_SEEDS = (1, 7, 4711)
#: Progress: the share that is done, and what goes on.
Tell = Callable[[float, str], None]


def _silent(share: float, says: str) -> None:
    """Nobody asks how far it is."""


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


def check_lesson(lesson: Lesson, tell: Tell = _silent) -> list[FairnessWarning]:
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
            found += kind.warnings(lesson.item(index, 0))
    return found


def publishing_problems(
    lesson: Lesson, rules: SchoolRules | None = None, tell: Tell = _silent
) -> list[FairnessWarning]:
    """Stations that some learner could not be given, with the reason for each: computed for several learners, as they
    would see it.
    """
    known = [script.id for script in (*reading_scripts(), *lesson.drives) if script.conditions()]
    for station in lesson.stations:
        script = lesson.setting(station).script.id
        if script not in known:
            text = say(
                "The script '{script}' is for the model's own use; choose one of {list}.",
                script=script,
                list=", ".join(known),
            )
            return [FairnessWarning(station.id, "internal_script", text)]
    asked = engines_asked_for(lesson)
    if asked > BUDGET:
        text = say(
            "The causes of all stations together ask for {asked} simulated engines, and {budget} is the limit; offer fewer different causes.",
            asked=asked,
            budget=BUDGET,
        )
        return [FairnessWarning(lesson.stations[0].id, "too_much", text)]
    found: dict[str, FairnessWarning] = {}
    for round_, seed in enumerate(TRIAL_SEEDS):
        for index, station in enumerate(lesson.stations):
            done = (round_ + index / len(lesson.stations)) / len(TRIAL_SEEDS)
            tell(
                done,
                say(
                    "station {index} is tried for learner {round} of {count}",
                    index=index + 1,
                    round=round_ + 1,
                    count=len(TRIAL_SEEDS),
                ),
            )
            problem = _trial(lesson, index, seed, rules)
            if problem is not None:
                found.setdefault(station.id, FairnessWarning(station.id, *problem))
    return list(found.values())


def _trial(lesson: Lesson, index: int, seed: int, rules: SchoolRules | None) -> tuple[str, str] | None:
    """Why a learner could not be given this station, as code and sentence; None when all is well."""
    item = lesson.item(index, seed)
    kind, title = kind_called(item.station.kind), item.station.title
    try:
        undefined = kind.undefined(item)
        if undefined is not None:
            return "not_defined", f"{title}: {undefined}."
        kind.view(item)
        kind.key(item, rules, UnitSystem.METRIC)
    except LeitfadenError as error:
        return error.code, f"{title}: {error.message}"
    return None
