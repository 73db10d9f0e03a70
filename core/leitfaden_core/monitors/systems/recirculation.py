"""Monitors of the exhaust recirculation."""

import numpy as np

from leitfaden_core.monitors.logic import After, Held, Test, Values, monitor
from leitfaden_core.rigs import Rig
from leitfaden_core.simulate import FRAME

#: What an open recirculation passage adds to the manifold pressure of overrun at least. [kPa]
LEAST_RISE = 3.0


@monitor("P0404", "EGR system", "egr_sensor")
def _egr_position(rig: Rig) -> Test:
    """The valve is not where it was sent."""
    return Held(
        lambda drive: np.asarray(
            np.abs(drive["egr_position"] - drive.smooth("egr_command", drive["egr_command"], 1.0)) > 15.0
        ),
        3.0,
        lambda drive: drive.running,
    )


@monitor("P0401", "EGR system", "egr_by_air")
def _egr_little(rig: Rig) -> Test:
    """The valve stands fully open and still there is clearly more fresh air than wanted."""
    return Held(
        lambda drive: np.asarray(drive["air_stroke"] > 1.2 * drive["egr_air_wanted"]),
        8.0,
        lambda drive: np.asarray(drive.running & (drive["egr_command"] > 98.0)),
    )


@monitor("P0402", "EGR system", "egr_by_air")
def _egr_much(rig: Rig) -> Test:
    """The valve is sent shut to save fresh air, and still there is clearly less than wanted."""
    return Held(
        lambda drive: np.asarray(drive["air_stroke"] < 0.8 * drive["egr_air_wanted"]),
        8.0,
        lambda drive: np.asarray(drive.running & (drive["egr_air_wanted"] > 0.0) & (drive["egr_command"] < 1.0)),
    )


@monitor("P0401", "EGR system", "egr_and_map")
def _egr_passage(rig: Rig) -> Test:
    """The valve is opened for a moment in overrun, and manifold pressure hardly rises."""
    quarter, half = round(0.25 / FRAME), round(0.5 / FRAME)

    def blocked(before: dict[str, Values], after: dict[str, Values]) -> bool | None:
        if len(before["map"]) < 2 * quarter or min(before["fuel_cut"].min(), after["fuel_cut"].min()) < 0.5:
            return None
        return bool(after["map"][half:].mean() - before["map"][:quarter].mean() < LEAST_RISE)

    return After(
        lambda drive: np.asarray((drive["fuel_cut"] > 0.5) & (drive["egr_command"] > 30.0)),
        0.5,
        1.0,
        ("map", "fuel_cut"),
        blocked,
    )


@monitor("P0401", "EGR system", "egr_dp")
def _egr_drop_small(rig: Rig) -> Test:
    """The drop over the metering orifice stays far below what was wanted, while there is vacuum enough to lift the
    valve.
    """
    return Held(
        lambda drive: np.asarray(drive["egr_dp"] < 0.4 * drive["egr_dp_wanted"]),
        5.0,
        lambda drive: np.asarray(drive.running & (drive["egr_dp_wanted"] > 0.5) & (drive["map"] < 75.0)),
    )


@monitor("P0402", "EGR system", "egr_dp")
def _egr_drop_unasked(rig: Rig) -> Test:
    """There is a drop although no recirculation is wanted."""
    return Held(
        lambda drive: np.asarray(drive["egr_dp"] > 0.4),
        5.0,
        lambda drive: np.asarray(drive.running & (drive["egr_dp_wanted"] <= 0.0) & (drive["run_seconds"] > 10.0)),
    )
