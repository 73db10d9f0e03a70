"""The named conditions, in the words of the trade: what each means, and the state of an engine in which it is there.

A script says where its conditions are read; on an engine that somebody drives by hand the state itself has to tell (see
:mod:`leitfaden_core.simulate.naming`).
"""

from collections.abc import Callable
from dataclasses import KW_ONLY, dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.errors import UnknownName
from leitfaden_core.rigs import Rig

Flags = NDArray[np.bool_]
#: Rows of ``layout.LANES`` of a rig -> whether the engine is in that state there.
State = Callable[[Any, Rig], Flags]


@dataclass(frozen=True)
class Condition:
    """A state of the engine in which values are read.

    ``closed_loop`` tells whether the control unit corrects the mixture by the front oxygen sensor there; ``running``
    whether the engine turns by itself; ``steady`` whether one number can stand for the window. ``state`` is how it is
    recognised, once it has held for ``after`` seconds; conditions without it are moments of a script only.
    ``way_minutes`` it takes to bring a vehicle there, where that is not done beside the bench. A ``cold`` one is met
    once after a night only.
    """

    id: str
    label: str
    _: KW_ONLY
    meaning: str
    running: bool
    closed_loop: bool
    steady: bool
    state: State | None = None
    after: float = 0.0
    speed_held: bool = False  # a foot or the rollers hold the engine's speed
    way_minutes: float = 0.0
    cold: bool = False


def _warm(rows: Any, rig: Rig) -> Flags:
    return np.asarray(rows["ect_true"] > rig.thermal.thermostat_opens - 273.15 - 6.0)


def _stands(rows: Any) -> Flags:
    return np.asarray((rows["running"] < 0.5) & (rows["rpm_true"] < 1.0) & (rows["powered"] > 0.5))


def _idles(rows: Any) -> Flags:
    return np.asarray((rows["running"] > 0.5) & (rows["in_gear"] < 0.5) & (rows["pedal_true"] < 2.0))


def _held(rpm: float) -> State:
    def state(rows: Any, rig: Rig) -> Flags:
        near = np.abs(rows["rpm_true"] - rpm) < 0.06 * rpm
        neutral = (rows["running"] > 0.5) & (rows["in_gear"] < 0.5) & (rows["pedal_true"] >= 2.0)
        return np.asarray(neutral & near & _warm(rows, rig) & _as_in_life(rows))

    return state


def _as_in_life(rows: Any) -> Flags:
    return np.asarray(rows["time_lapse"] < 1.5)


def _cruises(rows: Any, rig: Rig) -> Flags:
    torque = rig.vehicle.cruise_load * rig.engine.rated_torque
    near = (np.abs(rows["kmh"] - 80.0) < 3.0) & (np.abs(rows["torque_true"] - torque) < 0.25 * torque)
    return np.asarray((rows["in_gear"] > 0.5) & near & _warm(rows, rig) & _as_in_life(rows))


def _pulls(at_altitude: bool) -> State:
    def state(rows: Any, rig: Rig) -> Flags:
        high = rows["baro_true"] < 92.0
        return np.asarray((rows["in_gear"] > 0.5) & (rows["pedal_true"] > 95.0) & (high if at_altitude else ~high))

    return state


def _between(least: float, most: float, coldest: float, warmest: float) -> State:
    """Idle from one time after the start to another, in air of such a temperature."""

    def state(rows: Any, rig: Rig) -> Flags:
        late = (rows["run_seconds"] > least) & (rows["run_seconds"] < most)
        air = (rows["iat_true"] > coldest) & (rows["iat_true"] < warmest)
        return np.asarray(_idles(rows) & late & air & ~_warm(rows, rig))

    return state


