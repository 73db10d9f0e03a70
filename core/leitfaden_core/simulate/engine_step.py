"""One step of what is true: heat, air path with or without charging, burning and crankshaft, exhaust with its sensors'
elements and catalyst.

The two pressures of the air path are stiff near full load, so they take one linearly implicit step (Rosenbrock-Euler)
with the orifices' own slopes; everything else is explicit.
"""

import math
from typing import Any

from leitfaden_core.compiled import compiled
from leitfaden_core.constants import R_AIR
from leitfaden_core.engine.air_path import (
    breathing,
    charge_temperature,
    cylinder_flow,
    filter_flow,
    hole_resistance,
    orifice,
    throttle_area,
    volumetric_efficiency,
)
from leitfaden_core.engine.diesel import (
    diesel_exhaust_temperature,
    diesel_quality,
    equivalence_of,
    exhaust_burnt_share,
    filter_drop,
)
from leitfaden_core.engine.exhaust import (
    catalyst_step,
    exchanged_share,
    gas_temperature,
    leak_dilution,
    residence_time,
    transport_delay,
)
from leitfaden_core.engine.heat import coolant_rate, coolant_share, cooling_air, oil_rate, thermostat
from leitfaden_core.engine.torque import (
    best_spark,
    burn_quality,
    burnt_gas_quality,
    friction_torque,
    late_timing,
    spark_efficiency,
    speed_efficiency,
    viscosity_factor,
)
from leitfaden_core.engine.turbo import CP_AIR, CP_EXHAUST, compressor, shaft_rate, turbine, wastegate_opening
from leitfaden_core.sensors.oxygen import cell_voltage
from leitfaden_core.simulate.layout import FRAME, STEP, TRANSPORT_SLOTS
from leitfaden_core.simulate.limits import (
    BATTERY_CHARGED,
    BOOST_LEAK_LIP,
    BOSS_HALF_FLOW,
    BOSS_SHARE,
    BOSS_TIME,
    BYPASS_COOLED,
    CLEAN_AIR_LAG,
    RPM,
    STALL_SPEED,
    STANDSTILL,
    STARTER_VOLTS,
    UNBURNT_UNSEEN,
)
from leitfaden_core.simulate.second_bank import bank_mixtures, second_exhaust
from leitfaden_core.wiring.node import CIRCUIT_SOUND, HEATER_OHMS


