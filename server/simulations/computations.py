"""What can be asked of the model without a lesson. Each function runs in a worker and gets plain data."""

from dataclasses import asdict
from functools import lru_cache
from typing import Any

from jobs.kinds import HEAVY, Tell, computation
from leitfaden_core.expect import compute_sheet, sheet_text
from leitfaden_core.faults import FaultSpec
from leitfaden_core.judge.evidence import LIST_ALARMS
from leitfaden_core.monitors import code, watched_run
from leitfaden_core.recordings import RunRecording
from leitfaden_core.rigs import Rig, load_rig
from leitfaden_core.scripts import Script, load_script, script_with
from leitfaden_core.simulate import cached_run
from leitfaden_core.words import say
from leitfaden_core.workings import from_run, workings
from simulations.lanes import bands, lanes, readings
from simulations.sheets import fetch_sheet
from simulations.wishes import oxygen_limits, rules_and_units
from simulations.workings import with_units


@computation("bench_run", limit_s=20.0, supersedes=True)
def bench_run(wish: Any, tell: Tell) -> dict[str, Any]:
    """A rig along a script: lanes good beside faulty, readings with verdicts, codes."""
    rig, script, channels, seed = load_rig(wish["rig"]), load_script(wish["script"]), wish["channels"], wish["seed"]
    fetch_sheet(rig)
    faults = [FaultSpec.model_validate(fault) for fault in wish["faults"]]
    good, sound_codes = _sound(rig, script.id, seed)
    tell(0.5, "the sound engine has run")
    run, codes = _driven(rig, script, faults, seed) if faults else (good, sound_codes)
    rules, units = rules_and_units(wish)
    return lanes(run, channels, good if wish["good"] else None) | {
        "readings": readings(run, good, channels, rules, units, oxygen_limits(wish)),
        "bands": bands(rig, channels),
        "sound_alarms": LIST_ALARMS,
        "codes": [asdict(code(name, rig)) for name in codes],
    }


@lru_cache(maxsize=2)
def _sound(rig: Rig, script: str, seed: int) -> tuple[RunRecording, list[str]]:
    """The sound engine's run, with what was asked of it before: every edit of a fault is held against it."""
    return _driven(rig, load_script(script), [], seed)


def _driven(rig: Rig, script: Script, faults: list[FaultSpec], seed: int) -> tuple[RunRecording, list[str]]:
    """A run as a recording, and its codes."""
    run, codes = watched_run(rig, script, faults, seed)
    return RunRecording(run), codes


@computation("sheet", queue=HEAVY, limit_s=1800.0, background=True)
def sheet(wish: Any, tell: Tell) -> str:
    """The value sheet of an engine that ships without one."""
    rig = load_rig(wish["rig"])
    return sheet_text(
        compute_sheet(
            rig,
            workers=0,
            progress=lambda done, of: tell(
                done / of, say("value sheet of {rig}: {done} of {of} engines", rig=rig.name, done=done, of=of)
            ),
        )
    )


@computation("feed", limit_s=20.0)
def feed(wish: Any, tell: Tell) -> dict[str, Any]:
    """What an engine shows in a condition, as the inputs of a calculation."""
    working = workings.get(wish["working"])
    run = cached_run(load_rig(wish["rig"]), script_with(wish["condition"]), [], 0)
    values, sources = from_run(working, run, wish["condition"])
    return {"given": with_units(working, values), "sources": sources}
