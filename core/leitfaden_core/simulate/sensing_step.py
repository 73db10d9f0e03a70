"""One step from truth to pin to believed value: supply and grounds, thermistors, pressures, position, the airflow
meter; noise, substitution.
"""

from typing import Any

import numpy as np

from leitfaden_core.compiled import compiled
from leitfaden_core.engine.battery import (
    CAPACITY,
    KEY_ON_AMPS,
    RUNNING_AMPS,
    STARTER_AMPS,
    USUAL_CHARGE,
    terminal_voltage,
)
from leitfaden_core.sensors.airflow import (
    heater_current,
    meter_flow,
    meter_slope,
    meter_voltage,
    vane_flow,
    vane_voltage,
)
from leitfaden_core.sensors.pressure import (
    DP_GAIN,
    DP_OFFSET,
    EGR_DP_GAIN,
    EGR_DP_OFFSET,
    EGR_GAS,
    RAIL_GAIN,
    RAIL_OFFSET,
    believed_pressure,
    orifice_drop,
)
from leitfaden_core.sensors.temperature import (
    PTC_PULL_UP,
    believed_resistance,
    dead_spot,
    ntc_resistance,
    ntc_temperature,
    ptc_resistance,
    ptc_temperature,
)
from leitfaden_core.sensors.wideband import LAMBDA_LEANEST, LAMBDA_RICHEST, lambda_from_current, pump_current
from leitfaden_core.simulate.layout import FRAME, STEP
from leitfaden_core.simulate.limits import (
    APP_TRACKS_AGREE,
    BATTERY_CHARGED,
    BURN_OFF_VOLTS,
    CONVERTER_TOP,
    MAF_LOW,
    MAP_HIGH,
    MAP_LOW,
    NTC_HIGH,
    NTC_LOW,
    RELAY_HOLD,
    TP_LOST_AFTER,
)
from leitfaden_core.simulate.noise import normal
from leitfaden_core.wiring.node import (
    CIRCUIT_OPEN,
    CIRCUIT_SOUND,
    CIRCUIT_SWAPPED,
    OPEN_SIEMENS,
    PRESSURE_OUTPUT,
    REFERENCE_VOLTS,
    SENSOR_OUTPUT,
    pin_line,
    pin_voltage,
    rails,
)

#: How often and how long a changeover valve lets the MAP sensor see the surrounding air. [s]
CHANGEOVER_EVERY, CHANGEOVER_FOR = 30.0, 0.4

#: Below this element temperature a wideband sensor cannot be read. [K]
WIDEBAND_AWAKE = 820.0


@compiled
def supplies(p: Any, s: Any, h: Any, key: float, time_lapse: float) -> None:
    """Battery, shared reference and grounds, one frame."""
    battery(s, h, key, FRAME * time_lapse)
    # The engine's consumers and the airflow meter return over one eyelet: what they draw through a bad one lifts the
    # block.
    eyelet = h.ohms_engine_ground + (1.0 / OPEN_SIEMENS if h.circuit_engine_ground == CIRCUIT_OPEN else 0.0)
    load = p.ground_load_ohms if s.running > 0.5 else 4.0 * p.ground_load_ohms
    meter_amps = heater_current(s.meter_flow, p.meter_full_scale) if p.meter_zero > 0.0 else 0.0
    s.block_lift = (s.battery / load + meter_amps) * eyelet / (1.0 + eyelet / load)
    if s.off_time > RELAY_HOLD:
        s.rail_5v = 0.0
        s.rail_ground = 0.0
        return
    thermistors = 1.0 / (p.ntc_pull_up + s.iat_ohms) + 1.0 / (s.ect_pull_up + s.ect_ohms)
    if p.diesel > 0.5:
        thermistors += 1.0 / (PTC_PULL_UP + s.egt_1_ohms) + 1.0 / (PTC_PULL_UP + s.egt_2_ohms)
    s.rail_5v, s.rail_ground = rails(
        p.five_volt_sensors,
        p.sensor_ohms,
        thermistors,
        p.reference_ohms + h.ohms_reference,
        h.circuit_reference,
        h.reference_held,
        h.ohms_sensor_ground,
        h.circuit_sensor_ground,
    )


