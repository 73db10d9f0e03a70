"""The compiled step: one frame of 10 ms is the control unit's slow task and ten physical steps of 1 ms.

The loop is closed here and only here: truth (engine) → pin (sensors, wiring) → believed (control unit) → injection, spark and air → truth.
The two pressures of the air path are stiff near full load, so they take one linearly implicit step (Rosenbrock-Euler) with the orifices'
own slopes; everything else is explicit. The step neither checks nor raises: the plan has done so.
"""

import math
from typing import Any

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.compiled import compiled
from leitfaden_core.constants import R_AIR, STANDARD_PRESSURE, ZERO_CELSIUS
from leitfaden_core.control.fuelling import AWAKE_BELOW, WOT_PEDAL, fuel_factor, lambda_command, start_enrichment, trims
from leitfaden_core.control.idle import idle_air, spark_advance
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
from leitfaden_core.engine.exhaust import catalyst_step, gas_temperature, light_off, residence_time, transport_delay
from leitfaden_core.engine.fuel import film_share, film_time, injected_flow
from leitfaden_core.engine.heat import coolant_rate, coolant_share, oil_rate, thermostat
from leitfaden_core.engine.torque import best_spark, burn_quality, friction_torque, spark_efficiency, speed_efficiency
from leitfaden_core.sensors.airflow import heater_current, meter_flow, meter_voltage
from leitfaden_core.sensors.oxygen import cell_resistance, cell_voltage
from leitfaden_core.sensors.pressure import ONE_BAR_GAIN, ONE_BAR_OFFSET, believed_pressure, ratiometric_voltage
from leitfaden_core.sensors.temperature import believed_resistance, ntc_resistance, ntc_temperature
from leitfaden_core.simulate.layout import (
    FOOT_PEDAL,
    FOOT_SNAP,
    FOOT_SPEED,
    FOOT_TORQUE,
    FRAME,
    GATE_ABOVE_COOLANT,
    GATE_ABOVE_TORQUE,
    GATE_BELOW_COOLANT,
    OP_ADD,
    OP_MAX,
    OP_MULTIPLY,
    OP_SET,
    STEP,
    STEPS_PER_FRAME,
    TRANSPORT_SLOTS,
)
from leitfaden_core.simulate.noise import normal
from leitfaden_core.wiring.node import CIRCUIT_OPEN, pin_voltage

RPM = 60.0 / (2.0 * math.pi)
#: Slower than this the engine does not fire; above it a running engine is recognised. [rad/s]
STALL_SPEED, RUN_SPEED = 18.0, 42.0
#: What comes nearer to zero than this is zero: decaying for ever would end in numbers that the processor handles slowly. [rad/s], [-]
STANDSTILL, PLATE_SHUT = 0.02, 1e-6
#: Share of unburnt fuel that an oxygen sensor's electrode does not oxidise. [-]
UNBURNT_UNSEEN = 0.7
#: Revolutions of the starter until the control unit knows where the crankshaft stands. [s]
SYNC_AFTER = 0.95
#: Resistance of the low-ohmic outputs, of the control unit's pull-down, in ohm.
SENSOR_OUTPUT, MAP_OUTPUT, PULL_DOWN = 1000.0, 100.0, 220e3
#: A meter signal below this for this long is taken as lost. [V], [s]
MAF_LOW, MAF_LOST_AFTER = 0.2, 0.2
#: Signal while the wire is glowed clean. [V]
BURN_OFF_VOLTS = 4.6
#: MAP voltages outside these are taken as lost. [V]
MAP_LOW, MAP_HIGH = 0.1, 4.9
#: Thermistor voltages outside these for half a second are taken as lost. [V]
NTC_LOW, NTC_HIGH = 0.05, 4.9


