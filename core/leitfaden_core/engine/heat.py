"""Temperatures of coolant, oil, and the air under the bonnet.

Lumped heat balances (Heywood 1988, ch. 12 for the share of fuel energy that reaches the coolant).
"""

from leitfaden_core.compiled import compiled

#: Share of fuel energy that goes to the coolant and to the oil.
COOLANT_SHARE = 0.42
OIL_SHARE = 0.07
#: W/K from oil to coolant, from oil and from the block to the surrounding air.
OIL_TO_COOLANT = 250.0
OIL_TO_AIR = 8.0
BLOCK_TO_AIR = 14.0


@compiled
def thermostat(temp_coolant: float, opens: float, stuck: float) -> float:
    """Opening of the thermostat over 8 K; a sound one leaks 2 %, a stuck one never closes below ``stuck``. [-]"""
    return max(min(max((temp_coolant - opens) / 8.0, 0.02), 1.0), stuck)


@compiled
def coolant_rate(
    temp_coolant: float,
    temp_oil: float,
    temp_air: float,
    heat_fuel: float,
    opening: float,
    vehicle_kmh: float,
    radiator: float,
    capacity: float,
) -> float:
    """Rate of coolant temperature. Heat in W, temperatures in K, radiator in W/K, capacity in J/K. [K/s]

    With an engine at rest and a stationary vehicle the radiator still passes 0.25 of its rating by natural convection and fan leakage.
    """
    air_side = 0.25 + 0.035 * vehicle_kmh if vehicle_kmh < 40.0 else 1.65
    lost = radiator * opening * air_side * (temp_coolant - temp_air) + BLOCK_TO_AIR * (temp_coolant - temp_air)
    return (COOLANT_SHARE * heat_fuel - lost + OIL_TO_COOLANT * (temp_oil - temp_coolant)) / capacity


@compiled
def oil_rate(temp_oil: float, temp_coolant: float, temp_air: float, heat_fuel: float, capacity: float) -> float:
    """Rate of oil temperature. [K/s]"""
    return (OIL_SHARE * heat_fuel - OIL_TO_COOLANT * (temp_oil - temp_coolant) - OIL_TO_AIR * (temp_oil - temp_air)) / capacity