@compiled
def battery(s: Any, h: Any, key: float, elapsed: float) -> None:
    """Voltage and charge of the battery, one frame in which this much time goes by. [s]"""
    charged = s.running > 0.5 and h.charging_lost < 0.5
    amps = (
        RUNNING_AMPS
        if s.running > 0.5
        else STARTER_AMPS
        if key > 1.5
        else KEY_ON_AMPS
        if key > 0.5 or s.off_time < RELAY_HOLD
        else 0.0
    )
    left = max(s.battery_charge - h.battery_drained, 0.0)
    if charged:
        s.battery += FRAME / 1.0 * (BATTERY_CHARGED - s.battery)
        s.battery_charge = max(s.battery_charge, USUAL_CHARGE)
        return
    settles = 0.05 if amps == STARTER_AMPS else 0.5
    s.battery += FRAME / settles * (terminal_voltage(left, amps) - s.battery)
    s.battery_charge = max(s.battery_charge - amps * elapsed / (3600.0 * CAPACITY), 0.0)


@compiled
def thermistor_pin(p: Any, s: Any, element: float, pull_up: float, circuit: float, ohms: float) -> float:
    """Voltage at the pin of a thermistor input: pulled up in the control unit, ``element`` ohms to the shared sensor
    ground. [V]
    """
    if s.off_time > RELAY_HOLD:
        return 0.0
    # Without its ground wire the current finds its way only through the other sensors: no more than the pull-up is
    # left.
    return pin_voltage(s.rail_ground, element, REFERENCE_VOLTS, pull_up, circuit, ohms, s.battery)


@compiled
def five_volt_pin(p: Any, s: Any, share: float, circuit: float, ohms: float) -> float:
    """Voltage at the pin of a ratiometric 5 V sensor that gives ``share`` of its own supply above its own ground.

    [V]
    """
    slope, base = five_volt_line(p, s, circuit, ohms)
    return slope * min(max(share, 0.0), 1.0) + base


@compiled
def five_volt_line(p: Any, s: Any, circuit: float, ohms: float) -> tuple[float, float]:
    """That voltage as a line in the share, which holds as long as supplies and wires stay as they are. [V], [V]"""
    if circuit == CIRCUIT_SWAPPED:
        # The signal wire hangs on the sensor's ground pin, and its supply current finds no other way out.
        return 0.0, pin_voltage(s.rail_5v, p.sensor_ohms, p.pull_to, p.signal_pull_ohms, circuit, ohms, s.battery)
    slope, base = pin_line(PRESSURE_OUTPUT, p.pull_to, p.signal_pull_ohms, circuit, ohms, s.battery)
    return slope * (s.rail_5v - s.rail_ground), base + slope * s.rail_ground


@compiled
def fast_wires(p: Any, s: Any, h: Any, front_ohms: float, rear_ohms: float) -> None:
    """Lags and wires of the sensors that are read at every step, as they are in this frame."""
    if p.speed_density > 0.5 or p.map_helps > 0.5:
        s.share_map = STEP / (p.map_lag + h.map_hose_lag)
        s.map_wire, s.map_wire_base = five_volt_line(p, s, h.circuit_map, h.ohms_map)
    if p.speed_density < 0.5:
        s.share_meter = STEP / p.meter_lag
        s.meter_slope = meter_slope(p.meter_zero, p.meter_full_scale)
        s.maf_wire, s.maf_wire_base = pin_line(
            SENSOR_OUTPUT, p.pull_to, p.signal_pull_ohms, h.circuit_maf, h.ohms_maf, s.battery
        )
        # The control unit knows what its own pull-down takes from a sound sensor's voltage.
        s.maf_undivided = 1.0 + SENSOR_OUTPUT / p.signal_pull_ohms
    if p.charged > 0.5:
        s.charge_wire, s.charge_wire_base = five_volt_line(p, s, h.circuit_charge, h.ohms_charge)
    s.front_ohms = front_ohms if h.front_stuck < 0.0 else 100.0
    s.rear_ohms = rear_ohms
    s.front_wire, s.front_wire_base = pin_line(
        s.front_ohms, p.bias_voltage, p.bias_resistance, h.circuit_front, h.ohms_front, s.battery
    )
    s.front2_wire, s.front2_wire_base = pin_line(
        front_ohms, p.bias_voltage, p.bias_resistance, h.circuit_front2, h.ohms_front2, s.battery
    )
    s.rear_wire, s.rear_wire_base = pin_line(
        s.rear_ohms, p.bias_voltage, p.bias_resistance, h.circuit_rear, h.ohms_rear, s.battery
    )


