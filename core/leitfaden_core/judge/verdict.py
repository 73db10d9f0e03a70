"""The verdict on one reading: good, suspect, faulty, or not decidable here.

A reading is compared with what healthy engines show in that condition. Inside the band it is good; outside it is
suspect as long as a rare healthy engine could still show it, and faulty beyond. Where the channel has no meaning in the
condition, the only right answer is that this reading decides nothing, with the precondition that is missing.

The limit between suspect and faulty is where a normal healthy population would give less than one reading in ten
thousand (z = 3.9); the tail of a population of 120 cannot be counted, so it is taken from its standard deviation.
"""

from dataclasses import dataclass
from enum import StrEnum

from leitfaden_core.channels import channel
from leitfaden_core.expect import Band, band_of
from leitfaden_core.quantities import UnitSystem, shown, shown_apart, shown_number
from leitfaden_core.rigs import Rig, shown_quantity
from leitfaden_core.scripts import condition as condition_of
from leitfaden_core.words import say

#: Standard deviations at which a healthy engine would be one in ten thousand.
RARE = 3.9


class VerdictKind(StrEnum):
    """The four answers."""

    GOOD = "good"
    SUSPECT = "suspect"
    FAULTY = "faulty"
    NOT_DECIDABLE = "not_decidable"


@dataclass(frozen=True)
class SchoolRules:
    """Limits on which schools differ; a school sets its own. Trims in percent."""

    trim_good: float = 5.0
    trim_investigate: float = 10.0


@dataclass(frozen=True)
class Verdict:
    """A verdict with the band it rests on and its reason in words and numbers."""

    kind: VerdictKind
    reason: str
    band: Band | None = None
    distance: float | None = None  # standard deviations from the healthy mean


def no_meaning(rig: Rig, condition_id: str, channel_id: str) -> str | None:
    """Why a channel of a rig decides nothing in a condition, or None when it does.

    >>> from leitfaden_core.rigs import load_rig
    >>> no_meaning(load_rig("R1"), "wot_pull", "stft") is None
    False
    """
    where, what = condition_of(condition_id), channel(channel_id)
    if condition_id == "no_load_1500" and rig.control.idle_target > 1500.0:
        return "this engine idles faster than that, so the condition does not occur"
    if condition_id == "decel_fuel_cut" and not rig.control.fuel_cut:
        return "this engine does not cut its fuel on overrun, so the condition does not occur"
    sensors = rig.oxygen_sensors
    if (
        condition_id == "long_idle"
        and sensors is not None
        and sensors.heater_rise == 0.0
        and (what.is_trim or what.swings == "switching")
    ):
        return "an unheated oxygen sensor falls asleep in a long idle: the pin drifts to the control unit's own bias and the trim stands still"
    if what.is_trim and not where.closed_loop:
        return say(
            "the control unit does not correct by the oxygen sensor in this condition ({label}: open loop), so the trim shows memory, not mixture",
            label=where.label.lower(),
        )
    if what.swings == "switching" and not where.running:
        return "the oxygen sensor is still cold: the pin shows the control unit's own bias, whatever the sensor is like"
    if "running" in what.asks and not where.running:
        return "the engine does not run by itself, so this value has nothing to describe"
    if what.imposed and where.speed_held:
        return "driver or roller bench holds the engine speed here, so it says nothing about the engine"
    if condition_id == "warm_up" and not what.slow:
        return "the engine is warming up, so one number cannot stand for the whole stretch"
    return None


