"""Oxygen: narrowband cell, wideband with its pump, both on one event, catalyst."""

from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.constants import ZERO_CELSIUS
from leitfaden_core.engine.exhaust import catalyst_step, exchanged_share, light_off
from leitfaden_core.explore.drawing import Drawing, Hand, Hands, Numbers, Pose, Seen, Trace, drawings, number
from leitfaden_core.rigs import load_rig
from leitfaden_core.scripts import script_with
from leitfaden_core.sensors.oxygen import (
    OXYGEN_IN_AIR,
    SPREAD_BEHIND,
    cell_resistance,
    cell_voltage,
    cell_voltage_table,
    equilibrium_oxygen,
)
from leitfaden_core.sensors.wideband import (
    DILUTION,
    lambda_from_current,
    lambda_volts_falling,
    lambda_volts_rising,
    pump_current,
)
from leitfaden_core.simulate import FRAME, cached_run
from leitfaden_core.wiring import CIRCUIT_SOUND, pin_voltage
from leitfaden_core.words import say

#: The rig whose front sensor and catalyst these drawings take for their constants.
TYPICAL = "R1"
#: Below this distance from lambda 1 a narrowband is on its step, from the other on it is nearly flat. [-]
STEP, FLAT = 0.009, 0.04
#: A wideband's element. [K]
WIDEBAND_KELVIN = 1050.0


@lru_cache(8)
def _table(spread: float) -> NDArray[np.float64]:
    return cell_voltage_table(spread)


def _spread() -> float:
    return load_rig(TYPICAL).exhaust.mixture_spread


def cell_volts(phi: float, spread: float = 0.0, kelvin: float = 950.0) -> float:
    """What a warm cell makes of a mixture; ``spread`` of that mixture, 0 for the usual one before a catalyst. [V]"""
    return cell_voltage(phi, kelvin, _table(spread or _spread()))


# --- narrowband
# ----------------------------------------------------------------------------------------------------------------


def _narrowband(hands: Hands) -> Numbers:
    lam, kelvin = number(hands, "lambda"), number(hands, "celsius") + ZERO_CELSIUS
    sensors = load_rig(TYPICAL).oxygen_sensors
    assert sensors is not None
    cell = cell_volts(1.0 / lam, kelvin=kelvin)
    ohms = cell_resistance(kelvin)
    pin = pin_voltage(cell, ohms, number(hands, "bias"), sensors.bias_resistance, CIRCUIT_SOUND, 0.0, 12.4)
    oxygen = 100.0 * equilibrium_oxygen(1.0 / lam, max(kelvin, 600.0))
    return {"oxygen": oxygen, "cell": cell, "ohms": ohms, "pin": pin, "cold": float(abs(pin - cell) > 0.08)}


def _narrowband_says(hands: Hands, numbers: Numbers) -> str:
    lam = number(hands, "lambda")
    if numbers["cold"]:
        return say(
            (
                "Cold: the cell has so much resistance that the pin shows the control unit's bias of {bias:.2f} "
                "V, whatever the mixture is."
            ),
            bias=number(hands, "bias"),
        )
    if abs(lam - 1.0) < STEP:
        return say("At lambda 1 the oxygen at the electrode changes by many powers of ten: the voltage takes the step.")
    side = (
        say("Rich: hardly any oxygen is left at the electrode, its ratio to air is huge, the voltage high.")
        if lam < 1.0
        else say("Lean: oxygen is left over, its ratio to air is small, the voltage low.")
    )
    if abs(lam - 1.0) <= FLAT:
        return side
    return f"{side} {say('So far from lambda 1 the curve is nearly flat: it tells the side, not the amount.')}"