@compiled
def slow_sensors(p: Any, s: Any, h: Any, seed: np.uint64, frame: int) -> None:
    """Pins and believed values of the slow inputs, with their noise and substitution."""
    noise = p.noise_gain
    seen = s.temp_ect_body + p.ect_trim_k + h.ect_offset
    seen = 273.15 + (seen - 273.15) * h.ect_slope
    s.ect_ohms = (
        ntc_resistance(seen, p.ntc_r25, p.ntc_b) * h.ect_resistance * dead_spot(seen, h.ect_dead_at, h.ect_dead_width)
    )
    ect_range(p, s)
    s.ect_volts = thermistor_pin(p, s, s.ect_ohms, s.ect_pull_up, h.circuit_ect, h.ohms_ect) + 0.002 * noise * normal(
        seed, 1, frame
    )
    # Heat of its surroundings that a badly placed element takes up: with the engine's own warmth, fading to a third at
    # 15 g/s.
    warmth = min(max((s.temp_coolant - p.ambient_temp) / 65.0, 0.0), 1.2)
    soaked = h.iat_soak * warmth / (1.0 + s.air_flow / 0.0075)
    seen = s.temp_iat_body + p.iat_trim_k + h.iat_offset + soaked
    seen = 273.15 + (seen - 273.15) * h.iat_slope
    s.iat_ohms = (
        ntc_resistance(seen, p.ntc_r25, p.ntc_b) * h.iat_resistance * dead_spot(seen, h.iat_dead_at, h.iat_dead_width)
    )
    s.iat_volts = thermistor_pin(p, s, s.iat_ohms, p.ntc_pull_up, h.circuit_iat, h.ohms_iat) + 0.002 * noise * normal(
        seed, 2, frame
    )
    s.ect_bad_time = s.ect_bad_time + FRAME if s.ect_volts < NTC_LOW or s.ect_volts > NTC_HIGH else 0.0
    s.iat_bad_time = s.iat_bad_time + FRAME if s.iat_volts < NTC_LOW or s.iat_volts > NTC_HIGH else 0.0
    if s.ect_bad_time > 0.5:
        s.ect_believed = min(293.15 + 0.5 * s.run_time, 358.15)
    else:
        s.ect_believed = ntc_temperature(
            believed_resistance(s.ect_volts, s.ect_pull_up, REFERENCE_VOLTS), p.ntc_r25, p.ntc_b
        )
    if s.iat_bad_time > 0.5:
        s.iat_believed = 313.15
    else:
        s.iat_believed = ntc_temperature(
            believed_resistance(s.iat_volts, p.ntc_pull_up, REFERENCE_VOLTS), p.ntc_r25, p.ntc_b
        )
    s.noise_map = 0.003 * noise * normal(seed, 3, frame)
    s.noise_charge = 0.003 * noise * normal(seed, 7, frame)
    barometer(p, s, h, noise * normal(seed, 8, frame))
    s.tp_share = 0.1 + 0.8 * s.plate + h.tp_shift
    s.tp_volts = five_volt_pin(p, s, s.tp_share, h.circuit_tp, h.ohms_tp) + 0.003 * noise * normal(seed, 4, frame)
    if p.electronic_throttle > 0.5:
        # The second track runs the other way, so that no single voltage can move both alike.
        s.tp2_volts = five_volt_pin(p, s, 0.9 - 0.8 * s.plate, 0.0, 0.0) + 0.003 * noise * normal(seed, 13, frame)
    s.tp_believed = min(max((s.tp_volts / REFERENCE_VOLTS - 0.1) / 0.8, 0.0), 1.0)
    supply_ohms = h.ohms_maf_supply + (0.0 if h.circuit_maf_supply == CIRCUIT_SOUND else 1e6)
    s.maf_supply = max(s.battery - s.block_lift - supply_ohms * heater_current(s.meter_flow, p.meter_full_scale), 0.0)
    # Combustion differs from cycle to cycle: a slow wander of torque that the idle control has to hold.
    s.torque_wander += FRAME / 0.15 * (p.torque_noise * 2.0 * noise * normal(seed, 5, frame) - s.torque_wander)
    s.noise_meter = 0.005 * noise * normal(seed, 6, frame)
    if p.wideband > 0.5:
        wideband(p, s, h, noise * normal(seed, 9, frame))
    if p.pedal_sensor > 0.5:
        pedal_sensor(p, s, h, noise * normal(seed, 14, frame), noise * normal(seed, 15, frame))
    if p.has_egr > 0.5:
        egr_sensors(p, s, h, noise * normal(seed, 12, frame))
    if p.diesel > 0.5:
        diesel_sensors(p, s, h, seed, frame)


