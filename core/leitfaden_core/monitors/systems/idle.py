"""Monitors of the idle speed."""

from collections.abc import Callable

import numpy as np

from leitfaden_core.monitors.logic import Flags, Held, Stretch, Test, Values, monitor
from leitfaden_core.rigs import Rig


@monitor("P0506", "components")
def _idle_low(rig: Rig) -> Test:
    return _idle(rig, lambda error: np.asarray(error < -100.0))


@monitor("P0507", "components")
def _idle_high(rig: Rig) -> Test:
    return _idle(rig, lambda error: np.asarray(error > 200.0))


def _idle(rig: Rig, beyond: Callable[[Values], Flags]) -> Test:
    """Warm idle off its target, the pedal released as far as the control unit sees."""
    control = rig.control

    def off_target(drive: Stretch) -> Flags:
        target = control.idle_target + control.idle_cold_raise * np.maximum(80.0 - drive["ect"], 0.0)
        # A large leak makes the fuel cut come and go: the mean counts.
        return beyond(drive.smooth("idle error", drive["rpm"] - target, 3.0))

    def warm_idle(drive: Stretch) -> Flags:
        released = drive.running & (drive["pedal_seen"] < 0.01) & (drive["in_gear"] < 0.5) & (drive["time_lapse"] < 1.5)
        return np.asarray(released & (drive["ect"] > 70.0) & (drive["run_seconds"] > 30.0))

    return Held(off_target, 10.0, warm_idle)
