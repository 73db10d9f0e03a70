"""What the sensors make of it, and what the control unit believes of each."""

from typing import Any

import numpy as np

from leitfaden_core.compiled import inlined
from leitfaden_core.sensors.airflow import heater_current, meter_flow, meter_voltage, vane_flow, vane_voltage
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
    believed_resistance,
    dead_spot,
    ntc_resistance,
    ntc_temperature,
    ptc_resistance,
)
from leitfaden_core.sensors.wideband import LAMBDA_LEANEST, LAMBDA_RICHEST, lambda_from_current, pump_current
from leitfaden_core.simulate.lag import covered
from leitfaden_core.simulate.layout import FRAME, STEP
from leitfaden_core.simulate.limits import (
    APP2_HIGH,
    APP2_LOW,
    APP_HIGH,
    APP_LOW,
    APP_TRACKS_AGREE,
    BARO_HIGH,
    BARO_LOW,
    BURN_OFF_VOLTS,
    CONVERTER_TOP,
    MAF_HIGH,
    MAF_LOW,
    MAP_HIGH,
    MAP_LOW,
    NTC_HIGH,
    NTC_LOST_AFTER,
    NTC_LOW,
    RAIL_HIGH,
    RAIL_LOW,
    TP_HIGH,
    TP_LOST_AFTER,
    TP_LOW,
)
from leitfaden_core.simulate.noise import normal
from leitfaden_core.simulate.parts.wiring import exhaust_thermometer, five_volt_pin, thermistor_pin
from leitfaden_core.wiring.node import CIRCUIT_OPEN, CIRCUIT_SOUND, REFERENCE_VOLTS

#: Numbers of what sensors give before any wire.
RAW = (
    "map_gas",
    "charge_gas",
    "dp_gas",
    "meter_volts",
    "map_share",
    "charge_share",
    "ambient_share",
    "tp_share",
    "rail_share",
    "dpf_dp_share",
    "egr_pin_share",
    "egr_dp_share",
    "app_share",
    "iat_ohms",
    "ect_ohms",
    "egt_1_ohms",
    "egt_2_ohms",
    "ect_pull_up",
    "meter_output",
    "share_map",
    "share_meter",
    "meter_slope",
    "noise_meter",
    "noise_map",
    "noise_charge",
    "changeover_time",
    "film",
    "ect_drift",
    "iat_drift",
)

#: Numbers of oxygen cells.
CELLS = (
    "cell_front",
    "cell_front_slow",
    "cell_rear",
    "cell_front_2",
    "share_cell",
    "share_cell_slow",
    "share_wide",
    "front_ohms",
    "rear_ohms",
    "front_source",
    "front2_source",
    "rear_source",
    "aged",
)

#: Numbers of what the control unit believes.
KNOWN = (
    "map_believed",
    "charge_believed",
    "baro_believed",
    "baro_key_on",
    "ect_read",
    "ect_believed",
    "iat_believed",
    "maf_believed",
    "tp_believed",
    "app_believed",
    "lambda_believed",
    "element_believed",
    "egr_believed",
    "egr_dp_believed",
    "rail_believed",
    "rail_lost",
    "baro_lost",
    "dpf_believed",
    "egt_1_believed",
    "egt_2_believed",
    "wideband_lost",
    "wideband_asleep",
    "ect_bad_time",
    "iat_bad_time",
    "maf_bad_time",
    "app_bad_time",
    "ect_hot_range",
)

#: How fast the mixture follows what the coolant's sensor tells. [K/s]
ECT_FOLLOWS = 40.0
#: Cyclic spread of a sound engine, for which the rig tells its wander of torque. [-]
SOUND_SPREAD = 0.016
#: How often and how long a changeover valve lets the MAP sensor see the surrounding air. [s]
CHANGEOVER_EVERY, CHANGEOVER_FOR = 30.0, 0.4
#: Below this element temperature a wideband sensor cannot be read. [K]
WIDEBAND_AWAKE = 820.0


