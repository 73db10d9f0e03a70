"""The air path: flow through openings, filling of volumes, filling of the cylinders.

Sources: Heywood, Internal Combustion Engine Fundamentals (1988), appendix C (compressible flow) and ch. 6 (residual
gas); Guzzella and Onder, Introduction to Modeling and Control of Internal Combustion Engine Systems (2010), ch. 2
(linear patch near equal pressures, volumetric efficiency); Fox, Cheng and Heywood (1993, SAE 931025) for the backflow
through valve overlap.
"""

import math

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.compiled import compiled
from leitfaden_core.constants import GAMMA, R_AIR

#: Below this pressure ratio an opening is choked: (2/(γ+1))^(γ/(γ−1)).
CRITICAL_RATIO = (2.0 / (GAMMA + 1.0)) ** (GAMMA / (GAMMA - 1.0))
#: Above this ratio a straight line to zero replaces the square root, whose slope would be infinite.
LINEAR_ABOVE = 0.98
#: Intervals of the tabulated flow function and of the tabulated residual power.
TABLE_SIZE = 4096
#: Largest pressure ratio exhaust/intake in the residual table; beyond it the last value stands.
RESIDUAL_RATIO_MAX = 16.0
#: Flow coefficient of a sharp-edged hole: effective area = coefficient · geometric area.
HOLE_COEFFICIENT = 0.7


def flow_function(ratio: float) -> float:
    """Dimensionless mass flow through an opening against its pressure ratio.

    ``psi = sqrt(2γ/(γ−1)·(r^(2/γ) − r^((γ+1)/γ)))``; 0.685 when choked; a straight line to zero above a ratio of 0.98.

    Parameters
    ----------
    ratio : float
        Downstream over upstream absolute pressure, clamped to 0..1. [-]

    Returns
    -------
    psi : float
        ``flow / (area·p_upstream/sqrt(R·T))``. [-]

    Examples
    --------
    >>> round(flow_function(0.3), 5)
    0.68473

    References
    ----------
    Heywood 1988, appendix C.
    """
    r = min(max(ratio, CRITICAL_RATIO), 1.0)
    if r > LINEAR_ABOVE:
        return flow_function(LINEAR_ABOVE) * (1.0 - r) / (1.0 - LINEAR_ABOVE)
    return math.sqrt(2.0 * GAMMA / (GAMMA - 1.0) * (r ** (2.0 / GAMMA) - r ** ((GAMMA + 1.0) / GAMMA)))


def flow_function_table() -> NDArray[np.float64]:
    """:func:`flow_function` at TABLE_SIZE + 1 even steps of the ratio from 0 to 1.

    References: Heywood 1988, app. C.
    """
    return np.array([flow_function(r) for r in np.linspace(0.0, 1.0, TABLE_SIZE + 1)])


def residual_table() -> NDArray[np.float64]:
    """``ratio**(1/γ)`` at TABLE_SIZE + 1 even steps of the ratio from 0 to RESIDUAL_RATIO_MAX.

    References: Fox, Cheng and Heywood 1993 (exponent of the residual gas).
    """
    return np.asarray(np.linspace(0.0, RESIDUAL_RATIO_MAX, TABLE_SIZE + 1) ** (1.0 / GAMMA))


#: Both tables are constants of the compiled code: an array that is handed from function to function is counted at every
#: call.
FLOW_FUNCTION = flow_function_table()
RESIDUAL_POWER = residual_table()


@compiled
def orifice(area: float, p_up: float, temp_up: float, p_down: float) -> tuple[float, float, float]:
    """Mass flow through an opening and its slopes, forward only.

    Parameters
    ----------
    area : float
        Effective area, flow coefficient included. [m²]
    p_up, p_down : float
        Absolute pressures before and behind the opening. [Pa]
    temp_up : float
        Temperature before the opening. [K]

    Returns
    -------
    flow, slope_up, slope_down : float
        Mass flow [kg/s] and its derivatives by p_up and p_down [kg/(s Pa)]; all zero when p_down is not below p_up.

    References: Heywood 1988, app. C; Guzzella and Onder 2010, sec. 2.3.2.
    """
    if p_down >= p_up:
        return 0.0, 0.0, -area / math.sqrt(R_AIR * temp_up) * FLOW_FUNCTION[TABLE_SIZE - 1] * TABLE_SIZE
    x = p_down / p_up * TABLE_SIZE
    i = int(x)
    step = FLOW_FUNCTION[i + 1] - FLOW_FUNCTION[i]
    value = FLOW_FUNCTION[i] + (x - i) * step
    slope = step * TABLE_SIZE
    conductance = area / math.sqrt(R_AIR * temp_up)
    return conductance * p_up * value, conductance * (value - p_down / p_up * slope), conductance * slope


@compiled
def throttle_area(plate: float, area_open: float, leak: float) -> float:
    """Effective area of a throttle; ``plate`` 0 closed, 1 open. [m²]

    References: Guzzella and Onder 2010, sec. 2.3.2 (area of a plate in a round bore, from geometry).
    """
    return area_open / 0.879497 * (1.0 - math.cos(1.45 * plate)) + leak


