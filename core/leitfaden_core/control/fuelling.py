"""Mixture: commanded lambda, closed loop with a switching or a wide-range sensor, learned memory.

The switching controller is a relay with jump and slope; its limit cycle is what the front sensor shows (Guzzella and
Onder 2010, ch. 4.2). With a wideband sensor the correction follows the error of lambda and comes to rest. A rich-biased
engine integrates towards a target voltage on the steep curve.
"""

from typing import Any

import numpy as np

from leitfaden_core.compiled import inlined
from leitfaden_core.constants import OXYGEN_MASS_SHARE

STFT_LIMIT = 0.25
LTFT_LIMIT = 0.30
#: Product of both trims: no control unit adds a half.
TOTAL_LIMIT, LEANEST_TOTAL = 0.40, 0.30
#: Coolant above which the long-term trim learns. [K]
LEARN_ABOVE = 340.0
LEARN_RATE = 0.10  # 1/s of the short-term mean
CLOSED_LOOP_AFTER = 18.0  # s of running
CLOSED_LOOP_ABOVE = 283.0  # K, coolant
AFTER_CUT = 1.0  # s
WOT_PEDAL = 0.75
#: How far the rear sensor moves the target of a wideband loop, per share of tilt that a switching loop would get; 0.45
#: % at most. [-]
REAR_AUTHORITY = 0.03
#: Forced swing of a wideband loop [-] and half its period [s].
FORCED_SWING, FORCED_HALF_PERIOD = 0.015, 0.5
#: After overrun the catalyst is full of oxygen, and the control unit clears it with a mixture richer by this share,
#: until it reckons that what overrun has put in is used up or the rear sensor shows that it is. [-]
CLEARING_RICHER = 0.13
#: How long it does so at most: for so long nothing corrects the mixture. [s]
CLEARING_LASTS = 9.0
#: Speed below the target of the idle at which it gives up: such an engine is rich already. [rev/min]
CLEARING_STALLS = 150.0
#: Share of the store that overrun fills beyond where the loop holds it. [-]
CLEARED = 0.55
#: No mixture brings a switching sensor above this: the loop is left. [V]
CELL_TOP = 1.1
#: The control unit measures the sensor's inner resistance with a small test current; below this it is awake. [ohm]
AWAKE_BELOW = 50e3


@inlined
def lambda_command(run_time: float, ect: float, wot: bool, p: Any) -> float:
    """Commanded lambda outside the closed loop: richer when cold and just after the start, richer at full load. [-]

    References: Heywood 1988, sec. 7.1 (mixture requirements).
    """
    if wot:
        return p.wot_lambda
    cold = 0.0016 * max(343.0 - ect, 0.0) * np.exp(-run_time / 180.0)
    after_start = 0.08 * max(1.0 - run_time / 15.0, 0.0)
    return p.base_lambda / (1.0 + cold + after_start)


@inlined
def start_enrichment(ect: float) -> float:
    """Fuel factor while the starter turns, richer when cold.

    The engine still fires when the sensor tells 60 K too little. [-]

    References: Heywood 1988, sec. 7.1; Aquino 1981.
    """
    return 1.2 + 0.006 * max(320.0 - ect, 0.0)


@inlined
def learning_cell(pedal: float, load: float) -> int:
    """Cell of the learned memory: idle, then by load below 30 %, below 60 %, above.

    References: cells by load, as the trade knows them; the limits are this model's.
    """
    if pedal < 0.01:
        return 0
    return 1 if load < 0.3 else (2 if load < 0.6 else 3)


@inlined
def closed_loop_allowed(known: Any, unit: Any, mix: Any) -> bool:
    """Whether the mixture may follow the front sensor now.

    References: Guzzella and Onder 2010, sec. 4.2; the delays are this model's.
    """
    return (
        unit.running > 0.5
        and unit.run_time > CLOSED_LOOP_AFTER
        and known.ect_believed > CLOSED_LOOP_ABOVE
        and mix.sensor_awake > 0.5
        and unit.wot < 0.5
        and unit.cut < 0.5
        and unit.since_cut > AFTER_CUT
        and unit.oxygen_debt <= 0.0
    )


@inlined
def clear_catalyst(p: Any, pins: Any, known: Any, unit: Any, dt: float) -> None:
    """What the control unit reckons that overrun has put into the catalyst's oxygen store, one frame. [kg]

    References: Guzzella and Onder 2010, sec. 4.2 (control of the store by a model of it); the richer mixture is this
    model's.
    """
    if p.rear_sensor < 0.5 or known.ect_believed < LEARN_ABOVE:
        unit.oxygen_debt = 0.0
        return
    if unit.cut > 0.5:
        put_in = OXYGEN_MASS_SHARE * unit.air_estimate * dt
        unit.oxygen_debt = min(unit.oxygen_debt + put_in, CLEARED * p.oxygen_store)
    elif (
        unit.running < 0.5
        or unit.wot > 0.5
        or pins.rear_pin > p.rear_target
        or unit.since_cut > CLEARING_LASTS
        or unit.idle_error > CLEARING_STALLS
    ):
        unit.oxygen_debt = 0.0
    else:
        taken = OXYGEN_MASS_SHARE * unit.air_estimate * CLEARING_RICHER * dt
        unit.oxygen_debt = max(unit.oxygen_debt - taken, 0.0)