@compiled
def barometer(p: Any, s: Any, h: Any, noise: float) -> None:
    """The barometric value, one frame: from a sensor of its own, or learned from MAP as long as nothing turns."""
    if p.has_ambient < 0.5:
        if s.speed < 1.0 and s.map_pin < MAP_HIGH and s.map_pin > MAP_LOW and s.off_time <= 0.0:
            s.baro_believed += 0.05 * (s.map_believed - s.baro_believed)
        s.baro_key_on = s.baro_believed
        return
    place = s.p_inlet if p.ambient_in_pipe > 0.5 else p.ambient_pressure
    s.ambient_share = p.ambient_offset + p.ambient_gain * (place + h.ambient_shift + p.ambient_trim_pa) / 1000.0
    if p.ambient_on_reference > 0.5:
        s.ambient_pin = five_volt_pin(p, s, s.ambient_share, h.circuit_ambient, h.ohms_ambient) + 0.003 * noise
    else:
        s.ambient_pin = REFERENCE_VOLTS * s.ambient_share + 0.003 * noise
    lost = s.ambient_pin < MAP_LOW or s.ambient_pin > MAP_HIGH
    read = (
        101300.0
        if lost
        else 1000.0 * believed_pressure(s.ambient_pin, REFERENCE_VOLTS, p.ambient_offset, p.ambient_gain)
    )
    s.baro_believed += 0.05 * (read - s.baro_believed)
    if s.speed < 1.0 and s.off_time <= 0.0:
        s.baro_key_on = s.baro_believed


@compiled
def wideband(p: Any, s: Any, h: Any, noise: float) -> None:
    """Pump current and believed lambda of the wideband sensor, one frame.

    Cold, or with a broken wire, there is none: lambda 1 is assumed.
    """
    s.wideband_lost = h.circuit_wideband if h.ohms_wideband < 2000.0 else float(CIRCUIT_OPEN)
    if s.temp_front < WIDEBAND_AWAKE or s.wideband_lost > 0.5:
        s.pump_current = 0.0
        s.lambda_believed = 1.0
        return
    sound = pump_current(s.phi_wide) + 0.003 * noise
    believed = lambda_from_current(sound) * p.wideband_gain + h.wideband_shift + h.wideband_noise * noise
    s.lambda_believed = min(max(believed, LAMBDA_RICHEST), LAMBDA_LEANEST)
    # The current at the pin is that of a sensor whose curve has moved: what a sound one would show at the lambda that
    # is read.
    s.pump_current = (
        pump_current(1.0 / s.lambda_believed) if h.wideband_shift != 0.0 or h.wideband_noise > 0.0 else sound
    )


@compiled
def diesel_sensors(p: Any, s: Any, h: Any, seed: np.uint64, frame: int) -> None:
    """Rail pressure, filter pressure drop, exhaust temperatures, EGR position: pins and believed values, one frame."""
    noise = p.noise_gain
    s.rail_share = RAIL_OFFSET + RAIL_GAIN * (s.rail_true + h.rail_shift) / 1e6
    s.rail_pin = five_volt_pin(p, s, s.rail_share, h.circuit_rail, h.ohms_rail) + 0.003 * noise * normal(
        seed, 10, frame
    )
    s.rail_believed = max(1e6 * believed_pressure(s.rail_pin, REFERENCE_VOLTS, RAIL_OFFSET, RAIL_GAIN), 0.0)
    before = h.dp_upstream * (s.p_pipe - p.ambient_pressure)
    s.dp_gas += FRAME / (0.05 + h.dp_upstream_lag) * (before - s.dp_gas)
    behind = s.p_pipe - p.ambient_pressure - s.dpf_drop
    drop = s.dp_gas - behind
    if h.dp_swapped > 0.5:
        drop = -drop
    s.dpf_dp_share = DP_OFFSET + DP_GAIN * (drop + h.dpf_dp_shift) / 1000.0
    s.dpf_pin = five_volt_pin(p, s, s.dpf_dp_share, h.circuit_dpf_dp, h.ohms_dpf_dp) + 0.002 * noise * normal(
        seed, 11, frame
    )
    s.dpf_believed = 1000.0 * believed_pressure(s.dpf_pin, REFERENCE_VOLTS, DP_OFFSET, DP_GAIN)
    s.egt_1_ohms = ptc_resistance(s.egt_1_body + h.egt_1_offset)
    s.egt_2_ohms = ptc_resistance(s.egt_2_body + h.egt_2_offset)
    s.egt_1_believed = exhaust_thermometer(s, s.egt_1_ohms, h.circuit_egt_1, h.ohms_egt_1)
    s.egt_2_believed = exhaust_thermometer(s, s.egt_2_ohms, h.circuit_egt_2, h.ohms_egt_2)