@compiled
def throttle_plate(area: float, area_open: float) -> float:
    """Plate position that gives an effective area, :func:`throttle_area` backwards without leak; 0 to 1. [-]

    References: as throttle_area.
    """
    return min(math.acos(max(1.0 - 0.879497 * min(max(area, 0.0), area_open) / area_open, -1.0)) / 1.45, 1.0)


@compiled
def filter_flow(dp: float, resistance: float) -> tuple[float, float]:
    """Flow through an air filter, ``dp = resistance·flow²``, with a straight line through zero below 4 Pa.

    Parameters
    ----------
    dp : float
        Pressure before minus behind the filter; may be negative. [Pa]
    resistance : float
        [Pa s²/kg²]

    Returns
    -------
    flow, slope : float
        [kg/s] and [kg/(s Pa)]

    References: Bernoulli; Guzzella and Onder 2010, sec. 2.3.
    """
    small = 4.0
    if abs(dp) < small:
        slope = math.sqrt(small / resistance) / small
        return slope * dp, slope
    flow = math.sqrt(abs(dp) / resistance)
    return math.copysign(flow, dp), 0.5 * flow / abs(dp)


@compiled
def hole_resistance(area: float, pressure: float, temp: float) -> float:
    """Resistance of an opening between pressures that hardly differ, ``dp = resistance·flow²`` with 1/(2·ρ·A²), for
    :func:`filter_flow`.

    Effective area in m², density from pressure [Pa] and temperature [K]. Holds below a few kPa, where the compressible
    law's straight line near equal pressures would pass far too little. [Pa s²/kg²]

    References: Bernoulli, incompressible.
    """
    return R_AIR * temp / (2.0 * pressure * area * area)


@compiled
def charge_temperature(temp_duct: float, temp_coolant: float, flow: float, full_flow: float, heating: float) -> float:
    """Temperature of the charge in the manifold: it takes a share of the step to coolant temperature that falls with
    flow. [K]

    References: Hendricks and Sorenson 1990 (heating of the charge by the manifold).
    """
    return temp_duct + heating * (temp_coolant - temp_duct) / (1.0 + 12.0 * flow / full_flow)


@compiled
def breathing(speed_krpm: float, const: float, lin: float, quad: float, cub: float) -> float:
    """Volumetric efficiency without residual gas, a cubic in engine speed. [-]

    References: Heywood 1988, sec. 6.2 (volumetric efficiency against speed).
    """
    return const + speed_krpm * (lin + speed_krpm * (quad + speed_krpm * cub))


#: Share of the displacement that is open when the exhaust valve closes, about 20° behind top dead centre. [-]
CLOSES_LATE = 0.04


@compiled
def volumetric_efficiency(
    p_manifold: float,
    p_exhaust: float,
    speed: float,
    breath: float,
    compression_ratio: float,
    overlap: float,
) -> float:
    """Volumetric efficiency referred to the manifold.

    ``breath·[1 + c − c·(p_ex/p_im)^(1/γ)] − overlap/ω·sqrt(max(p_ex/p_im − 1, 0))`` with c = 1/(rc − 1) and, where
    valves overlap, what the cylinder has gained when the exhaust valve closes: the bracket is the trapped residual that
    expands into the intake, the last term the backflow through valve overlap, which has more time at low speed.

    Parameters
    ----------
    p_manifold, p_exhaust : float
        Absolute pressures. [Pa]
    speed : float
        Crankshaft speed. [rad/s]
    breath : float
        :func:`breathing`. [-]
    overlap : float
        [rad/s]; 0 for no overlap.

    Returns
    -------
    ve : float
        Never below 0.05. [-]

    References
    ----------
    Guzzella and Onder 2010, ch. 2.3; Fox, Cheng and Heywood 1993 for the 1/speed law of the overlap.
    """
    ratio = min(p_exhaust / p_manifold, RESIDUAL_RATIO_MAX - 0.01)
    x = ratio * (TABLE_SIZE / RESIDUAL_RATIO_MAX)
    i = int(x)
    power = RESIDUAL_POWER[i] + (x - i) * (RESIDUAL_POWER[i + 1] - RESIDUAL_POWER[i])
    # What is left in the cylinder is trapped when the valve closes, some way behind top dead centre.
    clearance = 1.0 / (compression_ratio - 1.0) + (CLOSES_LATE if overlap > 0.0 else 0.0)
    backflow = overlap / max(speed, 20.0) * math.sqrt(max(ratio - 1.0, 0.0))
    return max(breath * (1.0 + clearance - clearance * power) - backflow, 0.05)


@compiled
def cylinder_flow(ve: float, p_manifold: float, temp_manifold: float, displacement: float, speed: float) -> float:
    """Air mass flow into a four-stroke engine: ``ve·p·Vd·ω/(4π·R·T)``. Pressures in Pa, speed in rad/s. [kg/s]

    References: Heywood 1988, sec. 2.10.
    """
    return ve * (p_manifold * displacement * speed / (4.0 * math.pi * R_AIR * temp_manifold))