@compiled
def apply_faults(
    hooks: NDArray[np.float64], sound: NDArray[np.float64], effects: Any, present: NDArray[np.uint8], frame: int, s: Any, p: Any
) -> None:
    """Set all hooks to a sound engine, then let every fault act that is there in this frame."""
    hooks[:] = sound
    for k in range(effects.shape[0]):
        effect = effects[k]
        if present[frame, effect.fault] == 0:
            continue
        gate = effect.gate
        if gate == GATE_ABOVE_COOLANT and s.temp_coolant <= effect.gate_value:
            continue
        if gate == GATE_BELOW_COOLANT and s.temp_coolant >= effect.gate_value:
            continue
        if gate == GATE_ABOVE_TORQUE and s.brake_torque <= effect.gate_value * p.rated_torque:
            continue
        at = effect.hook
        if effect.op == OP_SET:
            hooks[at] = effect.value
        elif effect.op == OP_ADD:
            hooks[at] += effect.value
        elif effect.op == OP_MULTIPLY:
            hooks[at] *= effect.value
        elif effect.op == OP_MAX:
            hooks[at] = max(hooks[at], effect.value)


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
def oxygen_element_rate(p: Any, temp: float, temp_gas: float, heater: float) -> float:
    """Rate of an oxygen sensor's element temperature, pulled to gas and heater. [K/s]"""
    target = temp_gas - 60.0 + heater * p.heater_rise * max(1.0 - temp_gas / 1500.0, 0.0)
    return (max(target, p.ambient_temp) - temp) / (p.heated_time if heater > 0.5 else p.unheated_time)


@compiled
def thermistor_pin(p: Any, temp: float, circuit: float, ohms: float) -> float:
    """Voltage at the pin of a thermistor input: pulled up in the control unit, the element to ground. [V]"""
    return pin_voltage(0.0, ntc_resistance(temp, p.ntc_r25, p.ntc_b), 5.0, p.ntc_pull_up, circuit, ohms)


@compiled
def slow_sensors(p: Any, s: Any, h: Any, seed: np.uint64, frame: int) -> None:
    """Pins and believed values of the slow inputs, with their noise and substitution."""
    noise = p.noise_gain
    s.ect_volts = thermistor_pin(p, s.temp_ect_body + p.ect_trim_k + h.ect_offset, h.circuit_ect, h.ohms_ect) + 0.002 * noise * normal(
        seed, 1, frame
    )
    # Heat of its surroundings that a badly placed element takes up: with the engine's own warmth, fading to a third at 15 g/s.
    warmth = min(max((s.temp_coolant - p.ambient_temp) / 65.0, 0.0), 1.2)
    soaked = h.iat_soak * warmth / (1.0 + s.air_flow / 0.0075)
    s.iat_volts = thermistor_pin(
        p, s.temp_iat_body + p.iat_trim_k + h.iat_offset + soaked, h.circuit_iat, h.ohms_iat
    ) + 0.002 * noise * normal(seed, 2, frame)
    s.ect_bad_time = s.ect_bad_time + FRAME if s.ect_volts < NTC_LOW or s.ect_volts > NTC_HIGH else 0.0
    s.iat_bad_time = s.iat_bad_time + FRAME if s.iat_volts < NTC_LOW or s.iat_volts > NTC_HIGH else 0.0
    if s.ect_bad_time > 0.5:
        s.ect_believed = min(293.15 + 0.5 * s.run_time, 358.15)
    else:
        s.ect_believed = ntc_temperature(believed_resistance(s.ect_volts, p.ntc_pull_up, 5.0), p.ntc_r25, p.ntc_b)
    if s.iat_bad_time > 0.5:
        s.iat_believed = 313.15
    else:
        s.iat_believed = ntc_temperature(believed_resistance(s.iat_volts, p.ntc_pull_up, 5.0), p.ntc_r25, p.ntc_b)
    s.noise_map = 0.003 * noise * normal(seed, 3, frame)
    if p.speed_density > 0.5:
        # Without a sensor of its own the control unit learns the barometer from MAP, as long as nothing turns.
        if s.speed < 1.0 and s.map_pin < MAP_HIGH and s.map_pin > MAP_LOW:
            s.baro_believed += 0.05 * (s.map_believed - s.baro_believed)
    else:
        s.baro_volts = ratiometric_voltage(p.ambient_pressure / 1000.0, s.reference, ONE_BAR_OFFSET, ONE_BAR_GAIN) + s.noise_map
        s.baro_believed += 0.05 * (1000.0 * believed_pressure(s.baro_volts, 5.0, ONE_BAR_OFFSET, ONE_BAR_GAIN) - s.baro_believed)
    s.tp_volts = s.reference * (0.1 + 0.8 * s.plate) + 0.003 * noise * normal(seed, 4, frame)
    battery = 12.4 if s.running < 0.5 else 14.1
    supply = 1e6 if h.maf_supply_open > 0.5 else h.maf_supply_ohms
    s.maf_supply = max(battery - supply * heater_current(s.meter_flow, p.meter_full_scale), 0.0)
    # Combustion differs from cycle to cycle: a slow wander of torque that the idle control has to hold.
    s.torque_wander += FRAME / 0.15 * (p.torque_noise * 2.0 * noise * normal(seed, 5, frame) - s.torque_wander)
    s.noise_meter = 0.005 * noise * normal(seed, 6, frame)


