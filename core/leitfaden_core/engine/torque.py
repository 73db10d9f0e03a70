"""Torque: burning, pumping, friction.

Sources: Hendricks and Sorenson (1990, SAE 900616) for the mean-value form; Heywood 1988, ch. 13 and Sandoval and
Heywood (2003, SAE 2003-01-0725) for the shape of friction.
"""

import math

from leitfaden_core.compiled import compiled

#: Fuel-air equivalence ratio of most torque. [-]
BEST_PHI = 1.14
#: Mean effective pressure that compression loses at standstill, for a compression ratio of 10. [Pa]
CRANKING_LOSS = 100e3


@compiled
def best_spark(speed_krpm: float, load: float) -> float:
    """Ignition advance of best torque, against speed and relative filling. [° before top dead centre]

    References: Hendricks and Sorenson 1990.
    """
    return 14.0 + 4.0 * speed_krpm - 0.25 * speed_krpm * speed_krpm + 16.0 * (1.0 - load)


@compiled
def spark_efficiency(spark: float, best: float) -> float:
    """Torque at this advance over best torque, a parabola. [-]

    References: Hendricks and Sorenson 1990.
    """
    return max(1.0 - 0.00042 * (best - spark) ** 2, 0.1)


@compiled
def speed_efficiency(speed_krpm: float) -> float:
    """Loss by heat to the walls at low speed. [-]

    References: Heywood 1988, sec. 12.2 (heat to the walls); the exponent is this model's.
    """
    return 1.0 - 0.10 * math.exp(-speed_krpm / 0.9)


@compiled
def burn_quality(phi: float, temp_wall: float) -> float:
    """Share of the charge that burns: falls from 1 to 0 between phi 0.72 and 0.52 (lean limit) and between 1.6 and 1.9
    (rich limit).

    In a cold engine only part of the petrol is vapour when the spark comes, so that it bears more fuel: the rich limit
    moves up by 0.6 % per kelvin below 47 °C, as start fuelling does. Wall temperature in K. [-]

    References: Heywood 1988, sec. 9.4 (limits of burning).
    """
    lean = min(max((phi - 0.52) * (1.0 / 0.20), 0.0), 1.0)
    bears = 1.9 * (1.2 + 0.006 * max(320.0 - temp_wall, 0.0)) if temp_wall < 320.0 else 1.9
    rich = min(max((bears - phi) * (1.0 / 0.3), 0.0), 1.0)
    return lean * rich


@compiled
def mixture_torque(phi: float) -> float:
    """Torque of what burns over that at the best mixture, at equal burnt fuel: 1 at phi 1.14, 3 % less for a
    stoichiometric charge (dissociation, slower flame), less again far on the rich side; on the lean side a little more
    of each fuel's energy than at phi 1. [-]

    References: Heywood 1988, ch. 15 (mean effective pressure over equivalence ratio: peak near 1.1 to 1.15, 2 to 5 %
    lower at 1; indicated efficiency rises towards the lean side); the parabolas are this model's.
    """
    if phi >= BEST_PHI:
        return 1.0 - 0.35 * (phi - BEST_PHI) ** 2
    rich_side = 1.0 - 1.6 * (max(phi, 1.0) - BEST_PHI) ** 2
    return rich_side * (1.0 + 0.25 * (1.0 - max(phi, 0.75))) if phi < 1.0 else rich_side


@compiled
def burnt_gas_quality(share: float) -> float:
    """Share of a spark-ignited charge that burns with recirculated gas in it: all up to 18 %, none from 32 % (Heywood
    1988, ch. 9). [-]
    """
    return min(max((0.32 - share) / 0.14, 0.0), 1.0)


@compiled
def cyclic_spread(residual: float, phi: float) -> float:
    """Spread of the work of one cycle to the next: about 1.5 % of a good mixture, more with recirculated gas and
    towards the lean limit. [-]

    References: Heywood 1988, sec. 9.4 (coefficient of variation of mean effective pressure; driveability suffers from
    10 %); the slopes are this model's.
    """
    return min(0.015 + 1.2 * residual * residual + 0.6 * max(0.92 - phi, 0.0) ** 1.5, 0.5)


@compiled
def nitrogen_oxides(pressure_share: float, residual: float, phi: float, late: float) -> float:
    """Raw nitrogen oxides over those of full filling at their worst mixture, times 100: by the peak temperature of
    burning.

    ``pressure_share`` is manifold pressure over that of the air [-], ``residual`` the recirculated share [-], ``late``
    how much later than best the spark comes [°]. [-]

    References: Heywood 1988, sec. 11.2 (most at phi 0.95, a tenth with 25 % of burnt gas, falling with late spark); the
    law is this model's.
    """
    mixture = math.exp(-(((phi - 0.95) / 0.14) ** 2))
    return 100.0 * min(pressure_share, 2.5) ** 0.8 * mixture * math.exp(-9.0 * residual - 0.04 * max(late, 0.0))


@compiled
def late_timing(lost: float, speed_share: float) -> float:
    """Factor on the filling when the valves open and close late: charge is pushed back, most at low speed (Heywood
    1988, ch. 6.3).

    ``lost`` is the share lost at standstill, ``speed_share`` engine speed over rated speed. At rated speed half of it
    is lost. [-]
    """
    return max(1.0 - lost * (1.0 - 0.5 * min(speed_share, 1.2)), 0.3)


@compiled
def viscosity_factor(temp_oil: float) -> float:
    """Factor of cold oil on friction, 1 when hot, 1.4 at 20 °C, about 3 at −20 °C. Oil in K. [-]

    References: Sandoval and Heywood 2003.
    """
    return 1.0 + 2.2 * math.exp(-(temp_oil - 253.0) / 25.0)


@compiled
def compression_loss(speed: float, displacement: float, compression_ratio: float) -> float:
    """Torque that compression costs an engine that does not run by itself: at the starter's speed heat goes to the cold
    walls and charge past the rings, faster it is part of the work of combustion. Speed in rad/s, m³. [Nm]

    References: Heywood 1988, sec. 13.2 (motored mean effective pressure); the size is this model's, so that a warm
    starter draws 100 to 150 A on a small engine.
    """
    return CRANKING_LOSS * compression_ratio / 10.0 * max(1.0 - speed / 50.0, 0.0) * displacement / (4.0 * math.pi)


@compiled
def friction_torque(
    speed_krpm: float, viscosity: float, displacement: float, const: float, lin: float, quad: float
) -> float:
    """Friction of the engine; ``viscosity`` from :func:`viscosity_factor`. Friction pressures in Pa. [Nm]

    References: Sandoval and Heywood 2003.
    """
    return (const + lin * speed_krpm + quad * speed_krpm * speed_krpm) * viscosity * displacement / (4.0 * math.pi)