@inlined
def slow_sensors(
    p: Any,
    crank: Any,
    air: Any,
    fuel: Any,
    gas: Any,
    warm: Any,
    raw: Any,
    wires: Any,
    pins: Any,
    known: Any,
    unit: Any,
    hand: Any,
    h: Any,
    seed: np.uint64,
    frame: int,
) -> None:
    """Pins and believed values of the slow inputs, with their noise and substitution."""
    noise = p.noise_gain
    seen = warm.temp_ect_body + p.ect_trim_k + raw.ect_drift + h.ect_offset
    seen = 273.15 + (seen - 273.15) * h.ect_slope
    raw.ect_ohms = (
        ntc_resistance(seen, p.ntc_r25, p.ntc_b) * h.ect_resistance * dead_spot(seen, h.ect_dead_at, h.ect_dead_width)
    )
    ect_range(p, raw, known)
    pins.ect_volts = thermistor_pin(
        p, wires, unit, raw.ect_ohms, raw.ect_pull_up, h.circuit_ect, h.ohms_ect
    ) + 0.002 * noise * normal(seed, 1, frame)
    # Heat of its surroundings that a badly placed element takes up: with the engine's own warmth, fading to a third at
    # 15 g/s.
    warmth = min(max((warm.temp_coolant - p.ambient_temp) / 65.0, 0.0), 1.2)
    soaked = h.iat_hood * h.iat_soak * warmth / (1.0 + air.air_flow / 0.0075)
    seen = warm.temp_iat_body + p.iat_trim_k + raw.iat_drift + h.iat_offset + soaked
    seen = 273.15 + (seen - 273.15) * h.iat_slope
    raw.iat_ohms = (
        ntc_resistance(seen, p.ntc_r25, p.ntc_b) * h.iat_resistance * dead_spot(seen, h.iat_dead_at, h.iat_dead_width)
    )
    pins.iat_volts = thermistor_pin(
        p, wires, unit, raw.iat_ohms, p.ntc_pull_up, h.circuit_iat, h.ohms_iat
    ) + 0.002 * noise * normal(seed, 2, frame)
    known.ect_bad_time = known.ect_bad_time + FRAME if pins.ect_volts < NTC_LOW or pins.ect_volts > NTC_HIGH else 0.0
    known.iat_bad_time = known.iat_bad_time + FRAME if pins.iat_volts < NTC_LOW or pins.iat_volts > NTC_HIGH else 0.0
    if known.ect_bad_time > NTC_LOST_AFTER:
        # As an engine warms up that was cold.
        known.ect_read = min(293.15 + 0.25 * unit.warm_time, 358.15)
        known.ect_believed = known.ect_read
    else:
        known.ect_read = ntc_temperature(
            believed_resistance(pins.ect_volts, raw.ect_pull_up, REFERENCE_VOLTS), p.ntc_r25, p.ntc_b
        )
        # No coolant changes faster than this: a moment without contact is shown, but hardly moves the mixture.
        most = ECT_FOLLOWS * FRAME
        known.ect_believed += min(max(known.ect_read - known.ect_believed, -most), most)
    if known.iat_bad_time > NTC_LOST_AFTER:
        known.iat_believed = 313.15
    elif known.iat_bad_time <= 0.0:
        known.iat_believed = ntc_temperature(
            believed_resistance(pins.iat_volts, p.ntc_pull_up, REFERENCE_VOLTS), p.ntc_r25, p.ntc_b
        )
    raw.noise_map = 0.003 * noise * normal(seed, 3, frame)
    raw.noise_charge = 0.003 * noise * normal(seed, 7, frame)
    barometer(p, crank, air, raw, wires, pins, known, unit, h, noise * normal(seed, 8, frame))
    raw.tp_share = 0.1 + 0.8 * air.plate + h.tp_shift
    pins.tp_volts = five_volt_pin(p, wires, raw.tp_share, h.circuit_tp, h.ohms_tp) + 0.003 * noise * normal(
        seed, 4, frame
    )
    if p.electronic_throttle > 0.5:
        # The second track runs the other way, so that no single voltage can move both alike.
        pins.tp2_volts = five_volt_pin(p, wires, 0.9 - 0.8 * air.plate, 0.0, 0.0) + 0.003 * noise * normal(
            seed, 13, frame
        )
    known.tp_believed = min(max((pins.tp_volts / REFERENCE_VOLTS - 0.1) / 0.8, 0.0), 1.0)
    if p.electronic_throttle > 0.5 and (pins.tp_volts < TP_LOW or pins.tp_volts > TP_HIGH):
        known.tp_believed = min(max((0.9 - pins.tp2_volts / REFERENCE_VOLTS) / 0.8, 0.0), 1.0)
    supply_ohms = h.ohms_maf_supply + (0.0 if h.circuit_maf_supply == CIRCUIT_SOUND else 1e6)
    wires.maf_supply = max(
        wires.battery - wires.block_lift - supply_ohms * heater_current(air.meter_flow, p.meter_full_scale), 0.0
    )
    # Combustion differs from cycle to cycle: a slow wander of torque that the idle control has to hold.
    # The rougher it burns, the more.
    rough = p.torque_noise * max(crank.spread / SOUND_SPREAD, 1.0)
    crank.torque_wander += FRAME / 0.15 * (rough * 2.0 * noise * normal(seed, 5, frame) - crank.torque_wander)
    raw.noise_meter = 0.005 * noise * normal(seed, 6, frame)
    if p.wideband > 0.5:
        wideband(p, gas, warm, pins, known, h, noise * normal(seed, 9, frame))
    if p.pedal_sensor > 0.5:
        pedal_sensor(
            p, raw, wires, pins, known, hand, h, noise * normal(seed, 14, frame), noise * normal(seed, 15, frame)
        )
    if p.has_egr > 0.5:
        egr_sensors(p, air, gas, raw, wires, pins, known, h, noise * normal(seed, 12, frame))
    if p.diesel > 0.5:
        diesel_sensors(p, fuel, gas, warm, raw, wires, pins, known, unit, h, seed, frame)