@compiled
def driver(p: Any, s: Any, row: Any, dt: float) -> None:
    """The driver's foot, one frame."""
    if row.foot == FOOT_PEDAL:
        s.pedal = row.target
        s.pedal_integral = 0.06
    elif row.foot == FOOT_SPEED:
        error = (row.target - s.speed) * RPM / 1000.0
        s.pedal_integral = min(max(s.pedal_integral + 0.030 * error * dt, 0.02), 0.9)
        s.pedal = min(max(s.pedal_integral + 0.035 * error, 0.011), 1.0)
    elif row.foot == FOOT_TORQUE:
        error = (row.target - s.brake_torque) / p.rated_torque
        s.pedal_integral = min(max(s.pedal_integral + 0.5 * error * dt, 0.02), 1.0)
        s.pedal = min(max(s.pedal_integral + 0.04 * error, 0.011), 1.0)
    elif row.foot == FOOT_SNAP:
        s.snap_time += dt
        if s.snap_time > 0.5 and s.snap_released < 0.5:
            if s.speed * RPM > 0.8 * p.rated_speed or s.snap_time > 1.5:
                s.snap_released = 1.0
            s.pedal = min(s.pedal + dt / 0.15, 1.0)
        else:
            s.pedal = max(s.pedal - dt / 0.15, 0.0)
    if row.foot != FOOT_SNAP:
        s.snap_time = 0.0
        s.snap_released = 0.0


@compiled
def control_unit(p: Any, s: Any, ltft: NDArray[np.float64], key: float, time_lapse: float, front_ohms: float, dt: float) -> None:
    """Slow task of the control unit, one frame: state of the engine, mixture mode, trims, idle, spark."""
    rpm = s.speed * RPM
    if s.running > 0.5:
        s.run_time += dt
        s.warm_time += dt * time_lapse
        if s.speed < STALL_SPEED:
            s.running = 0.0
            s.run_time = 0.0
            s.sync_time = 0.0
    elif s.speed > RUN_SPEED and s.sync_time > SYNC_AFTER:
        s.running = 1.0
    s.sync_time = s.sync_time + dt if s.speed > 10.0 and key > 0.5 else 0.0
    s.off_time = s.off_time + dt if key < 0.5 else 0.0
    s.burning_off = 1.0 if p.burn_off > 0.5 and s.warm_time > 20.0 and 4.0 < s.off_time < 5.0 else 0.0
    s.wot = 1.0 if s.pedal > WOT_PEDAL else 0.0
    foot_off = s.pedal < 0.01
    if s.cut < 0.5:
        s.since_cut += dt
        if (p.fuel_cut > 0.5 and foot_off and rpm > p.cut_above and s.ect_believed > 330.0) or rpm > p.speed_limit:
            s.cut = 1.0
    elif (not foot_off and rpm < p.speed_limit) or rpm < p.cut_resume:
        s.cut = 0.0
        s.since_cut = 0.0
    full = breathing(rpm / 1000.0, p.ve_const, p.ve_lin, p.ve_quad, p.ve_cub) * s.baro_believed
    mass_full = cylinder_flow(1.0, full, max(s.iat_believed, 250.0), p.displacement, max(s.speed, 1.0))
    s.load = min(max(s.air_estimate / mass_full, 0.0), 1.5) if s.speed > STALL_SPEED else 0.0
    s.sensor_awake = 1.0 if front_ohms < AWAKE_BELOW else 0.0
    trims(p, s, ltft, dt, time_lapse)
    s.lambda_command = 1.0 if s.closed_loop > 0.5 else lambda_command(s.run_time, s.ect_believed, s.wot > 0.5, p)
    if s.running < 0.5:
        s.lambda_command = 1.0 / start_enrichment(s.ect_believed)
    idle_air(p, s, rpm, dt)
    s.spark = spark_advance(s, best_spark(rpm / 1000.0, min(s.load, 1.0)))


