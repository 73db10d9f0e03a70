"""A V engine with an oxygen sensor in each bank: the second bank's share of the fuel, its exhaust, its sensor and its
trims.

All cylinders share air, intake and timing. The banks differ in their correction and in what is wrong with their
cylinders; bank 1 holds cylinder 1 and all other odd ones. Nothing here runs on an engine with one sensor for all
cylinders.
"""

from typing import Any

from leitfaden_core.compiled import compiled
from leitfaden_core.control.fuelling import TOTAL_LIMIT, settle, slope_and_jump
from leitfaden_core.engine.exhaust import leak_dilution
from leitfaden_core.sensors.oxygen import cell_voltage
from leitfaden_core.simulate.layout import LTFT_CELLS, STEP, TRANSPORT_SLOTS
from leitfaden_core.simulate.limits import STALL_SPEED, UNBURNT_UNSEEN
from leitfaden_core.wiring.node import CIRCUIT_OPEN


@compiled
def both_corrections(p: Any, s: Any, h: Any) -> float:
    """Correction of the engine's total fuel, while each bank's share follows its own, one step. [-]"""
    cell = int(s.cell)
    first = _within((1.0 + s.stft) * (1.0 + s.ltft[cell]))
    second = _within((1.0 + s.stft_2) * (1.0 + s.ltft[cell + LTFT_CELLS]))
    fed_first = 1.0 - 2.0 * (h.dead_fuel - h.dead_fuel_second)
    fed_second = 1.0 - 2.0 * h.dead_fuel_second
    total = first * fed_first + second * fed_second
    s.bank_fuel += STEP / p.film_time * (2.0 * first * fed_first / total - s.bank_fuel)
    return total / (fed_first + fed_second)


@compiled
def _within(factor: float) -> float:
    return min(max(factor, 1.0 - TOTAL_LIMIT), 1.0 + TOTAL_LIMIT)


@compiled
def bank_mixtures(s: Any, h: Any) -> None:
    """Fuel-air ratio in each bank's cylinders and in what they let out, one step."""
    leak = min(h.injector_leak / max(s.fuel_flow, 1e-7), 0.9)
    leak_second = leak * (h.injector_leak_second / h.injector_leak if h.injector_leak > 0.0 else 0.0)
    # A leak is on top of what the injectors share out.
    first = (1.0 - leak) * s.bank_fuel + 2.0 * (leak - leak_second)
    second = (1.0 - leak) * (2.0 - s.bank_fuel) + 2.0 * leak_second
    s.phi_bank = min(s.phi_cylinder * first, 6.0)
    s.phi_bank_2 = min(s.phi_cylinder * second, 6.0)
    unburnt = 2.0 * (h.dead_spark - h.dead_spark_second) / max(1.0 - 2.0 * (h.dead_fuel - h.dead_fuel_second), 0.1)
    unburnt_second = 2.0 * h.dead_spark_second / max(1.0 - 2.0 * h.dead_fuel_second, 0.1)
    s.phi_exhaust = s.phi_bank * (1.0 - unburnt * UNBURNT_UNSEEN)
    s.phi_exhaust_2 = s.phi_bank_2 * (1.0 - unburnt_second * UNBURNT_UNSEEN)


@compiled
def second_exhaust(p: Any, s: Any, h: Any, slot: int, flow: float) -> None:
    """Gas on its way to the second bank's sensor, the sensor and its pin, one step.

    ``flow`` is that of this bank. [kg/s]
    """
    s.phis[TRANSPORT_SLOTS + slot % TRANSPORT_SLOTS] = s.phi_exhaust_2 if s.speed > STALL_SPEED else 0.0
    phi = s.phis[TRANSPORT_SLOTS + int(s.read_slot) % TRANSPORT_SLOTS] if s.running > 0.5 else 0.0
    phi *= (
        leak_dilution(h.exhaust_leak_second, flow, 0.5 * p.full_flow, p.cylinders)
        * flow
        / max(flow + 0.5 * s.pump_air, 1e-6)
    )
    if flow > 1e-4:
        s.phi_pipe_2 += STEP / 0.040 * (phi - s.phi_pipe_2)
    s.phi_gas_2 += s.share_gas * (s.phi_pipe_2 - s.phi_gas_2)
    volts = cell_voltage(s.phi_gas_2, s.temp_front, p.cell_table) * p.cell_gain
    s.cell_front_2 += s.share_cell * (volts - s.cell_front_2)
    s.front2_source = s.cell_front_2
    source = s.cell_front_2 + (s.block_lift if p.heater_rise == 0.0 else 0.0)
    s.front2_pin = s.front2_wire * source + s.front2_wire_base


@compiled
def second_trims(p: Any, s: Any, h: Any, dt: float, time_lapse: float) -> None:
    """Short- and long-term trim of the second bank, one frame; its memory lies behind the first bank's."""
    if s.closed_loop < 0.5 or h.circuit_front2 == CIRCUIT_OPEN:
        s.integral_2 *= max(1.0 - dt / 0.5, 0.0)
        s.stft_2 = s.integral_2
        return
    cell = int(s.cell) + LTFT_CELLS
    rate, jump = slope_and_jump(p, s.front2_pin, s.load, 0.0)
    s.integral_2, s.stft_2, s.ltft[cell] = settle(
        s.integral_2, s.ltft[cell], rate, jump, s.ect_believed, dt, time_lapse
    )
