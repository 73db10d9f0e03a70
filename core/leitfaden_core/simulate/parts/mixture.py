"""Closed loop of the second bank; that of the first is in :mod:`leitfaden_core.control.fuelling`."""

from typing import Any

from leitfaden_core.compiled import inlined
from leitfaden_core.control.fuelling import CELL_TOP, LEANEST_TOTAL, TOTAL_LIMIT, settle, slope_and_jump
from leitfaden_core.simulate.lag import covered
from leitfaden_core.simulate.layout import LTFT_CELLS
from leitfaden_core.wiring.node import CIRCUIT_OPEN

#: Numbers of closed loop and what it has learned.
MIX = (
    "integral",
    "stft",
    "integral_2",
    "stft_2",
    "cell",
    "sensor_awake",
    "rear_slow",
    "rear_share",
    "closed_loop",
    "bank_fuel",
)


@inlined
def both_corrections(p: Any, mix: Any, h: Any) -> float:
    """Correction of the engine's total fuel, while each bank's share follows its own, one step. [-]"""
    cell = int(mix.cell)
    first = _within((1.0 + mix.stft) * (1.0 + mix.ltft[cell]))
    second = _within((1.0 + mix.stft_2) * (1.0 + mix.ltft[cell + LTFT_CELLS]))
    fed_first = 1.0 - 2.0 * (h.dead_fuel - h.dead_fuel_second)
    fed_second = 1.0 - 2.0 * h.dead_fuel_second
    total = first * fed_first + second * fed_second
    mix.bank_fuel += covered(p.film_time) * (2.0 * first * fed_first / total - mix.bank_fuel)
    return total / (fed_first + fed_second)


@inlined
def _within(factor: float) -> float:
    return min(max(factor, 1.0 - LEANEST_TOTAL), 1.0 + TOTAL_LIMIT)


@inlined
def second_trims(p: Any, pins: Any, known: Any, unit: Any, mix: Any, h: Any, dt: float, time_lapse: float) -> None:
    """Short- and long-term trim of the second bank, one frame; its memory lies behind the first bank's."""
    if mix.closed_loop < 0.5 or h.circuit_front2 == CIRCUIT_OPEN or pins.front2_pin > CELL_TOP:
        mix.integral_2 *= max(1.0 - dt / 0.5, 0.0)
        mix.stft_2 = mix.integral_2
        return
    cell = int(mix.cell) + LTFT_CELLS
    rate, jump = slope_and_jump(p, pins.front2_pin, unit.load, 0.0)
    mix.integral_2, mix.stft_2, mix.ltft[cell] = settle(
        mix.integral_2, mix.ltft[cell], rate, jump, known.ect_believed, dt, time_lapse
    )
