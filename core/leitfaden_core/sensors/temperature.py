"""NTC thermistors, resistance thermometers for the exhaust, and the divider in the control unit.

Sources: beta equation as a two-point form of Steinhart and Hart (Deep-Sea Research 15, 1968); Callendar and Van Dusen's
polynomial for platinum with the coefficients of IEC 60751 for the exhaust.
"""

import math

from leitfaden_core.compiled import compiled

T25 = 298.15
#: Platinum thermometer of 200 ohm at 0 °C: linear and quadratic coefficient [1/K, 1/K²], pull-up in the control unit
#: [ohm].
PTC_R0, PTC_A, PTC_B, PTC_PULL_UP = 200.0, 3.9083e-3, -5.775e-7, 1000.0
#: What the control unit makes of a wire that is shorted or broken. [K]
PTC_COLDEST, PTC_HOTTEST = 233.15, 1273.15


@compiled
def ntc_resistance(temp: float, r25: float, b: float) -> float:
    """Resistance of an NTC thermistor: ``r25·exp(b·(1/T − 1/298.15))``. Temperature and b in K, r25 in ohm. [ohm]

    References: beta equation, from Steinhart and Hart 1968.
    """
    return r25 * math.exp(b * (1.0 / temp - 1.0 / T25))


@compiled
def dead_spot(temp: float, at: float, width: float) -> float:
    """Factor on a thermistor's resistance where its contact opens over a stretch of temperature: thirty times, else 1.
    Temperatures in K. [-]

    >>> dead_spot(325.0, 323.0, 10.0), dead_spot(330.0, 323.0, 10.0)
    (30.0, 1.0)

    References: this model's; the factor is an order of magnitude.
    """
    return 30.0 if abs(temp - at) < 0.5 * width else 1.0


@compiled
def ntc_temperature(resistance: float, r25: float, b: float) -> float:
    """Temperature at which an NTC thermistor has that resistance, limited to 233.15..423.15 K. [K]

    References: as ntc_resistance, backwards.
    """
    if resistance <= 0.0:
        return 423.15
    inverse = 1.0 / T25 + math.log(resistance / r25) / b
    return min(max(1.0 / max(inverse, 1e-4), 233.15), 423.15)


@compiled
def believed_resistance(volts: float, pull_up: float, reference: float) -> float:
    """Resistance that a control unit reads from the voltage of its divider. [ohm]

    References: Ohm's law.
    """
    return pull_up * volts / max(reference - volts, 1e-6)


@compiled
def ptc_resistance(temp: float) -> float:
    """Resistance of the exhaust thermometer: ``R0·(1 + A·t + B·t²)``, t in °C, argument in K. [ohm]

    >>> round(ptc_resistance(273.15 + 100.0), 1)
    277.0

    References: Callendar and Van Dusen (platinum, above 0 °C), IEC 60751:2008.
    """
    t = temp - 273.15
    return PTC_R0 * (1.0 + PTC_A * t + PTC_B * t * t)


@compiled
def ptc_temperature(resistance: float) -> float:
    """Temperature at which the exhaust thermometer has that resistance, within what the control unit shows. [K]

    References: as ptc_resistance, backwards.
    """
    under = PTC_A * PTC_A - 4.0 * PTC_B * (1.0 - resistance / PTC_R0)
    t = (-PTC_A + math.sqrt(max(under, 0.0))) / (2.0 * PTC_B)
    return min(max(t + 273.15, PTC_COLDEST), PTC_HOTTEST) if under > 0.0 else PTC_HOTTEST
