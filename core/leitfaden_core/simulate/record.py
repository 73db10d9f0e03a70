"""One recorded row: what is read straight from the state stands in a table, what takes arithmetic in a function."""

import math
from typing import Any

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.channels import CHANNELS
from leitfaden_core.compiled import inlined
from leitfaden_core.constants import R_AIR, ZERO_CELSIUS
from leitfaden_core.control.fuelling import AFTER_CUT, CLOSED_LOOP_ABOVE, CLOSED_LOOP_AFTER
from leitfaden_core.engine.torque import best_spark, nitrogen_oxides
from leitfaden_core.sensors.airflow import meter_frequency
from leitfaden_core.sensors.wideband import LAMBDA_LEANEST, lambda_volts_falling, lambda_volts_rising
from leitfaden_core.simulate.layout import LANES, LTFT_CELLS
from leitfaden_core.simulate.limits import (
    CONVERTER_TOP,
    J1979_LAMBDA_TOP,
    J1979_VOLTS_TOP,
    MAF_LOW,
    NTC_LOST_AFTER,
    RPM,
    TP_LOST_AFTER,
)
from leitfaden_core.simulate.state import STATE

#: Factor and offset from the unit of the state to that of the lane.
AS_IT_IS, PERCENT, KILO, MEGA = (1.0, 0.0), (100.0, 0.0), (1e-3, 0.0), (1e-6, 0.0)
MILLI, MICRO, CELSIUS = (1e3, 0.0), (1e6, 0.0), (1.0, -ZERO_CELSIUS)

