"""Verdicts on whole stretches of signals: not only where they are in the mean, but what shape they have.

Of every channel in every condition the statistics that tell something of it are compared with those of healthy engines:
mean, lowest and highest value, spread, and of switching sensors swings and edges, of the sensor behind the catalyst how
much of the front sensor's swing is left. All are judged together (:func:`verdict.judge_together`), so that looking at
many does not raise alarms by itself; the worst of a stretch is its verdict. What no band can say is said by rule: a
signal that stands still, gaps, an edge or a reach beyond the school's limits.
"""

from dataclasses import dataclass

import numpy as np

from leitfaden_core.channels import Layer, channel, rounded
from leitfaden_core.expect import Band, band_of
from leitfaden_core.judge.traces import Finding, OxygenLimits, drop_outs, element_cold, narrowband_findings, not_awake
from leitfaden_core.judge.verdict import (
    ALARMS,
    Reading,
    SchoolRules,
    Verdict,
    VerdictKind,
    judge_together,
)
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.recordings import Recording, Stretch
from leitfaden_core.rigs import Rig
from leitfaden_core.scripts import condition as condition_of
from leitfaden_core.simulate.shape import statistics_of
from leitfaden_core.words import say

#: From the mildest to the gravest.
_GRAVITY = (
    VerdictKind.GOOD,
    VerdictKind.NOT_DECIDABLE,
    VerdictKind.OUTSIDE,
    VerdictKind.SUSPECT,
    VerdictKind.FAULTY,
)
#: What a statistic is called where it is the reason.
_CALLED = {
    "mean": "",
    "min": "Lowest value",
    "max": "Highest value",
    "std": "Spread",
    "freq": "Swings a second",
    "edge": "Edge between 300 and 600 mV",
    "ratio": "Swing over that of the sensor before the catalyst",
}
#: The school's limits on a narrowband's signal are for raised idle.
NARROWBAND_IN = "no_load_2500"
#: Share of its usual spread by which a signal's must differ to be seen. [-]
SEEN_SPREAD = 0.25
#: Displayed speed from which an engine turns by itself. [1/min]
RUNS_FROM = 400.0
#: A gap counts when it leaves the signal's neighbourhood by so much of the pin's range. [V]
GAP_VOLTS = 0.4


@dataclass(frozen=True)
class LaneVerdict:
    """The verdict on a channel in a condition, with the measure that decided it and all that were taken."""

    condition: str
    channel: str
    verdict: Verdict
    measure: str  # statistic that decided: mean, min, max, std, freq, edge, ratio; or the name of a finding
    value: float | None  # of that measure
    band: Band | None  # of the mean


def judge_lanes(
    recording: Recording,
    places: list[tuple[str, str]],
    rules: SchoolRules | None = None,
    limits: OxygenLimits | None = None,
    units: UnitSystem = UnitSystem.METRIC,
) -> list[LaneVerdict]:
    """Verdicts on channels in conditions of a recording, looked at together."""
    readings: list[Reading] = []
    owned: list[list[int]] = [[] for _place in places]
    for own, (condition, name) in zip(owned, places, strict=True):
        made_up = recording.substituted(condition, name)
        for stat in _measures(name):
            value = recording.statistic(condition, name, stat)
            if stat == "mean" or (
                value == value and not _too_small_to_see(recording.rig, condition, name, stat, value)
            ):
                own.append(len(readings))
                readings.append(Reading(condition, name, shown_value(name, stat, value), stat, made_up))
    verdicts = judge_together(recording.rig, readings, rules, units)
    found = []
    for own, (condition, name) in zip(owned, places, strict=True):
        mine = [(readings[n], verdicts[n]) for n in own]
        mean = mine[0][1]
        band = mean.band
        if mean.kind is VerdictKind.NOT_DECIDABLE and channel(name).is_trim:
            found.append(LaneVerdict(condition, name, mean, "mean", _number(mine[0][0].value), band))
            continue
        decided = [entry for entry in mine if entry[0].stat == "mean" or entry[1].band is not None]
        reading, worst = max(decided, key=lambda entry: (_GRAVITY.index(entry[1].kind), abs(entry[1].distance or 0.0)))
        if worst.kind not in ALARMS or _GRAVITY.index(mean.kind) >= _GRAVITY.index(worst.kind):
            reading, worst = mine[0]
        lane = LaneVerdict(condition, name, _named(reading.stat, worst), reading.stat, _number(reading.value), band)
        found.append(_by_rule(recording, lane, limits, units))
    return found


def _too_small_to_see(rig: Rig, condition: str, name: str, stat: str, value: float) -> bool:
    """Whether a spread differs from the usual one by less than a display's step, or than a quarter: nobody sees that,
    and where a value moves by command all engines do it alike.
    """
    if stat != "std":
        return False
    band = band_of(rig, condition, name, stat)
    return band is None or abs(value - band.median) < max(channel(name).step, SEEN_SPREAD * band.median)


