"""One step of what is true: heat, air path, burning and crankshaft, exhaust with its sensors' elements and the catalyst.

The two pressures of the air path are stiff near full load, so they take one linearly implicit step (Rosenbrock-Euler) with the orifices'
own slopes; everything else is explicit.
"""

import math
from typing import Any

import numpy as np
from numpy.typing import NDArray

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
from leitfaden_core.engine.exhaust import catalyst_step, gas_temperature, residence_time, transport_delay
from leitfaden_core.engine.heat import coolant_rate, coolant_share, oil_rate, thermostat
from leitfaden_core.engine.torque import best_spark, burn_quality, friction_torque, spark_efficiency, speed_efficiency
from leitfaden_core.sensors.oxygen import cell_voltage
from leitfaden_core.simulate.layout import FRAME, STEP, TRANSPORT_SLOTS
from leitfaden_core.simulate.limits import RPM, STALL_SPEED, STANDSTILL, UNBURNT_UNSEEN
from leitfaden_core.wiring.node import pin_voltage


@compiled
def heat(p: Any, s: Any, h: Any, kmh: float, time_lapse: float) -> None:
    """Temperatures, one frame. Coolant and oil run ``time_lapse`` times as fast; gas and sensors keep their own time."""
    ambient = p.ambient_temp
    heat_fuel = s.burn * p.lower_heating_value
    dt = FRAME * time_lapse
    opening = thermostat(s.temp_coolant, p.thermostat_opens, h.thermostat_stuck)
    to_coolant = heat_fuel * coolant_share(s.burn * p.afr_stoich / p.full_flow)
    coolant = coolant_rate(s.temp_coolant, s.temp_oil, ambient, s.temp_hood, to_coolant, opening, kmh, p.radiator, p.coolant_capacity)
    oil = oil_rate(s.temp_oil, s.temp_coolant, s.temp_hood, heat_fuel, p.oil_capacity)
    s.temp_coolant += dt * coolant
    s.temp_oil += dt * oil
    # A standing engine is warmed through in time lapse too; a running one keeps gas and sensors in their own time.
    standing = s.speed < STALL_SPEED
    own = dt if standing else FRAME
    share = 0.62 if standing else (0.45 if kmh < 5.0 else 0.10)
    s.temp_hood += own / 120.0 * (ambient + share * (s.temp_coolant - ambient) - s.temp_hood)
    by_flow = s.meter_flow / (s.meter_flow + p.iat_half_flow)
    s.temp_iat_body += own / (8.0 + 60.0 * (1.0 - by_flow)) * (by_flow * ambient + (1.0 - by_flow) * s.temp_hood - s.temp_iat_body)
    s.temp_ect_body += FRAME / p.ect_lag * min(time_lapse, 20.0) * (s.temp_coolant - s.temp_ect_body)
    flow = s.air_flow + s.fuel_flow
    if flow > 1e-4:
        target = gas_temperature(flow, p.exhaust_temp_base, p.exhaust_temp_rise, p.exhaust_flow_ref) if s.burn > 1e-6 else 420.0
        s.temp_exhaust += FRAME / (3.0 + 0.01 / (flow + 0.002)) * (target - s.temp_exhaust)
        s.temp_catalyst += FRAME / (6.0 + 0.12 / (flow + 0.002)) * (s.temp_exhaust - 20.0 - s.temp_catalyst)
    else:
        s.temp_exhaust += own / 300.0 * (ambient - s.temp_exhaust)
        s.temp_catalyst += own / 600.0 * (ambient - s.temp_catalyst)
    on = 1.0 if s.running > 0.5 else 0.0
    s.temp_front += oxygen_element_rate(p, s.temp_front, s.temp_exhaust, on * h.front_heater) * own
    s.temp_rear += oxygen_element_rate(p, s.temp_rear, s.temp_catalyst - 40.0, on * h.rear_heater) * own


