"""The compiled step: one frame of 10 ms is the control unit's slow task and ten physical steps of 1 ms.

The loop is closed here and only here: truth (engine) → pin (sensors, wiring) → believed (control unit) → injection,
spark and air → truth. The step neither checks nor raises: the plan has done so.
"""

from typing import Any

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.compiled import compiled
from leitfaden_core.constants import R_AIR, ZERO_CELSIUS
from leitfaden_core.engine.exhaust import light_off
from leitfaden_core.sensors.airflow import meter_frequency
from leitfaden_core.sensors.oxygen import cell_resistance
from leitfaden_core.sensors.wideband import lambda_volts_falling, lambda_volts_rising
from leitfaden_core.simulate.control_step import (
    control_unit,
    estimate_air,
    estimate_air_by_density,
    inject,
    inject_diesel,
    model_exhaust,
)
from leitfaden_core.simulate.engine_step import breathe, exhaust, heat, slow_terms, turn
from leitfaden_core.simulate.layout import (
    FOOT_PEDAL,
    FOOT_SNAP,
    FOOT_SPEED,
    FOOT_TORQUE,
    FRAME,
    GATE_ABOVE_COOLANT,
    GATE_ABOVE_TORQUE,
    GATE_AFTER_SOAK,
    GATE_BELOW_COOLANT,
    LTFT_CELLS,
    OP_ADD,
    OP_MAX,
    OP_MULTIPLY,
    OP_SET,
    STEP,
    STEPS_PER_FRAME,
)
from leitfaden_core.simulate.limits import (
    CONVERTER_TOP,
    J1979_LAMBDA_TOP,
    J1979_VOLTS_TOP,
    MAF_LOW,
    NEVER,
    PLATE_LAG,
    PLATE_SHUT,
    RPM,
    TP_LOST_AFTER,
)
from leitfaden_core.simulate.recirculation import recirculate
from leitfaden_core.simulate.sensing_step import (
    charge_sensor,
    fast_wires,
    manifold_sensor,
    meter,
    slow_sensors,
    supplies,
)
from leitfaden_core.wiring.node import CIRCUIT_OPEN


@compiled
def apply_faults(
    hooks: NDArray[np.float64],
    sound: NDArray[np.float64],
    effects: Any,
    present: NDArray[np.uint8],
    frame: int,
    s: Any,
    p: Any,
) -> None:
    """Set all hooks to a sound engine, then let every fault act that is there in this frame."""
    hooks[:] = sound
    s.since_hot_restart = s.run_time if s.hot_restart > 0.5 and s.running > 0.5 else NEVER
    if effects.shape[0] > 0:
        apply_faults_to(
            hooks, effects, present[frame], s.temp_coolant, s.brake_torque / p.rated_torque, s.since_hot_restart
        )


@compiled
def apply_faults_to(
    hooks: Any,
    effects: Any,
    present: NDArray[np.uint8],
    temp_coolant: float,
    torque_share: float,
    since_hot_restart: float,
) -> None:
    """Let every fault act that is there: by chance (``present``), by coolant temperature [K], by torque [-], or since a
    hot restart [s].
    """
    for k in range(effects.shape[0]):
        effect = effects[k]
        if present[effect.fault] == 0:
            continue
        gate = effect.gate
        if gate == GATE_ABOVE_COOLANT and temp_coolant <= effect.gate_value:
            continue
        if gate == GATE_BELOW_COOLANT and temp_coolant >= effect.gate_value:
            continue
        if gate == GATE_ABOVE_TORQUE and torque_share <= effect.gate_value:
            continue
        if gate == GATE_AFTER_SOAK and since_hot_restart > effect.gate_value:
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
def driver(p: Any, s: Any, row: Any, dt: float) -> None:
    """The driver's foot, or the hand at a governed engine's lever, one frame."""
    if row.foot == FOOT_PEDAL:
        s.pedal = row.target
        s.pedal_integral = 0.06
    elif p.governed > 0.5 and row.foot != FOOT_SNAP:
        s.lever = (row.target if row.foot == FOOT_SPEED else row.roller_speed) * RPM
        s.pedal = min(max((s.lever - p.idle_target) / (p.governed_speed - p.idle_target), 0.0), 1.0)
    elif row.foot == FOOT_SPEED:
        error = (row.target - s.speed) * RPM / 1000.0
        s.pedal_integral = min(max(s.pedal_integral + 0.030 * error * dt, 0.02), 0.9)
        # A diesel's pedal is torque: without the throttle's own damping the foot has to give it.
        s.pedal = min(max(s.pedal_integral + (0.12 if p.diesel > 0.5 else 0.035) * error, 0.011), 1.0)
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
    if p.governed > 0.5:
        if row.foot == FOOT_PEDAL or row.foot == FOOT_SNAP:
            s.lever = p.idle_target + s.pedal * (p.governed_speed - p.idle_target)
        # The operator does not stall the engine: the brake comes on with speed.
        reached = min(max((s.speed * RPM / max(s.lever, 1.0) - 0.5) / 0.3, 0.0), 1.0)
        s.brake_applied = (
            s.brake_applied + dt / 1.0 * (row.target * reached - s.brake_applied) if row.foot == FOOT_TORQUE else 0.0
        )


