"""What lessons ask of the model. Each function runs in a worker and gets plain data."""

from dataclasses import asdict, replace
from typing import Any

from jobs.kinds import HEAVY, Tell, computation
from leitfaden_core.judge import RuleBook
from leitfaden_core.lessons import (
    Lesson,
    Wish,
    check_lesson,
    difficulty,
    lesson_from,
    parse_lesson,
    propose,
    publishing_problems,
    station_key,
    station_lanes,
    station_rulings,
    station_view,
)
from leitfaden_core.lessons.exchange import key_sheet, questions_of, worksheet
from leitfaden_core.live import Beginning, Done, doing_of, script_of
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.rigs import load_rig
from simulations.lanes import drawn
from simulations.sheets import fetch_sheet
from simulations.wishes import rules_and_units


def _lesson(wish: Any) -> Lesson:
    """The lesson of a wish, its engines' value sheets at hand."""
    lesson = parse_lesson(wish["document"])
    for rig in lesson.engines():
        fetch_sheet(rig)
    return lesson


@computation("station", limit_s=60.0, supersedes=True)
def station(wish: Any, tell: Tell) -> dict[str, Any]:
    """A station of a draft for one learner: what they see, the key, the lanes."""
    lesson, seed = _lesson(wish), wish["seed"]
    rules, units = rules_and_units(wish)
    view = station_view(lesson, 0, seed).model_dump()
    tell(0.5, "the key is being computed")
    return {
        "station": view,
        "key": station_key(lesson, 0, seed, rules, units).model_dump(),
        "rulings": [asdict(replace(ruling, changes={})) for ruling in station_rulings(lesson, 0, seed, rules, units)],
        "lanes": drawn(station_lanes(lesson, 0, seed)),
    }


@computation("difficulty", queue=HEAVY, limit_s=120.0, supersedes=True)
def station_difficulty(wish: Any, tell: Tell) -> dict[str, Any]:
    """How hard the one station of a lesson is."""
    return asdict(difficulty(_lesson(wish), 0))


@computation("check_lesson", queue=HEAVY, limit_s=240.0, supersedes=True)
def fairness(wish: Any, tell: Tell) -> dict[str, Any]:
    """Warnings about a lesson."""
    lesson = _lesson(wish)
    return {"warnings": [asdict(warning) for warning in check_lesson(lesson, tell)]}


@computation("publish_check", queue=HEAVY, limit_s=600.0, priority=2)
def publish_check(wish: Any, tell: Tell) -> list[dict[str, str]]:
    """Stations that some learner could not be given, with the reason for each."""
    lesson = _lesson(wish)
    return [
        asdict(problem)
        for problem in publishing_problems(lesson, RuleBook.model_validate(wish["rules"]).of_trims(), tell)
    ]


@computation("bench_lesson", limit_s=60.0)
def bench_lesson(wish: Any, tell: Tell) -> dict[str, Any]:
    """A first lesson out of a stretch of a bench, and what of the handwork it leaves out."""
    beginning = Beginning.model_validate(wish["beginning"])
    journal = [Done(frame, doing_of(raw)) for frame, raw in wish["journal"]]
    driven = script_of(beginning, journal, wish["first"], wish["last"], wish["name"])
    lesson = lesson_from(driven, beginning.rig, wish["channels"])
    return {"document": lesson.model_dump(mode="json"), "left_out": list(driven.left_out)}


@computation("lesson_on_paper", limit_s=120.0)
def on_paper(wish: Any, tell: Tell) -> dict[str, Any]:
    """Worksheet, key and questions of a lesson for one seed."""
    lesson, units = _lesson(wish), UnitSystem(wish["units"])
    return {
        "worksheet": asdict(worksheet(lesson, wish["seed"], units)),
        "key": asdict(key_sheet(lesson, wish["seed"], units)),
        "questions": questions_of(lesson, wish["seed"], units),
    }


@computation("propose", limit_s=240.0)
def proposal(wish: Any, tell: Tell) -> dict[str, Any]:
    """A whole lesson for an aim."""
    fetch_sheet(load_rig(wish["rig"]))
    tell(0.1, "readings that tell the fault are looked for")
    made = propose(Wish(**wish))
    return {
        "document": made.lesson.model_dump(mode="json"),
        "minutes": sum(made.minutes.values()),
        "reasons": list(made.reasons),
    }