@inlined
def trims(p: Any, pins: Any, known: Any, unit: Any, mix: Any, dt: float, time_lapse: float) -> None:
    """One step of short- and long-term trim.

    The long-term cell takes from the short-term what it learns, so the total never jumps.

    References: Guzzella and Onder 2010, sec. 4.2 (limit cycle of a relay loop); SAE J1979 for what is shown.
    """
    mix.closed_loop = 1.0 if closed_loop_allowed(known, unit, mix) else 0.0
    cell = learning_cell(unit.pedal_seen, unit.load)
    if cell != int(mix.cell):
        mix.cell = float(cell)
    if mix.closed_loop < 0.5:
        mix.integral *= max(1.0 - dt / 0.5, 0.0)
        mix.stft = mix.integral
        return
    # The rear sensor tilts the slopes, or the oxygen store would drift to one of its ends.
    behind = p.rear_target - pins.rear_pin if p.rear_sensor > 0.5 else 0.0
    mix.rear_slow = min(max(mix.rear_slow + 0.01 * behind * dt, -0.10), 0.10)
    mix.rear_share = min(max(0.3 * behind + mix.rear_slow, -0.15), 0.15)
    rate, jump = correction(p, pins, known, unit, mix)
    mix.integral, mix.stft, mix.ltft[cell] = settle(
        mix.integral, mix.ltft[cell], rate, jump, known.ect_believed, dt, time_lapse
    )


@inlined
def settle(
    integral: float, memory: float, rate: float, jump: float, ect: float, dt: float, time_lapse: float
) -> tuple[float, float, float]:
    """One step of a short-term integral, the short-term trim and the learned memory of the cell in use. [-]

    References: an integrator that hands over to a slower one.
    """
    # What the learned memory has taken is no longer there for the short-term trim: both together stay within
    # their limits.
    richest = min((1.0 + TOTAL_LIMIT) / (1.0 + memory) - 1.0, STFT_LIMIT)
    leanest = max((1.0 - LEANEST_TOTAL) / (1.0 + memory) - 1.0, -STFT_LIMIT)
    integral = min(max(integral + rate * dt, leanest), richest)
    stft = min(max(integral + jump, leanest), richest)
    if ect > LEARN_ABOVE:
        learned = min(max(memory + LEARN_RATE * integral * dt * time_lapse, -LTFT_LIMIT), LTFT_LIMIT)
        integral -= learned - memory
        memory = learned
    return integral, stft, memory


@inlined
def correction(p: Any, pins: Any, known: Any, unit: Any, mix: Any) -> tuple[float, float]:
    """Rate of the short-term integral and what is added to it, by the rig's kind of loop; positive towards rich.

    [1/s], [-]

    References: Guzzella and Onder 2010, sec. 4.2.
    """
    if p.wideband > 0.5:
        error = known.lambda_believed - p.base_lambda * (1.0 - REAR_AUTHORITY * mix.rear_share)
        error = min(max(error, -0.25), 0.25)
        # A small forced swing keeps the catalyst's oxygen store moving, which its monitor needs.
        swing = FORCED_SWING if int(unit.run_time / FORCED_HALF_PERIOD) % 2 == 0 else -FORCED_SWING
        return p.relay_slope * (0.25 + min(unit.load, 1.0)) * error, p.relay_step * error + swing
    if p.target_loop > 0.5:
        # The curve is steep on one side of the target and flat on the other: the error is clipped unevenly so that both
        # ways feel alike.
        error = min(max(p.switch_voltage - pins.front_pin, -0.12), 0.25)
        return p.relay_slope * (0.4 + 0.6 * min(unit.load, 1.0)) * error, p.relay_step * error
    return slope_and_jump(p, pins.front_pin, unit.load, mix.rear_share)


@inlined
def slope_and_jump(p: Any, volts: float, load: float, rear_share: float) -> tuple[float, float]:
    """The relay of a switching loop: towards rich below the switching voltage, towards lean above it. [1/s], [-]

    References: Guzzella and Onder 2010, sec. 4.2 (relay with a jump).
    """
    toward_rich = 1.0 if volts < p.switch_voltage else -1.0
    slope = p.relay_slope * (0.4 + 0.6 * min(load, 1.0)) * (1.0 + toward_rich * rear_share)
    return toward_rich * slope, toward_rich * p.relay_step


@inlined
def fuel_factor(mix: Any) -> float:
    """Factor of both trims on the injected fuel, within -LEANEST_TOTAL and TOTAL_LIMIT. [-]

    References: SAE J1979 (trims multiply).
    """
    factor = (1.0 + mix.stft) * (1.0 + mix.ltft[int(mix.cell)])
    return min(max(factor, 1.0 - LEANEST_TOTAL), 1.0 + TOTAL_LIMIT)