@inlined
def barometer(
    p: Any, crank: Any, air: Any, raw: Any, wires: Any, pins: Any, known: Any, unit: Any, h: Any, noise: float
) -> None:
    """The barometric value, one frame: from a sensor of its own, or learned from MAP as long as nothing turns."""
    if p.has_ambient < 0.5:
        if crank.speed < 1.0 and pins.map_pin < MAP_HIGH and pins.map_pin > MAP_LOW and unit.off_time <= 0.0:
            known.baro_believed += 0.05 * (known.map_believed - known.baro_believed)
        known.baro_key_on = known.baro_believed
        return
    place = air.p_inlet if p.ambient_in_pipe > 0.5 else p.ambient_pressure
    raw.ambient_share = p.ambient_offset + p.ambient_gain * (place + h.ambient_shift + p.ambient_trim_pa) / 1000.0
    if p.ambient_on_reference > 0.5:
        pins.ambient_pin = five_volt_pin(p, wires, raw.ambient_share, h.circuit_ambient, h.ohms_ambient) + 0.003 * noise
    else:
        pins.ambient_pin = REFERENCE_VOLTS * raw.ambient_share + 0.003 * noise
    known.baro_lost = 1.0 if pins.ambient_pin < BARO_LOW or pins.ambient_pin > BARO_HIGH else 0.0
    read = (
        101300.0
        if known.baro_lost > 0.5
        else 1000.0 * believed_pressure(pins.ambient_pin, REFERENCE_VOLTS, p.ambient_offset, p.ambient_gain)
    )
    known.baro_believed += 0.05 * (read - known.baro_believed)
    if crank.speed < 1.0 and unit.off_time <= 0.0:
        known.baro_key_on = known.baro_believed


@inlined
def wideband(p: Any, gas: Any, warm: Any, pins: Any, known: Any, h: Any, noise: float) -> None:
    """Pump current and believed lambda of the wideband sensor, one frame.

    Cold, or with a broken wire, it tells nothing: the control unit then reckons with lambda 1 and shows no value.
    """
    known.wideband_lost = h.circuit_wideband if h.ohms_wideband < 2000.0 else float(CIRCUIT_OPEN)
    known.wideband_asleep = 1.0 if warm.temp_front < WIDEBAND_AWAKE or known.wideband_lost > 0.5 else 0.0
    if known.wideband_asleep > 0.5:
        pins.pump_current = 0.0
        known.lambda_believed = 1.0
        return
    # A sensor whose curve has moved gives the current of a sound one in gas that is leaner by so much; air stays air.
    moved = h.wideband_shift + h.wideband_noise * noise
    phi = gas.phi_wide / max(1.0 + moved * gas.phi_wide, 0.2)
    pins.pump_current = pump_current(phi) + 0.003 * noise
    known.lambda_believed = min(
        max(lambda_from_current(pins.pump_current) * p.wideband_gain, LAMBDA_RICHEST), LAMBDA_LEANEST
    )


