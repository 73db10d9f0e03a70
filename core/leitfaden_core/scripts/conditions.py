"""The named conditions, in the words of the trade, and what must hold in each for a reading to mean something."""

from dataclasses import dataclass

from leitfaden_core.errors import UnknownName


@dataclass(frozen=True)
class Condition:
    """A state of the engine in which values are read.

    ``closed_loop`` tells whether the control unit corrects the mixture by the front oxygen sensor there; ``running`` whether the engine
    turns by itself; ``steady`` whether one number can stand for the window.
    """

    id: str
    label: str
    meaning: str
    running: bool
    closed_loop: bool
    steady: bool
    air_passes_sensor: bool = True


CONDITIONS: dict[str, Condition] = {
    entry.id: entry
    for entry in (
        Condition(
            "koeo", "Key on, engine off", "after an overnight soak at ambient temperature", False, False, True, air_passes_sensor=False
        ),
        Condition("crank", "Crank", "starter turning, before the first firing", False, False, True),
        Condition("cold_idle", "Cold idle", "10 to 25 s after the start from the overnight soak", True, False, True),
        Condition(
            "warm_up", "Warm-up", "from 25 s after the start until the coolant is 5 K below its regulated temperature", True, False, False
        ),
        Condition("hot_idle", "Hot idle", "regulated coolant temperature, consumers off, neutral, adaptation settled", True, True, True),
        Condition("no_load_2500", "2500 rpm, no load", "held in neutral, hot, adaptation settled", True, True, True),
        Condition("snap_throttle", "Snap throttle", "from idle to full within 0.2 s, released at 80 % of rated speed", True, False, False),
        Condition("cruise_80", "Cruise at 80 km/h", "level, steady, fourth gear, same brake torque for every engine", True, True, True),
        Condition("decel_fuel_cut", "Overrun with fuel cut", "in gear, throttle closed, from 1 s after the cut", True, False, True),
        Condition(
            "hot_soak_restart",
            "Restart after hot soak",
            "after a hard drive 20 min standing with the engine off, bonnet shut, then the first 30 s of idle",
            True,
            False,
            False,
        ),
        Condition(
            "full_load_altitude",
            "Full-load pull at altitude",
            "the full-load pull at about 1500 m: 84.5 kPa, 10 °C, key switched on there",
            True,
            False,
            False,
        ),
        Condition("wot_pull", "Full-load pull", "second gear, full pedal from 1500 rpm to near rated speed, then lift", True, False, False),
        Condition("no_load_1500", "1500 rpm, no load", "held in neutral, hot, adaptation settled", True, True, True),
        Condition(
            "load_step", "Load step", "at cruising speed from light load to 60 % of the rated torque, the first 5 s", True, True, False
        ),
        Condition(
            "shift_pull",
            "Pull through a shift",
            "second gear to 90 % of rated speed, lift, third gear; read before the lift",
            True,
            False,
            False,
        ),
        Condition("long_idle", "Long idle", "hot, after a quarter of an hour of idling, bonnet shut", True, True, True),
        Condition("deep_cold_idle", "Idle in deep frost", "5 to 30 s after a start at −18 °C", True, False, False),
    )
}


def condition(name: str) -> Condition:
    """A condition by its id, or UnknownName with the known ones."""
    try:
        return CONDITIONS[name]
    except KeyError:
        raise UnknownName("condition", name, CONDITIONS) from None