@compiled
def breathe(p: Any, s: Any, h: Any, psi: NDArray[np.float64], residual: NDArray[np.float64]) -> float:
    """Air path, one linearly implicit step of the duct's and the manifold's pressure. Returns the flow through the meter. [kg/s]"""
    ambient, temp = p.ambient_pressure, p.ambient_temp
    resistance = p.filter_drop_full / (p.full_flow * p.full_flow) + h.filter_extra
    through_filter, d_filter = filter_flow(ambient - s.p_duct, resistance)
    leak_duct, d_leak_duct = 0.0, 0.0
    if h.leak_duct_area > 0.0:
        leak_duct, slope = filter_flow(ambient - s.p_duct, hole_resistance(h.leak_duct_area, ambient, temp))
        d_leak_duct = -slope
    area = throttle_area(s.plate, p.throttle_area, p.throttle_leak) + s.idle_demand * p.idle_air_area
    through_throttle, d_up, d_down = orifice(area, s.p_duct, temp, s.p_manifold, psi)
    leak, _u2, d_leak = 0.0, 0.0, 0.0
    if h.leak_manifold_area > 0.0:
        leak, _u2, d_leak = orifice(h.leak_manifold_area, ambient, temp, s.p_manifold, psi)
    purge, _u3, d_purge = orifice(h.purge_area, ambient, temp, s.p_manifold, psi)
    if h.purge_area == 0.0:
        d_purge = 0.0
    # The vapour goes in as fuel, the rest as air.
    s.purge_vapour = purge * h.purge_fuel
    leak += purge - s.purge_vapour
    d_leak += d_purge * (1.0 - h.purge_fuel)
    rpm = s.speed * RPM
    temp_charge = charge_temperature(temp, s.temp_coolant, s.air_flow, p.full_flow, p.charge_heating)
    breath = breathing(rpm / 1000.0, p.ve_const, p.ve_lin, p.ve_quad, p.ve_cub) * p.breath_gain
    ve = volumetric_efficiency(s.p_manifold, s.p_exhaust, s.speed, breath, p.compression_ratio, p.overlap_residual, residual)
    s.air_flow = cylinder_flow(ve, s.p_manifold, temp_charge, p.displacement, s.speed)
    d_cylinder = s.air_flow / s.p_manifold

    k_duct = R_AIR * temp / p.duct_volume
    k_manifold = R_AIR * temp_charge / p.manifold_volume
    f_duct = k_duct * (through_filter + leak_duct - through_throttle)
    f_manifold = k_manifold * (through_throttle + leak - s.air_flow)
    j11 = k_duct * (-d_filter + d_leak_duct - d_up)
    j12 = k_duct * (-d_down)
    j21 = k_manifold * d_up
    j22 = k_manifold * (d_down + d_leak - d_cylinder)
    a11, a12, a21, a22 = 1.0 - STEP * j11, -STEP * j12, -STEP * j21, 1.0 - STEP * j22
    det = a11 * a22 - a12 * a21
    s.p_duct += STEP * (a22 * f_duct - a12 * f_manifold) / det
    s.p_manifold = max(s.p_manifold + STEP * (a11 * f_manifold - a21 * f_duct) / det, 3e3)
    return through_filter


@compiled
def turn(p: Any, s: Any, h: Any, key: float, in_gear: float, roller: float) -> None:
    """Burning, torque and crankshaft, one step."""
    phi = p.afr_stoich * s.fuel_flow / max(s.air_flow, 1e-6)
    s.phi_cylinder = min(phi, 6.0)
    firing = s.speed > STALL_SPEED
    # All fuel is in the cylinders that get some; of these, those with a spark burn theirs.
    fuelled = 1.0 - h.dead_fuel
    live = fuelled - h.dead_spark
    quality = burn_quality(phi / fuelled, s.temp_coolant) if firing else 0.0
    burnt = min(s.fuel_flow * live / fuelled, s.air_flow * live / p.afr_stoich) * quality
    # The electrode burns only part of what a cylinder without spark sends unburnt: the rest of its oxygen is felt as lean.
    s.phi_exhaust = s.phi_cylinder * (1.0 - h.dead_spark / fuelled * UNBURNT_UNSEEN)
    # What the crankshaft's segments tell: the share of power strokes that are missing.
    s.misfire = 1.0 - live * quality if firing and s.fuel_flow > 1e-6 else 0.0
    # The charge burns about three quarters of a revolution after it was drawn in.
    s.burn += STEP / (0.75 * 2.0 * math.pi / max(s.speed, 15.0)) * (burnt - s.burn)
    krpm = s.speed * RPM / 1000.0
    filling = min(s.p_manifold / p.ambient_pressure, 1.2)
    efficiency = p.indicated_efficiency * spark_efficiency(s.spark, best_spark(krpm, filling)) * speed_efficiency(krpm)
    indicated = p.lower_heating_value * efficiency * s.burn / max(s.speed, 15.0) * (1.0 + s.torque_wander)
    pumping = (s.p_exhaust - s.p_manifold) * p.displacement / (4.0 * math.pi)
    turning = min(s.speed / 3.0, 1.0)
    friction = friction_torque(krpm, s.temp_oil, p.displacement, p.friction_const, p.friction_lin, p.friction_quad) * p.friction_gain
    starter = p.starter_torque * max(1.0 - s.speed / p.starter_speed, 0.0) if key > 1.5 else 0.0
    clutch = 0.0
    if in_gear > 0.5:
        grip = min(max((s.speed - 70.0) / 50.0, 0.0), 1.0)
        strength = 3.0 * p.rated_torque
        clutch = min(max(0.25 * strength * (s.speed - roller), -strength), strength) * grip
    net = indicated - (pumping + friction + p.accessory_torque) * turning + starter - clutch
    s.speed += STEP * net / p.inertia
    if s.speed < STANDSTILL:
        s.speed = 0.0
    s.clutch_torque = clutch
    free = indicated - pumping - friction - p.accessory_torque if s.running > 0.5 else 0.0
    s.brake_torque += STEP / 0.1 * ((clutch if in_gear > 0.5 else 0.0) - s.brake_torque)
    s.torque += STEP / 0.02 * (free - s.torque)


