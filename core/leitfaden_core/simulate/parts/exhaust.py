"""The exhaust: pressures along the pipe, gas on its way to the sensors, the catalyst's store, both banks."""

import math
from typing import Any

from leitfaden_core.compiled import inlined
from leitfaden_core.constants import R_AIR
from leitfaden_core.engine.diesel import filter_drop
from leitfaden_core.engine.exhaust import catalyst_step, leak_dilution
from leitfaden_core.sensors.oxygen import cell_voltage
from leitfaden_core.simulate.lag import covered
from leitfaden_core.simulate.layout import STEP, TRANSPORT_SLOTS
from leitfaden_core.simulate.limits import FIRES_ABOVE, UNBURNT_UNSEEN
from leitfaden_core.simulate.parts.turbo import charge

#: Numbers of the exhaust.
GAS = (
    "p_exhaust",
    "p_pipe",
    "p_tail",
    "temp_exhaust",
    "temp_catalyst",
    "temp_behind",
    "exchanged",
    "store",
    "damage",
    "phi_pipe",
    "phi_gas",
    "phi_behind",
    "phi_pipe_2",
    "phi_gas_2",
    "phi_wide",
    "read_slot",
    "write_slot",
    "delay_slots",
    "dpf_drop",
    "pump_air",
    "share_gas",
    "share_behind",
)


#: Time in which air finds its way into the pipe of a standing engine. [s]
PIPE_FILLS = 20.0


@inlined
def exhaust(
    p: Any,
    crank: Any,
    air: Any,
    fuel: Any,
    gas: Any,
    turbo: Any,
    warm: Any,
    cells: Any,
    wires: Any,
    pins: Any,
    unit: Any,
    h: Any,
    active: float,
    store: float,
) -> None:
    """Exhaust, oxygen sensors and catalyst, one step. Carries phi, which stays finite when the fuel is cut.

    ``active`` [-] and ``store`` [kg]: how much of the catalyst works in this frame, and what it can hold.
    """
    flow = air.charge_flow + fuel.fuel_flow - air.egr_flow
    resistance = p.exhaust_resistance * gas.temp_behind
    # Of the sound pipe's resistance two thirds lie in silencer and tailpipe.
    gas.p_tail = p.ambient_pressure + (0.67 * resistance + h.exhaust_extra) * flow * flow
    target = gas.p_tail + (0.33 * resistance + h.catalyst_extra) * flow * flow + h.catalyst_linear * flow
    if p.filter_linear > 0.0:
        drop = (
            filter_drop(max(flow, 0.0), gas.temp_behind, p.filter_linear, p.filter_quadratic)
            + h.dpf_extra * flow * flow
        )
        gas.dpf_drop += covered(0.010) * (drop - gas.dpf_drop)
        target += gas.dpf_drop
    gas.p_pipe += covered(0.010) * (target - gas.p_pipe)
    if p.charged > 0.5:
        charge(p, air, fuel, gas, turbo, unit, h)
    else:
        gas.p_exhaust = gas.p_pipe
        gas.temp_behind = gas.temp_exhaust

    slot = int(gas.write_slot)
    gas.phis[slot % TRANSPORT_SLOTS] = crank.phi_exhaust if crank.speed > FIRES_ABOVE else 0.0
    # The read pointer may wait, but gas never flows backwards.
    gas.read_slot = max(gas.read_slot, gas.write_slot - gas.delay_slots)
    gas.write_slot += 1.0
    phi = gas.phis[int(gas.read_slot) % TRANSPORT_SLOTS] if unit.running > 0.5 else 0.0
    part = 0.5 if p.two_banks > 0.5 else 1.0
    phi *= (
        leak_dilution(h.exhaust_leak_area, part * flow, part * p.full_flow, p.cylinders)
        * flow
        / max(flow + gas.pump_air, 1e-6)
    )
    if p.two_banks > 0.5:
        second_exhaust(p, crank, gas, warm, cells, wires, pins, unit, h, slot, 0.5 * flow)
    if flow > 2e-4:
        gas.phi_pipe += covered(0.040) * (phi - gas.phi_pipe)
    elif crank.speed < FIRES_ABOVE:
        # The pipe of a standing engine fills with air.
        gas.phi_pipe -= covered(PIPE_FILLS) * gas.phi_pipe
    gas.phi_gas += gas.share_gas * (gas.phi_pipe - gas.phi_gas)
    if p.narrow_front > 0.5:
        volts = cell_voltage(gas.phi_gas, warm.temp_front, p.cell_table) * p.cell_gain * h.front_gain + h.front_offset
        cells.cell_front += cells.share_cell * (volts - cells.cell_front)
        cells.cell_front_slow += cells.share_cell_slow * (cells.cell_front - cells.cell_front_slow)
        source = h.front_stuck if h.front_stuck >= 0.0 else cells.cell_front_slow
        cells.front_source = source
        if unit.running > 0.5:
            source += h.front_ground
        if p.heater_rise == 0.0:
            # A one-wire sensor returns through its thread and the block: whatever these lie above the control unit's
            # ground adds up.
            source += wires.block_lift
        pins.front_pin = wires.front_wire * source + wires.front_wire_base
    if p.wideband > 0.5:
        gas.phi_wide += cells.share_wide * (gas.phi_gas - gas.phi_wide)
    if p.has_catalyst > 0.5:
        arriving = 0.5 * (gas.phi_pipe + gas.phi_pipe_2) if p.two_banks > 0.5 else gas.phi_pipe
        gas.store, after = catalyst_step(gas.store, arriving, flow, store, active, gas.exchanged, STEP)
        gas.phi_behind += gas.share_behind * (after - gas.phi_behind)
    if p.rear_sensor > 0.5:
        behind = cell_voltage(gas.phi_behind, warm.temp_rear, p.rear_cell_table) * p.cell_gain
        cells.cell_rear += cells.share_cell * (behind - cells.cell_rear)
        cells.rear_source = cells.cell_rear
        pins.rear_pin = wires.rear_wire * cells.cell_rear + wires.rear_wire_base


