"""The verdict on a reading: good, suspect, faulty, or not decidable here.

A reading is compared with what healthy engines show in that condition. Inside the band it is good; outside it is
suspect, and faulty when a healthy engine explains it fifty times worse than a fault would (see :mod:`evidence`). Where
the channel has no meaning in the condition, the only right answer is that this reading decides nothing, with the
precondition that is missing.

Of forty readings of a sound engine two lie outside a band that holds 95 in 100: readings of one list are judged
together (:func:`judge_together`), and what does not stand out of the list is said to lie outside, without alarm.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import cached_property

from pydantic import BaseModel, ConfigDict

from leitfaden_core.channels import channel
from leitfaden_core.expect import Band, Weather, band_of
from leitfaden_core.judge.evidence import FAULTY_BELOW, alarms, chance_of, ratio_alone
from leitfaden_core.quantities import UnitSystem, shown, shown_apart, shown_difference, shown_number
from leitfaden_core.rigs import Rig, shown_quantity
from leitfaden_core.scripts import condition as condition_of
from leitfaden_core.words import inside, say


class VerdictKind(StrEnum):
    """The four answers; of a reading in a list also that it lies outside its band, and that this is no alarm."""

    GOOD = "good"
    SUSPECT = "suspect"
    FAULTY = "faulty"
    NOT_DECIDABLE = "not_decidable"
    OUTSIDE = "outside"


#: What a person answers to a single reading.
ANSWERS = (VerdictKind.GOOD, VerdictKind.SUSPECT, VerdictKind.FAULTY, VerdictKind.NOT_DECIDABLE)
#: What asks for a search.
ALARMS = frozenset({VerdictKind.SUSPECT, VerdictKind.FAULTY})


class ServiceBand(BaseModel):
    """What a school itself knows of the mean of a channel in a condition of one of its engines, in the unit in which
    the channel is kept, and where that is from.
    """

    model_config = ConfigDict(extra="forbid", frozen=True)

    rig: str
    condition: str
    channel: str
    low: float
    high: float
    source: str


@dataclass(frozen=True)
class SchoolRules:
    """Limits on which schools differ; a school sets its own. Trims in percent, the display's end in lambda; ``own`` are
    its service values, which go before what the model says of healthy engines.
    """

    trim_good: float = 5.0
    trim_investigate: float = 10.0
    wideband_end: float = 1.99  # lambda at which the school's display of a wideband sensor ends
    own: tuple[ServiceBand, ...] = ()

    def own_of(self, rig: str, condition: str, channel: str) -> ServiceBand | None:
        """The school's own value of a place, if it has one."""
        place = (rig, condition, channel)
        return next((own for own in self.own if (own.rig, own.condition, own.channel) == place), None)


