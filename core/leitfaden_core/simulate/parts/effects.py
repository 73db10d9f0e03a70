"""Where faults act on the engine, and when."""

from typing import Any

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.compiled import compiled, inlined
from leitfaden_core.simulate.layout import (
    GATE_ABOVE_COOLANT,
    GATE_ABOVE_TORQUE,
    GATE_AFTER_SOAK,
    GATE_BELOW_COOLANT,
    HOOK_COUNT,
    OP_ADD,
    OP_MAX,
    OP_MULTIPLY,
    OP_SET,
)
from leitfaden_core.simulate.limits import NEVER


@inlined
def apply_faults(
    hooks: NDArray[np.float64],
    sound: NDArray[np.float64],
    effects: Any,
    present: NDArray[np.uint8],
    frame: int,
    crank: Any,
    warm: Any,
    unit: Any,
    p: Any,
) -> None:
    """Set all hooks to a sound engine, then let every fault act that is there in this frame."""
    for k in range(HOOK_COUNT):
        hooks[k] = sound[k]
    unit.since_hot_restart = unit.run_time if unit.hot_restart > 0.5 and unit.running > 0.5 else NEVER
    if effects.shape[0] > 0:
        apply_faults_to(
            hooks,
            effects,
            present[frame],
            warm.temp_coolant,
            crank.brake_torque / p.rated_torque,
            unit.since_hot_restart,
        )


@compiled
def apply_faults_to(
    hooks: Any,
    effects: Any,
    present: NDArray[np.uint8],
    temp_coolant: float,
    torque_share: float,
    since_hot_restart: float,
) -> None:
    """Let every fault act that is there: by chance (``present``), by coolant temperature [K], by torque [-], or since a
    hot restart [s].
    """
    for k in range(effects.shape[0]):
        effect = effects[k]
        if present[effect.fault] == 0:
            continue
        gate = effect.gate
        if gate == GATE_ABOVE_COOLANT and temp_coolant <= effect.gate_value:
            continue
        if gate == GATE_BELOW_COOLANT and temp_coolant >= effect.gate_value:
            continue
        if gate == GATE_ABOVE_TORQUE and torque_share <= effect.gate_value:
            continue
        if gate == GATE_AFTER_SOAK and since_hot_restart > effect.gate_value:
            continue
        at = effect.hook
        if effect.op == OP_SET:
            hooks[at] = effect.value
        elif effect.op == OP_ADD:
            hooks[at] += effect.value
        elif effect.op == OP_MULTIPLY:
            hooks[at] *= effect.value
        elif effect.op == OP_MAX:
            hooks[at] = max(hooks[at], effect.value)