@compiled
def heat(p: Any, s: Any, h: Any, kmh: float, time_lapse: float) -> None:
    """Temperatures, one frame.

    Coolant and oil run ``time_lapse`` times as fast; gas and sensors keep their own time.
    """
    ambient = p.ambient_temp
    heat_fuel = s.burn * p.lower_heating_value * h.fuel_energy
    dt = FRAME * time_lapse
    opening = thermostat(s.temp_coolant, p.thermostat_opens, h.thermostat_stuck)
    to_coolant = heat_fuel * coolant_share(s.burn * p.afr_stoich / p.full_flow)
    air_side = cooling_air(kmh, s.speed * RPM / p.rated_speed, p.fan_share)
    coolant = coolant_rate(
        s.temp_coolant, s.temp_oil, ambient, s.temp_hood, to_coolant, opening, air_side, p.radiator, p.coolant_capacity
    )
    oil = oil_rate(s.temp_oil, s.temp_coolant, s.temp_hood, heat_fuel, p.oil_capacity)
    s.temp_coolant += dt * coolant
    s.temp_oil += dt * oil
    # A standing engine is warmed through in time lapse too; a running one keeps gas and sensors in their own time.
    standing = s.speed < STALL_SPEED
    own = dt if standing else FRAME
    share = 0.62 if standing else (0.45 if kmh < 5.0 else 0.10)
    s.temp_hood += own / 120.0 * (ambient + share * (s.temp_coolant - ambient) - s.temp_hood)
    # Air that surges back on lift-off passes the sensor too.
    passing = abs(s.meter_flow)
    by_flow = passing / (passing + p.iat_half_flow)
    air = s.temp_duct
    s.temp_iat_body += (
        own / (p.iat_lag + 60.0 * (1.0 - by_flow)) * (by_flow * air + (1.0 - by_flow) * s.temp_hood - s.temp_iat_body)
    )
    s.temp_ect_body += FRAME / p.ect_lag * min(time_lapse, 20.0) * (s.temp_coolant - s.temp_ect_body)
    flow = s.charge_flow + s.fuel_flow
    if flow > 1e-4:
        if p.diesel > 0.5:
            target = diesel_exhaust_temperature(
                s.temp_charge, s.charge_flow, s.burn, p.lower_heating_value, p.exhaust_heat_share
            )
        else:
            target = (
                gas_temperature(flow, p.exhaust_temp_base, p.exhaust_temp_rise, p.exhaust_flow_ref)
                if s.burn > 1e-6
                else 420.0
            )
        s.temp_exhaust += FRAME / (3.0 + 0.01 / (flow + 0.002)) * (target - s.temp_exhaust)
        s.temp_catalyst += FRAME / (6.0 + 0.12 / (flow + 0.002)) * (s.temp_behind - 20.0 - s.temp_catalyst)
    else:
        s.temp_exhaust += own / 300.0 * (ambient - s.temp_exhaust)
        s.temp_catalyst += own / 600.0 * (ambient - s.temp_catalyst)
        s.temp_behind = s.temp_exhaust
    on = 1.0 if s.running > 0.5 and s.run_time > p.heater_delay else 0.0
    s.heater_duty = on
    if p.heater_hold > 0.0:
        s.heater_duty = on * min(max((p.heater_hold + 20.0 - s.temp_front) / 40.0, 0.0), 1.0)
    front = (
        h.element_front_heater * heater_power(h.circuit_front_heater, h.ohms_front_heater)
        if p.heater_rise > 0.0
        else 0.0
    )
    if p.wideband > 0.5:
        front = h.element_wideband_heater * heater_power(h.circuit_wideband_heater, h.ohms_wideband_heater)
    # Heat goes with the square of the voltage.
    power = (s.battery / BATTERY_CHARGED) ** 2
    s.heater_front = on * power * front
    s.heater_rear = on * power * h.element_rear_heater * heater_power(h.circuit_rear_heater, h.ohms_rear_heater)
    warmed = flow / (flow + BOSS_HALF_FLOW * p.full_flow)
    s.temp_boss += dt / BOSS_TIME * (s.temp_hood + warmed * (s.temp_exhaust - s.temp_hood) - s.temp_boss)
    s.temp_front += (
        oxygen_element_rate(p, s.temp_front, s.temp_behind, s.temp_boss, s.heater_front, s.heater_duty) * own
    )
    s.temp_rear += (
        oxygen_element_rate(p, s.temp_rear, s.temp_catalyst - 40.0, s.temp_catalyst - 340.0, s.heater_rear, 1.0) * own
    )
    if p.charged > 0.5:
        charge_cooler(p, s)
        s.egt_1_body += FRAME / (1.0 + 0.02 / (flow + 0.005)) * (s.temp_exhaust - s.egt_1_body)
        s.egt_2_body += FRAME / (1.5 + 0.03 / (flow + 0.005)) * (s.temp_catalyst - s.egt_2_body)