@dataclass(frozen=True)
class Verdict:
    """A verdict with the band it rests on and its reason in words and numbers, which may be worded when it is asked
    for: of the many statistics of a recording few are.
    """

    kind: VerdictKind
    because: str | Callable[[], str]
    band: Band | None = None
    distance: float | None = None  # standard deviations from the middle of healthy engines, by that side's width
    place: str = ""  # where an alarm's reading lies, without what follows from that

    @cached_property
    def reason(self) -> str:
        """Why, in words and numbers."""
        return self.because if isinstance(self.because, str) else self.because()


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
        return (
            "an unheated oxygen sensor falls asleep in a long idle: the pin drifts to the control unit's own "
            "bias and the trim stands still"
        )
    if what.is_trim and not where.closed_loop:
        return say(
            (
                "the control unit does not correct by the oxygen sensor in this condition ({label}: open loop), "
                "so the trim shows memory, not mixture"
            ),
            label=inside(where.label),
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
    weather: Weather | None = None,
) -> Verdict:
    """Verdict on a reading by itself.

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
    weather : Weather, optional
        Where the vehicle stands, when not at the school.

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
            (
                "Not decidable here: the control unit has lost this sensor and shows a value of its own making; "
                "look at the pin and the codes."
            ),
            band,
        )
    if value != value:
        return Verdict(
            VerdictKind.NOT_DECIDABLE,
            (
                "Not decidable here: there is no value, where healthy engines have one; nothing was measured, so "
                "look at the pin and the codes."
            ),
            band,
        )
    if _clipped(rig, channel_id, value, band, rules):
        reason = say(
            (
                "Not decidable here: lambda stands at the end of the display ({end:g}, school rule), and what "
                "lies beyond is not shown."
            ),
            end=rules.wideband_end,
        )
        return Verdict(VerdictKind.NOT_DECIDABLE, reason, band)
    own = rules.own_of(rig.id, condition_id, channel_id) if stat == "mean" else None
    if own is not None:
        return _judge_own(rig, own, value, band, units)
    if channel(channel_id).is_trim and stat == "mean":
        return _judge_trim(rig, value, band, rules)
    band = band if weather is None else band.around(weather)
    distance = band.away(value)
    quantity, step = reading_scale(rig, channel_id, stat)
    if band.holds(value, step if stat in {"mean", "min", "max"} else 0.0):
        because = _Within(value, band.low, band.high, quantity, step, units, condition_of(condition_id).label)
        return Verdict(VerdictKind.GOOD, because, band, distance)
    here, beyond = _beyond(rig, channel_id, stat, value, band, units)
    where = inside(condition_of(condition_id).label)
    place = say("{here} lies {beyond} at {where}.", here=here, beyond=beyond, where=where)
    ratio = ratio_alone(distance)
    if ratio > FAULTY_BELOW:
        reason = say(
            (
                "{here} lies {beyond}; few healthy engines show that at {where}, but some do: check a second "
                "reading before deciding."
            ),
            here=here,
            beyond=beyond,
            where=where,
        )
        return Verdict(VerdictKind.SUSPECT, reason, band, distance, place)
    reason = say(
        (
            "{here} lies {beyond}: at {where} a healthy engine explains that {times} times worse than a fault "
            "would; what causes it is not said yet."
        ),
        here=here,
        beyond=beyond,
        where=where,
        times=how_often(1.0 / max(ratio, 1e-9)),
    )
    return Verdict(VerdictKind.FAULTY, reason, band, distance, place)


@dataclass(frozen=True)
class _Within:
    """Why a value is good, once somebody asks."""

    value: float
    low: float
    high: float
    quantity: str
    step: float
    units: UnitSystem
    where: str

    def __call__(self) -> str:
        return say(
            "{here} lies within {low} to {high}, where healthy engines are at {where}.",
            here=shown(self.value, self.quantity, self.step, self.units),
            low=shown_number(self.low, self.quantity, self.step, self.units),
            high=shown(self.high, self.quantity, self.step, self.units),
            where=inside(self.where),
        )


def _clipped(rig: Rig, channel_id: str, value: float, band: Band, rules: SchoolRules) -> bool:
    """Whether a wideband's lambda stands at the end of its display where healthy engines do not: on a diesel the
    display is another one, and at the end of it is where lambda is in overrun.
    """
    shows = channel(channel_id).measurand == "wideband" and channel(channel_id).quantity == "lambda"
    return shows and "petrol" in rig.features and value >= rules.wideband_end and band.high < rules.wideband_end


def how_often(factor: float) -> str:
    """How many times likelier, in two digits, as people write them; no line breaks within a number.

    >>> how_often(2.84), how_often(6721.0), how_often(5e6)
    ('2.8', '6\\xa0700', 'more than 10\\xa0000')
    """
    if factor > 1e4:
        return say("more than {most}", most="10\u00a0000")
    rounded_off = float(f"{factor:.2g}")
    return f"{rounded_off:g}" if rounded_off < 1000.0 else f"{rounded_off:,.0f}".replace(",", "\u00a0")


def _beyond(rig: Rig, channel_id: str, stat: str, value: float, band: Band, units: UnitSystem) -> tuple[str, str]:
    """A value outside its band, and the limit beyond which it lies, in words."""
    quantity, step = reading_scale(rig, channel_id, stat)
    edge = band.low if value < band.low else band.high
    if stat == "std":
        here, limit = (shown_difference(number, quantity, units) for number in (value, edge))
    else:
        here, limit = shown_apart(value, edge, quantity, step, units)
    return here, say("below {limit}", limit=limit) if value < band.low else say("above {limit}", limit=limit)


@dataclass(frozen=True)
class Reading:
    """One value of a list: where it was read, what it is, and whether the control unit made it up."""

    condition: str
    channel: str
    value: float
    stat: str = "mean"
    substitute: bool = False


def judge_together(
    rig: Rig,
    readings: list[Reading],
    rules: SchoolRules | None = None,
    units: UnitSystem = UnitSystem.METRIC,
    weather: Weather | None = None,
) -> list[Verdict]:
    """Verdicts on readings that are looked at together: an alarm is what stands out of the list.

    Fuel trims are judged by the school's rule, each by itself.
    """
    alone = [
        judge_reading(rig, r.condition, r.channel, r.value, r.stat, rules, units, r.substitute, weather)
        for r in readings
    ]
    tested = [
        k
        for k, (reading, verdict) in enumerate(zip(readings, alone, strict=True))
        if verdict.distance is not None and not (channel(reading.channel).is_trim and reading.stat == "mean")
    ]
    standing_out = alarms([chance_of(alone[k].distance or 0.0) for k in tested])
    found = list(alone)
    for k, stands_out in zip(tested, standing_out, strict=True):
        if alone[k].kind in ALARMS and not stands_out:
            reading, band = readings[k], alone[k].band
            assert band is not None
            here, beyond = _beyond(rig, reading.channel, reading.stat, reading.value, band, units)
            reason = say(
                (
                    "{here} lies {beyond}, outside the band of 95 in 100; of {count} readings some may, and this "
                    "one is not far enough out for an alarm."
                ),
                here=here,
                beyond=beyond,
                count=len(tested),
            )
            found[k] = replace(alone[k], kind=VerdictKind.OUTSIDE, because=reason)
    return found


def reading_scale(rig: Rig, channel_id: str, stat: str) -> tuple[str, float]:
    """Quantity and display step of a statistic of a channel: swings are counted in hertz, edges in seconds, all others
    are shown as the rig's tool does.
    """
    entry = channel(channel_id)
    counted = {"freq": ("frequency", 0.01), "edge": ("time_s", 0.001), "ratio": ("ratio", 0.01)}
    return counted.get(stat) or (shown_quantity(rig, channel_id), entry.step / (10.0 if stat == "std" else 1.0))


def _judge_own(rig: Rig, own: ServiceBand, value: float, band: Band, units: UnitSystem) -> Verdict:
    """By a service value of the school: a limit, not a spread, so that there is nothing between good and faulty."""
    quantity, step = reading_scale(rig, own.channel, "mean")
    low, high = shown_number(own.low, quantity, step, units), shown(own.high, quantity, step, units)
    model_low, model_high = shown_number(band.low, quantity, step, units), shown(band.high, quantity, step, units)
    good = own.low - step / 2.0 <= value <= own.high + step / 2.0
    words = {
        "here": shown(value, quantity, step, units),
        "low": low,
        "high": high,
        "where": inside(condition_of(own.condition).label),
        "source": own.source,
        "model_low": model_low,
        "model_high": model_high,
    }
    if good:
        reason = say(
            (
                "{here} lies within {low} to {high}, your school's own service value at {where} (source: "
                "{source}). Healthy engines of the model show {model_low} to {model_high}."
            ),
            **words,
        )
    else:
        reason = say(
            (
                "{here} lies outside {low} to {high}, your school's own service value at {where} (source: "
                "{source}). Healthy engines of the model show {model_low} to {model_high}."
            ),
            **words,
        )
    kind = VerdictKind.GOOD if good else VerdictKind.FAULTY
    return Verdict(kind, reason, replace(band, low=own.low, high=own.high))


def _judge_trim(rig: Rig, value: float, band: Band, rules: SchoolRules) -> Verdict:
    """Trims are judged by the school's rule, since their limits are convention: printed with the verdict."""
    distance = band.away(value)
    rule = say(
        "school rule: good within ±{trim_good:g} %, investigate beyond ±{trim_investigate:g} %",
        trim_good=rules.trim_good,
        trim_investigate=rules.trim_investigate,
    )
    here = shown(value, "trim", channel("total_trim").step)
    if rig.trim_scale == "count":
        here = f"{shown(value, 'trim_count', channel('total_trim').step)} ({here})"
    kind = (
        VerdictKind.GOOD
        if abs(value) <= rules.trim_good
        else VerdictKind.SUSPECT
        if abs(value) <= rules.trim_investigate
        else VerdictKind.FAULTY
    )
    if (kind is VerdictKind.GOOD) != (band.low <= value <= band.high):
        # Two measures in one answer: which one counts, and why they differ.
        low, high = shown_number(band.low, "trim", 0.1), shown(band.high, "trim", 0.1)
        rule = say(
            "{rule}; healthy engines of this type show {low} to {high}, so the rule {asks} than their own spread",
            rule=rule,
            low=low,
            high=high,
            asks="asks for less" if kind is VerdictKind.GOOD else "is stricter",
        )
    if kind is VerdictKind.GOOD:
        reason = say("{here} needs no correction worth a search ({rule}).", here=here, rule=rule)
        return Verdict(kind, reason, band, distance)
    meaning = (
        "the control unit adds fuel, it has sensed lean"
        if value > 0
        else "the control unit takes fuel away, it has sensed rich"
    )
    return Verdict(kind, say("{here}: {meaning} ({rule}).", here=here, meaning=meaning, rule=rule), band, distance)
