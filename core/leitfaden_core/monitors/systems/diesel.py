"""Monitors of the rail and of the particle filter."""

import numpy as np

from leitfaden_core.constants import ZERO_CELSIUS
from leitfaden_core.monitors.logic import Flags, Held, Stretch, Test, Values, monitor
from leitfaden_core.rigs import Rig


def _injects(drive: Stretch) -> Flags:
    return np.asarray(drive.running & (drive["run_seconds"] > 3.0))


@monitor("P0087", "fuel system", "rail")
def _rail_low(rig: Rig) -> Test:
    return Held(lambda drive: np.asarray(drive["rail_pressure"] < 0.85 * drive["rail_wanted"]), 3.0, _injects)


@monitor("P0088", "fuel system", "rail")
def _rail_high(rig: Rig) -> Test:
    return Held(lambda drive: np.asarray(drive["rail_pressure"] > 1.15 * drive["rail_wanted"]), 3.0, _injects)


def _filter_expected(drive: Stretch) -> Values:
    """Drop that a sound filter would show at this flow and temperature. [kPa]"""
    part = drive.rig.particle_filter
    assert part is not None
    flow = drive["maf"].astype(float) / 1000.0
    temp = drive["egt_2"].astype(float) + ZERO_CELSIUS
    return np.asarray((part.filter_linear + part.filter_quadratic * flow) * flow * temp / 1000.0)


@monitor("P2463", "particle filter", "dpf")
def _filter_full(rig: Rig) -> Test:
    """Much more drop than a sound filter has, at real flow."""
    return Held(
        lambda drive: np.asarray(drive["dpf_dp"] > 2.0 * _filter_expected(drive) + 3.0),
        3.0,
        lambda drive: np.asarray(drive.running & (drive["maf"] > 40.0)),
    )


@monitor("P2453", "particle filter", "dpf_dp")
def _filter_sensor(rig: Rig) -> Test:
    """Hardly any drop, or a negative one, where even an empty filter has some."""
    return Held(
        lambda drive: np.asarray(drive["dpf_dp"] < 0.2 * _filter_expected(drive)),
        3.0,
        lambda drive: np.asarray(drive.running & (_filter_expected(drive) > 2.5)),
    )