#: Lane, number of the state, factor and offset.
READ: tuple[tuple[str, str, tuple[float, float]], ...] = (
    ("throttle", "known.tp_believed", PERCENT),
    ("tp_volts", "pins.tp_volts", AS_IT_IS),
    ("tp2_volts", "pins.tp2_volts", AS_IT_IS),
    ("throttle_true", "air.plate", PERCENT),
    ("baro", "known.baro_believed", KILO),
    ("baro_volts", "pins.ambient_pin", AS_IT_IS),
    ("map_true", "air.p_manifold", KILO),
    ("map", "known.map_believed", KILO),
    ("map_volts", "pins.map_pin", AS_IT_IS),
    ("charge_pressure", "known.charge_believed", KILO),
    ("charge_volts", "pins.charge_pin", AS_IT_IS),
    ("inlet_true", "air.p_inlet", KILO),
    ("pump_current", "pins.pump_current", AS_IT_IS),
    ("heater_duty", "warm.heater_duty", PERCENT),
    ("element_temp", "known.element_believed", CELSIUS),
    ("element_true", "warm.temp_front", CELSIUS),
    ("egr_position", "known.egr_believed", PERCENT),
    ("egr_volts", "pins.egr_pin", AS_IT_IS),
    ("egr_true", "air.egr_position", PERCENT),
    ("egr_dp", "known.egr_dp_believed", KILO),
    ("egr_dp_volts", "pins.egr_dp_pin", AS_IT_IS),
    ("egr_share_true", "air.egr_share", PERCENT),
    ("app", "known.app_believed", PERCENT),
    ("app_volts", "pins.app_pin", AS_IT_IS),
    ("app2_volts", "pins.app2_pin", AS_IT_IS),
    ("pedal_true", "hand.pedal", PERCENT),
    ("rail_pressure", "known.rail_believed", MEGA),
    ("rail_volts", "pins.rail_pin", AS_IT_IS),
    ("rail_true", "fuel.rail_true", MEGA),
    ("dpf_dp", "known.dpf_believed", KILO),
    ("dpf_dp_volts", "pins.dpf_pin", AS_IT_IS),
    ("dpf_dp_true", "gas.dpf_drop", KILO),
    ("egt_1", "known.egt_1_believed", CELSIUS),
    ("egt_1_true", "gas.temp_exhaust", CELSIUS),
    ("egt_2", "known.egt_2_believed", CELSIUS),
    ("egt_2_true", "gas.temp_catalyst", CELSIUS),
    ("shock_true", "warm.shock", AS_IT_IS),
    ("battery_v", "wires.battery", AS_IT_IS),
    ("wastegate_duty", "unit.boost_duty", PERCENT),
    ("fuel_mass", "unit.fuel_stroke", MICRO),
    ("maf_supply_v", "wires.maf_supply", AS_IT_IS),
    ("maf_meter_true", "air.meter_flow", MILLI),
    ("maf_true", "air.air_flow", MILLI),
    ("iat", "known.iat_believed", CELSIUS),
    ("iat_volts", "pins.iat_volts", AS_IT_IS),
    ("iat_true", "air.temp_duct", CELSIUS),
    ("ect", "known.ect_read", CELSIUS),
    ("ect_volts", "pins.ect_volts", AS_IT_IS),
    ("ect_true", "warm.temp_coolant", CELSIUS),
    ("stft", "mix.stft", PERCENT),
    ("ho2s_b1s1_pin_v", "pins.front_pin", AS_IT_IS),
    ("stft_2", "mix.stft_2", PERCENT),
    ("ho2s_b2s1_pin_v", "pins.front2_pin", AS_IT_IS),
    ("ho2s_b1s2_pin_v", "pins.rear_pin", AS_IT_IS),
    ("load", "unit.load", PERCENT),
    ("injector_ms", "unit.pulse", MILLI),
    ("spark", "unit.spark", AS_IT_IS),
    ("idle_air", "unit.idle_demand", PERCENT),
    ("vref_v", "wires.rail_5v", AS_IT_IS),
    ("sensor_ground_v", "wires.rail_ground", AS_IT_IS),
    ("purge_duty", "unit.purge_duty", PERCENT),
    ("purge_true", "air.purge_flow", MILLI),
    ("secondary_air_true", "gas.pump_air", MILLI),
    ("torque_true", "crank.brake_torque", AS_IT_IS),
    ("closed_loop", "mix.closed_loop", AS_IT_IS),
    ("fuel_cut", "unit.cut", AS_IT_IS),
    ("running", "unit.running", AS_IT_IS),
    ("run_seconds", "unit.warm_time", AS_IT_IS),
    ("heater_front", "warm.heater_front", AS_IT_IS),
    ("heater_rear", "warm.heater_rear", AS_IT_IS),
    ("misfire", "crank.misfire", AS_IT_IS),
    ("weak_cylinder", "crank.weakest", AS_IT_IS),
    ("boost_wanted", "unit.boost_wanted", KILO),
    ("boost_duty", "unit.boost_duty", AS_IT_IS),
    ("egr_command", "unit.egr_command", PERCENT),
    ("egr_air_wanted", "unit.egr_air_wanted", MICRO),
    ("egr_dp_wanted", "unit.egr_dp_wanted", KILO),
    ("rail_wanted", "unit.rail_wanted", MEGA),
    ("wideband_lost", "known.wideband_lost", AS_IT_IS),
    ("battery_true", "wires.battery", AS_IT_IS),
    ("air_stroke", "unit.air_stroke", MICRO),
    ("block_lift", "wires.block_lift", AS_IT_IS),
    ("block_amps", "wires.block_amps", AS_IT_IS),
    ("starter_amps", "wires.starter_amps", AS_IT_IS),
    ("pedal_seen", "unit.pedal_seen", AS_IT_IS),
    ("reference_seen", "wires.rail_seen", AS_IT_IS),
    ("since_hot_restart", "unit.since_hot_restart", AS_IT_IS),
    ("map_share", "raw.map_share", AS_IT_IS),
    ("charge_share", "raw.charge_share", AS_IT_IS),
    ("ambient_share", "raw.ambient_share", AS_IT_IS),
    ("tp_share", "raw.tp_share", AS_IT_IS),
    ("rail_share", "raw.rail_share", AS_IT_IS),
    ("dpf_dp_share", "raw.dpf_dp_share", AS_IT_IS),
    ("egr_pin_share", "raw.egr_pin_share", AS_IT_IS),
    ("egr_dp_share", "raw.egr_dp_share", AS_IT_IS),
    ("app_share", "raw.app_share", AS_IT_IS),
    ("ect_pull_up", "raw.ect_pull_up", AS_IT_IS),
    ("iat_ohms", "raw.iat_ohms", AS_IT_IS),
    ("ect_ohms", "raw.ect_ohms", AS_IT_IS),
    ("egt_1_ohms", "raw.egt_1_ohms", AS_IT_IS),
    ("egt_2_ohms", "raw.egt_2_ohms", AS_IT_IS),
    ("meter_output", "raw.meter_output", AS_IT_IS),
    ("front_source", "cells.front_source", AS_IT_IS),
    ("front_ohms", "cells.front_ohms", AS_IT_IS),
    ("front2_source", "cells.front2_source", AS_IT_IS),
    ("rear_source", "cells.rear_source", AS_IT_IS),
    ("rear_ohms", "cells.rear_ohms", AS_IT_IS),
    ("soak_seconds", "unit.soak_time", AS_IT_IS),
)