@compiled
def ect_range(p: Any, s: Any) -> None:
    """The pull-up of the coolant input: an input of two ranges puts a second one beside it while the engine is warm."""
    s.ect_pull_up = p.ntc_pull_up
    if p.ntc_pull_up_hot > 0.0:
        # A few kelvin between the two ways, so that it does not chatter.
        s.ect_hot_range = 1.0 if s.ect_believed > p.ntc_switch + (-3.0 if s.ect_hot_range > 0.5 else 3.0) else 0.0
        if s.ect_hot_range > 0.5:
            s.ect_pull_up = 1.0 / (1.0 / p.ntc_pull_up + 1.0 / p.ntc_pull_up_hot)


@compiled
def pedal_sensor(p: Any, s: Any, h: Any, noise: float, second_noise: float) -> None:
    """Accelerator pedal, one frame: two tracks, the second always half the first; believed only while they agree."""
    s.app_share = 0.15 + 0.7 * s.pedal + h.app_shift
    s.app_pin = five_volt_pin(p, s, s.app_share, h.circuit_app, h.ohms_app) + 0.003 * noise
    s.app2_pin = five_volt_pin(p, s, 0.5 * (0.15 + 0.7 * s.pedal), 0.0, 0.0) + 0.003 * second_noise
    apart = abs(s.app_pin - 2.0 * s.app2_pin + s.rail_ground) > APP_TRACKS_AGREE
    s.app_bad_time = min(s.app_bad_time + FRAME, 1.0) if apart else max(s.app_bad_time - FRAME, 0.0)
    travel = (s.app_pin / REFERENCE_VOLTS - 0.15) / 0.7
    # A little play at the stop, so that noise does not drive.
    s.app_believed = 0.0 if s.app_bad_time > TP_LOST_AFTER or travel < 0.005 else min(travel, 1.0)


@compiled
def egr_sensors(p: Any, s: Any, h: Any, noise: float) -> None:
    """EGR valve position, or the pressure drop over the metering orifice, one frame: pin and believed value."""
    if p.egr_sensor > 0.5:
        s.egr_pin_share = 0.1 + 0.8 * s.egr_position
        s.egr_pin = five_volt_pin(p, s, s.egr_pin_share, h.circuit_egr, h.ohms_egr) + 0.002 * noise
        s.egr_believed = min(max((s.egr_pin / REFERENCE_VOLTS - 0.1) / 0.8, 0.0), 1.0)
    if p.egr_orifice > 0.0:
        drop = orifice_drop(s.egr_flow, p.egr_orifice, s.p_exhaust, EGR_GAS)
        s.egr_dp_share = EGR_DP_OFFSET + EGR_DP_GAIN * h.egr_dp_hoses * drop / 1000.0
        s.egr_dp_pin = five_volt_pin(p, s, s.egr_dp_share, h.circuit_egr_dp, h.ohms_egr_dp) + 0.002 * noise
        s.egr_dp_believed = 1000.0 * believed_pressure(s.egr_dp_pin, REFERENCE_VOLTS, EGR_DP_OFFSET, EGR_DP_GAIN)


@compiled
def exhaust_thermometer(s: Any, element: float, circuit: float, ohms: float) -> float:
    """What the control unit reads from a resistance thermometer in the exhaust. [K]"""
    volts = pin_voltage(s.rail_ground, element, REFERENCE_VOLTS, PTC_PULL_UP, circuit, ohms, s.battery)
    return ptc_temperature(believed_resistance(min(volts, 4.999), PTC_PULL_UP, REFERENCE_VOLTS))


