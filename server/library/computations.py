"""What the library asks of the model. Each function runs in a worker and gets plain data."""

from dataclasses import asdict
from typing import Any

from jobs.kinds import HEAVY, Tell, computation
from leitfaden_core.expect import compute_sheet, sheet_text
from leitfaden_core.explore import narrowband_grid
from leitfaden_core.faults import FaultSpec
from leitfaden_core.judge import RuleBook
from leitfaden_core.lessons import (
    Lesson,
    check_lesson,
    parse_lesson,
    publishing_problems,
    station_key,
    station_lanes,
    station_view,
)
from leitfaden_core.monitors import code, trouble_codes
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.rigs import load_rig
from leitfaden_core.scripts import load_script
from leitfaden_core.simulate import cached_run
from library.lanes import bands, drawn, lanes, readings
from library.sheets import fetch_sheet


@computation("bench_run", limit_s=20.0, supersedes=True)
def bench_run(wish: Any, tell: Tell) -> dict[str, Any]:
    """A rig along a script: lanes good beside faulty, readings with verdicts, codes."""
    rig, script, channels, seed = load_rig(wish["rig"]), load_script(wish["script"]), wish["channels"], wish["seed"]
    fetch_sheet(rig)
    faults = [FaultSpec.model_validate(fault) for fault in wish["faults"]]
    good = cached_run(rig, script, [], seed)
    tell(0.5, "the sound engine has run")
    run = cached_run(rig, script, faults, seed) if faults else good
    rules, units = RuleBook.model_validate(wish["rules"]).of_trims(), UnitSystem(wish["units"])
    return lanes(run, channels, good) | {
        "readings": readings(run, good, channels, rules, units),
        "bands": bands(rig, channels),
        "codes": [asdict(code(name, rig)) for name in trouble_codes(run)],
    }


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
    rules, units = RuleBook.model_validate(wish["rules"]).of_trims(), UnitSystem(wish["units"])
    view = station_view(lesson, 0, seed).model_dump()
    tell(0.5, "the key is being computed")
    return {
        "station": view,
        "key": station_key(lesson, 0, seed, rules, units).model_dump(),
        "lanes": drawn(station_lanes(lesson, 0, seed)),
    }


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


@computation("sheet", queue=HEAVY, limit_s=1800.0, background=True)
def sheet(wish: Any, tell: Tell) -> str:
    """The value sheet of an engine that ships without one."""
    rig = load_rig(wish["rig"])
    return sheet_text(
        compute_sheet(
            rig,
            workers=0,
            progress=lambda done, of: tell(done / of, f"value sheet of {rig.name}: {done} of {of} engines"),
        )
    )


@computation("narrowband", limit_s=30.0)
def narrowband(wish: Any, tell: Tell) -> dict[str, Any]:
    """A narrowband sensor over mixture and temperature."""
    return asdict(narrowband_grid(load_rig(wish["rig"])))