drawings.register(
    Drawing(
        "narrowband",
        "Narrowband cell",
        "A thimble of zirconia between exhaust and outside air, and the voltage that their oxygen makes",
        hands=(
            Hand("lambda", "mixture λ", quantity="lambda", low=0.8, high=1.2, start=0.97, step=0.002, digits=3),
            Hand(
                "celsius", "temperature of the ceramic", quantity="temperature", low=250, high=900, start=650, step=10
            ),
            Hand(
                "bias",
                "bias of the control unit",
                quantity="voltage",
                low=0.0,
                high=1.5,
                start=0.45,
                step=0.05,
                digits=2,
            ),
        ),
        seen=(
            Seen("oxygen", "oxygen at the electrode", "percent", 2),
            Seen("cell", "cell voltage", "voltage", 3),
            Seen("ohms", "resistance of the cell", "resistance", 0),
            Seen("pin", "voltage at the pin", "voltage", 3),
        ),
        poses=(
            Pose(
                "rich",
                "Rich",
                {"lambda": 0.95, "celsius": 700.0, "bias": 0.45},
                (
                    "Burning has used up the oxygen. Ions pass from the air side to the exhaust side; the "
                    "electrodes show about 0.9 V."
                ),
            ),
            Pose(
                "stoichiometric",
                "Lambda 1",
                {"lambda": 1.0, "celsius": 700.0, "bias": 0.45},
                "The steepest place: a hundredth of lambda moves the signal by more than a third of a volt.",
            ),
            Pose(
                "lean",
                "Lean",
                {"lambda": 1.05, "celsius": 700.0, "bias": 0.45},
                "About one part in a hundred of the gas is oxygen. The ratio to air is small, and so is the voltage.",
            ),
            Pose(
                "cold",
                "Cold",
                {"lambda": 0.95, "celsius": 250.0, "bias": 0.45},
                (
                    "The mixture is as rich as in the first step, but the ions cannot move. What the pin shows "
                    "comes from the control unit."
                ),
            ),
        ),
        look=_narrowband,
        tells=_narrowband_says,
        along="lambda",
        over=("pin",),
        holds=(
            "Nernst 1889 over the equilibrium of six species (Heywood 1988, ch. 4); 600 to 1400 K, below that "
            "the resistance is what counts."
        ),
    )
)

# --- wideband
# ----------------------------------------------------------------------------------------------------------------


def _wideband(hands: Hands) -> Numbers:
    lam = number(hands, "lambda")
    phi = 0.0 if hands["gas"] == "air" else 1.0 / lam
    regulated = hands["pump"] == "regulated"
    milliamps = pump_current(phi) if regulated else 0.0
    oxygen = OXYGEN_IN_AIR * (1.0 - phi) / (1.0 + DILUTION * phi) if phi < 1.0 else 0.0
    return {
        "current": milliamps,
        "sensing": 0.45 if regulated else cell_volts(phi, kelvin=WIDEBAND_KELVIN),
        "outside": 100.0 * oxygen,
        "displayed": lambda_from_current(milliamps),
        "rising": lambda_volts_rising(lambda_from_current(milliamps)),
        "falling": lambda_volts_falling(lambda_from_current(milliamps)),
        "direction": float(np.sign(round(milliamps, 3))),
    }


def _wideband_says(hands: Hands, numbers: Numbers) -> str:
    if hands["pump"] != "regulated":
        return say(
            (
                "Without the pump the chamber fills with what is outside, and the sensing cell shows {volts:.2f} "
                "V like any narrowband. No current flows, and the display computes lambda {lam:.2f} from nothing."
            ),
            volts=numbers["sensing"],
            lam=numbers["displayed"],
        )
    if hands["gas"] == "air":
        return say(
            "Plain air, as in the pipe of an engine that stands: the current is at its end, and so is the "
            "display. That is no mixture."
        )
    if abs(numbers["current"]) < 0.005:
        return say("Lambda 1: nothing has to be pumped. The current is zero here and nowhere else.")
    if numbers["current"] > 0:
        return say(
            "Lean: the sensing cell would sag below 0.45 V, so oxygen is pumped out of the chamber. The "
            "current is positive, and its strength tells how lean."
        )
    return say(
        "Rich: the sensing cell would rise above 0.45 V, so oxygen is pumped into the chamber. The current "
        "is negative, and its strength tells how rich."
    )


