"""The verdict by likelihoods: how well a sound engine explains a reading, and how well the faults do that would move
it.

``d'`` is how far, in spreads, the typical fault that moves this reading lies from sound: below about 1.5 the reading
cannot decide, whatever it shows, and the answer says which reading would.
"""

import math
from dataclasses import dataclass

import numpy as np

from leitfaden_core.channels import channel
from leitfaden_core.diagnose.procedures import DiagnosticTest, tests_of
from leitfaden_core.diagnose.table import Table
from leitfaden_core.errors import UnknownName
from leitfaden_core.expect import band_of
from leitfaden_core.judge.verdict import SchoolRules, Verdict, VerdictKind, judge_reading
from leitfaden_core.quantities import shown
from leitfaden_core.rigs import Rig, shown_quantity
from leitfaden_core.words import say

#: Likelihood ratios of sound over faulty: above the first good, below the second faulty, between suspect.
GOOD_ABOVE, FAULTY_BELOW = 1.0, 0.02
#: A fault counts as one that moves this value when it lies so many deviations of sound engines away; d' below which
#: nothing can be decided.
MOVES, DECIDES = 2.0, 1.5

#: What must hold for a reading to mean something, in the words for when it does not. Warm all readings ask for; which
#: ask for the others stands at the channel.
PRECONDITIONS = {
    "warm": "the engine is not fully warm",
    "loads_off": "air conditioning or lights load the engine",
    "closed_loop": "the mixture is not controlled by the oxygen sensor (open loop)",
    "sensor_awake": "the oxygen sensor is still cold",
    "soaked": "the vehicle has not stood long enough",
}


@dataclass(frozen=True)
class Weighed:
    """A verdict with the numbers behind it."""

    verdict: Verdict
    ratio: float | None  # likelihood under sound engines over that under faults
    d_prime: float | None
    decided_by: str  # which reading would decide, where this one does not


def weigh_reading(
    table: Table,
    condition: str,
    channel_id: str,
    value: float,
    stat: str = "mean",
    error: float | None = None,
    missing: tuple[str, ...] = (),
    rules: SchoolRules | None = None,
) -> Weighed:
    """Verdict on a reading by likelihoods.

    Parameters
    ----------
    value : float
        In the channel's kept unit.
    error : float, optional
        Standard deviation of the instrument, in the same unit; left out: that of a display with the channel's step.
    missing : tuple of str
        Preconditions that do not hold (see ``PRECONDITIONS``).
    """
    for name in missing:
        if name not in PRECONDITIONS:
            raise UnknownName("precondition", name, PRECONDITIONS)
        if name == "warm" or name in channel(channel_id).asks:
            verdict = Verdict(
                VerdictKind.NOT_DECIDABLE,
                say("Not decidable here: {preconditions}.", preconditions=PRECONDITIONS[name]),
            )
            return Weighed(verdict, None, None, _elsewhere(table, condition, channel_id))
    plain = judge_reading(table.rig, condition, channel_id, value, stat, rules)
    band = band_of(table.rig, condition, channel_id, stat)
    if plain.kind is VerdictKind.NOT_DECIDABLE or band is None:
        return Weighed(plain, None, None, _elsewhere(table, condition, channel_id))
    width = math.hypot(band.deviation, channel(channel_id).step / 3.5 if error is None else error)
    found = _column(table, condition, channel_id, stat)
    if found is None or channel(channel_id).is_trim:
        # Trims are judged by the school's rule; of other readings that no test takes, nothing is known about faults.
        return Weighed(plain, None, None, "")
    z = (value - band.mean) / width
    sound = _student(z) / width
    column, weights = found
    moved = np.abs(column - band.mean) / band.deviation > MOVES
    if not moved.any():
        return Weighed(plain, None, None, "")
    slack = np.maximum(width, 0.2 * np.abs(column - band.mean))
    faulty = float(
        (weights[moved] * _student((value - column[moved]) / slack[moved]) / slack[moved]).sum() / weights[moved].sum()
    )
    ratio = float(sound) / max(faulty, 1e-30)
    d_prime = float(np.average(np.abs(column[moved] - band.mean) / width, weights=weights[moved]))
    verdict = _verdict(table.rig, condition, channel_id, value, plain, ratio, d_prime, error)
    return Weighed(
        verdict,
        ratio,
        d_prime,
        _elsewhere(table, condition, channel_id) if verdict.kind is VerdictKind.NOT_DECIDABLE else "",
    )