@compiled
def substitute_air(p: Any, s: Any, psi: NDArray[np.float64], residual: NDArray[np.float64]) -> float:
    """Air mass flow from throttle and idle valve alone, for when the meter is lost: opening and filling solved for one pressure. [kg/s]"""
    area = throttle_area(s.plate, p.throttle_area, p.throttle_leak) + s.idle_demand * p.idle_air_area
    pressure = s.observer
    flow = 0.0
    for _ in range(4):
        ve = believed_filling(p, s, pressure, residual)
        pumped = cylinder_flow(ve, 1.0, believed_charge(p, s), p.displacement, max(s.speed, 1.0))
        flow, _up, slope = orifice(area, s.baro_believed, s.iat_believed, min(pressure, 0.995 * s.baro_believed), psi)
        pressure = min(max((flow - slope * pressure) / (pumped - slope), 8e3), 0.999 * s.baro_believed)
    return flow


@compiled
def believed_charge(p: Any, s: Any) -> float:
    """Charge temperature that the control unit assumes. [K]"""
    return charge_temperature(s.iat_believed, s.ect_believed, s.air_estimate, p.full_flow, p.charge_heating)


@compiled
def believed_filling(p: Any, s: Any, pressure: float, residual: NDArray[np.float64]) -> float:
    """Volumetric efficiency from the control unit's calibration. [-]"""
    breath = breathing(s.speed * RPM / 1000.0, p.ve_const, p.ve_lin, p.ve_quad, p.ve_cub)
    return volumetric_efficiency(pressure, s.baro_believed, s.speed, breath, p.compression_ratio, p.overlap_residual, residual)


@compiled
def meter(p: Any, s: Any, h: Any) -> None:
    """The airflow meter, one step: element, output, wire, believed flow."""
    share = min(s.meter_flow / p.full_flow, 1.2)
    gain = p.meter_gain * (h.meter_gain_idle + (h.meter_gain_full - h.meter_gain_idle) * share)
    s.meter_volts += STEP / p.meter_lag * (meter_voltage(gain * s.meter_flow, p.meter_zero, p.meter_full_scale) - s.meter_volts)
    if s.burning_off > 0.5 and h.burnoff_dead < 0.5:
        s.meter_volts = BURN_OFF_VOLTS
    # Below 8 V of supply the electronics give less and less, without supply nothing.
    output = s.meter_volts * min(max((s.maf_supply - 4.0) / 4.0, 0.0), 1.0)
    s.maf_pin = max(pin_voltage(output, SENSOR_OUTPUT, 0.0, PULL_DOWN, h.circuit_maf, h.ohms_maf) + s.noise_meter, 0.0)
    s.maf_believed = meter_flow(s.maf_pin * (1.0 + SENSOR_OUTPUT / PULL_DOWN), p.meter_zero, p.meter_full_scale)
    s.maf_bad_time = s.maf_bad_time + STEP if s.maf_pin < MAF_LOW or s.maf_pin > 4.95 else max(s.maf_bad_time - 2.0 * STEP, 0.0)
    s.maf_bad_time = min(s.maf_bad_time, 1.0)


