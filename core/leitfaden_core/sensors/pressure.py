"""Ratiometric pressure sensors: the signal is a share of the sensor's own supply."""

import math

from leitfaden_core.compiled import compiled
from leitfaden_core.constants import R_AIR

#: Rail pressure sensor: share of the supply at ambient pressure, and per MPa gauge.
RAIL_OFFSET, RAIL_GAIN = 0.1, 0.004
#: Differential pressure sensor of a particle filter: share of the supply at no difference, and per kPa.
DP_OFFSET, DP_GAIN = 0.1, 0.008
#: Differential pressure sensor over an EGR orifice: share of the supply at no difference, and per kPa.
EGR_DP_OFFSET, EGR_DP_GAIN = 0.1, 0.12
#: Temperature of recirculated gas for which a control unit is calibrated. [K]
EGR_GAS = 800.0


@compiled
def believed_pressure(volts: float, reference: float, offset: float, gain: float) -> float:
    """Pressure that a control unit reads from the signal; it assumes its own reference. [kPa]

    References: ratiometric divider.
    """
    return (volts / reference - offset) / gain


@compiled
def orifice_drop(flow: float, area: float, pressure: float, temp: float) -> float:
    """Pressure drop over a metering orifice, ``(m/A)²·R·T/(2·p)``: it grows with flow squared. kg/s, m² effective, Pa,
    K. [Pa]

    >>> round(orifice_drop(0.002, 3e-5, 101e3, 800.0) / orifice_drop(0.001, 3e-5, 101e3, 800.0), 3)
    4.0

    References: orifice equation; Heywood 1988, app. C at small drops.
    """
    return (flow / area) ** 2 * R_AIR * temp / (2.0 * pressure)


@compiled
def orifice_mass_flow(drop: float, area: float, pressure: float, temp: float) -> float:
    """Flow that a control unit reads from the drop: :func:`orifice_drop` backwards, 0 for a drop below zero. [kg/s]

    References: as orifice_drop, backwards.
    """
    return area * math.sqrt(2.0 * pressure * max(drop, 0.0) / (R_AIR * temp))
