"""The compiled step: one frame of 10 ms is the control unit's slow task and five physical steps of 2 ms, in each
of which the crankshaft takes two of its own.

The loop is closed here and only here: truth (engine) → pin (sensors, wiring) → believed (control unit) → injection,
spark and air → truth. The step neither checks nor raises: the plan has done so.

A step takes as long as the chain of results that wait for each other: pressures, meter, estimate, injection, burning,
speed. Its formulas therefore gather in brackets what is known early, divisions and roots above all, so that a result
that comes late is only multiplied.
"""

import math
from typing import Any

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.compiled import compiled, inlined
from leitfaden_core.engine.air_path import breathing, charge_temperature
from leitfaden_core.engine.exhaust import exchanged_share, light_off, residence_time, transport_delay
from leitfaden_core.engine.torque import (
    best_spark,
    friction_torque,
    late_timing,
    spark_efficiency,
    speed_efficiency,
    viscosity_factor,
)
from leitfaden_core.sensors.oxygen import cell_resistance
from leitfaden_core.simulate.lag import covered
from leitfaden_core.simulate.layout import FOOT_TORQUE, FRAME, STEP, STEPS_PER_FRAME
from leitfaden_core.simulate.limits import PLATE_LAG, PLATE_SHUT, RELAY_HOLD, RPM
from leitfaden_core.simulate.parts.air import breathe
from leitfaden_core.simulate.parts.crank import burn, compare_cycles, turn
from leitfaden_core.simulate.parts.driver import driver
from leitfaden_core.simulate.parts.effects import apply_faults
from leitfaden_core.simulate.parts.exhaust import exhaust, pumped_air
from leitfaden_core.simulate.parts.fuel import inject, inject_diesel
from leitfaden_core.simulate.parts.heat import heat
from leitfaden_core.simulate.parts.recirculation import recirculate
from leitfaden_core.simulate.parts.sensing import charge_sensor, manifold_sensor, meter, slow_sensors
from leitfaden_core.simulate.parts.unit import control_unit, estimate_air, estimate_air_by_density, model_exhaust
from leitfaden_core.simulate.parts.wiring import fast_wires, supplies
from leitfaden_core.simulate.record import blank, read_state, work_out
from leitfaden_core.wiring.node import CIRCUIT_OPEN


@inlined
def slow_terms(
    p: Any, crank: Any, air: Any, fuel: Any, gas: Any, warm: Any, cells: Any, known: Any, unit: Any, h: Any
) -> None:
    """What the steps need and what changes little within a frame: powers, roots, exponentials, fractions."""
    rpm = crank.speed * RPM
    krpm = rpm / 1000.0
    air.filter_resistance = p.filter_drop_full / (p.full_flow * p.full_flow) + h.filter_extra
    air.temp_fresh = charge_temperature(air.temp_duct, warm.temp_coolant, air.air_flow, p.full_flow, p.charge_heating)
    air.breath = breathing(krpm, p.ve_const, p.ve_lin, p.ve_quad, p.ve_cub) * p.breath_gain
    if h.breath_lost > 0.0:
        air.breath *= late_timing(h.breath_lost, rpm / p.rated_speed)
    viscosity = viscosity_factor(warm.temp_oil)
    crank.friction = (
        friction_torque(krpm, viscosity, p.displacement, p.friction_const, p.friction_lin, p.friction_quad)
        * p.friction_gain
    )
    crank.efficiency = p.indicated_efficiency * speed_efficiency(krpm)
    if p.diesel < 0.5:
        filling = min(air.p_manifold / p.ambient_pressure, 1.2)
        crank.efficiency *= spark_efficiency(unit.spark + h.spark_shift, best_spark(krpm, filling))
    # The charge burns about three quarters of a revolution after it was drawn in.
    crank.share_burn = covered(0.75 * 2.0 * math.pi / max(crank.speed, 15.0))
    flow = air.charge_flow + fuel.fuel_flow - air.egr_flow
    gas.delay_slots = (
        min(transport_delay(crank.speed, p.exhaust_volume, gas.p_exhaust, flow, gas.temp_exhaust), 3.9) / STEP
    )
    gas.pump_air = pumped_air(p, crank, known, unit, h) if p.pump_volume > 0.0 else 0.0
    gas.share_gas = covered(p.gas_lag)
    cells.share_cell = covered(p.cell_lag + p.sensor_age_s + cells.aged)
    cells.share_cell_slow = covered(h.front_lag)
    cells.share_wide = covered(0.02 + p.sensor_age_s + cells.aged + h.wideband_lag)
    if p.has_catalyst > 0.5:
        gas.exchanged = exchanged_share(p.catalyst_exchange * h.catalyst_share * math.exp(-gas.damage), flow)
        gas.share_behind = covered(0.05 + residence_time(p.catalyst_volume, gas.p_pipe, flow, gas.temp_catalyst))