@compiled
def slow_terms(p: Any, s: Any, h: Any) -> None:
    """What the steps need and what changes little within a frame: powers, roots, exponentials, fractions."""
    rpm = s.speed * RPM
    krpm = rpm / 1000.0
    s.filter_resistance = p.filter_drop_full / (p.full_flow * p.full_flow) + h.filter_extra
    s.temp_fresh = charge_temperature(s.temp_duct, s.temp_coolant, s.air_flow, p.full_flow, p.charge_heating)
    s.breath = breathing(krpm, p.ve_const, p.ve_lin, p.ve_quad, p.ve_cub) * p.breath_gain
    if h.breath_lost > 0.0:
        s.breath *= late_timing(h.breath_lost, rpm / p.rated_speed)
    viscosity = viscosity_factor(s.temp_oil)
    s.friction = (
        friction_torque(krpm, viscosity, p.displacement, p.friction_const, p.friction_lin, p.friction_quad)
        * p.friction_gain
    )
    s.efficiency = p.indicated_efficiency * speed_efficiency(krpm)
    if p.diesel < 0.5:
        filling = min(s.p_manifold / p.ambient_pressure, 1.2)
        s.efficiency *= spark_efficiency(s.spark + h.spark_shift, best_spark(krpm, filling))
    # The charge burns about three quarters of a revolution after it was drawn in.
    s.share_burn = STEP / (0.75 * 2.0 * math.pi / max(s.speed, 15.0))
    flow = s.charge_flow + s.fuel_flow - s.egr_flow
    s.delay_slots = min(transport_delay(s.speed, p.exhaust_volume, s.p_exhaust, flow, s.temp_exhaust), 3.9) / STEP
    s.pump_air = pumped_air(p, s, h) if p.pump_volume > 0.0 else 0.0
    s.share_gas = STEP / p.gas_lag
    s.share_cell = STEP / (p.cell_lag + p.sensor_age_s)
    s.share_cell_slow = STEP / max(h.front_lag, STEP)
    s.share_wide = STEP / (0.02 + p.sensor_age_s + h.wideband_lag)
    if p.has_catalyst > 0.5:
        s.exchanged = exchanged_share(p.catalyst_exchange * h.catalyst_share, flow)
        s.share_behind = STEP / (0.05 + residence_time(p.catalyst_volume, s.p_pipe, flow, s.temp_catalyst))


@compiled
def pumped_air(p: Any, s: Any, h: Any) -> float:
    """What the air pump blows into the exhaust: all of it while the coolant is cold, then what the diverter valve lets
    through. [kg/s]
    """
    share = 1.0 if s.running > 0.5 and s.ect_believed < p.pump_until else h.air_undiverted
    return share * p.pump_volume * s.speed / (2.0 * math.pi) * p.ambient_pressure / (R_AIR * p.ambient_temp)


@compiled
def heater_power(state: float, ohms: float) -> float:
    """Share of its rated power that a heater gets: none when its wire is broken or has blown the fuse, less behind a
    resistance. [-]
    """
    if state != CIRCUIT_SOUND:
        return 0.0
    share = HEATER_OHMS / (HEATER_OHMS + ohms)
    return share * share


@compiled
def oxygen_element_rate(p: Any, temp: float, temp_gas: float, boss: float, heater: float, duty: float) -> float:
    """Rate of an oxygen sensor's element temperature, pulled to gas and heater, which is on for a share of the time.
    [K/s]

    With no heater to make up for it the boss in the pipe's wall draws heat from the element.
    """
    if heater > 0.5:
        target = temp_gas - 60.0 + duty * heater * p.heater_rise * max(1.0 - temp_gas / 1500.0, 0.0)
        return (max(target, p.ambient_temp) - temp) / p.heated_time
    target = (
        temp_gas - BOSS_SHARE * (temp_gas - boss) + heater * duty * p.heater_rise * max(1.0 - temp_gas / 1500.0, 0.0)
    )
    return (max(target, p.ambient_temp) - temp) / p.unheated_time


@compiled
def charge_cooler(p: Any, s: Any) -> None:
    """Temperature in the charge pipe, one frame: heated by compression, cooled towards the outside air; the cooler's
    metal takes its time.
    """
    hot = s.temp_compressed
    cooled = hot - p.cooler_effectiveness * (hot - p.ambient_temp)
    s.temp_duct += FRAME / 1.5 * (cooled - s.temp_duct)