def judge_reading(
    rig: Rig,
    condition_id: str,
    channel_id: str,
    value: float,
    stat: str = "mean",
    rules: SchoolRules | None = None,
    units: UnitSystem = UnitSystem.METRIC,
    substitute: bool = False,
) -> Verdict:
    """Verdict on a reading.

    Parameters
    ----------
    value : float
        In the unit in which the channel is kept (see channels).
    stat : str
        What the value is: mean, min, max or freq over the condition.
    rules : SchoolRules, optional
        The school's own limits.
    units : UnitSystem
        Units in which the reason is worded; the value itself stays in the kept unit.
    substitute : bool
        The control unit marks the value as one of its own making, since it has lost the sensor.

    Returns
    -------
    Verdict

    Raises
    ------
    UnknownName
        For an unknown condition or channel.
    """
    rules = rules or SchoolRules()
    missing = no_meaning(rig, condition_id, channel_id)
    if missing is not None:
        return Verdict(VerdictKind.NOT_DECIDABLE, say("Not decidable here: {missing}.", missing=missing))
    band = band_of(rig, condition_id, channel_id, stat)
    if band is None:
        return Verdict(
            VerdictKind.NOT_DECIDABLE,
            "Not decidable here: healthy engines have no defined value of this in this condition.",
        )
    if substitute:
        return Verdict(
            VerdictKind.NOT_DECIDABLE,
            "Not decidable here: the control unit has lost this sensor and shows a value of its own making; look at the pin and the codes.",
            band,
        )
    if value != value:
        return Verdict(
            VerdictKind.NOT_DECIDABLE,
            "Not decidable here: there is no value, where healthy engines have one; nothing was measured, so look at the pin and the codes.",
            band,
        )
    if channel(channel_id).is_trim and stat == "mean":
        return _judge_trim(rig, value, band, rules)
    quantity, step = reading_scale(rig, channel_id, stat)
    here = shown(value, quantity, step, units)
    low, high = shown_number(band.low, quantity, step, units), shown(band.high, quantity, step, units)
    distance = (value - band.mean) / band.deviation
    where = condition_of(condition_id).label.lower()
    if band.low <= value <= band.high:
        return Verdict(
            VerdictKind.GOOD,
            say(
                "{here} lies within {low} to {high}, where healthy engines are at {where}.",
                here=here,
                low=low,
                high=high,
                where=where,
            ),
            band,
            distance,
        )
    here, limit = shown_apart(value, band.low if value < band.low else band.high, quantity, step, units)
    beyond = say("below {limit}", limit=limit) if value < band.low else say("above {limit}", limit=limit)
    if abs(distance) <= RARE:
        reason = say(
            "{here} lies {beyond}; few healthy engines show that at {where}, but some do: check a second reading before deciding.",
            here=here,
            beyond=beyond,
            where=where,
        )
        return Verdict(VerdictKind.SUSPECT, reason, band, distance)
    reason = say(
        "{here} lies {beyond}, further than a healthy engine goes at {where}; what causes it is not said yet.",
        here=here,
        beyond=beyond,
        where=where,
    )
    return Verdict(VerdictKind.FAULTY, reason, band, distance)


def reading_scale(rig: Rig, channel_id: str, stat: str) -> tuple[str, float]:
    """Quantity and display step of a statistic of a channel: swings are counted in hertz, all others are shown as the
    rig's tool does.
    """
    entry = channel(channel_id)
    return ("frequency", 0.01) if stat == "freq" else (shown_quantity(rig, channel_id), entry.step)


def _judge_trim(rig: Rig, value: float, band: Band, rules: SchoolRules) -> Verdict:
    """Trims are judged by the school's rule, since their limits are convention: printed with the verdict."""
    distance = (value - band.mean) / band.deviation
    rule = say(
        "school rule: good within ±{trim_good:g} %, investigate beyond ±{trim_investigate:g} %",
        trim_good=rules.trim_good,
        trim_investigate=rules.trim_investigate,
    )
    here = shown(value, "trim", channel("total_trim").step)
    if rig.trim_scale == "count":
        here = f"{shown(value, 'trim_count', channel('total_trim').step)} ({here})"
    if abs(value) <= rules.trim_good:
        return Verdict(
            VerdictKind.GOOD,
            say("{here} needs no correction worth a search ({rule}).", here=here, rule=rule),
            band,
            distance,
        )
    meaning = (
        "the control unit adds fuel, it has sensed lean"
        if value > 0
        else "the control unit takes fuel away, it has sensed rich"
    )
    kind = VerdictKind.SUSPECT if abs(value) <= rules.trim_investigate else VerdictKind.FAULTY
    return Verdict(kind, say("{here}: {meaning} ({rule}).", here=here, meaning=meaning, rule=rule), band, distance)
