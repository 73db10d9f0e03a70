"""Monitors of the cooling system."""

import numpy as np

from leitfaden_core.constants import ZERO_CELSIUS
from leitfaden_core.monitors.logic import Held, Test, monitor
from leitfaden_core.rigs import Rig

#: Coolant above the thermostat's opening temperature that no sound engine reaches. [K]
TOO_HOT = 27.0
#: Intake air below which the coolant is not judged. [°C]
FROST = -5.0


@monitor("P0128", "components", "ect")
def _thermostat(rig: Rig) -> Test:
    """After eight minutes' worth of running, and on the road, the coolant is still well below its regulated
    temperature; in frost that proves nothing.
    """
    regulated = rig.thermal.thermostat_opens - ZERO_CELSIUS
    return Held(
        lambda drive: np.asarray(drive["ect"] < regulated - 8.0),
        15.0,
        lambda drive: np.asarray((drive["run_seconds"] > 480.0) & (drive["kmh"] > 40.0) & (drive["iat"] > FROST)),
    )


@monitor("P0217", "components", "ect", trips=1)
def _overheated(rig: Rig) -> Test:
    """The coolant stays well above what thermostat, fan and radiator hold."""
    hottest = rig.thermal.thermostat_opens - ZERO_CELSIUS + TOO_HOT
    return Held(lambda drive: np.asarray(drive["ect"] > hottest), 5.0, lambda drive: drive.running)