@compiled
def supply(p: Any, s: Any, h: Any) -> tuple[float, float]:
    """Flow into the duct before the throttle and its slope by the duct's pressure.

    Sets the flow through the meter. [kg/s], [kg/(s Pa)]
    """
    ambient, temp = p.ambient_pressure, p.ambient_temp
    resistance = s.filter_resistance
    if p.charged < 0.5:
        flow, slope = filter_flow(ambient - s.p_duct, resistance)
        s.meter_flow = flow
        if h.leak_duct_area > 0.0:
            leak, d_leak = filter_flow(ambient - s.p_duct, hole_resistance(h.leak_duct_area, ambient, temp))
            flow += leak
            slope += d_leak
        s.p_inlet = s.p_duct
        return flow, -slope

    # What the compressor draws comes through the filter and, beside it, through a leak of the clean-air pipe.
    drawn, slope, heating = compressor(
        s.p_inlet, temp, s.p_duct, s.turbo_speed, p.wheel_radius, p.head_max, p.flow_max, p.passage_area
    )
    s.temp_compressed = temp * (1.0 + (heating - 1.0) / p.compressor_efficiency)
    s.compressor_power = max(drawn, 0.0) * CP_AIR * (s.temp_compressed - temp)
    # The recirculation valve hangs on the manifold: the vacuum behind a shut throttle opens it.
    over = s.p_duct - s.p_manifold
    wish = 1.0 if over > p.recirculation_opens and s.p_manifold < 0.8 * ambient and h.recirculation_shut < 0.5 else 0.0
    s.recirculation += STEP / 0.03 * (max(wish, h.recirculation_torn) - s.recirculation)
    if s.recirculation > 1e-3:
        dumped, up, _down = orifice(p.recirculation_area * s.recirculation, s.p_duct, s.temp_duct, s.p_inlet)
    else:
        dumped, up = 0.0, 0.0
    through_filter = drawn - dumped
    share = 1.0
    if h.leak_duct_area > 0.0:
        hole = hole_resistance(h.leak_duct_area, ambient, temp)
        share = math.sqrt(hole) / (math.sqrt(hole) + math.sqrt(resistance))
    s.meter_flow = through_filter * share
    drop = resistance * (share * through_filter) * abs(share * through_filter)
    s.p_inlet += STEP / CLEAN_AIR_LAG * (ambient - drop - s.p_inlet)
    flow, slope = drawn - dumped, slope - up
    opened = s.p_duct - ambient - h.boost_leak_opens
    if h.boost_leak_area > 0.0 and opened > 0.0:
        area = h.boost_leak_area * min(opened / BOOST_LEAK_LIP, 1.0)
        lost, up, _down = orifice(area, s.p_duct, s.temp_duct, ambient)
        flow -= lost
        slope -= up + lost / max(opened, BOOST_LEAK_LIP)
    return flow, slope


@compiled
def breathe(p: Any, s: Any, h: Any) -> None:
    """Air path, one linearly implicit step of the duct's and the manifold's pressure."""
    ambient = p.ambient_pressure
    into_duct, d_duct = supply(p, s, h)
    area = throttle_area(s.plate, p.throttle_area, p.throttle_leak) + s.idle_area
    through_throttle, d_up, d_down = orifice(area, s.p_duct, s.temp_duct, s.p_manifold)
    leak, d_leak = 0.0, 0.0
    if h.leak_manifold_area > 0.0:
        leak, _u2, d_leak = orifice(h.leak_manifold_area, ambient, p.ambient_temp, s.p_manifold)
        if s.p_manifold > ambient:
            # Under boost the same hole blows out.
            leak, d_leak, _u2 = orifice(h.leak_manifold_area, s.p_manifold, s.temp_charge, ambient)
            leak, d_leak = -leak, -d_leak
    s.purge_flow = 0.0
    s.purge_vapour = 0.0
    if s.purge_opening > 0.0:
        s.purge_flow, _u3, d_purge = orifice(s.purge_opening, ambient, p.ambient_temp, s.p_manifold)
        # The vapour goes in as fuel, the rest as air.
        share = p.purge_vapour if h.purge_fuel < 0.0 else h.purge_fuel
        s.purge_vapour = s.purge_flow * share
        leak += s.purge_flow - s.purge_vapour
        d_leak += d_purge * (1.0 - share)
    temp_charge = s.temp_fresh
    recirculated, d_egr = 0.0, 0.0
    if p.has_egr > 0.5:
        passage = p.egr_area * s.egr_position * (1.0 - h.egr_blocked)
        temp_egr = s.temp_exhaust - p.egr_cooler * (s.temp_exhaust - s.temp_coolant)
        if passage > 1e-9:
            recirculated, _u4, d_egr = orifice(passage, s.p_exhaust, temp_egr, s.p_manifold)
        temp_charge += s.egr_share * (temp_egr - temp_charge)
        s.egr_flow = recirculated
        mass = s.p_manifold * p.manifold_volume / (R_AIR * temp_charge)
        entering = through_throttle + leak + recirculated
        share = s.egr_share + STEP * (recirculated - s.egr_share * entering) / mass
        s.egr_share = min(share, 0.9) if share > 1e-9 else 0.0
    s.temp_charge = temp_charge
    ve = volumetric_efficiency(s.p_manifold, s.p_exhaust, s.speed, s.breath, p.compression_ratio, p.overlap_residual)
    s.charge_flow = cylinder_flow(ve, s.p_manifold, temp_charge, p.displacement, s.speed)
    s.air_flow = s.charge_flow * (1.0 - s.egr_share)
    d_cylinder = s.charge_flow / s.p_manifold

    k_duct = R_AIR * s.temp_duct / p.duct_volume
    k_manifold = R_AIR * temp_charge / p.manifold_volume
    f_duct = k_duct * (into_duct - through_throttle)
    f_manifold = k_manifold * (through_throttle + leak + recirculated - s.charge_flow)
    j11 = k_duct * (d_duct - d_up)
    j12 = k_duct * (-d_down)
    j21 = k_manifold * d_up
    j22 = k_manifold * (d_down + d_leak + d_egr - d_cylinder)
    a11, a12, a21, a22 = 1.0 - STEP * j11, -STEP * j12, -STEP * j21, 1.0 - STEP * j22
    per_det = STEP / (a11 * a22 - a12 * a21)
    s.p_duct += per_det * (a22 * f_duct - a12 * f_manifold)
    s.p_manifold = max(s.p_manifold + per_det * (a11 * f_manifold - a21 * f_duct), 3e3)


