"""The model's loop against the same loop in C: equal lanes, and the ratio of their speeds."""

import ctypes
import statistics
import time
from typing import Any

import numpy as np
from numpy.typing import NDArray

from benchmark.translate import build, compiler
from leitfaden_core.rigs import load_rig, rig_ids
from leitfaden_core.scripts import load_script
from leitfaden_core.simulate.layout import HOOKS, LANES, LTFT_CELLS
from leitfaden_core.simulate.plan import Plan, make_plan
from leitfaden_core.simulate.run import initial_state, run_plan

ROUNDS = 5
#: Lanes of both loops may differ by rounding in libraries only.
SAME_WITHIN = 1e-3


def run_in_c(library: ctypes.CDLL, plan: Plan, memory: NDArray[np.float64]) -> tuple[NDArray[Any], float]:
    """One run by the C loop: lanes, and seconds spent in it."""
    hooks = np.array(list(HOOKS.values()))
    sound, state = hooks.copy(), initial_state(plan)
    state["ltft"] = memory
    lanes = np.zeros(len(plan.inputs), dtype=LANES)
    params = np.array([plan.params])
    effects = plan.effects if len(plan.effects) else np.zeros(1, dtype=plan.effects.dtype)

    def at(array: NDArray[Any]) -> ctypes.c_void_p:
        return ctypes.c_void_p(array.ctypes.data)

    arrays = (params, state, hooks, hooks, sound, effects, plan.present, plan.inputs)
    start = time.perf_counter()
    library.simulate(
        *(ctypes.c_long(n) for n in (len(plan.inputs), len(plan.effects), plan.present.shape[1])),
        *map(at, arrays),
        ctypes.c_uint64(plan.seed),
        at(lanes),
    )
    return lanes, time.perf_counter() - start


def against_c() -> dict[str, Any]:
    """Speed of every rig in simulated seconds per second, and its ratio to the same loop in C; no ratio where there is no C compiler."""
    script = load_script("workshop_day")
    found: dict[str, Any] = {}
    library = None
    for rig_id in rig_ids():
        plan = make_plan(load_rig(rig_id), script, [], 1)
        run_plan(plan, np.zeros(2 * LTFT_CELLS))
        ours, theirs = [], []
        if library is None and compiler() is not None:
            library = build(plan.params.dtype)
        for _ in range(ROUNDS):
            start = time.perf_counter()
            lanes = run_plan(plan, np.zeros(2 * LTFT_CELLS))
            ours.append(time.perf_counter() - start)
            if library is not None:
                other, seconds = run_in_c(library, plan, np.zeros(2 * LTFT_CELLS))
                theirs.append(seconds)
        figures: dict[str, Any] = {"x_real_time": round(script.seconds / statistics.median(ours))}
        if library is not None:
            figures |= {"ratio_to_c": round(statistics.median(theirs) / statistics.median(ours), 2), "same_lanes": _same(lanes, other)}
        found[rig_id] = figures
    return found


def _same(ours: NDArray[Any], theirs: NDArray[Any]) -> bool:
    return all(
        np.allclose(ours[name].astype(float), theirs[name].astype(float), rtol=SAME_WITHIN, atol=SAME_WITHIN, equal_nan=True)
        for name in LANES.names or ()
    )