@inlined
def diesel_sensors(
    p: Any,
    fuel: Any,
    gas: Any,
    warm: Any,
    raw: Any,
    wires: Any,
    pins: Any,
    known: Any,
    unit: Any,
    h: Any,
    seed: np.uint64,
    frame: int,
) -> None:
    """Rail pressure, filter pressure drop, exhaust temperatures, EGR position: pins and believed values, one frame."""
    noise = p.noise_gain
    raw.rail_share = RAIL_OFFSET + RAIL_GAIN * (fuel.rail_true + h.rail_shift) / 1e6
    pins.rail_pin = five_volt_pin(p, wires, raw.rail_share, h.circuit_rail, h.ohms_rail) + 0.003 * noise * normal(
        seed, 10, frame
    )
    known.rail_lost = 1.0 if pins.rail_pin < RAIL_LOW or pins.rail_pin > RAIL_HIGH else 0.0
    read = min(pins.rail_pin, CONVERTER_TOP)
    # Without its sensor the pump is driven by a table, and its pressure is taken for what the table asks.
    known.rail_believed = (
        unit.rail_wanted
        if known.rail_lost > 0.5
        else max(1e6 * believed_pressure(read, REFERENCE_VOLTS, RAIL_OFFSET, RAIL_GAIN), 0.0)
    )
    before = h.dp_upstream * (gas.p_pipe - p.ambient_pressure)
    raw.dp_gas += FRAME / (0.05 + h.dp_upstream_lag) * (before - raw.dp_gas)
    behind = gas.p_pipe - p.ambient_pressure - gas.dpf_drop
    drop = raw.dp_gas - behind
    if h.dp_swapped > 0.5:
        drop = -drop
    raw.dpf_dp_share = DP_OFFSET + DP_GAIN * (drop + h.dpf_dp_shift) / 1000.0
    pins.dpf_pin = five_volt_pin(p, wires, raw.dpf_dp_share, h.circuit_dpf_dp, h.ohms_dpf_dp) + 0.002 * noise * normal(
        seed, 11, frame
    )
    known.dpf_believed = 1000.0 * believed_pressure(
        min(max(pins.dpf_pin, 0.0), CONVERTER_TOP), REFERENCE_VOLTS, DP_OFFSET, DP_GAIN
    )
    raw.egt_1_ohms = ptc_resistance(warm.egt_1_body + h.egt_1_offset)
    raw.egt_2_ohms = ptc_resistance(warm.egt_2_body + h.egt_2_offset)
    known.egt_1_believed = exhaust_thermometer(wires, raw.egt_1_ohms, h.circuit_egt_1, h.ohms_egt_1)
    known.egt_2_believed = exhaust_thermometer(wires, raw.egt_2_ohms, h.circuit_egt_2, h.ohms_egt_2)


@inlined
def ect_range(p: Any, raw: Any, known: Any) -> None:
    """The pull-up of the coolant input: an input of two ranges puts a second one beside it while the engine is warm."""
    raw.ect_pull_up = p.ntc_pull_up
    if p.ntc_pull_up_hot > 0.0:
        # A few kelvin between the two ways, so that it does not chatter.
        known.ect_hot_range = (
            1.0 if known.ect_believed > p.ntc_switch + (-3.0 if known.ect_hot_range > 0.5 else 3.0) else 0.0
        )
        if known.ect_hot_range > 0.5:
            raw.ect_pull_up = 1.0 / (1.0 / p.ntc_pull_up + 1.0 / p.ntc_pull_up_hot)


