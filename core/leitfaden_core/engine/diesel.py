"""Compression ignition: burning without throttle and spark, recirculated gas that still holds air, particle filter.

Sources: Guzzella and Onder 2010, ch. 2 (burnt gas fraction in manifold and exhaust); Wahlström and Eriksson, Modelling
diesel engines with a variable-geometry turbocharger and exhaust gas recirculation, Proc. IMechE D 225 (2011);
Konstandopoulos et al. (2000, SAE 2000-01-1016) for the filter's pressure drop.
"""

from leitfaden_core.compiled import compiled
from leitfaden_core.engine.turbo import CP_EXHAUST


@compiled
def exhaust_burnt_share(burnt_in: float, charge: float, fuel: float, afr_stoich: float) -> float:
    """Share of stoichiometric combustion products in the exhaust, from that of the charge.

    Flows in kg/s. Above 1 when rich. [-]

    References: Wahlström and Eriksson 2011 (burnt fraction).
    """
    return (burnt_in * charge + fuel * (1.0 + afr_stoich)) / max(charge + fuel, 1e-9)


@compiled
def equivalence_of(burnt_share: float, afr_stoich: float) -> float:
    """Fuel-air equivalence ratio of a gas from its burnt share, the inverse of :func:`exhaust_burnt_share` for fresh
    air. [-]

    References: as exhaust_burnt_share.
    """
    return afr_stoich * burnt_share / max(1.0 + afr_stoich - burnt_share, 1e-6)


@compiled
def diesel_quality(lambda_charge: float) -> float:
    """Share of the fuel that gives work: all above lambda 1.3, falling as smoke sets in, none below 0.5. [-]

    References: Guzzella and Onder 2010, sec. 2.5 (efficiency against lambda; the corners are this model's).
    """
    if lambda_charge >= 1.3:
        return 1.0
    if lambda_charge >= 1.0:
        return 0.92 + 0.08 * (lambda_charge - 1.0) / 0.3
    return max(0.92 * (lambda_charge - 0.5) / 0.5, 0.0)


@compiled
def diesel_exhaust_temperature(
    temp_charge: float, charge: float, fuel: float, heating_value: float, share: float
) -> float:
    """Temperature of the gas that leaves the cylinders: a share of the fuel's energy goes with it.

    Flows in kg/s. [K]

    References: Guzzella and Onder 2010, sec. 2.6; energy balance.
    """
    return temp_charge + share * fuel * heating_value / (max(charge + fuel, 1e-5) * CP_EXHAUST)


@compiled
def filter_drop(flow: float, temp: float, linear: float, quadratic: float) -> float:
    """Pressure drop of a wall-flow filter: Darcy through the wall, which grows with viscosity times volume, and inertia
    at its ends. [Pa]

    Flow in kg/s, temperature in K, coefficients in Pa s/(kg K) and Pa s²/(kg² K).

    References: Konstandopoulos et al. 2000.
    """
    return (linear + quadratic * flow) * flow * temp