@compiled
def record(lane: Any, p: Any, s: Any, h: Any, row: Any) -> None:
    """One row of all channels and of the status that monitors read."""
    rpm = s.speed * RPM
    lane.rpm = rpm
    lane.rpm_true = rpm
    lane.throttle = s.tp_believed * 100.0
    lane.tp_volts = s.tp_volts
    lane.tp2_volts = s.tp2_volts
    lane.throttle_true = s.plate * 100.0
    lane.baro = s.baro_believed / 1000.0
    lane.baro_volts = s.ambient_pin
    lane.baro_true = p.ambient_pressure / 1000.0
    lane.map_true = s.p_manifold / 1000.0
    lane.map = s.map_believed / 1000.0
    lane.map_volts = s.map_pin
    lane.charge_pressure = s.charge_believed / 1000.0
    lane.charge_volts = s.charge_pin
    lane.charge_true = (s.p_duct if p.charge_in_pipe > 0.5 else s.p_manifold) / 1000.0
    lane.inlet_true = s.p_inlet / 1000.0
    lane.lambda_wideband = min(s.lambda_believed, J1979_LAMBDA_TOP)
    lane.pump_current = s.pump_current
    lane.equivalence = 1.0 / max(s.lambda_believed, 0.5)
    lane.lambda_volts_a = lambda_volts_rising(s.lambda_believed)
    lane.lambda_volts_b = lambda_volts_falling(s.lambda_believed)
    lane.heater_duty = s.heater_duty * 100.0
    lane.egr_position = s.egr_believed * 100.0
    lane.egr_volts = s.egr_pin
    lane.egr_true = s.egr_position * 100.0
    lane.egr_dp = s.egr_dp_believed / 1000.0
    lane.egr_dp_volts = s.egr_dp_pin
    lane.egr_share_true = s.egr_share * 100.0
    lane.app = s.app_believed * 100.0
    lane.app_volts = s.app_pin
    lane.app2_volts = s.app2_pin
    lane.pedal_true = s.pedal * 100.0
    lane.rail_pressure = s.rail_believed / 1e6
    lane.rail_volts = s.rail_pin
    lane.rail_true = s.rail_true / 1e6
    lane.dpf_dp = s.dpf_believed / 1000.0
    lane.dpf_dp_volts = s.dpf_pin
    lane.dpf_dp_true = s.dpf_drop / 1000.0
    lane.egt_1 = s.egt_1_believed - ZERO_CELSIUS
    lane.egt_1_true = s.temp_exhaust - ZERO_CELSIUS
    lane.egt_2 = s.egt_2_believed - ZERO_CELSIUS
    lane.egt_2_true = s.temp_catalyst - ZERO_CELSIUS
    lane.battery_v = s.battery
    lane.wastegate_duty = s.boost_duty * 100.0
    lane.fuel_mass = s.fuel_stroke * 1e6
    shown = s.air_estimate if s.maf_substituted > 0.5 else s.maf_believed
    lane.maf = shown * 1000.0
    lane.maf_hz, lane.maf_volts = 0.0, s.maf_pin
    if p.meter_frequency > 0.5 and MAF_LOW < s.maf_pin < CONVERTER_TOP - 0.05:
        # A meter of volts sees the mean of a square wave that stands at 5 V half of the time.
        lane.maf_hz, lane.maf_volts = meter_frequency(s.maf_pin), 2.5
    lane.maf_supply_v = s.maf_supply
    lane.maf_meter_true = s.meter_flow * 1000.0
    lane.maf_true = s.air_flow * 1000.0
    lane.iat = s.iat_believed - ZERO_CELSIUS
    lane.iat_volts = s.iat_volts
    lane.iat_true = s.temp_duct - ZERO_CELSIUS
    lane.ect = s.ect_believed - ZERO_CELSIUS
    lane.ect_volts = s.ect_volts
    lane.ect_true = s.temp_coolant - ZERO_CELSIUS
    lane.stft = s.stft * 100.0
    lane.ltft = s.ltft[int(s.cell)] * 100.0
    lane.total_trim = (s.stft + s.ltft[int(s.cell)]) * 100.0
    lane.ho2s_b1s1_v = min(max(s.front_pin, 0.0), J1979_VOLTS_TOP)
    lane.ho2s_b1s1_pin_v = s.front_pin
    lane.lambda_sensed = 1.0 / max(s.phi_gas, 0.1)
    second = s.ltft[int(s.cell) + LTFT_CELLS]
    lane.stft_2 = s.stft_2 * 100.0
    lane.ltft_2 = second * 100.0
    lane.total_trim_2 = (s.stft_2 + second) * 100.0
    lane.ho2s_b2s1_v = min(max(s.front2_pin, 0.0), J1979_VOLTS_TOP)
    lane.ho2s_b2s1_pin_v = s.front2_pin
    lane.ho2s_b1s2_v = min(max(s.rear_pin, 0.0), J1979_VOLTS_TOP)
    lane.ho2s_b1s2_pin_v = s.rear_pin
    lane.lambda_rear = 1.0 / max(s.phi_behind, 0.1)
    cut = s.cut > 0.5 or s.running < 0.5
    lane.lambda_true = np.nan if cut or s.phi_cylinder < 0.1 else 1.0 / s.phi_cylinder
    lane.lambda_bank_1 = np.nan if cut or s.phi_bank < 0.1 else 1.0 / s.phi_bank
    lane.lambda_bank_2 = np.nan if cut or s.phi_bank_2 < 0.1 else 1.0 / s.phi_bank_2
    lane.load = s.load * 100.0
    density = p.ambient_pressure / (R_AIR * p.ambient_temp)
    lane.ve = shown / (p.displacement / 2.0 * rpm / 60.0 * density) * 100.0 if rpm > 50.0 else 0.0
    lane.injector_ms = s.pulse * 1000.0
    lane.spark = s.spark
    lane.spark_true = s.spark + h.spark_shift
    lane.idle_air = s.idle_demand * 100.0
    lane.vref_v = s.rail_5v
    lane.sensor_ground_v = s.rail_ground
    lane.purge_duty = s.purge_duty * 100.0
    lane.purge_true = s.purge_flow * 1000.0
    lane.secondary_air_true = s.pump_air * 1000.0
    lane.purge_state = h.circuit_purge
    lane.torque_true = s.brake_torque
    lane.exhaust_backpressure = (s.p_pipe - p.ambient_pressure) / 1000.0
    lane.pressure_behind_catalyst = (s.p_tail - p.ambient_pressure) / 1000.0
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
    lane.heater_front = s.heater_front
    lane.heater_rear = s.heater_rear
    lane.heater_front_state = h.circuit_wideband_heater if p.wideband > 0.5 else h.circuit_front_heater
    lane.heater_rear_state = h.circuit_rear_heater
    lane.misfire = s.misfire
    lane.boost_wanted = s.boost_wanted / 1000.0
    lane.boost_duty = s.boost_duty
    lane.egr_command = s.egr_command * 100.0
    lane.egr_air_wanted = s.egr_air_wanted * 1e6
    lane.egr_dp_wanted = s.egr_dp_wanted / 1000.0
    lane.rail_wanted = s.rail_wanted / 1e6
    lane.demand = (
        s.fuel_wanted / p.fuel_full if p.diesel > 0.5 else (0.0 if s.tp_bad_time > TP_LOST_AFTER else s.pedal_seen)
    )
    lane.wideband_lost = s.wideband_lost
    lane.battery_true = s.battery
    lane.air_stroke = s.air_stroke * 1e6
    lane.block_lift = s.block_lift
    lane.since_hot_restart = s.since_hot_restart
    lane.map_share = s.map_share
    lane.charge_share = s.charge_share
    lane.ambient_share = s.ambient_share
    lane.tp_share = s.tp_share
    lane.rail_share = s.rail_share
    lane.dpf_dp_share = s.dpf_dp_share
    lane.egr_pin_share = s.egr_pin_share
    lane.egr_dp_share = s.egr_dp_share
    lane.app_share = s.app_share
    lane.ect_pull_up = s.ect_pull_up
    lane.iat_ohms = s.iat_ohms
    lane.ect_ohms = s.ect_ohms
    lane.egt_1_ohms = s.egt_1_ohms
    lane.egt_2_ohms = s.egt_2_ohms
    lane.meter_output = s.meter_output
    lane.front_source = s.front_source
    lane.front_ohms = s.front_ohms
    lane.front2_source = s.front2_source
    lane.rear_source = s.rear_source
    lane.rear_ohms = s.rear_ohms
    lane.powered = 0.0 if s.off_time > 0.0 else 1.0
    lane.time_lapse = row.time_lapse
    lane.in_gear = row.in_gear
    lane.soak_seconds = s.soak_time


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
    first: int,
    seed: np.uint64,
    lanes: Any,
) -> None:
    """Run all frames of ``inputs`` and record a row of ``lanes`` for each. ``first`` is the absolute number of their
    first, by which chance goes.

    ``h`` and ``hooks`` are two views of the same memory, as are the rows of the fault hooks by name and by number.
    """
    for frame in range(inputs.shape[0]):
        row = inputs[frame]
        apply_faults(hooks, sound, effects, present, frame, s, p)
        heat(p, s, h, row.vehicle_kmh, row.time_lapse)
        supplies(p, s, h, row.key, row.time_lapse)
        slow_sensors(p, s, h, seed, first + frame)
        driver(p, s, row, FRAME)
        active = light_off(s.temp_catalyst)
        r_front = cell_resistance(s.temp_front)
        r_rear = cell_resistance(s.temp_rear)
        # Across an open wire the test current finds nothing; a dead cell is as conductive as a live one.
        seen = 1e9 if h.circuit_front == CIRCUIT_OPEN else r_front + h.ohms_front
        control_unit(p, s, h, row.key, s.lever, row.time_lapse, seen, FRAME)
        braked = s.brake_applied if p.governed > 0.5 and row.foot == FOOT_TORQUE else -1.0
        if p.charged > 0.5 and p.diesel < 0.5:
            model_exhaust(p, s)
        if p.egr_drive >= 0.0:
            recirculate(p, s, h, p.idle_target / RPM, FRAME)
        fast_wires(p, s, h, r_front, r_rear)
        slow_terms(p, s, h)
        for _ in range(STEPS_PER_FRAME):
            s.plate += STEP / PLATE_LAG * (s.plate_command - s.plate)
            if s.plate < PLATE_SHUT:
                s.plate = 0.0
            breathe(p, s, h)
            if p.charged > 0.5:
                charge_sensor(p, s, h)
            if p.speed_density > 0.5:
                manifold_sensor(p, s, h)
                estimate_air_by_density(p, s)
            else:
                if p.map_helps > 0.5:
                    manifold_sensor(p, s, h)
                meter(p, s, h)
                estimate_air(p, s)
            if p.diesel > 0.5:
                inject_diesel(p, s, h)
            else:
                inject(p, s, h)
            turn(p, s, h, row.key, row.in_gear, row.roller_speed, braked)
            exhaust(p, s, h, active)
        record(lanes[frame], p, s, h, row)