@inlined
def pedal_sensor(
    p: Any, raw: Any, wires: Any, pins: Any, known: Any, hand: Any, h: Any, noise: float, second_noise: float
) -> None:
    """Accelerator pedal, one frame: two tracks, the second always half the first; believed only while both lie within
    their limits and agree, and till the control unit is sure of that the lower of what is left.
    """
    raw.app_share = 0.15 + 0.7 * hand.pedal + h.app_shift
    pins.app_pin = five_volt_pin(p, wires, raw.app_share, h.circuit_app, h.ohms_app) + 0.003 * noise
    pins.app2_pin = five_volt_pin(p, wires, 0.5 * (0.15 + 0.7 * hand.pedal), 0.0, 0.0) + 0.003 * second_noise
    first_lost = pins.app_pin < APP_LOW or pins.app_pin > APP_HIGH
    second_lost = pins.app2_pin < APP2_LOW or pins.app2_pin > APP2_HIGH
    apart = abs(pins.app_pin - 2.0 * pins.app2_pin) > APP_TRACKS_AGREE
    wrong = first_lost or second_lost or apart
    known.app_bad_time = min(known.app_bad_time + FRAME, 1.0) if wrong else max(known.app_bad_time - FRAME, 0.0)
    travel = pedal_travel(pins.app_pin)
    if wrong:
        first = 0.0 if first_lost else travel
        second = 0.0 if second_lost else pedal_travel(2.0 * pins.app2_pin)
        travel = max(first, second) if first_lost or second_lost else min(first, second)
    # A little play at the stop, so that noise does not drive.
    known.app_believed = 0.0 if known.app_bad_time > TP_LOST_AFTER or travel < 0.005 else min(travel, 1.0)


@inlined
def pedal_travel(volts: float) -> float:
    """Travel that a voltage of the pedal's first track stands for. [-]"""
    return (volts / REFERENCE_VOLTS - 0.15) / 0.7


@inlined
def egr_sensors(p: Any, air: Any, gas: Any, raw: Any, wires: Any, pins: Any, known: Any, h: Any, noise: float) -> None:
    """EGR valve position, or the pressure drop over the metering orifice, one frame: pin and believed value."""
    if p.egr_sensor > 0.5:
        raw.egr_pin_share = 0.1 + 0.8 * air.egr_position
        pins.egr_pin = five_volt_pin(p, wires, raw.egr_pin_share, h.circuit_egr, h.ohms_egr) + 0.002 * noise
        known.egr_believed = min(max((pins.egr_pin / REFERENCE_VOLTS - 0.1) / 0.8, 0.0), 1.0)
    if p.egr_orifice > 0.0:
        drop = orifice_drop(air.egr_flow, p.egr_orifice, gas.p_exhaust, EGR_GAS)
        raw.egr_dp_share = EGR_DP_OFFSET + EGR_DP_GAIN * h.egr_dp_hoses * drop / 1000.0
        pins.egr_dp_pin = five_volt_pin(p, wires, raw.egr_dp_share, h.circuit_egr_dp, h.ohms_egr_dp) + 0.002 * noise
        known.egr_dp_believed = 1000.0 * believed_pressure(
            min(max(pins.egr_dp_pin, 0.0), CONVERTER_TOP), REFERENCE_VOLTS, EGR_DP_OFFSET, EGR_DP_GAIN
        )