@compiled
def turn(p: Any, s: Any, h: Any, key: float, in_gear: float, roller: float, brake: float) -> None:
    """Burning, torque and crankshaft, one step."""
    firing = s.speed > STALL_SPEED
    fresh = max(s.air_flow, 1e-6)
    phi = p.afr_stoich * p.fuel_blend * h.fuel_afr * s.fuel_flow / fresh
    s.phi_cylinder = min(phi, 6.0)
    # All fuel is in the cylinders that get some; of these, those with a spark burn theirs.
    fuelled = 1.0 - h.dead_fuel
    live = fuelled - h.dead_spark
    if p.diesel > 0.5:
        # Recirculated gas of a lean engine still holds air: what counts is the share that is not burnt.
        available = s.charge_flow * (1.0 - s.egr_share * s.burnt_share)
        quality = diesel_quality(available / max(s.fuel_flow * p.afr_stoich, 1e-7)) if firing else 0.0
        burnt = s.fuel_flow * live / fuelled * quality
        out = exhaust_burnt_share(s.egr_share * s.burnt_share, s.charge_flow, s.fuel_flow, p.afr_stoich)
        s.burnt_share += STEP / 0.05 * (min(out, 1.2) - s.burnt_share)
        s.phi_exhaust = min(equivalence_of(s.burnt_share, p.afr_stoich), 2.0)
    else:
        quality, burnt = burn_petrol(p, s, h, phi, fuelled, live, firing)
        # The electrode burns only part of what a cylinder without spark sends unburnt: the rest of its oxygen is felt
        # as lean.
        s.phi_exhaust = s.phi_cylinder * (1.0 - h.dead_spark / fuelled * UNBURNT_UNSEEN)
        if p.two_banks > 0.5:
            bank_mixtures(s, h)
    # What the crankshaft's segments tell: the share of power strokes that are missing.
    s.misfire = 1.0 - live * quality if firing and s.fuel_flow > 1e-6 and s.cut < 0.5 else 0.0
    s.burn += s.share_burn * (burnt - s.burn)
    indicated = (
        p.lower_heating_value * h.fuel_energy * s.efficiency * s.burn / max(s.speed, 15.0) * (1.0 + s.torque_wander)
    )
    pumping = (s.p_exhaust - s.p_manifold) * p.displacement / (4.0 * math.pi)
    turning = min(s.speed / 3.0, 1.0)
    starter = 0.0
    if key > 1.5:
        # A weak battery turns the starter with less torque and to less speed.
        strength = min(s.battery / STARTER_VOLTS, 1.0)
        starter = p.starter_torque * max(strength - s.speed / p.starter_speed, 0.0)
    outside = 0.0
    if brake >= 0.0:
        # A brake on a governed engine takes torque; the governor holds the speed. It lets go before it stalls the
        # engine.
        outside = brake * min(max((s.speed - 70.0) / 50.0, 0.0), 1.0)
    elif in_gear > 0.5:
        grip = min(max((s.speed - 70.0) / 50.0, 0.0), 1.0)
        strength = 3.0 * p.rated_torque
        outside = min(max(0.25 * strength * (s.speed - roller), -strength), strength) * grip
    net = indicated - (pumping + s.friction + p.accessory_torque) * turning + starter - outside
    s.speed += STEP * net / p.inertia
    if s.speed < STANDSTILL:
        s.speed = 0.0
    free = indicated - pumping - s.friction - p.accessory_torque if s.running > 0.5 else 0.0
    s.brake_torque += STEP / 0.1 * ((outside if in_gear > 0.5 else 0.0) - s.brake_torque)
    s.torque += STEP / 0.02 * (free - s.torque)