def _place(path: str) -> int:
    """Where a number stands in the state, counted in numbers."""
    part, name = path.split(".")
    outer: Any = STATE.fields
    inner: Any = STATE[part].fields
    return int(outer[part][1] + inner[name][1]) // 8


_TO = np.array([list(LANES.names or ()).index(lane) for lane, _path, _scale in READ])
_FROM = np.array([_place(path) for _lane, path, _scale in READ])
_FACTOR = np.array([scale[0] for _lane, _path, scale in READ])
_OFFSET = np.array([scale[1] for _lane, _path, scale in READ])


@inlined
def read_state(lane: NDArray[np.float32], state: NDArray[np.float64]) -> None:
    """The lanes of a row that are numbers of the state, by the table."""
    for k in range(_TO.shape[0]):
        lane[_TO[k]] = state[_FROM[k]] * _FACTOR[k] + _OFFSET[k]


#: Lanes that come from the control unit over its diagnostic plug: without its supply there is none of them.
_TOLD = np.array([k for k, name in enumerate(LANES.names or ()) if name in CHANNELS and CHANNELS[name].layer == "scan"])


@inlined
def blank(lane: NDArray[np.float32]) -> None:
    """What a control unit without supply shows: nothing."""
    for k in range(_TOLD.shape[0]):
        lane[_TOLD[k]] = np.nan


@inlined
def fuel_status(known: Any, unit: Any, mix: Any) -> float:
    """State of the mixture control as SAE J1979 tells it in its first data list: 1 not yet ready, 2 closed loop, 4 open
    by load or overrun, 8 open by a fault.
    """
    if mix.closed_loop > 0.5:
        return 2.0
    ready = unit.running > 0.5 and unit.run_time > CLOSED_LOOP_AFTER and known.ect_believed > CLOSED_LOOP_ABOVE
    if not ready:
        return 1.0
    asked = unit.wot > 0.5 or unit.cut > 0.5 or unit.since_cut <= AFTER_CUT or unit.oxygen_debt > 0.0
    return 4.0 if asked else 8.0