@compiled
def meter(p: Any, s: Any, h: Any) -> None:
    """The airflow meter, one step: element, output, wire, believed flow."""
    share = min(s.meter_flow / p.full_flow, 1.2)
    gain = p.meter_gain * (h.meter_gain_idle + (h.meter_gain_full - h.meter_gain_idle) * share)
    flow = gain * s.meter_flow + h.meter_shift
    if p.meter_vane > 0.5:
        volts = vane_voltage(flow, p.ambient_pressure, p.ambient_temp, p.meter_zero, p.meter_full_scale)
    else:
        volts = meter_voltage(flow, p.meter_zero, s.meter_slope)
    s.meter_volts += s.share_meter * (volts - s.meter_volts)
    if s.burning_off > 0.5 and h.burnoff_dead < 0.5:
        s.meter_volts = BURN_OFF_VOLTS
    # Below 8 V of supply the electronics give less and less, without supply nothing.
    output = s.meter_volts * min(max(0.25 * (s.maf_supply - 4.0), 0.0), 1.0)
    s.meter_output = output
    if p.meter_own_ground < 0.5:
        output += s.block_lift
    s.maf_pin = max(s.maf_wire * output + s.maf_wire_base + s.noise_meter, 0.0)
    read = min(s.maf_pin, CONVERTER_TOP) * s.maf_undivided
    if p.meter_vane > 0.5:
        s.maf_believed = vane_flow(read, s.baro_believed, s.iat_believed, p.meter_zero, p.meter_full_scale)
    else:
        s.maf_believed = meter_flow(read, p.meter_zero, s.meter_slope)
    s.maf_bad_time = (
        s.maf_bad_time + STEP if s.maf_pin < MAF_LOW or s.maf_pin > 4.95 else max(s.maf_bad_time - 2.0 * STEP, 0.0)
    )
    s.maf_bad_time = min(s.maf_bad_time, 1.0)


@compiled
def manifold_sensor(p: Any, s: Any, h: Any) -> None:
    """The manifold pressure sensor, one step: hose, element, wire, believed pressure."""
    seen = s.p_manifold + h.map_hose_share * (p.ambient_pressure - s.p_manifold)
    sampling = False
    if p.map_changeover > 0.5 and s.running > 0.5:
        # Every half minute the valve lets the sensor see the surrounding air; what it read before is held meanwhile.
        s.changeover_time = s.changeover_time + STEP if s.changeover_time < CHANGEOVER_EVERY else 0.0
        sampling = s.changeover_time > CHANGEOVER_EVERY - CHANGEOVER_FOR
        if sampling:
            seen = p.ambient_pressure
    s.map_gas += s.share_map * (seen - s.map_gas)
    shown = (
        h.map_stuck if h.map_stuck >= 0.0 else max(s.map_gas, h.map_lowest) * h.map_part + h.map_shift + p.map_trim_pa
    )
    s.map_share = p.map_offset + 0.001 * p.map_gain * shown
    s.map_pin = s.map_wire * min(max(s.map_share, 0.0), 1.0) + s.map_wire_base + s.noise_map
    read = min(s.map_pin, CONVERTER_TOP)
    believed = max(1000.0 * believed_pressure(read, REFERENCE_VOLTS, p.map_offset, p.map_gain), 5e3)
    if p.map_changeover > 0.5 and s.running > 0.5:
        if s.changeover_time > CHANGEOVER_EVERY - 0.5 * CHANGEOVER_FOR:
            s.baro_believed += STEP / 0.05 * (believed - s.baro_believed)
        # After the valve has gone back, the hose takes a moment to empty.
        if sampling or s.changeover_time < 0.5 * CHANGEOVER_FOR:
            return
    s.map_believed = believed


@compiled
def charge_sensor(p: Any, s: Any, h: Any) -> None:
    """The charge pressure sensor, one step: element, wire, believed pressure."""
    place = s.p_duct if p.charge_in_pipe > 0.5 else s.p_manifold
    s.charge_gas += STEP / 0.006 * (place - s.charge_gas)
    shown = s.charge_gas * h.charge_part + h.charge_shift + p.charge_trim_pa
    s.charge_share = p.charge_offset + 0.001 * p.charge_gain * shown
    s.charge_pin = s.charge_wire * min(max(s.charge_share, 0.0), 1.0) + s.charge_wire_base + s.noise_charge
    read = min(s.charge_pin, CONVERTER_TOP)
    s.charge_believed = max(1000.0 * believed_pressure(read, REFERENCE_VOLTS, p.charge_offset, p.charge_gain), 5e3)
