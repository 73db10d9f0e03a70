"""From the injector to the cylinder: injector flow and the film of fuel on the port walls.

Sources: Aquino (1981, SAE 810494) for the film; the injector is an orifice in liquid, so flow goes with the root of the
pressure difference (Heywood 1988, ch. 7).
"""

import math

from leitfaden_core.compiled import compiled

#: Petrol that does not evaporate from walls colder than this [K], per kelvin [1/K].
LOST_BELOW, LOST_PER_KELVIN = 350.0, 0.0025
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
    return events * flow_open * math.sqrt(max(pressure_ratio, 0.0)) * max(pulse - dead_time, 0.0)


@compiled
def never_evaporates(share_hot: float, temp_wall: float) -> float:
    """Share of the injected petrol that cold walls keep from burning: it runs into the oil or leaves as liquid. The
    control unit gives that much more to an engine that it believes to be cold. [-]

    ``share_hot`` is the film's share of the hot engine, as :func:`film_share` takes it: where little lands on the wall,
    little is lost.

    References: Heywood 1988, sec. 7.1 (cold mixture requirements); the slope is this model's: 14 % at 20 °C with port
    injection.
    """
    return min(LOST_PER_KELVIN * (share_hot / 0.28) * max(LOST_BELOW - temp_wall, 0.0), 0.35)


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


#: Petrol and ethanol: stoichiometric air per fuel mass [-], heating value [J/kg], density [kg/m³] (Heywood 1988,
#: appendix D).
PETROL, ETHANOL = (14.6, 43.0e6, 745.0), (9.0, 26.9e6, 789.0)


def blended(ethanol: float) -> tuple[float, float, float]:
    """Stoichiometric air-fuel ratio, heating value and density of petrol with a share of ethanol by volume, each over
    that of petrol. [-]

    References: Heywood 1988, appendix D; mixing by mass.

    >>> [round(value, 3) for value in blended(0.1)]
    [0.96, 0.961, 1.006]
    """
    density = ethanol * ETHANOL[2] + (1.0 - ethanol) * PETROL[2]
    mass = ethanol * ETHANOL[2] / density
    ratio, energy = (mass * ETHANOL[k] + (1.0 - mass) * PETROL[k] for k in (0, 1))
    return ratio / PETROL[0], energy / PETROL[1], density / PETROL[2]
