"""Ratiometric pressure sensors: the signal is a share of the sensor's own supply."""

from leitfaden_core.compiled import compiled

#: Rail pressure sensor: share of the supply at ambient pressure, and per MPa gauge.
RAIL_OFFSET, RAIL_GAIN = 0.1, 0.004
#: Differential pressure sensor of a particle filter: share of the supply at no difference, and per kPa.
DP_OFFSET, DP_GAIN = 0.1, 0.008


@compiled
def ratiometric_voltage(pressure_abs: float, supply: float, offset: float, gain: float) -> float:
    """Signal of a ratiometric sensor, ``supply·(offset + gain·p)``, held within 0..supply. Pressure in kPa, gain in 1/kPa. [V]"""
    return supply * min(max(offset + gain * pressure_abs, 0.0), 1.0)


@compiled
def believed_pressure(volts: float, reference: float, offset: float, gain: float) -> float:
    """Pressure that a control unit reads from the signal; it assumes its own reference. [kPa]"""
    return (volts / reference - offset) / gain