@compiled
def run(
    ps: Any,
    ss: Any,
    hs: Any,
    hooks: NDArray[np.float64],
    sound: NDArray[np.float64],
    effects: Any,
    present: NDArray[np.uint8],
    inputs: Any,
    first: int,
    seed: np.uint64,
    lanes: Any,
    flat_state: NDArray[np.float64],
    flat_lanes: NDArray[np.float32],
) -> None:
    """Run a frame for each row of ``lanes``, which it records. ``first`` is the absolute number of the first, by which
    chance goes. The last rows of ``inputs`` and ``present`` hold for all frames behind them.

    Parameters, state and hooks are arrays of one record: a record by itself costs more to hand over than a frame to
    step. ``hs`` and ``hooks`` are two views of the same memory, by name and by number; so are ``ss`` and
    ``flat_state``, and ``lanes`` and ``flat_lanes``, shape (frames, lanes).
    """
    p = ps[0]
    s = ss[0]
    h = hs[0]
    crank = s.crank
    air = s.air
    fuel = s.fuel
    gas = s.gas
    turbo = s.turbo
    warm = s.warm
    cells = s.cells
    raw = s.raw
    wires = s.wires
    pins = s.pins
    known = s.known
    unit = s.unit
    mix = s.mix
    hand = s.hand
    last_input = int(inputs.shape[0]) - 1
    last_present = int(present.shape[0]) - 1
    for frame in range(flat_lanes.shape[0]):
        row = inputs[frame if frame < last_input else last_input]
        there = frame if frame < last_present else last_present
        apply_faults(hooks, sound, effects, present, there, crank, warm, unit, p)
        heat(p, crank, air, fuel, gas, turbo, warm, wires, unit, h, row.key, row.vehicle_kmh, row.time_lapse)
        supplies(p, crank, air, warm, raw, wires, unit, h, row.key, row.time_lapse, row.consumer_amps)
        slow_sensors(p, crank, air, fuel, gas, warm, raw, wires, pins, known, unit, hand, h, seed, first + frame)
        driver(p, crank, hand, row, FRAME)
        active = light_off(gas.temp_catalyst)
        store = p.oxygen_store * h.catalyst_share * math.exp(-gas.damage)
        r_front = cell_resistance(warm.temp_front)
        r_rear = cell_resistance(warm.temp_rear)
        # Across an open wire the test current finds nothing; a dead cell is as conductive as a live one.
        circuit, ohms = h.circuit_front, h.ohms_front
        if p.wideband > 0.5:
            circuit, ohms = h.circuit_wideband, h.ohms_wideband
        seen = 1e9 if circuit == CIRCUIT_OPEN else r_front + ohms
        control_unit(
            p,
            crank,
            air,
            fuel,
            warm,
            wires,
            pins,
            known,
            unit,
            mix,
            hand,
            h,
            row.key,
            hand.lever,
            row.time_lapse,
            seen,
            FRAME,
        )
        braked = hand.brake_applied if p.governed > 0.5 and row.foot == FOOT_TORQUE else -1.0
        if p.charged > 0.5 and p.diesel < 0.5:
            model_exhaust(p, known, unit)
        if p.egr_drive >= 0.0:
            recirculate(p, crank, air, gas, pins, known, unit, h, p.idle_target / RPM, FRAME)
        fast_wires(p, cells, raw, wires, h, r_front, r_rear)
        slow_terms(p, crank, air, fuel, gas, warm, cells, known, unit, h)
        for _ in range(STEPS_PER_FRAME):
            air.plate += covered(PLATE_LAG) * (unit.plate_command - air.plate)
            if air.plate < PLATE_SHUT:
                air.plate = 0.0
            breathe(p, crank, air, gas, turbo, warm, h)
            if p.charged > 0.5:
                charge_sensor(p, air, raw, wires, pins, known, h)
            if p.speed_density > 0.5:
                manifold_sensor(p, air, raw, wires, pins, known, unit, h)
                estimate_air_by_density(p, crank, air, pins, known, unit)
            else:
                if p.map_helps > 0.5:
                    manifold_sensor(p, air, raw, wires, pins, known, unit, h)
                meter(p, air, raw, wires, pins, known, unit, h)
                estimate_air(p, crank, air, known, unit)
            if p.diesel > 0.5:
                inject_diesel(p, crank, fuel, known, unit, h)
            else:
                inject(p, crank, air, fuel, known, unit, mix, h)
            burn(p, crank, air, fuel, warm, mix, h)
            turn(
                p,
                crank,
                air,
                gas,
                wires,
                unit,
                h,
                row.key,
                row.in_gear,
                row.roller_speed,
                braked,
                row.consumer_amps,
                row.compressor_torque,
                seed,
            )
            exhaust(p, crank, air, fuel, gas, turbo, warm, cells, wires, pins, unit, h, active, store)
        compare_cycles(p, crank, air, fuel, h)
        read_state(flat_lanes[frame], flat_state)
        work_out(lanes[frame], p, crank, air, fuel, gas, pins, known, unit, mix, h, row)
        if unit.off_time > RELAY_HOLD:
            blank(flat_lanes[frame])
