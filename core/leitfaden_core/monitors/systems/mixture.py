"""Monitors of the mixture: what the trims must make up for."""

from collections.abc import Callable

import numpy as np

from leitfaden_core.channels import channel
from leitfaden_core.monitors.logic import Flags, Held, Stretch, Test, Values, monitor
from leitfaden_core.rigs import Rig

#: Total trim that the fuel system monitor takes for too much, and how long it must last. [%], [s]
TRIM_LIMIT, TRIM_LASTS = 22.0, 20.0
#: Mean of a front sensor's pin below which it can only lie at ground: the leanest gas that burns gives more. [V]
AT_GROUND = 0.02


@monitor("P0171", "fuel system", "trims")
def _lean(rig: Rig) -> Test:
    return _trim(rig, lambda total: np.asarray(total > TRIM_LIMIT))


@monitor("P0172", "fuel system", "trims")
def _rich(rig: Rig) -> Test:
    return _trim(rig, lambda total: np.asarray(total < -TRIM_LIMIT))


@monitor("P0174", "fuel system", "two_banks")
def _lean_second(rig: Rig) -> Test:
    return _trim(rig, lambda total: np.asarray(total > TRIM_LIMIT), "total_trim_2")


@monitor("P0174", "fuel system", "governor")
def _power_lean(rig: Rig) -> Test:
    """A governed engine under load: the sensor, which was rich a moment before, goes lean and the enrichment does not
    bring it back. A sensor that was never rich says nothing about power.
    """

    def asked(drive: Stretch) -> Flags:
        loaded = drive.running & (drive["throttle"] > 80.0) & (drive["load"] > 80.0) & (drive["injector_ms"] > 0.0)
        rich = (drive["ho2s_b1s1_pin_v"] > ALIVE).astype(float)
        return np.asarray(loaded & (drive.smooth("rich of late", rich, 10.0) > 0.05))

    return Held(lambda drive: np.asarray(drive["ho2s_b1s1_pin_v"] < ALIVE), 2.5, asked)


#: Voltage to which a governed engine's front sensor, which stands rich, returns after a load step. [V]
ALIVE = 0.6


@monitor("P0175", "fuel system", "two_banks")
def _rich_second(rig: Rig) -> Test:
    return _trim(rig, lambda total: np.asarray(total < -TRIM_LIMIT), "total_trim_2")


def _trim(rig: Rig, beyond: Callable[[Values], Flags], which: str = "total_trim") -> Test:
    """Total trim, smoothed over the swing of the controller, beyond a limit in warm closed loop; a switching sensor
    that lies at ground tells nothing about the mixture.
    """
    volts = "ho2s_b2s1_pin_v" if which == "total_trim_2" else "ho2s_b1s1_pin_v"

    def judged(drive: Stretch) -> Flags:
        told = np.asarray((drive["closed_loop"] > 0.5) & (drive["ect"] > 70.0))
        if channel(volts).needs in rig.features:
            told &= drive.smooth(volts, drive[volts], 3.0) > AT_GROUND
        return told

    return Held(lambda drive: beyond(drive.smooth(which, drive[which], 3.0)), TRIM_LASTS, judged)
