"""Before a lesson is published, every station is computed for several learners, as they would see it."""

from leitfaden_core.errors import LeitfadenError
from leitfaden_core.judge import SchoolRules
from leitfaden_core.lessons.checks.fairness import BUDGET, engines_asked_for
from leitfaden_core.lessons.checks.progress import Tell, silent
from leitfaden_core.lessons.document import Lesson
from leitfaden_core.lessons.kind import FairnessWarning
from leitfaden_core.lessons.kinds import kind_called
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.scripts import reading_scripts
from leitfaden_core.words import say

#: Learners for whom every station is computed.
TRIAL_SEEDS = (1, 7, 4711)


def publishing_problems(lesson: Lesson, rules: SchoolRules | None = None, tell: Tell = silent) -> list[FairnessWarning]:
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
            (
                "The causes of all stations together ask for {asked} simulated engines, and {budget} is the "
                "limit; offer fewer different causes."
            ),
            asked=asked,
            budget=BUDGET,
        )
        return [FairnessWarning(lesson.stations[0].id, "too_much", text)]
    found: dict[str, FairnessWarning] = {}
    seeds = _trial_seeds(lesson)
    for round_, seed in enumerate(seeds):
        for index, station in enumerate(lesson.stations):
            done = (round_ + index / len(lesson.stations)) / len(seeds)
            tell(
                done,
                say(
                    "station {index} is tried for learner {round} of {count}",
                    index=index + 1,
                    round=round_ + 1,
                    count=len(seeds),
                ),
            )
            problem = _trial(lesson, index, seed, rules)
            if problem is not None:
                found.setdefault(station.id, FairnessWarning(station.id, *problem))
    return list(found.values())


def _trial_seeds(lesson: Lesson) -> list[int]:
    """The usual learners, and one for each cause that none of them has."""
    seeds = list(TRIAL_SEEDS)
    for way in lesson.causes() if lesson.or_else else []:
        if all(lesson.faults_of(seed) != way for seed in seeds):
            seeds.append(next(seed for seed in range(1, 10_000) if lesson.faults_of(seed) == way))
    return seeds


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