def shown_value(name: str, stat: str, value: float) -> float:
    """A statistic as its display shows it; spreads, edges and ratios have none and stay as they are."""
    if value != value or stat not in {"mean", "min", "max", "freq"}:
        return value
    return rounded(value, 0.1 if stat == "freq" else channel(name).step)


def _number(value: float) -> float | None:
    return None if value != value else value


def _measures(name: str) -> tuple[str, ...]:
    """Statistics by which a channel is judged: a trim by the school's rule on its mean alone; the spread of what is
    true says nothing that its display does not.
    """
    if channel(name).is_trim:
        return ("mean",)
    if channel(name).layer is Layer.TRUTH:
        return ("mean", "min", "max")
    return statistics_of(name)


def _named(stat: str, verdict: Verdict) -> Verdict:
    """The verdict with its measure in front of the reason."""
    if not _CALLED[stat]:
        return verdict
    reason = say("{measure}: {reason}", measure=_CALLED[stat], reason=verdict.reason)
    return Verdict(verdict.kind, reason, verdict.band, verdict.distance)


def _by_rule(recording: Recording, lane: LaneVerdict, limits: OxygenLimits | None, units: UnitSystem) -> LaneVerdict:
    """What a rule says of the signal, where no band has raised an alarm."""
    asleep = _asleep(recording, lane.condition, lane.channel, limits or OxygenLimits(), units)
    if asleep:
        verdict = Verdict(VerdictKind.NOT_DECIDABLE, asleep)
        return LaneVerdict(lane.condition, lane.channel, verdict, "asleep", float("nan"), None)
    if lane.verdict.kind in ALARMS or recording.substituted(lane.condition, lane.channel):
        return lane
    for finding in _findings(recording, lane.condition, lane.channel, limits):
        if finding.kind in ALARMS:
            verdict = Verdict(finding.kind, finding.reason, lane.verdict.band, lane.verdict.distance)
            return LaneVerdict(lane.condition, lane.channel, verdict, finding.measure, finding.value, lane.band)
    return lane


def _findings(recording: Recording, condition: str, name: str, limits: OxygenLimits | None) -> list[Finding]:
    where, what = condition_of(condition), channel(name)
    narrowband = _a_narrowband_in_its_loop(recording.rig, condition, name)
    steady_pin = what.layer is Layer.PIN and what.quantity == "voltage" and not what.swings
    gaps = steady_pin and where.steady and where.running
    if not narrowband and not gaps:
        return []
    stretch = _last_stretch(recording, condition)
    if stretch is None:
        return []
    values, step = _within(recording, stretch, name)
    if not len(values) or np.isnan(values).any():
        return []
    found = narrowband_findings(values, step, limits) if narrowband else []
    return [*found, drop_outs(values, step, GAP_VOLTS)] if gaps else found


def _a_narrowband_in_its_loop(rig: Rig, condition: str, name: str) -> bool:
    in_loop = channel(name).swings == "switching" and not channel(name).behind_catalyst
    return in_loop and condition == NARROWBAND_IN and switches(rig)


def _told_by_a_wideband(rig: Rig, name: str) -> bool:
    entry = channel(name)
    return "wideband" in rig.features and entry.needs == "wideband" and "sensor_awake" in entry.asks


def _last_stretch(recording: Recording, condition: str) -> Stretch | None:
    return next((s for s in reversed(recording.stretches) if s.condition == condition), None)


def _asleep(recording: Recording, condition: str, name: str, limits: OxygenLimits, units: UnitSystem) -> str | None:
    """Why the school does not judge an oxygen sensor's signal in that stretch yet; by what displays show."""
    stretch = _last_stretch(recording, condition)
    narrowband = _a_narrowband_in_its_loop(recording.rig, condition, name)
    if stretch is None or not (narrowband or _told_by_a_wideband(recording.rig, name)):
        return None
    if "front_heater" in recording.rig.features and "element_temp" in recording.channels:
        element = _within(recording, stretch, "element_temp")[0]
        if np.isfinite(element).any():
            works = limits.works_c if narrowband else limits.wideband_works_c
            return element_cold(float(np.nanmean(element)), works, units)
    if not narrowband:
        return None
    coolant = since = None
    if "ect" in recording.channels:
        coolant = float(np.nanmean(_within(recording, stretch, "ect")[0]))
    turning = np.asarray(recording.column("rpm"), dtype=np.float64) > RUNS_FROM
    turning &= recording.time <= stretch.start
    stood = np.flatnonzero(~turning & (recording.time <= stretch.start))
    if len(stood):  # else it ran already when the recording began
        since = stretch.end - float(recording.time[stood[-1]])
    return not_awake(coolant, since, limits, units)


def switches(rig: Rig) -> bool:
    """Whether a rig's loop makes its front sensor swing: one that follows a target voltage does not."""
    return "switching_front" in rig.features


def _within(recording: Recording, stretch: Stretch, name: str) -> tuple[np.ndarray, float]:
    time = recording.time
    inside = (time > stretch.start) & (time <= stretch.end)
    values = np.asarray(recording.column(name)[inside], dtype=np.float64)
    return values, (stretch.end - stretch.start) / max(len(values), 1)