def _student(
    z: "np.ndarray[tuple[int, ...], np.dtype[np.float64]] | float",
) -> "np.ndarray[tuple[int, ...], np.dtype[np.float64]]":
    return np.asarray((1.0 + np.square(z) / 4.0) ** -2.5)


def _verdict(
    rig: Rig,
    condition: str,
    channel_id: str,
    value: float,
    plain: Verdict,
    ratio: float,
    d_prime: float,
    error: float | None,
) -> Verdict:
    entry = channel(channel_id)
    here = shown(value, shown_quantity(rig, channel_id), entry.step)
    times = (
        say("{ratio:.3g} times better", ratio=ratio)
        if ratio >= 1.0
        else say("{value:.3g} times worse", value=1.0 / ratio)
    )
    numbers = say(
        "A sound engine explains {here} {times} than the faults that move this reading (d' {d_prime:.1f}).",
        here=here,
        times=times,
        d_prime=d_prime,
    )
    if d_prime < DECIDES and plain.kind is VerdictKind.GOOD:
        why = "with this instrument" if error is not None and error > entry.step else "from this reading"
        return Verdict(
            VerdictKind.NOT_DECIDABLE,
            say(
                "Not decidable {why}: faults that matter move it by less than it spreads. {numbers}",
                why=why,
                numbers=numbers,
            ),
            plain.band,
            plain.distance,
        )
    if ratio >= GOOD_ABOVE:
        kind = VerdictKind.GOOD if plain.kind is VerdictKind.GOOD else VerdictKind.SUSPECT
    elif ratio < FAULTY_BELOW or plain.kind is VerdictKind.FAULTY:
        kind = VerdictKind.FAULTY
    else:
        kind = VerdictKind.SUSPECT
    return Verdict(kind, say("{reason} {numbers}", reason=plain.reason, numbers=numbers), plain.band, plain.distance)


def _column(
    table: Table, condition: str, channel_id: str, stat: str
) -> tuple[np.ndarray[tuple[int, ...], np.dtype[np.float64]], np.ndarray[tuple[int, ...], np.dtype[np.float64]]] | None:
    """What every faulty point of the table shows of a reading, with the points' prior weights."""
    for test in tests_of(table.rig):
        if test.instrument == "scan_tool" and test.condition == condition:
            wanted = channel(channel_id).label if stat == "mean" else f"{channel(channel_id).label} {stat}"
            for k, outcome in enumerate(test.outcomes):
                if outcome.label == wanted:
                    priors = np.array([c.prior for c in table.candidates])[table.owner] * table.weight
                    values = table.points[:, table.slices[test.id].start + k]
                    use = (table.owner > 0) & ~np.isnan(values)
                    return values[use], priors[use]
    return None


def _elsewhere(table: Table, condition: str, channel_id: str) -> str:
    """The cheapest other test that sees the same thing better."""
    label = channel(channel_id).label
    best: tuple[float, DiagnosticTest] | None = None
    for test in tests_of(table.rig):
        same = any(outcome.label.startswith(label) for outcome in test.outcomes) or channel_id.split("_")[0] in test.id
        if not same or (test.condition == condition and test.instrument == "scan_tool"):
            continue
        part = table.slices[test.id]
        apart = (
            np.abs(np.nan_to_num(table.points[table.owner > 0][:, part] - table.points[0, part])) / table.spread[part]
        )
        worth = float(np.mean(apart.max(axis=1) > 3.0)) / max(test.minutes, 1.0)
        if best is None or worth > best[0]:
            best = (worth, test)
    return best[1].label if best is not None and best[0] > 0.0 else ""
