"""What warms and cools slowly: coolant, oil, bodies of sensors, heaters of oxygen sensors."""

from typing import Any

from leitfaden_core.compiled import inlined
from leitfaden_core.engine.diesel import diesel_exhaust_temperature
from leitfaden_core.engine.exhaust import damage_rate, exotherm, gas_temperature, light_off, mixture_cools
from leitfaden_core.engine.heat import (
    METAL_SHARE,
    METAL_TIME,
    OIL_TO_COOLANT,
    SENSOR_DRY,
    STEAM,
    circulation,
    coolant_rate,
    coolant_share,
    cooling_air,
    fan_power,
    oil_rate,
    thermostat,
)
from leitfaden_core.simulate.layout import FRAME
from leitfaden_core.simulate.limits import (
    BATTERY_CHARGED,
    BOSS_HALF_FLOW,
    BOSS_SHARE,
    BOSS_TIME,
    PIPE_COOLED,
    RPM,
    STALL_SPEED,
    STANDSTILL,
)
from leitfaden_core.simulate.parts.air import charge_cooler
from leitfaden_core.wiring.node import CIRCUIT_SOUND, HEATER_OHMS

#: Time in which the gas in the exhaust manifold is replaced and mixed [s], and the share of the difference to the
#: pipe's wall that it takes on its way to turbine and sensor [-]: engineering estimates.
GAS_LAG, FROM_WALL = 0.06, 0.35
#: Dew point of exhaust gas (Heywood 1988, sec. 4.9: a seventh of it is water), and element temperature from which on a
#: drop of water cracks it (trade knowledge). [K]
DEW_POINT, CRACKS_ABOVE = 326.0, 620.0
#: Warmth that a wideband sensor's heater gives over that of a narrowband one. [-]
WIDEBAND_RISE = 1.25
#: Numbers of what is slow to warm.
WARM = (
    "temp_coolant",
    "temp_metal",
    "temp_oil",
    "temp_hood",
    "fan",
    "temp_iat_body",
    "temp_ect_body",
    "temp_boss",
    "temp_pipe",
    "egt_1_body",
    "egt_2_body",
    "temp_front",
    "temp_rear",
    "heater_front",
    "heater_rear",
    "heater_duty",
    "shock",
)