drawings.register(
    Drawing(
        "wideband",
        "Wideband cell with its pump",
        (
            "Gas diffuses into a measuring chamber; the pump cell in its wall carries oxygen out or in until the "
            "sensing cell shows 0.45 V"
        ),
        hands=(
            Hand("lambda", "mixture λ", quantity="lambda", low=0.65, high=2.5, start=1.1, step=0.01, digits=2),
            Hand("gas", "what is in the pipe", start="exhaust", choices=(("exhaust", "exhaust"), ("air", "plain air"))),
            Hand("pump", "pump", start="regulated", choices=(("regulated", "regulated"), ("off", "not driven"))),
        ),
        seen=(
            Seen("outside", "free oxygen outside", "percent", 1),
            Seen("sensing", "sensing cell", "voltage", 2),
            Seen("current", "pump current", "current_ma", 2),
            Seen("displayed", "lambda worked out", "lambda", 2),
            Seen("rising", "a display in volts, rising", "voltage", 2),
            Seen("falling", "another, falling", "voltage", 2),
        ),
        poses=(
            Pose(
                "lean",
                "Lean",
                {"lambda": 1.3, "gas": "exhaust", "pump": "regulated"},
                "Oxygen diffuses in and is pumped out: positive current.",
            ),
            Pose(
                "stoichiometric",
                "Lambda 1",
                {"lambda": 1.0, "gas": "exhaust", "pump": "regulated"},
                "Nothing to pump: no current, at this mixture only.",
            ),
            Pose(
                "rich",
                "Rich",
                {"lambda": 0.8, "gas": "exhaust", "pump": "regulated"},
                "The gas lacks oxygen, which is pumped in: negative current, with a slope of its own.",
            ),
            Pose(
                "air",
                "Engine off",
                {"lambda": 1.0, "gas": "air", "pump": "regulated"},
                "The pipe holds air. The display stands at its lean end, marked as clipped.",
            ),
            Pose(
                "off",
                "Pump lost",
                {"lambda": 1.3, "gas": "exhaust", "pump": "off"},
                (
                    "The same lean gas without pump: the cell is a switch again, and the number on the display "
                    "means nothing."
                ),
            ),
        ),
        look=_wideband,
        tells=_wideband_says,
        along="lambda",
        over=("current",),
        holds="Limiting current: Brailsford, Yussouff and Logothetis 1997; λ 0.65 to free air at a regulated 780 °C.",
    )
)

# --- both on one event
# ----------------------------------------------------------------------------------------------------------------

_EVENTS = (
    ("hot_idle", "hot idle"),
    ("no_load_2500", "held 2500 1/min"),
    ("snap_throttle", "snap throttle"),
    ("decel_fuel_cut", "overrun with fuel cut"),
    ("wot_pull", "full-load pull"),
)
#: Time before and behind a condition that is drawn, and what is drawn at most. [s]
AROUND, LONGEST = 1.5, 10.0
#: Lag of a warm wideband element. [s]
WIDEBAND_LAG = 0.06


def _both_traces(hands: Hands) -> list[Trace]:
    event = str(hands["event"])
    script = script_with(event)
    run = cached_run(load_rig(TYPICAL), script, [], 0)
    begin, end = script.span(event)
    first = max(begin - AROUND, 0.0)
    rows = run.rows((first, min(end + AROUND, first + LONGEST)))
    seconds = [round(first + k * FRAME - begin, 3) for k in range(len(rows))]
    sensed = rows["lambda_sensed"].astype(float)
    phi = np.where(np.isfinite(sensed), 1.0 / np.maximum(sensed, 0.5), 0.0)
    slow = np.empty_like(phi)
    state = phi[0]
    for k, value in enumerate(phi):
        state += FRAME / (WIDEBAND_LAG + FRAME) * (value - state)
        slow[k] = state
    wide = [lambda_from_current(pump_current(float(value))) for value in slow]
    return [
        Trace("narrow", "narrowband", "voltage", 2, seconds, [round(float(v), 3) for v in rows["ho2s_b1s1_v"]]),
        Trace("wide", "wideband", "lambda", 2, seconds, [round(min(v, 2.5), 3) for v in wide]),
    ]


def _both(hands: Hands) -> Numbers:
    narrow, wide = _both_traces(hands)
    return {
        "narrow_low": min(narrow.values),
        "narrow_high": max(narrow.values),
        "wide_low": min(wide.values),
        "wide_high": max(wide.values),
    }


def _both_says(hands: Hands, numbers: Numbers) -> str:
    return say(
        (
            "The narrowband goes from {low:.2f} to {high:.2f} V and tells the side; the wideband goes from "
            "{lean:.2f} to {rich:.2f} and tells how far (drawn up to lambda 2.5)."
        ),
        low=numbers["narrow_low"],
        high=numbers["narrow_high"],
        lean=numbers["wide_low"],
        rich=numbers["wide_high"],
    )


