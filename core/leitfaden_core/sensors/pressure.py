"""Ratiometric pressure sensors: the signal is a share of the sensor's own supply."""

from leitfaden_core.compiled import compiled

#: 1-bar sensor: share of the supply at vacuum, and per kPa.
ONE_BAR_OFFSET = 0.04
ONE_BAR_GAIN = 0.0085


@compiled
def ratiometric_voltage(pressure_abs: float, supply: float, offset: float, gain: float) -> float:
    """Signal of a ratiometric sensor, ``supply·(offset + gain·p)``, held within 0..supply. Pressure in kPa, gain in 1/kPa. [V]"""
    return supply * min(max(offset + gain * pressure_abs, 0.0), 1.0)


@compiled
def believed_pressure(volts: float, reference: float, offset: float, gain: float) -> float:
    """Pressure that a control unit reads from the signal; it assumes its own reference. [kPa]"""
    return (volts / reference - offset) / gain