@compiled
def exhaust(
    p: Any,
    s: Any,
    h: Any,
    phis: NDArray[np.float64],
    active: float,
    psi: NDArray[np.float64],
    table: NDArray[np.float64],
    i_front: float,
    i_rear: float,
) -> None:
    """Exhaust, oxygen sensors and catalyst, one step. Carries phi, which stays finite when the fuel is cut."""
    flow = s.air_flow + s.fuel_flow
    resistance = p.exhaust_resistance * s.temp_exhaust
    target = p.ambient_pressure + (resistance + h.exhaust_extra) * flow * flow
    s.p_exhaust += STEP / 0.010 * (target - s.p_exhaust)

    slot = int(s.write_slot)
    phis[slot % TRANSPORT_SLOTS] = s.phi_exhaust if s.speed > STALL_SPEED else 0.0
    delay = min(transport_delay(s.speed, p.exhaust_volume, s.p_exhaust, flow, s.temp_exhaust), 3.9) / STEP
    # The read pointer may wait, but gas never flows backwards.
    s.read_slot = max(s.read_slot, s.write_slot - delay)
    s.write_slot += 1.0
    phi = phis[int(s.read_slot) % TRANSPORT_SLOTS] if s.running > 0.5 else 0.0
    if h.exhaust_leak_area > 0.0 and flow > 1e-4:
        # Between pulses the pipe falls below ambient and draws air; with flow the mean pressure shuts that off.
        drawn = h.exhaust_leak_area * 60.0 / (1.0 + (flow / (0.047 * p.full_flow)) ** 2)
        phi = phi * flow / (flow + drawn)
    if flow > 2e-4:
        s.phi_pipe += STEP / 0.040 * (phi - s.phi_pipe)
    s.phi_gas += STEP / p.gas_lag * (s.phi_pipe - s.phi_gas)
    volts = cell_voltage(s.phi_gas, s.temp_front, table) * p.cell_gain * h.front_gain + h.front_offset
    lag = p.cell_lag + p.sensor_age_s
    s.cell_front += STEP / lag * (volts - s.cell_front)
    s.cell_front_slow += STEP / max(h.front_lag, STEP) * (s.cell_front - s.cell_front_slow)
    source = s.cell_front_slow if h.front_lag > STEP else s.cell_front
    if h.front_stuck >= 0.0:
        source = h.front_stuck
        i_front = 100.0
    s.front_pin = pin_voltage(source, i_front, p.bias_voltage, p.bias_resistance, h.circuit_front, h.ohms_front)

    s.store, after = catalyst_step(
        s.store, s.phi_pipe, flow, p.oxygen_store * h.catalyst_share, active, p.catalyst_exchange * h.catalyst_share, STEP
    )
    s.phi_behind += STEP / (0.05 + residence_time(p.catalyst_volume, s.p_exhaust, flow, s.temp_catalyst)) * (after - s.phi_behind)
    behind = cell_voltage(s.phi_behind, s.temp_rear, table) * p.cell_gain
    s.cell_rear += STEP / lag * (behind - s.cell_rear)
    s.rear_pin = pin_voltage(s.cell_rear, i_rear, p.bias_voltage, p.bias_resistance, h.circuit_rear, 0.0)


@compiled
def oxygen_element_rate(p: Any, temp: float, temp_gas: float, heater: float) -> float:
    """Rate of an oxygen sensor's element temperature, pulled to gas and heater. [K/s]"""
    target = temp_gas - 60.0 + heater * p.heater_rise * max(1.0 - temp_gas / 1500.0, 0.0)
    return (max(target, p.ambient_temp) - temp) / (p.heated_time if heater > 0.5 else p.unheated_time)