@compiled
def manifold_sensor(p: Any, s: Any, h: Any) -> None:
    """The manifold pressure sensor, one step: hose, element, wire, believed pressure."""
    seen = s.p_manifold + h.map_hose_share * (p.ambient_pressure - s.p_manifold)
    s.map_gas += STEP / (p.map_lag + h.map_hose_lag) * (seen - s.map_gas)
    shown = h.map_stuck if h.map_stuck >= 0.0 else s.map_gas + h.map_shift
    volts = ratiometric_voltage(shown / 1000.0, s.reference, p.map_offset, p.map_gain)
    s.map_pin = pin_voltage(volts, MAP_OUTPUT, 0.0, PULL_DOWN, h.circuit_map, h.ohms_map) + s.noise_map
    s.map_believed = max(1000.0 * believed_pressure(s.map_pin, 5.0, p.map_offset, p.map_gain), 5e3)


@compiled
def estimate_air_by_density(p: Any, s: Any, psi: NDArray[np.float64], residual: NDArray[np.float64]) -> None:
    """Air into the cylinders from manifold pressure, speed and charge temperature: the filling is known, the air is not measured."""
    lost = s.map_pin < MAP_LOW or s.map_pin > MAP_HIGH
    s.maf_bad_time = min(s.maf_bad_time + STEP, 1.0) if lost else max(s.maf_bad_time - 2.0 * STEP, 0.0)
    s.maf_substituted = 1.0 if s.maf_bad_time > MAF_LOST_AFTER else 0.0
    if s.maf_substituted > 0.5:
        s.air_estimate = substitute_air(p, s, psi, residual)
        return
    ve = believed_filling(p, s, s.map_believed, residual)
    s.air_estimate = cylinder_flow(ve, s.map_believed, believed_charge(p, s), p.displacement, s.speed)


@compiled
def estimate_air(p: Any, s: Any, psi: NDArray[np.float64], residual: NDArray[np.float64]) -> None:
    """Air into the cylinders as the control unit infers it: an observer whose state is manifold pressure.

    In steady state it equals the metered flow, whatever the calibration of the filling; in transients the filling decides.
    """
    s.maf_substituted = 1.0 if s.maf_bad_time > MAF_LOST_AFTER else 0.0
    if s.maf_substituted > 0.5:
        flow = substitute_air(p, s, psi, residual)
    else:
        # Part of the element's lag is undone.
        s.maf_smooth += STEP / 0.010 * (s.maf_believed - s.maf_smooth)
        flow = max(s.maf_believed + 0.9 * p.meter_lag / 0.010 * (s.maf_believed - s.maf_smooth), 0.0)
    temp = believed_charge(p, s)
    pumped = cylinder_flow(believed_filling(p, s, s.observer, residual), 1.0, temp, p.displacement, s.speed)
    rate = R_AIR * temp / p.manifold_volume
    s.observer = min(max((s.observer + STEP * rate * flow) / (1.0 + STEP * rate * pumped), 5e3), 1.3 * STANDARD_PRESSURE)
    s.air_estimate = pumped * s.observer


