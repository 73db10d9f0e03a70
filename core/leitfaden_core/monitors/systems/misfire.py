"""Monitors of misfire, of one cylinder and of several."""

from collections.abc import Callable

import numpy as np

from leitfaden_core.monitors.logic import MONITORS, Flags, Held, Monitor, Stretch, Test, monitor
from leitfaden_core.rigs import Rig


@monitor("P0300", "misfire", "petrol")
def _misfire(rig: Rig) -> Test:
    """The crankshaft tells only while the engine gives torque; of one cylinder its own code tells."""
    return _misfires(lambda drive: np.asarray(drive["weak_cylinder"] < 0.5))


def _misfires(where: Callable[[Stretch], Flags]) -> Test:
    return Held(
        lambda drive: np.asarray((drive["misfire"] > 0.05) & where(drive)),
        8.0,
        lambda drive: np.asarray(drive.running & (drive["load"] > 10.0)),
    )


def _cylinder_misfire(number: int) -> Callable[[Rig], Test]:
    return lambda rig: _misfires(lambda drive: np.asarray(drive["weak_cylinder"] == number))


for _number in range(1, 9):
    MONITORS.append(
        Monitor(f"P030{_number}", "misfire", _cylinder_misfire(_number), f"petrol_cylinder_{_number}", trips=2)
    )