@inlined
def pumped_air(p: Any, crank: Any, known: Any, unit: Any, h: Any) -> float:
    """What the air pump blows into the exhaust: all of it while the coolant is cold, then what the diverter valve lets
    through. [kg/s]
    """
    share = 1.0 if unit.running > 0.5 and known.ect_believed < p.pump_until else h.air_undiverted
    return share * p.pump_volume * crank.speed / (2.0 * math.pi) * p.ambient_pressure / (R_AIR * p.ambient_temp)


@inlined
def bank_mixtures(crank: Any, fuel: Any, mix: Any, h: Any) -> None:
    """Fuel-air ratio in each bank's cylinders and in what they let out, one step."""
    leak = min(h.injector_leak / max(fuel.fuel_flow, 1e-7), 0.9)
    leak_second = leak * (h.injector_leak_second / h.injector_leak if h.injector_leak > 0.0 else 0.0)
    # A leak is on top of what the injectors share out.
    first = (1.0 - leak) * mix.bank_fuel + 2.0 * (leak - leak_second)
    second = (1.0 - leak) * (2.0 - mix.bank_fuel) + 2.0 * leak_second
    crank.phi_bank = min(crank.phi_cylinder * first, 6.0)
    crank.phi_bank_2 = min(crank.phi_cylinder * second, 6.0)
    unburnt = 2.0 * (h.dead_spark - h.dead_spark_second) / max(1.0 - 2.0 * (h.dead_fuel - h.dead_fuel_second), 0.1)
    unburnt_second = 2.0 * h.dead_spark_second / max(1.0 - 2.0 * h.dead_fuel_second, 0.1)
    crank.phi_exhaust = crank.phi_bank * (1.0 - unburnt * UNBURNT_UNSEEN)
    crank.phi_exhaust_2 = crank.phi_bank_2 * (1.0 - unburnt_second * UNBURNT_UNSEEN)


@inlined
def second_exhaust(
    p: Any,
    crank: Any,
    gas: Any,
    warm: Any,
    cells: Any,
    wires: Any,
    pins: Any,
    unit: Any,
    h: Any,
    slot: int,
    flow: float,
) -> None:
    """Gas on its way to the second bank's sensor, the sensor and its pin, one step.

    ``flow`` is that of this bank. [kg/s]
    """
    gas.phis[TRANSPORT_SLOTS + slot % TRANSPORT_SLOTS] = crank.phi_exhaust_2 if crank.speed > FIRES_ABOVE else 0.0
    phi = gas.phis[TRANSPORT_SLOTS + int(gas.read_slot) % TRANSPORT_SLOTS] if unit.running > 0.5 else 0.0
    phi *= (
        leak_dilution(h.exhaust_leak_second, flow, 0.5 * p.full_flow, p.cylinders)
        * flow
        / max(flow + 0.5 * gas.pump_air, 1e-6)
    )
    if flow > 1e-4:
        gas.phi_pipe_2 += covered(0.040) * (phi - gas.phi_pipe_2)
    gas.phi_gas_2 += gas.share_gas * (gas.phi_pipe_2 - gas.phi_gas_2)
    volts = cell_voltage(gas.phi_gas_2, warm.temp_front, p.cell_table) * p.cell_gain
    cells.cell_front_2 += cells.share_cell * (volts - cells.cell_front_2)
    cells.front2_source = cells.cell_front_2
    source = cells.cell_front_2 + (wires.block_lift if p.heater_rise == 0.0 else 0.0)
    pins.front2_pin = wires.front2_wire * source + wires.front2_wire_base