@compiled
def inject(p: Any, s: Any, h: Any, ltft: NDArray[np.float64]) -> None:
    """Injection time from the believed air, and the fuel that then really reaches the cylinders, one step."""
    events = s.speed * p.cylinders / (4.0 * math.pi) * p.injections_per_cycle
    known = p.rail_referenced > 0.5
    believed_drop = p.rail_drop if known else p.rail_drop + s.baro_believed - s.map_believed
    allowed = s.sync_time > SYNC_AFTER and s.cut < 0.5 and s.speed > 10.0
    share_b = film_share(p.film_share, s.ect_believed)
    time_b = film_time(p.film_time, s.ect_believed)
    if allowed and events > 0.1:
        # While the starter turns, fuel comes from its own table: what was learned on the road is not asked.
        correction = fuel_factor(s, ltft) if s.running > 0.5 else 1.0
        wanted = s.air_estimate / (p.afr_stoich * s.lambda_command) * correction
        command = max((wanted - s.film_believed / time_b) / (1.0 - share_b), 0.0)
        s.film_believed += STEP * (share_b * command - s.film_believed / time_b)
        s.pulse = command / (events * p.injector_flow * math.sqrt(max(believed_drop / p.rail_drop, 0.1))) + p.injector_dead_time
    else:
        s.film_believed -= STEP * s.film_believed / time_b
        s.pulse = 0.0
    flow_full = p.full_flow / p.afr_stoich
    used = min(s.fuel_flow / flow_full, 1.3)
    true_drop = 1.0 if known else (p.rail_drop + p.ambient_pressure - s.p_manifold) / p.rail_drop
    pressure_ratio = h.rail_factor_idle + (h.rail_factor_full - h.rail_factor_idle) * used
    pressure_ratio *= true_drop
    injected = injected_flow(s.pulse, p.injector_dead_time, p.injector_flow * p.injector_gain, pressure_ratio, events) if allowed else 0.0
    injected *= 1.0 - h.dead_fuel
    if s.speed > STALL_SPEED:
        injected += h.injector_leak
    share = film_share(p.film_share, s.temp_coolant)
    evaporated = s.film / film_time(p.film_time, s.temp_coolant)
    s.film += STEP * (share * injected - evaporated)
    s.fuel_flow = (1.0 - share) * injected + evaporated + s.purge_vapour


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
def record(lane: Any, p: Any, s: Any, ltft: NDArray[np.float64], h: Any, row: Any) -> None:
    """One row of all channels and of the status that monitors read."""
    rpm = s.speed * RPM
    lane.rpm = rpm
    lane.rpm_true = rpm
    lane.throttle = min(max((s.tp_volts / 5.0 - 0.1) / 0.8 * 100.0, 0.0), 100.0)
    lane.tp_volts = s.tp_volts
    lane.throttle_true = s.plate * 100.0
    lane.baro = s.baro_believed / 1000.0
    lane.baro_volts = s.baro_volts
    lane.baro_true = p.ambient_pressure / 1000.0
    lane.map_true = s.p_manifold / 1000.0
    lane.map = s.map_believed / 1000.0
    lane.map_volts = s.map_pin
    shown = s.air_estimate if s.maf_substituted > 0.5 else s.maf_believed
    lane.maf = shown * 1000.0
    lane.maf_volts = s.maf_pin
    lane.maf_supply_v = s.maf_supply
    lane.maf_meter_true = s.meter_flow * 1000.0
    lane.maf_true = s.air_flow * 1000.0
    lane.iat = s.iat_believed - ZERO_CELSIUS
    lane.iat_volts = s.iat_volts
    lane.iat_true = p.ambient_temp - ZERO_CELSIUS
    lane.ect = s.ect_believed - ZERO_CELSIUS
    lane.ect_volts = s.ect_volts
    lane.ect_true = s.temp_coolant - ZERO_CELSIUS
    lane.stft = s.stft * 100.0
    lane.ltft = ltft[int(s.cell)] * 100.0
    lane.total_trim = (s.stft + ltft[int(s.cell)]) * 100.0
    lane.ho2s_b1s1_v = s.front_pin
    lane.ho2s_b1s1_pin_v = s.front_pin
    lane.lambda_sensed = 1.0 / max(s.phi_gas, 0.1)
    lane.ho2s_b1s2_v = s.rear_pin
    lane.ho2s_b1s2_pin_v = s.rear_pin
    lane.lambda_rear = 1.0 / max(s.phi_behind, 0.1)
    cut = s.cut > 0.5 or s.running < 0.5
    lane.lambda_true = np.nan if cut or s.phi_cylinder < 0.1 else 1.0 / s.phi_cylinder
    lane.load = s.load * 100.0
    density = p.ambient_pressure / (R_AIR * p.ambient_temp)
    lane.ve = shown / (p.displacement / 2.0 * rpm / 60.0 * density) * 100.0 if rpm > 50.0 else 0.0
    lane.injector_ms = s.pulse * 1000.0
    lane.spark = s.spark
    lane.idle_air = s.idle_demand * 100.0
    lane.vref_v = s.reference
    lane.torque_true = s.brake_torque
    lane.exhaust_backpressure = (s.p_exhaust - p.ambient_pressure) / 1000.0
    used = min(s.fuel_flow / (p.full_flow / p.afr_stoich), 1.3)
    sound_drop = p.rail_drop if p.rail_referenced > 0.5 else p.rail_drop + p.ambient_pressure - s.p_manifold
    drop = sound_drop * (h.rail_factor_idle + (h.rail_factor_full - h.rail_factor_idle) * used)
    pump_on = s.running > 0.5 or s.sync_time > 0.0
    # A gauge on the rail reads against the surrounding air, the injectors against the manifold.
    lane.fuel_pressure = (drop + s.p_manifold - p.ambient_pressure) / 1000.0 if pump_on else drop / 1000.0
    lane.closed_loop = s.closed_loop
    lane.fuel_cut = s.cut
    lane.running = s.running
    lane.run_seconds = s.warm_time
    lane.kmh = row.vehicle_kmh
    lane.heater_front = h.front_heater
    lane.heater_rear = h.rear_heater
    lane.misfire = s.misfire