@inlined
def meter(p: Any, air: Any, raw: Any, wires: Any, pins: Any, known: Any, unit: Any, h: Any) -> None:
    """The airflow meter, one step: element, output, wire, believed flow."""
    share = min(air.meter_flow * (1.0 / p.full_flow), 1.2)
    gain = (
        p.meter_gain * (h.meter_gain_idle + (h.meter_gain_full - h.meter_gain_idle) * share) * (1.0 - raw.film * share)
    )
    flow = gain * air.meter_flow + h.meter_shift
    if p.meter_vane > 0.5:
        volts = vane_voltage(flow, p.ambient_pressure, p.ambient_temp, p.meter_zero, p.meter_full_scale)
    else:
        volts = meter_voltage(flow, p.meter_zero, raw.meter_slope)
    raw.meter_volts += raw.share_meter * (volts - raw.meter_volts)
    if unit.burning_off > 0.5 and h.burnoff_dead < 0.5:
        raw.meter_volts = BURN_OFF_VOLTS
    # Below 8 V of supply the electronics give less and less, without supply nothing.
    output = raw.meter_volts * min(max(0.25 * (wires.maf_supply - 4.0), 0.0), 1.0)
    raw.meter_output = output
    if p.meter_own_ground < 0.5:
        output += wires.block_lift
    pins.maf_pin = max(wires.maf_wire * output + wires.maf_wire_base + raw.noise_meter, 0.0)
    read = min(pins.maf_pin, CONVERTER_TOP) * wires.maf_undivided
    if p.meter_vane > 0.5:
        known.maf_believed = vane_flow(read, known.baro_believed, known.iat_believed, p.meter_zero, p.meter_full_scale)
    else:
        known.maf_believed = meter_flow(read, p.meter_zero, raw.meter_slope)
    known.maf_bad_time = (
        known.maf_bad_time + STEP
        if pins.maf_pin < MAF_LOW or pins.maf_pin > MAF_HIGH
        else max(known.maf_bad_time - 2.0 * STEP, 0.0)
    )
    known.maf_bad_time = min(known.maf_bad_time, 1.0)


@inlined
def manifold_sensor(p: Any, air: Any, raw: Any, wires: Any, pins: Any, known: Any, unit: Any, h: Any) -> None:
    """The manifold pressure sensor, one step: hose, element, wire, believed pressure."""
    seen = air.p_manifold + h.map_hose_share * (p.ambient_pressure - air.p_manifold)
    sampling = False
    if p.map_changeover > 0.5 and unit.running > 0.5:
        # Every half minute the valve lets the sensor see the surrounding air; what it read before is held meanwhile.
        raw.changeover_time = raw.changeover_time + STEP if raw.changeover_time < CHANGEOVER_EVERY else 0.0
        sampling = raw.changeover_time > CHANGEOVER_EVERY - CHANGEOVER_FOR
        if sampling:
            seen = p.ambient_pressure
    raw.map_gas += raw.share_map * (seen - raw.map_gas)
    shown = (
        h.map_stuck if h.map_stuck >= 0.0 else max(raw.map_gas, h.map_lowest) * h.map_part + h.map_shift + p.map_trim_pa
    )
    raw.map_share = p.map_offset + 0.001 * p.map_gain * shown
    pins.map_pin = wires.map_wire * min(max(raw.map_share, 0.0), 1.0) + wires.map_wire_base + raw.noise_map
    read = min(pins.map_pin, CONVERTER_TOP)
    believed = max(1000.0 * believed_pressure(read, REFERENCE_VOLTS, p.map_offset, p.map_gain), 5e3)
    if p.map_changeover > 0.5 and unit.running > 0.5:
        if raw.changeover_time > CHANGEOVER_EVERY - 0.5 * CHANGEOVER_FOR:
            known.baro_believed += covered(0.05) * (believed - known.baro_believed)
        # After the valve has gone back, the hose takes a moment to empty.
        if sampling or raw.changeover_time < 0.5 * CHANGEOVER_FOR:
            return
    known.map_believed = believed


@inlined
def charge_sensor(p: Any, air: Any, raw: Any, wires: Any, pins: Any, known: Any, h: Any) -> None:
    """The charge pressure sensor, one step: element, wire, believed pressure."""
    place = air.p_duct if p.charge_in_pipe > 0.5 else air.p_manifold
    raw.charge_gas += covered(0.006) * (place - raw.charge_gas)
    shown = raw.charge_gas * h.charge_part + h.charge_shift + p.charge_trim_pa
    raw.charge_share = p.charge_offset + 0.001 * p.charge_gain * shown
    pins.charge_pin = (
        wires.charge_wire * min(max(raw.charge_share, 0.0), 1.0) + wires.charge_wire_base + raw.noise_charge
    )
    read = min(pins.charge_pin, CONVERTER_TOP)
    known.charge_believed = max(1000.0 * believed_pressure(read, REFERENCE_VOLTS, p.charge_offset, p.charge_gain), 5e3)
