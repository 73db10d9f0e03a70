"""Wide-range oxygen sensor: the pump current that keeps the measuring chamber stoichiometric.

Gas diffuses into a small chamber; the pump cell carries oxygen out (lean) or in (rich) until the sensing cell between
chamber and reference air shows 450 mV. The limiting current is proportional to what diffuses: excess oxygen when lean,
the oxygen demand of CO and H2 when rich, whose diffusion differs from that of O2 (Brailsford, Yussouff and Logothetis,
Sensors and Actuators B 1993–1997; Guzzella and Onder 2010, ch. 2.9 for its use in control).
"""

from leitfaden_core.compiled import compiled
from leitfaden_core.sensors.oxygen import OXYGEN_IN_AIR

#: Share of hydrogen in the oxygen demand of rich gas at the water-gas equilibrium of about 3.5, and how much faster
#: than oxygen hydrogen and carbon monoxide diffuse: by the root of the molar masses. [-]
HYDROGEN_SHARE, HYDROGEN_FASTER, MONOXIDE_FASTER = 0.26, 4.0, 1.07
#: Pump current per mole fraction of excess oxygen, lean, and of oxygen demand, rich. [mA]
LEAN_MA = 12.2
RICH_MA = LEAN_MA * (HYDROGEN_SHARE * HYDROGEN_FASTER + (1.0 - HYDROGEN_SHARE) * MONOXIDE_FASTER)
#: Excess oxygen of lean gas ``OXYGEN·(1−φ)/(1+DILUTION·φ)``; oxygen demand of rich gas ``DEMAND·(φ−1)``.
DILUTION, DEMAND = 0.065, 0.195
#: What the control unit works out from the current: leanest and richest lambda that it shows.
LAMBDA_LEANEST, LAMBDA_RICHEST = 10.0, 0.65


@compiled
def pump_current(phi: float) -> float:
    """Pump current of a sound, warm sensor; positive when oxygen is pumped out of the chamber (lean). [mA]

    ``phi`` is the fuel-air equivalence ratio of the gas, 0 (air) to 2.

    >>> round(pump_current(0.0), 2), pump_current(1.0), round(pump_current(1.0 / 0.85), 2)
    (2.56, -0.0, -0.77)

    References: Brailsford, Yussouff and Logothetis 1997 (limiting current).
    """
    if phi < 1.0:
        return LEAN_MA * OXYGEN_IN_AIR * (1.0 - phi) / (1.0 + DILUTION * phi)
    return -RICH_MA * DEMAND * (phi - 1.0)


@compiled
def lambda_from_current(milliamps: float) -> float:
    """Lambda that the control unit works out from the pump current: :func:`pump_current` backwards, within what it
    shows. [-]

    References: as pump_current, backwards.
    """
    if milliamps > 0.0:
        share = milliamps / (LEAN_MA * OXYGEN_IN_AIR)
        phi = (1.0 - share) / (1.0 + DILUTION * share)
    else:
        phi = 1.0 - milliamps / (RICH_MA * DEMAND)
    return min(max(1.0 / max(phi, 1.0 / LAMBDA_LEANEST), LAMBDA_RICHEST), LAMBDA_LEANEST)


@compiled
def lambda_volts_rising(lam: float) -> float:
    """A display that computes volts from lambda: 2.5 V at lambda 1, 1 V for each 0.1, ends at 0 and 5 V. [V]

    >>> round(lambda_volts_rising(1.1), 2), round(lambda_volts_falling(1.1), 2)
    (3.5, 1.65)

    References: a scale of displays; SAE J1979 names none.
    """
    return min(max(2.5 + 10.0 * (lam - 1.0), 0.0), 5.0)


@compiled
def lambda_volts_falling(lam: float) -> float:
    """Another display: 1.95 V at lambda 1 and falling towards lean, 3 V for each 1.0, ends at 0 and 3.3 V. [V]

    References: a scale of displays; SAE J1979 names none.
    """
    return min(max(1.95 - 3.0 * (lam - 1.0), 0.0), 3.3)
