"""Temperatures of coolant, oil, and the air under the bonnet.

Lumped heat balances (Heywood 1988, ch. 12 for the share of fuel energy that reaches the coolant).
"""

import math

from leitfaden_core.compiled import compiled

#: Share of fuel energy that goes to the coolant: at full fuel flow, what idle has on top, and the share of full flow
#: over which that fades.
COOLANT_SHARE_FULL, COOLANT_SHARE_IDLE, COOLANT_SHARE_FADES = 0.24, 0.20, 0.10
#: Share of fuel energy that goes to the oil.
OIL_SHARE = 0.07
#: Of the radiator's rating: standing with natural convection and fan leakage, and per km/h of driving wind.
RADIATOR_STANDING, RADIATOR_PER_KMH = 0.12, 0.0035
#: W/K from oil to coolant, from oil and from the block to the surrounding air.
OIL_TO_COOLANT = 250.0
OIL_TO_AIR = 8.0
BLOCK_TO_AIR = 10.0


@compiled
def thermostat(temp_coolant: float, opens: float, stuck: float) -> float:
    """Opening of the thermostat over 8 K; a sound one leaks 2 %, a stuck one never closes below ``stuck``. [-]

    References: Heywood 1988, ch. 12 (lumped); wax travel as the trade knows it.
    """
    return max(min(max((temp_coolant - opens) / 8.0, 0.02), 1.0), stuck)


@compiled
def coolant_share(load: float) -> float:
    """Share of fuel energy that reaches the coolant;

    ``load`` is fuel flow over full fuel flow. Falls with load (Heywood 1988, fig. 12-4). [-]
    """
    return COOLANT_SHARE_FULL + COOLANT_SHARE_IDLE * math.exp(-load / COOLANT_SHARE_FADES)


@compiled
def cooling_air(vehicle_kmh: float, speed_share: float, fan_share: float) -> float:
    """Part of the radiator's rating that the passing air brings: a fan on the crankshaft serves ``fan_share`` of it
    with its speed. [-]

    References: Heywood 1988, ch. 12 (lumped).
    """
    return fan_share * speed_share + (1.0 - fan_share) * (RADIATOR_STANDING + RADIATOR_PER_KMH * vehicle_kmh)


@compiled
def coolant_rate(
    temp_coolant: float,
    temp_oil: float,
    temp_air: float,
    temp_hood: float,
    heat: float,
    opening: float,
    air_side: float,
    radiator: float,
    capacity: float,
) -> float:
    """Rate of coolant temperature: the radiator gives to the outside air, the block to the air under the bonnet.

    ``heat`` into the coolant in W, temperatures in K, ``air_side`` from :func:`cooling_air`, radiator in W/K, capacity
    in J/K. [K/s]

    References: Heywood 1988, ch. 12 (lumped energy balance).
    """
    lost = radiator * opening * air_side * (temp_coolant - temp_air) + BLOCK_TO_AIR * (temp_coolant - temp_hood)
    return (heat - lost + OIL_TO_COOLANT * (temp_oil - temp_coolant)) / capacity


@compiled
def oil_rate(temp_oil: float, temp_coolant: float, temp_hood: float, heat_fuel: float, capacity: float) -> float:
    """Rate of oil temperature. [K/s]

    References: Heywood 1988, ch. 12 (lumped energy balance).
    """
    return (
        OIL_SHARE * heat_fuel - OIL_TO_COOLANT * (temp_oil - temp_coolant) - OIL_TO_AIR * (temp_oil - temp_hood)
    ) / capacity
