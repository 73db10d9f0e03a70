"""The model's loop against the same loop in C: equal lanes, and the ratio of their speeds."""

import ctypes
import statistics
import time
from typing import Any

import numpy as np
from numpy.typing import NDArray

from benchmark.translate import build, compiler
from leitfaden_core.rigs import Rig, load_rig, rig_ids
from leitfaden_core.scripts import Script, load_script
from leitfaden_core.simulate.actions import script_actions
from leitfaden_core.simulate.layout import EFFECT, HOOKS, LANES, LTFT_CELLS, params_dtype
from leitfaden_core.simulate.run import machine_for, run_script

ROUNDS = 5
#: Lanes of both loops may differ by rounding in libraries only.
SAME_WITHIN = 1e-3


def run_in_c(library: ctypes.CDLL, rig: Rig, script: Script, seed: int) -> tuple[NDArray[Any], float]:
    """A sound engine along a script by the C loop: lanes, and seconds spent in it."""
    machine, ahead = (machine_for(rig, script, [], seed, None, np.zeros(2 * LTFT_CELLS)) for _ in range(2))
    parts = []
    # What hands do may depend on where the engine is by then: another machine goes ahead.
    for done, frames in script_actions(script):
        for action in done:
            ahead.act(action)
        each = np.arange(frames)
        parts.append([rows[np.minimum(each, len(rows) - 1)] for rows in ahead.laid_out(frames)])
        ahead.advance(frames)
    inputs, present = (np.concatenate([part[k] for part in parts]) for k in (0, 1))
    hooks, effects = np.array(list(HOOKS.values())), np.zeros(1, dtype=EFFECT)
    lanes = np.zeros(len(inputs), dtype=LANES)

    def at(array: NDArray[Any]) -> ctypes.c_void_p:
        return ctypes.c_void_p(array.ctypes.data)

    arrays = (machine.params, machine.state, hooks, hooks, hooks.copy(), effects, present, inputs)
    start = time.perf_counter()
    library.simulate(
        *(ctypes.c_long(n) for n in (len(inputs), 0, present.shape[1])),
        *map(at, arrays),
        ctypes.c_long(0),
        ctypes.c_uint64(seed),
        *map(at, (lanes, machine.state, lanes)),
    )
    return lanes, time.perf_counter() - start


def against_c() -> dict[str, Any]:
    """Speed of every rig in simulated seconds per second, and its ratio to the same loop in C; no ratio where there is
    no C compiler.
    """
    script = load_script("workshop_day")
    found: dict[str, Any] = {}
    library = None
    for rig in map(load_rig, rig_ids()):
        run_script(rig, script, [], 1, None, np.zeros(2 * LTFT_CELLS))
        ours, theirs = [], []
        if library is None and compiler() is not None:
            library = build(params_dtype(rig))
        for _ in range(ROUNDS):
            start = time.perf_counter()
            lanes, _memory = run_script(rig, script, [], 1, None, np.zeros(2 * LTFT_CELLS))
            ours.append(time.perf_counter() - start)
            if library is not None:
                other, seconds = run_in_c(library, rig, script, 1)
                theirs.append(seconds)
        figures: dict[str, Any] = {"x_real_time": round(script.seconds / statistics.median(ours))}
        if library is not None:
            figures |= {
                "ratio_to_c": round(statistics.median(theirs) / statistics.median(ours), 2),
                "same_lanes": _same(lanes, other),
            }
        found[rig.id] = figures
    return found


def _same(ours: NDArray[Any], theirs: NDArray[Any]) -> bool:
    return all(
        np.allclose(
            ours[name].astype(float), theirs[name].astype(float), rtol=SAME_WITHIN, atol=SAME_WITHIN, equal_nan=True
        )
        for name in LANES.names or ()
    )