@compiled
def burn_petrol(p: Any, s: Any, h: Any, phi: float, fuelled: float, live: float, firing: bool) -> tuple[float, float]:
    """Share of the live charge that burns, and the fuel that gives work, one step. [-], [kg/s]"""
    if not firing:
        return 0.0, 0.0
    dilution = burnt_gas_quality(s.egr_share)
    air = s.air_flow / (p.afr_stoich * p.fuel_blend * h.fuel_afr)
    if h.restricted_share <= 0.0:
        quality = burn_quality(phi / fuelled, s.temp_coolant) * dilution
        return quality, min(s.fuel_flow * live / fuelled, air * live) * quality
    # Cylinders behind a restricted injector run leaner than the mean, the others richer.
    lean = h.restricted_share
    mean = 1.0 - lean + lean * h.restricted_flow
    rich_phi = phi / fuelled / mean
    lean_phi = rich_phi * h.restricted_flow
    rich_quality = burn_quality(rich_phi, s.temp_coolant) * dilution
    lean_quality = burn_quality(lean_phi, s.temp_coolant) * dilution
    burnt = (1.0 - lean) * min(rich_phi, 1.0) * rich_quality + lean * min(lean_phi, 1.0) * lean_quality
    return (1.0 - lean) * rich_quality + lean * lean_quality, burnt * air * live


@compiled
def charge(p: Any, s: Any, h: Any) -> None:
    """Turbine, wastegate or vanes, and shaft, one step."""
    over = max(s.p_duct - p.ambient_pressure, 0.0) * (1.0 - h.wastegate_hose)
    gate = wastegate_opening(over, s.boost_duty, p.wastegate_spring, p.wastegate_span)
    s.wastegate += STEP / 0.05 * (gate - s.wastegate)
    if h.wastegate_stuck >= 0.0:
        s.wastegate = h.wastegate_stuck
    vanes = s.boost_duty if h.vanes_stuck < 0.0 else h.vanes_stuck
    s.vanes += STEP / 0.1 * (vanes - s.vanes)
    area = p.turbine_area + s.vanes * (p.turbine_area_shut - p.turbine_area)
    bypass = p.wastegate_area * s.wastegate
    flow, slope, drop = turbine(s.p_exhaust, s.p_pipe, s.temp_exhaust, area + bypass)
    rate = R_AIR * s.temp_exhaust / p.turbine_volume
    arriving = s.charge_flow + s.fuel_flow - s.egr_flow
    s.p_exhaust += STEP * rate * (arriving - flow) / (1.0 + STEP * rate * slope)
    turned = flow * area / (area + bypass)
    work = p.turbine_efficiency * CP_EXHAUST * s.temp_exhaust * drop
    power = max(turned, 0.0) * work
    s.turbo_speed += STEP * shaft_rate(s.turbo_speed, power, s.compressor_power, p.shaft_friction, p.shaft_inertia)
    s.turbo_speed = max(s.turbo_speed, 10.0)
    # Behind turbine and wastegate the gas has given the turbine's work and some heat to the housing.
    s.temp_behind = s.temp_exhaust - (power / max(flow, 1e-4) / CP_EXHAUST if flow > 1e-4 else 0.0) - BYPASS_COOLED


