"""The numbers of one individual engine, and the effects of its faults, as the compiled step reads them."""

from functools import cache, lru_cache

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.errors import UnknownName
from leitfaden_core.faults import FaultSpec
from leitfaden_core.rigs import Rig
from leitfaden_core.sensors.oxygen import SPREAD_BEHIND, cell_voltage_table
from leitfaden_core.simulate.handwork import Handwork, acting
from leitfaden_core.simulate.layout import (
    EFFECT,
    GATE_ABOVE_COOLANT,
    GATE_ABOVE_TORQUE,
    GATE_AFTER_SOAK,
    GATE_ALWAYS,
    GATE_BELOW_COOLANT,
    HOOK_NAMES,
    INDIVIDUAL,
    OP_ADD,
    OP_MAX,
    OP_MULTIPLY,
    OP_SET,
    params_dtype,
)

_OPS = {"set": OP_SET, "add": OP_ADD, "multiply": OP_MULTIPLY, "max": OP_MAX}


def parameters(rig: Rig, individual: dict[str, float]) -> NDArray[np.void]:
    """One record of a rig's numbers with those in which this engine differs: names of ``layout.INDIVIDUAL`` and of the
    rig's fields.

    Raises
    ------
    UnknownName
        For a deviation that no engine has.
    """
    if individual:
        known = rig.numbers() | INDIVIDUAL
        unknown = sorted(set(individual) - set(known))
        if unknown:
            raise UnknownName("individual parameter", unknown[0], known)
    params = _of_rig(rig).copy()
    for name, value in individual.items():
        params[name] = value
    return params


@lru_cache(maxsize=32)
def _of_rig(rig: Rig) -> NDArray[np.void]:
    params = np.zeros(1, dtype=params_dtype(rig))
    for name, value in (rig.numbers() | INDIVIDUAL).items():
        params[name] = value
    spread = rig.exhaust.mixture_spread
    params["cell_table"], params["rear_cell_table"] = _cell_table(spread), _cell_table(SPREAD_BEHIND * spread)
    return params


@cache
def _cell_table(spread: float) -> NDArray[np.float64]:
    return cell_voltage_table(spread)


def effect_rows(rig: Rig, faults: list[FaultSpec], work: Handwork) -> NDArray[np.void]:
    """Where faults and handwork act and how: rows of ``layout.EFFECT``, each with the number of its fault; the number
    behind the last is that of what is always there.
    """
    gates = [*(_gate(spec) for spec in faults), (GATE_ALWAYS, 0.0)]
    rows = [
        (HOOK_NAMES.index(effect.hook), _OPS[effect.op], effect.value, *gates[k], k)
        for k, effect in acting(rig, faults, work)
    ]
    return np.array(rows, dtype=EFFECT)


def _gate(spec: FaultSpec) -> tuple[int, float]:
    onset = spec.onset
    if onset.mode == "hot":
        return GATE_ABOVE_COOLANT, (onset.above_C or 0.0) + 273.15
    if onset.mode == "cold":
        return GATE_BELOW_COOLANT, (onset.below_C or 0.0) + 273.15
    if onset.mode == "load":
        return GATE_ABOVE_TORQUE, (onset.above_percent or 0.0) / 100.0
    if onset.mode == "after_hot_soak":
        return GATE_AFTER_SOAK, onset.for_s or 0.0
    return GATE_ALWAYS, 0.0
