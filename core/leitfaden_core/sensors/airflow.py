"""Airflow meters: hot elements with a voltage or a frequency output, and the older sprung flap.

Hot element: the bridge keeps the element a fixed step above the air; the heat that this takes grows with the root of
the mass flow (King, On the convection of heat from small cylinders, Phil. Trans. Royal Society A 214, 1914): V² = a +
b·sqrt(flow). Flap: the stream's dynamic pressure holds it against a spring, so it answers to mass flow over the root of
density; its housing is shaped so that the voltage grows with the logarithm. The control unit needs the air's density to
make a mass of it.
"""

import math

from leitfaden_core.compiled import compiled
from leitfaden_core.constants import R_AIR

#: Signal at full scale.
FULL_SCALE_VOLTS = 4.7
#: Frequency output: at the zero voltage, and more for each volt above it. [Hz], [Hz/V]
FREQUENCY_ZERO, FREQUENCY_PER_VOLT = 1500.0, 2800.0
#: Density of air for which a flap is calibrated (20 °C, 101.3 kPa) [kg/m³], and the bend of its housing.
FLAP_DENSITY, FLAP_BEND = 1.204, 30.0


@compiled
def meter_slope(zero: float, full_scale: float) -> float:
    """Slope of the squared voltage over the root of the flow: b of ``V² = a + b·sqrt(flow)``.

    Full scale in kg/s, zero in V. [V²/(kg/s)^½]

    References: King 1914.
    """
    return (FULL_SCALE_VOLTS * FULL_SCALE_VOLTS - zero * zero) / math.sqrt(full_scale)


@compiled
def meter_voltage(flow: float, zero: float, slope: float) -> float:
    """Signal voltage of a hot-element meter. Flow in kg/s, zero in V, slope from :func:`meter_slope`. [V]

    A plain element cannot tell the direction of the flow: the amount counts.

    References: King 1914.
    """
    return math.sqrt(zero * zero + slope * math.sqrt(abs(flow)))


@compiled
def meter_flow(volts: float, zero: float, slope: float) -> float:
    """Flow that the control unit reads from a signal voltage: :func:`meter_voltage` backwards, 0 below the zero
    voltage. [kg/s]

    References: King 1914, backwards.
    """
    root = max(volts * volts - zero * zero, 0.0) * (1.0 / slope)
    return root * root


@compiled
def meter_frequency(volts: float) -> float:
    """Frequency that a digital meter makes of its inner voltage. [Hz]

    >>> meter_frequency(1.0)
    1500.0

    References: a linear converter, 1.5 kHz and 2.8 kHz a volt; the line is this model's.
    """
    return FREQUENCY_ZERO + FREQUENCY_PER_VOLT * (volts - 1.0)


@compiled
def vane_voltage(flow: float, pressure: float, temp: float, zero: float, full_scale: float) -> float:
    """Signal of a flap that this mass flow holds open in air of this pressure and temperature. kg/s, Pa, K, V, kg/s.

    [V]

    References: Bernoulli for the flap, logarithmic housing.
    """
    share = abs(flow) / full_scale * math.sqrt(FLAP_DENSITY * R_AIR * temp / pressure)
    return zero + (FULL_SCALE_VOLTS - zero) * math.log(1.0 + FLAP_BEND * share) / math.log(1.0 + FLAP_BEND)


@compiled
def vane_flow(volts: float, pressure: float, temp: float, zero: float, full_scale: float) -> float:
    """Mass flow that the control unit makes of a flap's signal: :func:`vane_voltage` backwards with believed pressure
    and temperature. [kg/s]

    References: as vane_voltage, backwards.
    """
    bent = max(volts - zero, 0.0) / (FULL_SCALE_VOLTS - zero) * math.log(1.0 + FLAP_BEND)
    return (math.exp(bent) - 1.0) / FLAP_BEND * full_scale / math.sqrt(FLAP_DENSITY * R_AIR * temp / pressure)


@compiled
def heater_current(flow: float, full_scale: float) -> float:
    """Current that the meter draws from its supply: 0.1 A without flow, 0.5 A at full scale. [A]

    References: King 1914 (heat that the flow carries off); the ends are this model's.
    """
    return 0.1 + 0.4 * math.sqrt(min(abs(flow) / full_scale, 1.5))
