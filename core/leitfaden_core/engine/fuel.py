"""From the injector to the cylinder: injector flow and the film of fuel on the port walls.

Sources: Aquino (1981, SAE 810494) for the film; the injector is an orifice in liquid, so flow goes with the root of the
pressure difference (Heywood 1988, ch. 7).
"""

import math

from leitfaden_core.compiled import compiled

#: Coil of a port injector. [ohm], [H]
INJECTOR_OHMS, INJECTOR_HENRY = 14.0, 0.009


@compiled
def injected_flow(pulse: float, dead_time: float, flow_open: float, pressure_ratio: float, events: float) -> float:
    """Mean fuel flow of all injectors.

    Parameters
    ----------
    pulse, dead_time : float
        Electrical opening time and the part of it in which nothing flows. [s]
    flow_open : float
        Flow of one injector held open at the nominal pressure difference. [kg/s]
    pressure_ratio : float
        True over nominal pressure difference. [-]
    events : float
        Openings of all injectors per second. [1/s]

    References: Heywood 1988, sec. 7.3 (liquid orifice, dead time).
    """
    return events * max(pulse - dead_time, 0.0) * flow_open * math.sqrt(max(pressure_ratio, 0.0))


@compiled
def film_share(share_hot: float, temp_wall: float) -> float:
    """Share of the injected fuel that lands on the wall: more when cold, at most 0.75. [-]

    References: Aquino 1981.
    """
    return min(share_hot * (1.0 + 0.012 * max(353.0 - temp_wall, 0.0)), 0.75)


@compiled
def film_time(time_hot: float, temp_wall: float) -> float:
    """Time constant of evaporation from the wall, longer when cold. [s]

    References: Aquino 1981.
    """
    return time_hot * (1.0 + 0.02 * max(353.0 - temp_wall, 0.0))