@inlined
def heat(
    p: Any,
    crank: Any,
    air: Any,
    fuel: Any,
    gas: Any,
    turbo: Any,
    warm: Any,
    wires: Any,
    unit: Any,
    h: Any,
    key: float,
    kmh: float,
    time_lapse: float,
) -> None:
    """Temperatures, one frame.

    Coolant and oil run ``time_lapse`` times as fast; gas and sensors keep their own time.
    """
    ambient = p.ambient_temp
    heat_fuel = crank.burn * p.lower_heating_value * p.tank_energy * h.fuel_energy
    dt = FRAME * time_lapse
    to_metal = heat_fuel * coolant_share(crank.burn * p.afr_stoich / p.full_flow)
    # Of what the rig tells as the coolant's capacity the metal about it is a part.
    capacity = (1.0 - METAL_SHARE) * p.coolant_capacity * (1.0 - h.coolant_lost)
    metal = METAL_SHARE * p.coolant_capacity / METAL_TIME
    speed_share = crank.speed * RPM / p.rated_speed
    # The fan hangs on the ignition.
    warm.fan = fan_power(warm.temp_coolant, p.thermostat_opens, h.fan_works) if key > 0.5 else 0.0
    cooling = (
        p.radiator
        * thermostat(warm.temp_coolant, p.thermostat_opens, h.thermostat_stuck, h.thermostat_most)
        * cooling_air(kmh, speed_share, p.fan_share, warm.fan, h.fan_works)
        * (circulation(speed_share, h.coolant_lost) if p.fan_share < 1.0 else 1.0)
    )
    through_oil = OIL_TO_COOLANT * p.full_flow
    coolant = coolant_rate(
        warm.temp_coolant,
        warm.temp_oil,
        ambient,
        warm.temp_hood,
        metal * (warm.temp_metal - warm.temp_coolant),
        through_oil,
        cooling,
        STEAM if p.fan_share < 1.0 else 0.0,
        capacity,
    )
    oil = oil_rate(warm.temp_oil, warm.temp_coolant, warm.temp_hood, heat_fuel, through_oil, p.oil_capacity)
    # Where time lapses, a frame is many time constants of metal and radiator: each goes to what holds it in balance.
    warm.temp_metal += (to_metal / metal + warm.temp_coolant - warm.temp_metal) * min(dt / METAL_TIME, 1.0)
    warm.temp_coolant += dt * coolant
    warm.temp_oil += dt * oil
    # A standing engine is warmed through in time lapse too; a running one keeps gas and sensors in their own time.
    standing = crank.speed < STALL_SPEED
    own = dt if standing else FRAME
    share = 0.62 if standing else (0.45 if kmh < 5.0 else 0.10)
    warm.temp_hood += own / 120.0 * (ambient + share * (warm.temp_coolant - ambient) - warm.temp_hood)
    # Air that surges back on lift-off passes the sensor too.
    passing = abs(air.meter_flow)
    by_flow = passing / (passing + p.iat_half_flow)
    stream = air.temp_duct
    warm.temp_iat_body += (
        own
        / (p.iat_lag * h.iat_slow + 60.0 * (1.0 - by_flow))
        * (stream + h.iat_hood * (1.0 - by_flow) * (warm.temp_hood - stream) - warm.temp_iat_body)
    )
    # A sensor that hangs in steam follows slowly what lies between coolant and the air about it.
    dry = min(max((h.coolant_lost - SENSOR_DRY) / 0.2, 0.0), 1.0)
    felt = warm.temp_coolant + 0.5 * dry * (warm.temp_hood - warm.temp_coolant)
    warm.temp_ect_body += FRAME / p.ect_lag / (1.0 + 5.0 * dry) * min(time_lapse, 20.0) * (felt - warm.temp_ect_body)
    flow = air.charge_flow + fuel.fuel_flow
    if flow > 1e-4:
        if p.diesel > 0.5:
            target = diesel_exhaust_temperature(
                air.temp_charge, air.charge_flow, crank.burn, p.lower_heating_value, p.exhaust_heat_share
            )
        else:
            target = (
                gas_temperature(flow, p.exhaust_temp_base, p.exhaust_temp_rise, p.exhaust_flow_ref)
                - mixture_cools(crank.phi_cylinder)
                if crank.burn > 1e-6
                else 420.0
            )
        # The gas itself follows within cycles; what the pipe's wall gives back takes seconds.
        warm.temp_pipe += FRAME / (3.0 + 0.01 / (flow + 0.002)) * (target - warm.temp_pipe)
        gas.temp_exhaust += FRAME / GAS_LAG * (target + FROM_WALL * (warm.temp_pipe - target) - gas.temp_exhaust)
        reaching = gas.temp_behind - PIPE_COOLED * (gas.temp_behind - ambient)
        if p.has_catalyst > 0.5:
            unburnt = fuel.fuel_flow * h.dead_spark / max(1.0 - h.dead_fuel, 0.1)
            reaching += exotherm(unburnt, flow, p.lower_heating_value, light_off(gas.temp_catalyst))
            gas.damage += FRAME * time_lapse * damage_rate(gas.temp_catalyst)
        gas.temp_catalyst += FRAME / (6.0 + 0.12 / (flow + 0.002)) * (reaching - gas.temp_catalyst)
    else:
        warm.temp_pipe += own / 300.0 * (ambient - warm.temp_pipe)
        gas.temp_exhaust += own / 300.0 * (ambient - gas.temp_exhaust)
        gas.temp_catalyst += own / 600.0 * (ambient - gas.temp_catalyst)
        gas.temp_behind = gas.temp_exhaust
    on = 1.0 if unit.running > 0.5 and unit.run_time > p.heater_delay else 0.0
    if p.wideband > 0.5 and key > 0.5 and crank.speed < STANDSTILL:
        # A sensor that is useless cold is heated from key on.
        on = 1.0
    warm.heater_duty = on
    if p.heater_hold > 0.0:
        warm.heater_duty = on * min(max((p.heater_hold + 20.0 - warm.temp_front) / 40.0, 0.0), 1.0)
    front = (
        h.element_front_heater * heater_power(h.circuit_front_heater, h.ohms_front_heater)
        if p.heater_rise > 0.0
        else 0.0
    )
    front_rise = p.heater_rise
    if p.wideband > 0.5:
        # It must work in the air of a cold pipe too.
        front_rise *= WIDEBAND_RISE
        front = h.element_wideband_heater * heater_power(h.circuit_wideband_heater, h.ohms_wideband_heater)
    # Heat goes with the square of the voltage.
    power = (wires.battery / BATTERY_CHARGED) ** 2
    warm.heater_front = on * power * front
    warm.heater_rear = on * power * h.element_rear_heater * heater_power(h.circuit_rear_heater, h.ohms_rear_heater)
    warmed = flow / (flow + BOSS_HALF_FLOW * p.full_flow)
    warm.temp_boss += dt / BOSS_TIME * (warm.temp_hood + warmed * (gas.temp_exhaust - warm.temp_hood) - warm.temp_boss)
    # While the pipe's wall is below the dew point, water hangs in it, and a drop cracks an element that is hot already.
    wet = unit.running > 0.5 and warm.temp_boss < DEW_POINT
    warm.shock = warm.shock + FRAME if wet and warm.temp_front > CRACKS_ABOVE else warm.shock
    warm.temp_front += (
        oxygen_element_rate(
            p, warm.temp_front, gas.temp_behind, warm.temp_boss, warm.heater_front, warm.heater_duty, front_rise
        )
        * own
    )
    warm.temp_rear += (
        oxygen_element_rate(
            p,
            warm.temp_rear,
            gas.temp_catalyst - 40.0,
            gas.temp_catalyst - 340.0,
            warm.heater_rear,
            1.0,
            p.heater_rise,
        )
        * own
    )
    if p.charged > 0.5:
        charge_cooler(p, air, turbo)
        warm.egt_1_body += FRAME / (1.0 + 0.02 / (flow + 0.005)) * (gas.temp_exhaust - warm.egt_1_body)
        warm.egt_2_body += FRAME / (1.5 + 0.03 / (flow + 0.005)) * (gas.temp_catalyst - warm.egt_2_body)


@inlined
def heater_power(state: float, ohms: float) -> float:
    """Share of its rated power that a heater gets: none when its wire is broken or has blown the fuse, less behind a
    resistance. [-]
    """
    if state != CIRCUIT_SOUND:
        return 0.0
    share = HEATER_OHMS / (HEATER_OHMS + ohms)
    return share * share


@inlined
def oxygen_element_rate(
    p: Any, temp: float, temp_gas: float, boss: float, heater: float, duty: float, rise: float
) -> float:
    """Rate of an oxygen sensor's element temperature, pulled to gas and heater, which is on for a share of the time.
    [K/s]

    With no heater to make up for it the boss in the pipe's wall draws heat from the element.
    """
    if heater > 0.5:
        target = temp_gas - 60.0 + duty * heater * rise * max(1.0 - temp_gas / 1500.0, 0.0)
        return (max(target, p.ambient_temp) - temp) / p.heated_time
    target = temp_gas - BOSS_SHARE * (temp_gas - boss) + heater * duty * rise * max(1.0 - temp_gas / 1500.0, 0.0)
    return (max(target, p.ambient_temp) - temp) / p.unheated_time