@inlined
def work_out(
    lane: Any,
    p: Any,
    crank: Any,
    air: Any,
    fuel: Any,
    gas: Any,
    pins: Any,
    known: Any,
    unit: Any,
    mix: Any,
    h: Any,
    row: Any,
) -> None:
    """The lanes of a row that take arithmetic."""
    rpm = crank.speed * RPM
    lane.rpm = rpm
    lane.rpm_true = rpm
    lane.baro_true = p.ambient_pressure / 1000.0
    lane.charge_true = (air.p_duct if p.charge_in_pipe > 0.5 else air.p_manifold) / 1000.0
    seen = np.nan if known.wideband_asleep > 0.5 else known.lambda_believed
    # On a diesel, whose lambda the standard's list cannot hold, the maker's own list shows it.
    top = LAMBDA_LEANEST if p.diesel > 0.5 else J1979_LAMBDA_TOP
    lane.lambda_wideband = min(seen, top) if seen == seen else np.nan
    lane.equivalence = 1.0 / max(seen, 0.5) if seen == seen else np.nan
    lane.lambda_volts_a = lambda_volts_rising(seen) if seen == seen else np.nan
    lane.lambda_volts_b = lambda_volts_falling(seen) if seen == seen else np.nan
    shown = unit.air_estimate if unit.maf_substituted > 0.5 else known.maf_believed
    # A lost meter is shown as what it tells, nothing; what the control unit reckons with instead shows in the load.
    lane.maf = known.maf_believed * 1000.0
    lane.maf_hz, lane.maf_volts = 0.0, pins.maf_pin
    if p.meter_frequency > 0.5 and MAF_LOW < pins.maf_pin < CONVERTER_TOP - 0.05:
        # A meter of volts sees the mean of a square wave that stands at 5 V half of the time.
        lane.maf_hz, lane.maf_volts = meter_frequency(pins.maf_pin), 2.5
    lane.ltft = mix.ltft[int(mix.cell)] * 100.0
    lane.total_trim = (mix.stft + mix.ltft[int(mix.cell)]) * 100.0
    lane.ho2s_b1s1_v = min(max(pins.front_pin, 0.0), J1979_VOLTS_TOP)
    lane.lambda_sensed = 1.0 / max(gas.phi_gas, 0.1)
    second = mix.ltft[int(mix.cell) + LTFT_CELLS]
    lane.ltft_2 = second * 100.0
    lane.total_trim_2 = (mix.stft_2 + second) * 100.0
    lane.ho2s_b2s1_v = min(max(pins.front2_pin, 0.0), J1979_VOLTS_TOP)
    lane.ho2s_b1s2_v = min(max(pins.rear_pin, 0.0), J1979_VOLTS_TOP)
    lane.lambda_rear = 1.0 / max(gas.phi_behind, 0.1)
    cut = unit.cut > 0.5 or unit.running < 0.5
    lane.lambda_true = np.nan if cut or crank.phi_cylinder < 0.1 else 1.0 / crank.phi_cylinder
    lane.lambda_bank_1 = np.nan if cut or crank.phi_bank < 0.1 else 1.0 / crank.phi_bank
    lane.lambda_bank_2 = np.nan if cut or crank.phi_bank_2 < 0.1 else 1.0 / crank.phi_bank_2
    lane.lambda_leanest = np.nan if cut or crank.phi_leanest < 0.1 else 1.0 / crank.phi_leanest
    lane.lambda_commanded = np.nan if unit.running < 0.5 else unit.lambda_command
    lane.stoichiometry = p.afr_stoich * p.fuel_blend * h.fuel_afr
    lane.catalyst_true = h.catalyst_share * math.exp(-gas.damage) * 100.0
    lane.fuel_status = fuel_status(known, unit, mix)
    late = best_spark(rpm / 1000.0, min(unit.load, 1.0)) - unit.spark - h.spark_shift
    burns = not cut and crank.phi_cylinder > 0.1
    lane.nox_index = (
        nitrogen_oxides(air.p_manifold / p.ambient_pressure, air.egr_share, crank.phi_cylinder, late) if burns else 0.0
    )
    lane.roughness = crank.spread * 100.0 if burns else 0.0
    density = p.ambient_pressure / (R_AIR * p.ambient_temp)
    lane.ve = shown / (p.displacement / 2.0 * rpm / 60.0 * density) * 100.0 if rpm > 50.0 else 0.0
    lane.spark_true = unit.spark + h.spark_shift
    lane.purge_state = h.circuit_purge
    lane.exhaust_backpressure = (gas.p_pipe - p.ambient_pressure) / 1000.0
    lane.pressure_behind_catalyst = (gas.p_tail - p.ambient_pressure) / 1000.0
    used = min(fuel.fuel_flow / (p.full_flow / p.afr_stoich), 1.3)
    sound_drop = p.rail_drop if p.rail_referenced > 0.5 else p.rail_drop + p.ambient_pressure - air.p_manifold
    drop = sound_drop * (h.rail_factor_idle + (h.rail_factor_full - h.rail_factor_idle) * used)
    pump_on = unit.running > 0.5 or unit.sync_turns > 0.0
    # A gauge on the rail reads against the surrounding air, the injectors against the manifold.
    lane.fuel_pressure = (drop + air.p_manifold - p.ambient_pressure) / 1000.0 if pump_on else drop / 1000.0
    lane.kmh = row.vehicle_kmh
    lane.heater_front_state = h.circuit_wideband_heater if p.wideband > 0.5 else h.circuit_front_heater
    lane.heater_rear_state = h.circuit_rear_heater
    lane.demand = (
        unit.fuel_wanted / p.fuel_full
        if p.diesel > 0.5
        else (0.0 if unit.tp_bad_time > TP_LOST_AFTER else unit.pedal_seen)
    )
    lane.map_substituted = unit.maf_substituted if p.speed_density > 0.5 else 0.0
    lane.ect_substituted = 1.0 if known.ect_bad_time > NTC_LOST_AFTER else 0.0
    lane.iat_substituted = 1.0 if known.iat_bad_time > NTC_LOST_AFTER else 0.0
    lane.baro_substituted = known.baro_lost
    lane.app_substituted = 1.0 if known.app_bad_time > TP_LOST_AFTER else 0.0
    lane.rail_substituted = known.rail_lost
    lane.powered = 0.0 if unit.off_time > 0.0 else 1.0
    lane.time_lapse = row.time_lapse
    lane.in_gear = row.in_gear
