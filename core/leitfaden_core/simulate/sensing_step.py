"""One step from truth to pin to believed value: thermistors, pressures, position, the airflow meter, with noise and substitution."""

from typing import Any

import numpy as np

from leitfaden_core.compiled import compiled
from leitfaden_core.sensors.airflow import heater_current, meter_flow, meter_voltage
from leitfaden_core.sensors.pressure import ONE_BAR_GAIN, ONE_BAR_OFFSET, believed_pressure, ratiometric_voltage
from leitfaden_core.sensors.temperature import believed_resistance, ntc_resistance, ntc_temperature
from leitfaden_core.simulate.layout import FRAME, STEP
from leitfaden_core.simulate.limits import (
    BURN_OFF_VOLTS,
    MAF_LOW,
    MAP_HIGH,
    MAP_LOW,
    MAP_OUTPUT,
    NTC_HIGH,
    NTC_LOW,
    PULL_DOWN,
    SENSOR_OUTPUT,
)
from leitfaden_core.simulate.noise import normal
from leitfaden_core.wiring.node import pin_voltage


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
