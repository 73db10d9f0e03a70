"""NTC thermistors and the divider in the control unit.

Source: beta equation as a two-point form of Steinhart and Hart (Deep-Sea Research 15, 1968).
"""

import math

from leitfaden_core.compiled import compiled

T25 = 298.15


@compiled
def ntc_resistance(temp: float, r25: float, b: float) -> float:
    """Resistance of an NTC thermistor: ``r25·exp(b·(1/T − 1/298.15))``. Temperature and b in K, r25 in ohm. [ohm]"""
    return r25 * math.exp(b * (1.0 / temp - 1.0 / T25))


@compiled
def ntc_temperature(resistance: float, r25: float, b: float) -> float:
    """Temperature at which an NTC thermistor has that resistance, limited to 233.15..423.15 K. [K]"""
    if resistance <= 0.0:
        return 423.15
    inverse = 1.0 / T25 + math.log(resistance / r25) / b
    return min(max(1.0 / max(inverse, 1e-4), 233.15), 423.15)


@compiled
def believed_resistance(volts: float, pull_up: float, reference: float) -> float:
    """Resistance that a control unit reads from the voltage of its divider. [ohm]"""
    return pull_up * volts / max(reference - volts, 1e-6)