#: In the order in which they are asked: the first that holds names the state.
CONDITIONS: dict[str, Condition] = {
    entry.id: entry
    for entry in (
        Condition(
            "koeo",
            "Key on, engine off",
            meaning="after an overnight soak at ambient temperature",
            running=False,
            closed_loop=False,
            steady=True,
            state=lambda rows, rig: np.asarray(_stands(rows) & (np.abs(rows["ect_true"] - rows["iat_true"]) < 6.0)),
            after=1.0,
        ),
        Condition(
            "crank",
            "Crank",
            meaning="starter turning, before the first firing",
            running=False,
            closed_loop=False,
            steady=True,
            state=lambda rows, rig: np.asarray(
                (rows["running"] < 0.5) & (rows["rpm_true"] > 60.0) & (rows["powered"] > 0.5)
            ),
            after=0.1,
            cold=True,
        ),
        Condition(
            "deep_cold_idle",
            "Idle in deep frost",
            meaning="5 to 30 s after a start at −18 °C",
            running=True,
            closed_loop=False,
            steady=False,
            state=_between(5, 30, -40, -8),
            cold=True,
        ),
        Condition(
            "cold_idle",
            "Cold idle",
            meaning="10 to 25 s after the start from the overnight soak",
            running=True,
            closed_loop=False,
            steady=True,
            state=_between(10, 26, -8, 50),
            cold=True,
        ),
        Condition(
            "hot_soak_restart",
            "Restart after hot soak",
            meaning="after a hard drive 20 min standing with the engine off, bonnet shut, then the first 30 s of idle",
            running=True,
            closed_loop=False,
            steady=False,
            state=lambda rows, rig: np.asarray(
                _idles(rows) & (rows["since_hot_restart"] > 1.0) & (rows["since_hot_restart"] < 31.0)
            ),
        ),
        Condition(
            "warm_up",
            "Warm-up",
            meaning="from 25 s after the start until the coolant is 5 K below its regulated temperature",
            running=True,
            closed_loop=False,
            steady=False,
            state=lambda rows, rig: np.asarray(
                (rows["running"] > 0.5) & (rows["run_seconds"] > 26.0) & ~_warm(rows, rig)
            ),
            speed_held=True,
            way_minutes=7.0,
            cold=True,
        ),
        Condition(
            "long_idle",
            "Long idle",
            meaning="hot, after a quarter of an hour of idling, bonnet shut",
            running=True,
            closed_loop=True,
            steady=True,
            state=lambda rows, rig: np.asarray(_idles(rows) & _warm(rows, rig)),
            after=900.0,
        ),
        Condition(
            "hot_idle",
            "Hot idle",
            meaning="regulated coolant temperature, consumers off, neutral, adaptation settled",
            running=True,
            closed_loop=True,
            steady=True,
            state=lambda rows, rig: np.asarray(_idles(rows) & _warm(rows, rig) & _as_in_life(rows)),
            after=5.0,
        ),
        Condition(
            "no_load_2500",
            "2500 rpm, no load",
            meaning="held in neutral, hot, adaptation settled",
            running=True,
            closed_loop=True,
            steady=True,
            state=_held(2500.0),
            after=3.0,
            speed_held=True,
        ),
        Condition(
            "no_load_1500",
            "1500 rpm, no load",
            meaning="held in neutral, hot, adaptation settled",
            running=True,
            closed_loop=True,
            steady=True,
            state=_held(1500.0),
            after=3.0,
            speed_held=True,
        ),
        Condition(
            "snap_throttle",
            "Snap throttle",
            meaning="from idle to full within 0.2 s, released at 80 % of rated speed",
            running=True,
            closed_loop=False,
            steady=False,
            state=lambda rows, rig: np.asarray(
                (rows["running"] > 0.5) & (rows["in_gear"] < 0.5) & (rows["pedal_true"] > 60.0)
            ),
        ),
        Condition(
            "cruise_80",
            "Cruise at 80 km/h",
            meaning="level, steady, fourth gear, same brake torque for every engine",
            running=True,
            closed_loop=True,
            steady=True,
            state=_cruises,
            after=5.0,
            speed_held=True,
            way_minutes=12.0,
        ),
        Condition(
            "decel_fuel_cut",
            "Overrun with fuel cut",
            meaning="in gear, throttle closed, from 1 s after the cut",
            running=True,
            closed_loop=False,
            steady=True,
            state=lambda rows, rig: np.asarray(
                (rows["in_gear"] > 0.5) & (rows["fuel_cut"] > 0.5) & (rows["pedal_true"] < 2.0)
            ),
            after=1.0,
            speed_held=True,
            way_minutes=12.0,
        ),
        Condition(
            "full_load_altitude",
            "Full-load pull at altitude",
            meaning="the full-load pull at about 1500 m: 84.5 kPa, 10 °C, key switched on there",
            running=True,
            closed_loop=False,
            steady=False,
            state=_pulls(at_altitude=True),
            after=1.0,
            speed_held=True,
        ),
        Condition(
            "wot_pull",
            "Full-load pull",
            meaning="second gear, full pedal from 1500 rpm to near rated speed, then lift",
            running=True,
            closed_loop=False,
            steady=False,
            state=_pulls(at_altitude=False),
            after=1.0,
            speed_held=True,
            way_minutes=12.0,
        ),
        Condition(
            "load_step",
            "Load step",
            meaning="at cruising speed from light load to 60 % of the rated torque, the first 5 s",
            running=True,
            closed_loop=True,
            steady=False,
            speed_held=True,
        ),
        Condition(
            "shift_pull",
            "Pull through a shift",
            meaning="second gear to 90 % of rated speed, lift, third gear; read before the lift",
            running=True,
            closed_loop=False,
            steady=False,
            speed_held=True,
        ),
    )
}


def condition(name: str) -> Condition:
    """A condition by its id, or UnknownName with the known ones."""
    try:
        return CONDITIONS[name]
    except KeyError:
        raise UnknownName("condition", name, CONDITIONS) from None