drawings.register(
    Drawing(
        "both_oxygen",
        "Narrowband and wideband on the same event",
        "Two sensors in one pipe of the library bus, fed by the same gas",
        hands=(Hand("event", "event", start="hot_idle", choices=_EVENTS),),
        seen=(
            Seen("narrow_low", "narrowband, lowest", "voltage", 2),
            Seen("narrow_high", "narrowband, highest", "voltage", 2),
            Seen("wide_low", "wideband, lowest", "lambda", 2),
            Seen("wide_high", "wideband, highest", "lambda", 2),
        ),
        poses=(
            Pose(
                "idle",
                "Hot idle",
                {"event": "hot_idle"},
                (
                    "The loop makes the narrowband swing; lambda itself moves by a few hundredths only, and the "
                    "wideband shows that."
                ),
            ),
            Pose(
                "snap",
                "Snap throttle",
                {"event": "snap_throttle"},
                "A lean dip, then rich, then lean on closing. Only the wideband says how deep.",
            ),
            Pose(
                "cut",
                "Fuel cut",
                {"event": "decel_fuel_cut"},
                "No fuel: the narrowband lies near zero, the wideband runs to its end.",
            ),
            Pose(
                "load",
                "Full load",
                {"event": "wot_pull"},
                (
                    "Rich by order: as long as it lasts the narrowband is high and stays there; the wideband "
                    "tells whether it is rich enough."
                ),
            ),
        ),
        look=_both,
        tells=_both_says,
        traces=_both_traces,
        simulated=True,
        holds=(
            "The library bus (R1) as the bench runs it; the wideband is computed from the gas at the "
            "narrowband's place."
        ),
    )
)

# --- catalyst
# ----------------------------------------------------------------------------------------------------------------

#: Time that runs before what is shown, and what is shown. [s]
SETTLES, SHOWN, CATALYST_STEP = 20.0, 8.0, 0.01


@lru_cache(64)
def _catalyst_run(
    swing: float, period: float, offset: float, left: float, celsius: float, flow: float
) -> tuple[NDArray[Any], ...]:
    rig = load_rig(TYPICAL)
    assert rig.catalyst is not None
    active = light_off(celsius + ZERO_CELSIUS)
    exchanged = exchanged_share(rig.catalyst.catalyst_exchange * left, flow)
    steps = round((SETTLES + SHOWN) / CATALYST_STEP)
    seconds = np.arange(steps) * CATALYST_STEP
    before = 1.0 + offset + swing * np.sign(np.sin(2.0 * np.pi * seconds / period))
    fill = 0.5
    after, fills = np.empty(steps), np.empty(steps)
    gas = before[0]
    for k in range(steps):
        gas += CATALYST_STEP / 0.1 * (1.0 / before[k] - gas)
        fill, phi = catalyst_step(fill, gas, flow, rig.catalyst.oxygen_store * left, active, exchanged, CATALYST_STEP)
        after[k], fills[k] = phi, fill
        before[k] = 1.0 / gas
    shown = seconds >= SETTLES
    return seconds[shown] - SETTLES, before[shown], np.asarray(1.0 / after[shown]), fills[shown]


def _catalyst_of(hands: Hands) -> tuple[NDArray[Any], ...]:
    return _catalyst_run(
        number(hands, "swing") / 100.0,
        number(hands, "period"),
        number(hands, "offset") / 100.0,
        number(hands, "left") / 100.0,
        number(hands, "celsius"),
        number(hands, "flow") / 1000.0,
    )


def _volts(lam: NDArray[np.float64], spread: float) -> list[float]:
    return [round(cell_volts(1.0 / float(value), spread), 3) for value in lam[::4]]


def _catalyst_traces(hands: Hands) -> list[Trace]:
    seconds, before, behind, _fills = _catalyst_of(hands)
    times = [round(float(second), 2) for second in seconds[::4]]
    return [
        Trace("front", "sensor before the catalyst", "voltage", 2, times, _volts(before, _spread())),
        Trace("rear", "sensor behind it", "voltage", 2, times, _volts(behind, _spread() * SPREAD_BEHIND)),
    ]


