"""The first minute: hot idle on the thread, and one reading that a technician would doubt."""

from typing import Any

import numpy as np

from leitfaden_core.channels import CHANNELS, Layer, rounded
from leitfaden_core.expect import individual_engine
from leitfaden_core.faults import FaultSpec
from leitfaden_core.judge import VerdictKind, judge_reading
from leitfaden_core.quantities import QUANTITIES, digits_of
from leitfaden_core.rigs import load_rig
from leitfaden_core.scripts import CONDITIONS, load_script
from leitfaden_core.simulate import FRAME, Run, cached_run

#: So many different engines are shown, by seed from 1 on; a worker computes each once.
DOUBTS = 24
RIG, CONDITION = "R1", "hot_idle"
#: Values a second in the moving picture.
TRACE_HZ = 10.0
#: Engines drawn at most until one reading alone is doubtful: of a band of 95 in 100 sound readings fall out too.
DRAWS = 12
#: Faults that put one reading out of band at hot idle and leave the others in it.
PUZZLES = (
    FaultSpec(kind="iat_offset", params={"K": 38.0}),
    FaultSpec(kind="iat_offset", params={"K": -30.0}),
    FaultSpec(kind="maf_under_read", params={"gain": 0.78}),
    FaultSpec(kind="maf_over_read", params={"gain": 1.25}),
)


def _run(seed: int) -> Run:
    """The puzzle's engine: the first of a few drawn of which exactly one reading is doubtful as the school judges."""
    for draw in range(DRAWS):
        run = _drawn(seed + draw * DOUBTS, seed)
        if sum(v["verdict"] != VerdictKind.GOOD for v in _judged(run)) == 1:
            break
    return run


def _drawn(engine: int, seed: int) -> Run:
    rig = load_rig(RIG)
    fault = PUZZLES[int(np.random.default_rng([seed, 5]).integers(len(PUZZLES)))]
    return cached_run(rig, load_script("workshop_day"), [fault], engine, individual_engine(rig, engine, 0.3))


def readings(seed: int) -> dict[str, Any]:
    """Scan values of all sensors on the thread at hot idle, with one fault in the engine;

    ``trace`` is how they run, TRACE_HZ a second.
    """
    return {
        "seed": seed,
        "condition": CONDITIONS[CONDITION].label,
        "rig": load_rig(RIG).name,
        "readings": _read(_run(seed)),
    }


def _read(run: Run) -> list[dict[str, Any]]:
    rows_of_idle = run.rows(run.script.span(CONDITION))[:: round(1.0 / (FRAME * TRACE_HZ))]
    rows: list[dict[str, Any]] = []
    for sensor in run.rig.sensors:
        name = sensor.channels[0]
        entry = CHANNELS[name]
        if entry.layer is Layer.SCAN:
            rows.append(
                {
                    "id": name,
                    "term": sensor.term,
                    "label": sensor.name,
                    "family": entry.family,
                    "place": sensor.place,
                    "quantity": entry.quantity,
                    "step": entry.step,
                    "digits": digits_of(entry.step),
                    "unit": QUANTITIES[entry.quantity].kept,
                    "value": rounded(run.statistic(CONDITION, name, "mean"), entry.step),
                    "trace": [rounded(float(v), entry.step) for v in rows_of_idle[name]],
                }
            )
    return rows


def verdicts(seed: int) -> list[dict[str, Any]]:
    """Verdict on each reading of the puzzle."""
    return _judged(_run(seed))


def _judged(run: Run) -> list[dict[str, Any]]:
    rows = []
    for reading in _read(run):
        verdict = judge_reading(load_rig(RIG), CONDITION, reading["id"], reading["value"])
        band = verdict.band
        rows.append(
            {
                "id": reading["id"],
                "verdict": str(verdict.kind),
                "reason": verdict.reason,
                "low": band.low if band else None,
                "high": band.high if band else None,
            }
        )
    return rows