@compiled
def exhaust(p: Any, s: Any, h: Any, active: float) -> None:
    """Exhaust, oxygen sensors and catalyst, one step. Carries phi, which stays finite when the fuel is cut."""
    flow = s.charge_flow + s.fuel_flow - s.egr_flow
    resistance = p.exhaust_resistance * s.temp_behind
    # Of the sound pipe's resistance two thirds lie in silencer and tailpipe.
    s.p_tail = p.ambient_pressure + (0.67 * resistance + h.exhaust_extra) * flow * flow
    target = s.p_tail + (0.33 * resistance + h.catalyst_extra) * flow * flow
    if p.filter_linear > 0.0:
        drop = (
            filter_drop(max(flow, 0.0), s.temp_behind, p.filter_linear, p.filter_quadratic) + h.dpf_extra * flow * flow
        )
        s.dpf_drop += STEP / 0.010 * (drop - s.dpf_drop)
        target += s.dpf_drop
    s.p_pipe += STEP / 0.010 * (target - s.p_pipe)
    if p.charged > 0.5:
        charge(p, s, h)
    else:
        s.p_exhaust = s.p_pipe
        s.temp_behind = s.temp_exhaust

    slot = int(s.write_slot)
    s.phis[slot % TRANSPORT_SLOTS] = s.phi_exhaust if s.speed > STALL_SPEED else 0.0
    # The read pointer may wait, but gas never flows backwards.
    s.read_slot = max(s.read_slot, s.write_slot - s.delay_slots)
    s.write_slot += 1.0
    phi = s.phis[int(s.read_slot) % TRANSPORT_SLOTS] if s.running > 0.5 else 0.0
    part = 0.5 if p.two_banks > 0.5 else 1.0
    phi *= (
        leak_dilution(h.exhaust_leak_area, part * flow, part * p.full_flow, p.cylinders)
        * flow
        / max(flow + s.pump_air, 1e-6)
    )
    if p.two_banks > 0.5:
        second_exhaust(p, s, h, slot, 0.5 * flow)
    if flow > 2e-4:
        s.phi_pipe += STEP / 0.040 * (phi - s.phi_pipe)
    s.phi_gas += s.share_gas * (s.phi_pipe - s.phi_gas)
    if p.narrow_front > 0.5:
        volts = cell_voltage(s.phi_gas, s.temp_front, p.cell_table) * p.cell_gain * h.front_gain + h.front_offset
        s.cell_front += s.share_cell * (volts - s.cell_front)
        s.cell_front_slow += s.share_cell_slow * (s.cell_front - s.cell_front_slow)
        source = s.cell_front_slow if h.front_lag > STEP else s.cell_front
        if h.front_stuck >= 0.0:
            source = h.front_stuck
        s.front_source = source
        if p.heater_rise == 0.0:
            # A one-wire sensor returns through its thread and the block: whatever these lie above the control unit's
            # ground adds up.
            source += s.block_lift
        s.front_pin = s.front_wire * source + s.front_wire_base
    if p.wideband > 0.5:
        s.phi_wide += s.share_wide * (s.phi_gas - s.phi_wide)
    if p.has_catalyst > 0.5:
        arriving = 0.5 * (s.phi_pipe + s.phi_pipe_2) if p.two_banks > 0.5 else s.phi_pipe
        s.store, after = catalyst_step(
            s.store, arriving, flow, p.oxygen_store * h.catalyst_share, active, s.exchanged, STEP
        )
        s.phi_behind += s.share_behind * (after - s.phi_behind)
    if p.rear_sensor > 0.5:
        behind = cell_voltage(s.phi_behind, s.temp_rear, p.cell_table) * p.cell_gain
        s.cell_rear += s.share_cell * (behind - s.cell_rear)
        s.rear_source = s.cell_rear
        s.rear_pin = s.rear_wire * s.cell_rear + s.rear_wire_base
