"""Temperatures of coolant, oil, and the air under the bonnet.

Lumped heat balances (Heywood 1988, ch. 12 for the share of fuel energy that reaches the coolant).
"""

import math

from leitfaden_core.compiled import compiled

#: Share of fuel energy that goes to the coolant: at full fuel flow, what idle has on top, and the share of full flow
#: over which that fades.
COOLANT_SHARE_FULL, COOLANT_SHARE_IDLE, COOLANT_SHARE_FADES = 0.24, 0.20, 0.10
#: Share of fuel energy that goes to the oil.
OIL_SHARE = 0.05
#: Of the radiator's rating: standing, per km/h of driving wind, and what the electric fan adds at full power.
RADIATOR_STANDING, RADIATOR_PER_KMH, RADIATOR_FAN = 0.02, 0.0045, 0.25
#: Above the thermostat's opening the electric fan starts, and over this much it reaches full power. [K], [K]
FAN_ABOVE, FAN_SPAN = 6.0, 6.0
#: Of engine speed over rated speed at which the pump moves 1 - 1/e of the coolant that the radiator is rated for, and
#: what rises by itself when it stands. [-], [-]
PUMP_SPEED, SIPHON = 0.06, 0.06
#: W/K from oil to coolant per kg/s of full air flow, from oil and from the block to the surrounding air.
OIL_TO_COOLANT = 4000.0
OIL_TO_AIR = 8.0
BLOCK_TO_AIR = 10.0
#: Heat capacity of the metal round combustion chambers and exhaust ports over that of the coolant [-], and the time in
#: which it gives its heat on [s]: it is what boils over after a hard drive.
METAL_SHARE, METAL_TIME = 0.22, 16.0
#: Where water under the cap's pressure boils [K], and what the steam that blows off takes [W/K].
BOILS, STEAM = 395.0, 3000.0
#: Coolant lost beyond which the pump draws air, and beyond which the sensor hangs in steam. [-], [-]
PUMP_DRAWS_AIR, SENSOR_DRY = 0.25, 0.4


@compiled
def thermostat(temp_coolant: float, opens: float, least: float, most: float) -> float:
    """Opening of the thermostat over 8 K; a sound one leaks 2 %, a stuck one never closes below ``least`` or never
    opens beyond ``most``. [-]

    References: Heywood 1988, ch. 12 (lumped); wax travel as the trade knows it.
    """
    return min(max(min(max((temp_coolant - opens) / 8.0, 0.02), 1.0), least), most)


@compiled
def fan_power(temp_coolant: float, opens: float, works: float) -> float:
    """Power of the electric fan over its full one; ``works`` is what is left of a weak one. [-]

    References: proportional control; the temperatures are this model's.
    """
    return works * min(max((temp_coolant - opens - FAN_ABOVE) / FAN_SPAN, 0.0), 1.0)


@compiled
def circulation(speed_share: float, lost: float) -> float:
    """Coolant that flows over what the radiator is rated for: the pump turns with the engine, and draws air once enough
    coolant is lost. [-]

    References: pump law; the corner is this model's.
    """
    fed = min(max(1.0 - (lost - PUMP_DRAWS_AIR) / 0.35, 0.05), 1.0)
    return fed * (1.0 - math.exp(-speed_share / PUMP_SPEED)) + SIPHON * max(1.0 - 2.0 * lost, 0.0)


@compiled
def coolant_share(load: float) -> float:
    """Share of fuel energy that reaches the coolant;

    ``load`` is fuel flow over full fuel flow. Falls with load (Heywood 1988, fig. 12-4). [-]
    """
    return COOLANT_SHARE_FULL + COOLANT_SHARE_IDLE * math.exp(-load / COOLANT_SHARE_FADES)


@compiled
def cooling_air(vehicle_kmh: float, speed_share: float, fan_share: float, fan: float, works: float) -> float:
    """Part of the radiator's rating that the passing air brings, never more than all of it: a fan on the crankshaft
    serves ``fan_share`` of it with its speed, as far as it ``works``; ``fan`` from :func:`fan_power`. [-]

    References: Heywood 1988, ch. 12 (lumped).
    """
    wind = RADIATOR_STANDING + RADIATOR_PER_KMH * vehicle_kmh + RADIATOR_FAN * fan
    return fan_share * works * speed_share + (1.0 - fan_share) * min(wind, 1.0)


@compiled
def coolant_rate(
    temp_coolant: float,
    temp_oil: float,
    temp_air: float,
    temp_hood: float,
    heat: float,
    from_oil: float,
    cooling: float,
    steam: float,
    capacity: float,
) -> float:
    """Rate of coolant temperature: the radiator gives to the outside air, the block to the air under the bonnet.

    ``heat`` from the metal into the coolant in W, temperatures in K, ``from_oil`` and ``cooling`` (what radiator,
    thermostat, pump and air make together) in W/K, ``steam`` what boiling takes in W/K, capacity in J/K. [K/s]

    References: Heywood 1988, ch. 12 (lumped energy balance).
    """
    lost = cooling * (temp_coolant - temp_air) + BLOCK_TO_AIR * (temp_coolant - temp_hood)
    lost += steam * max(temp_coolant - BOILS, 0.0)
    return (heat - lost + from_oil * (temp_oil - temp_coolant)) / capacity


@compiled
def oil_rate(
    temp_oil: float, temp_coolant: float, temp_hood: float, heat_fuel: float, to_coolant: float, capacity: float
) -> float:
    """Rate of oil temperature; ``to_coolant`` in W/K. [K/s]

    References: Heywood 1988, ch. 12 (lumped energy balance).
    """
    return (
        OIL_SHARE * heat_fuel - to_coolant * (temp_oil - temp_coolant) - OIL_TO_AIR * (temp_oil - temp_hood)
    ) / capacity