def _catalyst(hands: Hands) -> Numbers:
    _seconds, before, behind, fills = _catalyst_of(hands)
    front, rear = (np.ptp(trace.values) for trace in _catalyst_traces(hands))
    passed = float(np.abs(behind - 1.0).mean() / max(float(np.abs(before - 1.0).mean()), 1e-6))
    return {
        "front_swing": float(front),
        "rear_swing": float(rear),
        "ratio": float(rear / max(front, 1e-3)),
        "fill": 100.0 * float(fills.mean()),
        "passed": 100.0 * min(passed, 1.0),
        "warm": light_off(number(hands, "celsius") + ZERO_CELSIUS),
    }


def _catalyst_says(hands: Hands, numbers: Numbers) -> str:
    if numbers["warm"] < 0.5:
        return say(
            "Below its light-off temperature the catalyst does little: what comes in goes out, and the rear "
            "sensor copies the front one."
        )
    if numbers["fill"] > 92.0:
        return say(
            "The store is full of oxygen: lean gas passes, and nitrogen oxides with it. Storage helps "
            "against swings, never against a mixture that is wrong on the average."
        )
    if numbers["fill"] < 8.0:
        return say(
            "The store is empty: rich gas passes, and CO and hydrocarbons with it. Storage helps against "
            "swings, never against a mixture that is wrong on the average."
        )
    if numbers["ratio"] > 0.5:
        return say(
            "The store is too small for these swings: it is full, then empty, and the rear sensor follows "
            "the front one."
        )
    return say(
        "The store takes oxygen while it is lean and gives it back while it is rich: behind it the gas "
        "hardly moves, so the rear sensor is calm."
    )


drawings.register(
    Drawing(
        "catalyst",
        "Catalyst and its oxygen store",
        "A honeycomb whose coating keeps oxygen when there is too much and gives it back when there is too little",
        hands=(
            Hand("left", "surface and store that are left", quantity="percent", low=1, high=100, start=100, step=1),
            Hand(
                "swing",
                "swing of the mixture, each way",
                quantity="percent",
                low=0,
                high=8,
                start=3,
                step=0.5,
                digits=1,
            ),
            Hand("period", "time of one swing", quantity="time_s", low=0.4, high=6, start=1.2, step=0.2, digits=1),
            Hand(
                "offset",
                "mean mixture, lean of lambda 1",
                quantity="percent",
                low=-3,
                high=3,
                start=0,
                step=0.5,
                digits=1,
            ),
            Hand("celsius", "temperature of the brick", quantity="temperature", low=100, high=800, start=550, step=10),
            Hand("flow", "exhaust flow", quantity="mass_flow", low=2, high=60, start=10, step=1),
        ),
        seen=(
            Seen("front_swing", "swing before it", "voltage", 2),
            Seen("rear_swing", "swing behind it", "voltage", 2),
            Seen("ratio", "rear over front", "ratio", 2),
            Seen("fill", "store full of oxygen", "percent", 0),
            Seen("passed", "of the excess gets through", "percent", 0),
        ),
        poses=(
            Pose(
                "sound",
                "Sound and warm",
                {"left": 100.0, "swing": 3.0, "period": 1.2, "offset": 0.0, "celsius": 550.0, "flow": 10.0},
                "The front sensor swings, the rear one is calm.",
            ),
            Pose(
                "worn",
                "Worn",
                {"left": 3.0, "swing": 3.0, "period": 1.2, "offset": 0.0, "celsius": 550.0, "flow": 10.0},
                "The same swings overrun a small store: the rear sensor copies the front one.",
            ),
            Pose(
                "cold",
                "Cold",
                {"left": 100.0, "swing": 3.0, "period": 1.2, "offset": 0.0, "celsius": 150.0, "flow": 10.0},
                "A sound brick that is not lit yet looks like a worn one. So the test needs a warm catalyst.",
            ),
            Pose(
                "lean",
                "Always a little lean",
                {"left": 100.0, "swing": 3.0, "period": 1.2, "offset": 2.0, "celsius": 550.0, "flow": 10.0},
                (
                    "A full store cannot take more. A rear sensor that lies low for long speaks of the mixture, "
                    "not of the catalyst."
                ),
            ),
        ),
        look=_catalyst,
        tells=_catalyst_says,
        traces=_catalyst_traces,
        holds=(
            "Store: Brandt, Wang and Grizzle 2000; exchange in plug flow: Levenspiel 1999, ch. 5; constants of "
            "the library bus."
        ),
    )
)
