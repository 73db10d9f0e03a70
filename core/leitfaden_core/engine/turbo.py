"""Turbocharging: compressor, turbine, shaft, charge cooler, wastegate.

The compressor's speed lines are quarter ellipses between no flow and no head (Eriksson, Modeling and control of
turbocharged SI and DI engines, Oil & Gas Science and Technology 62, 2007; Leufvén and Eriksson 2013); the turbine is a
nozzle with an efficiency (Watson and Janota, Turbocharging the Internal Combustion Engine, 1982, ch. 6; Guzzella and
Onder 2010, ch. 2.6). Efficiencies are constant, so this holds for steady running and spooling up between about a fifth
and full of the rated flow, not for a map's far corners.
"""

import math

from leitfaden_core.compiled import compiled
from leitfaden_core.constants import GAMMA, R_AIR
from leitfaden_core.engine.air_path import RESIDUAL_POWER, RESIDUAL_RATIO_MAX, TABLE_SIZE, orifice

#: Specific heat of air and of exhaust gas. [J/(kg K)]
CP_AIR, CP_EXHAUST = 1005.0, 1150.0
#: Keeps the slope of a speed line finite where it meets zero flow.
_SOFT = 0.02
#: Share of the head at which the stream breaks away from the blades, and at which the wheel catches it again. [-]
SURGE_BEGINS, SURGE_ENDS = 0.985, 0.85
#: Slower than this there is no pressure to speak of. [rad/s]
SURGES_ABOVE = 5000.0
#: Passage that a surging wheel leaves to the air that flows back, over that of a standing one. [-]
SURGE_PASSAGE = 0.12
#: Slowest shaft for which power is divided by speed. [rad/s]
_SLOWEST = 400.0


@compiled
def temperature_ratio(ratio: float) -> float:
    """``ratio**((γ−1)/γ)`` from :func:`leitfaden_core.engine.air_path.residual_table`, ``ratio`` 0.05 to 15. [-]

    References: isentropic relation; Watson and Janota 1982.
    """
    r = min(max(ratio, 0.05), RESIDUAL_RATIO_MAX - 0.01)
    x = r * (TABLE_SIZE / RESIDUAL_RATIO_MAX)
    i = int(x)
    return r / (RESIDUAL_POWER[i] + (x - i) * (RESIDUAL_POWER[i + 1] - RESIDUAL_POWER[i]))


@compiled
def compressor(
    p_in: float,
    temp_in: float,
    p_out: float,
    shaft: float,
    radius: float,
    head_max: float,
    flow_max: float,
    passage: float,
    surging: float,
) -> tuple[float, float, float, float]:
    """Flow through a centrifugal compressor, its slope, the isentropic temperature ratio and its share of the head.

    Head coefficient ``Ψ = 2·cp·T·(Π^0.286 − 1)/U²`` and flow coefficient ``Φ = m/(ρ·π·r²·U)`` lie on ``(Φ/Φmax)² +
    (Ψ/Ψmax)² = 1``. Below a pressure ratio of 1 the wheel is a passage through which the engine draws; above the head
    that the speed can hold, and as long as it is ``surging``, air flows back through it (see :func:`surge`).

    Parameters
    ----------
    p_in, p_out : float
        Absolute pressures. [Pa]
    temp_in : float
        [K]
    shaft : float
        Speed of the wheel. [rad/s]
    radius, head_max, flow_max, passage : float
        Wheel radius [m], Ψmax, Φmax [-], effective area of the standing wheel [m²].
    surging : float
        1 while it does.

    Returns
    -------
    flow, slope, heating, share : float
        [kg/s], its derivative by p_out [kg/(s Pa)], T_out/T_in of lossless compression (1 where nothing is compressed)
        [-], head over the most that this speed can hold [-].

    References: Eriksson 2007; Leufvén and Eriksson 2013.
    """
    tip = radius * max(shaft, 1.0)
    swept = p_in / (R_AIR * temp_in) * math.pi * radius * radius * tip
    ratio = p_out / p_in
    if ratio <= 1.0:
        drawn, _up, slope = orifice(passage, p_in, temp_in, p_out)
        return swept * flow_max + drawn, slope, 1.0, 0.0
    heating = temperature_ratio(ratio)
    scale = 2.0 * CP_AIR * temp_in / (tip * tip * head_max)
    share = scale * (heating - 1.0)
    d_share = scale * heating * (GAMMA - 1.0) / GAMMA / p_out
    rest = 1.0 - share * share
    if surging > 0.5:
        back, d_back, _down = orifice(SURGE_PASSAGE * passage, p_out, temp_in, p_in)
        return -back, -d_back, heating, share
    if rest > 0.0:
        root = math.sqrt(rest + _SOFT)
        slope = -2.0 * share * d_share * (0.5 * rest + _SOFT) / (root * root * root)
        return swept * flow_max * rest / root, swept * flow_max * slope, heating, share
    held = p_in * (1.0 + 1.0 / scale) ** (GAMMA / (GAMMA - 1.0))
    back, d_back, _down = orifice(passage, p_out, temp_in, held)
    return -back, -d_back - swept * flow_max * 2.0 * d_share / math.sqrt(_SOFT), heating, share


@compiled
def surge(surging: float, share: float) -> float:
    """Whether the compressor surges, from whether it did and the share of its head: too little flow lets the stream
    break away, and air flows back until the pressure behind has fallen enough for the wheel to catch it again.

    References: the relaxation cycle that the model of Moore and Greitzer (1986) has for a large volume behind the
    compressor, with its two branches taken as they are and the way between them as instantaneous; the corners are this
    model's.
    """
    if share > SURGE_BEGINS:
        return 1.0
    return surging if share > SURGE_ENDS else 0.0


@compiled
def turbine(p_before: float, p_behind: float, temp: float, area: float) -> tuple[float, float, float]:
    """Flow through a turbine (or its wastegate, or both), its slope, and the isentropic temperature drop as a share of
    ``temp``.

    Pressures in Pa, temperature in K, effective area in m². Returns kg/s, kg/(s Pa) by p_before, [-].

    References: Watson and Janota 1982; Guzzella and Onder 2010, sec. 2.6.
    """
    flow, slope, _down = orifice(area, p_before, temp, p_behind)
    drop = 1.0 - temperature_ratio(p_behind / p_before) if p_behind < p_before else 0.0
    if p_behind >= p_before:
        slope = -_down
    return flow, slope, drop


@compiled
def shaft_rate(shaft: float, driving: float, braking: float, friction: float, inertia: float) -> float:
    """Acceleration of the shaft from the turbine's and the compressor's power [W] and friction [W s²]. [rad/s²]

    References: Euler's equation of the shaft; Watson and Janota 1982.
    """
    return (driving - braking - friction * shaft * shaft) / (inertia * max(shaft, _SLOWEST))


@compiled
def wastegate_opening(pressure_gauge: float, duty: float, spring: float, span: float) -> float:
    """Opening of a wastegate: charge pressure in the actuator opens it, the solenoid's duty bleeds that pressure off.

    Pa gauge, 0 to 1. [-]

    References: balance of a membrane and a spring.
    """
    return min(max(((1.0 - duty) * pressure_gauge - spring) / span, 0.0), 1.0)
