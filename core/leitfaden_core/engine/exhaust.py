"""Exhaust: back pressure, temperature, transport to the sensor, oxygen store of the catalyst.

Sources: Guzzella and Onder 2010, ch. 2 (transport delay); Brandt, Wang and Grizzle (2000, IEEE Trans. Control Systems
Technology 8) for the catalyst as an oxygen store.
"""

import math

from leitfaden_core.compiled import compiled
from leitfaden_core.constants import OXYGEN_MASS_SHARE, R_AIR

#: Crank angle from the middle of induction to the middle of exhaust: about one and a half revolutions.
INDUCTION_TO_EXHAUST = 9.4  # rad
#: Specific heat of exhaust gas. [J/(kg K)]
CP_GAS = 1150.0
#: Fill of the oxygen store that is in balance with stoichiometric gas, and how far the gas moves with it. [-], [-]
STORE_BALANCE, STORE_SLOPE = 0.65, 0.004


@compiled
def transport_delay(speed: float, volume: float, pressure: float, flow: float, temp: float) -> float:
    """Time from induction until the burnt gas reaches the sensor.

    Speed in rad/s, volume in m³, pressure in Pa, flow in kg/s, K. [s]

    References: Guzzella and Onder 2010, sec. 2.2.3 (induction to exhaust, and the pipe's volume).
    """
    return INDUCTION_TO_EXHAUST / max(speed, 5.0) + volume * pressure / (max(flow, 2e-4) * R_AIR * temp)


@compiled
def residence_time(volume: float, pressure: float, flow: float, temp: float) -> float:
    """Mean time that gas spends in a mixed volume, ``V·p/(m·R·T)``, at most 2 s.

    Volume in m³, pressure in Pa, flow in kg/s, K. [s]

    References: Levenspiel 1999 (stirred vessel).
    """
    return min(volume * pressure / (max(flow, 2e-4) * R_AIR * temp), 2.0)


@compiled
def gas_temperature(flow: float, base: float, rise: float, flow_ref: float) -> float:
    """Steady exhaust gas temperature at the manifold. [K]

    References: Heywood 1988, sec. 6.5 (rise with flow; the root is this model's).
    """
    return base + rise * math.sqrt(flow / flow_ref)


@compiled
def mixture_cools(phi: float) -> float:
    """How much cooler the exhaust of a spark ignition engine is than at a stoichiometric mixture: fuel or air that does
    not burn takes heat with it. [K]

    References: Heywood 1988, sec. 6.5 (hottest near phi 1); slopes are this model's.
    """
    return 200.0 * min(max(phi - 1.0, 0.0), 0.6) + 250.0 * min(max(1.0 - phi, 0.0), 0.4)


@compiled
def light_off(temp: float) -> float:
    """Share of the catalyst that works at this temperature. [-]

    References: Brandt, Wang and Grizzle 2000 (a step around light-off).
    """
    return 1.0 / (1.0 + math.exp(-(temp - 560.0) / 25.0))


@compiled
def exchanged_share(exchange: float, flow: float) -> float:
    """Share of an excess of oxygen that the surface can exchange while the gas flows by: a plug flow leaves
    exp(−exchange/flow). [-]

    References: Levenspiel 1999 (plug flow).
    """
    return 1.0 - math.exp(-exchange / max(flow, 1e-5))


@compiled
def exotherm(unburnt: float, flow: float, heating_value: float, active: float) -> float:
    """By how much fuel that arrives unburnt heats the catalyst's gas, at most 500 K. Fuel and gas in kg/s, J/kg. [K]

    References: energy balance; Heywood 1988, sec. 11.6 (misfire overheats catalysts).
    """
    return active * min(unburnt * heating_value / (max(flow, 1e-4) * CP_GAS), 500.0)


@compiled
def damage_rate(temp: float) -> float:
    """Share of its surface that a catalyst loses per second at this temperature: 1/e in an hour at 1250 K, double every
    40 K. [1/s]

    References: Arrhenius 1889; sintering of supported metals; the size is this model's.
    """
    return math.exp(min((temp - 1250.0) / 58.0, 5.0)) / 3600.0


@compiled
def catalyst_step(
    fill: float, phi: float, flow: float, store: float, active: float, exchanged: float, dt: float
) -> tuple[float, float]:
    """One step of the oxygen store.

    Gas passes unchanged as far as the store is full (lean) or empty (rich), and as far as it flows by faster than the
    surface can exchange oxygen: in a plug flow a share exp(−exchange/flow) of the excess is left at the end. Ageing
    takes both store and surface.

    Parameters
    ----------
    fill : float
        Share of the store that holds oxygen, 0 to 1.
    phi : float
        Fuel-air equivalence ratio before the catalyst. [-]
    flow : float
        Exhaust flow. [kg/s]
    store : float
        Oxygen that the store can hold. [kg]
    active : float
        :func:`light_off`. [-]
    exchanged : float
        :func:`exchanged_share`. [-]
    dt : float
        [s]

    Returns
    -------
    fill, phi_after : float
        The store never leaves 0..1; oxygen that it takes is missing behind it.

    References
    ----------
    Brandt, Wang and Grizzle 2000 for the store; first-order exchange in plug flow as in any text on reactors
    (Levenspiel 1999, ch. 5).
    """
    z = fill if phi < 1.0 else 1.0 - fill
    z2 = z * z
    blocked = z2 * z2 * z2
    caught = active * (1.0 - blocked) * exchanged
    # What the store gives up towards its own equilibrium is in the gas behind it, and gone from the store.
    taken = (1.0 - phi) * caught + active * exchanged * released(fill)
    rate = OXYGEN_MASS_SHARE * flow / max(store, 1e-7) * taken
    return min(max(fill + rate * dt, 0.0), 1.0), phi + taken


@compiled
def released(fill: float) -> float:
    """Fuel-air equivalence ratio above 1 of stoichiometric gas that has come to rest with the store: what is missing in
    the gas the store takes, on a line about its fill in balance. [-]

    References: the line stands for the equilibrium of ceria with the gas (Brandt, Wang and Grizzle 2000); its slope is
    this model's, set so that the rear voltage tells the fill.
    """
    return STORE_SLOPE * (STORE_BALANCE - fill)


@compiled
def balanced_fill(phi: float) -> float:
    """The fill with which gas of this equivalence ratio is in balance, the inverse of :func:`released`. [-]

    References: as :func:`released`.
    """
    return min(max(STORE_BALANCE - (phi - 1.0) / STORE_SLOPE, 0.0), 1.0)


@compiled
def leak_dilution(area: float, flow: float, full_flow: float, cylinders: float) -> float:
    """What a leak before the sensor leaves of phi: between pulses the pipe falls below ambient and draws air. [-]

    With flow the mean pressure shuts that off, later with fewer cylinders. Area in m² effective, flow and rated flow in
    kg/s.

    References: Heywood 1988, sec. 6.8 (pulses); the law of its fall with flow is this model's.
    """
    if area <= 0.0 or flow <= 5e-5:
        return 1.0
    drawn = area * 60.0 / (1.0 + (flow / (0.047 * max(4.0 / cylinders, 1.0) * full_flow)) ** 2)
    return flow / (flow + drawn)