@compiled
def run_frames(
    p: Any,
    s: Any,
    h: Any,
    hooks: NDArray[np.float64],
    sound: NDArray[np.float64],
    effects: Any,
    present: NDArray[np.uint8],
    inputs: Any,
    ltft: NDArray[np.float64],
    phis: NDArray[np.float64],
    psi: NDArray[np.float64],
    residual: NDArray[np.float64],
    table: NDArray[np.float64],
    seed: np.uint64,
    lanes: Any,
) -> None:
    """Run all frames of ``inputs`` and record a row of ``lanes`` for each.

    ``h`` and ``hooks`` are two views of the same memory, as are the rows of the fault hooks by name and by number.
    """
    for frame in range(inputs.shape[0]):
        row = inputs[frame]
        apply_faults(hooks, sound, effects, present, frame, s, p)
        heat(p, s, h, row.vehicle_kmh, row.time_lapse)
        slow_sensors(p, s, h, seed, frame)
        driver(p, s, row, FRAME)
        active = light_off(s.temp_catalyst)
        r_front = cell_resistance(s.temp_front)
        r_rear = cell_resistance(s.temp_rear)
        # Across an open wire the test current finds nothing; a dead cell is as conductive as a live one.
        seen = 1e9 if h.circuit_front == CIRCUIT_OPEN else r_front + h.ohms_front
        control_unit(p, s, ltft, row.key, row.time_lapse, seen, FRAME)
        for _ in range(STEPS_PER_FRAME):
            s.plate += STEP / 0.020 * (s.pedal - s.plate)
            if s.plate < PLATE_SHUT:
                s.plate = 0.0
            s.meter_flow = breathe(p, s, h, psi, residual)
            if p.speed_density > 0.5:
                manifold_sensor(p, s, h)
                estimate_air_by_density(p, s, psi, residual)
            else:
                meter(p, s, h)
                estimate_air(p, s, psi, residual)
            inject(p, s, h, ltft)
            turn(p, s, h, row.key, row.in_gear, row.roller_speed)
            exhaust(p, s, h, phis, active, psi, table, r_front, r_rear)
        record(lanes[frame], p, s, ltft, h, row)
