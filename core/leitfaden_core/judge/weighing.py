"""The verdict by likelihoods: how well a sound engine explains a reading, and how well the faults do that would move
it, each at its sizes.

``d'`` of a fault at a size is how far it moves this reading, in spreads (Green and Swets, Signal Detection Theory,
1966). How often such a fault would be seen here follows from the sound individuals of the table, moved so far
(:func:`evidence.seen_rate`): many readings do not spread as a normal distribution does. Where no fault of a usual size
can be told, the reading decides nothing, whatever it shows, and the answer says which reading would.
"""

import math
from dataclasses import dataclass
from typing import cast

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.channels import channel
from leitfaden_core.diagnose.procedures import DiagnosticTest, tests_of
from leitfaden_core.diagnose.table import Table
from leitfaden_core.errors import UnknownName
from leitfaden_core.expect import Band, Weather, band_of
from leitfaden_core.faults import FaultSpec, describe_fault
from leitfaden_core.judge.evidence import FAULTY_BELOW, GOOD_ABOVE, seen_rate
from leitfaden_core.judge.verdict import SchoolRules, Verdict, VerdictKind, how_often, judge_reading, reading_scale
from leitfaden_core.quantities import shown
from leitfaden_core.words import say

#: A fault counts as one that moves this value when it lies so many spreads of sound engines away.
MOVES = 1.0
#: d' from which on a fault can be told by this reading, and how often it must be seen there: where a display's step is
#: wide, it takes more than d'. [-]
TELLS, SEEN = 2.0, 0.5
#: Share of the faults that move a reading, by how common they are, that it must tell at their middle size if it is to
#: decide anything. [-]
DECIDES = 0.5
#: Alternatives that an answer names.
NAMED = 4
#: Spread of faulty engines around what a fault does to the rig itself, as a share of how far it moves the reading. [-]
FAULTS_SPREAD = 0.1

#: What must hold for a reading to mean something, in the words for when it does not. Warm all readings ask for; which
#: ask for the others stands at the channel.
PRECONDITIONS = {
    "warm": "the engine is not fully warm",
    "loads_off": "air conditioning or lights load the engine",
    "closed_loop": "the mixture is not controlled by the oxygen sensor (open loop)",
    "sensor_awake": "the oxygen sensor is still cold",
    "soaked": "the vehicle has not stood long enough",
}
#: Of a test's spread among sound engines, what a fault must move for the test to see it. [-]
SEEN_FROM = 3.0
Numbers = NDArray[np.float64]


@dataclass(frozen=True)
class Alternative:
    """A fault at the smallest of its simulated sizes that this reading can tell, or at its largest where it cannot."""

    candidate: str
    label: str  # with its size
    d_prime: float
    hit_rate: float | None  # chance that it lies outside the band here [-]; None where an actuator takes it up
    held_by: str  # that actuator (see taken_up_by)
    by_chance: bool  # whether it comes and goes: there in one course of chance and not in the next
    told: bool
    told_usually: bool  # at its middle size
    prior: float


@dataclass(frozen=True)
class Weighed:
    """A verdict with the numbers behind it."""

    verdict: Verdict
    ratio: float | None  # likelihood under sound engines over that under faults
    alternatives: tuple[Alternative, ...]  # faults that move this reading, the most common first
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
    weather: Weather | None = None,
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
    weather : Weather, optional
        Where the vehicle stands, when not at the school.
    """
    for name in missing:
        if name not in PRECONDITIONS:
            raise UnknownName("precondition", name, PRECONDITIONS)
        if name == "warm" or name in channel(channel_id).asks:
            reason = say("Not decidable here: {preconditions}.", preconditions=PRECONDITIONS[name])
            verdict = Verdict(VerdictKind.NOT_DECIDABLE, reason)
            return Weighed(verdict, None, (), _elsewhere(table, condition, channel_id))
    plain = judge_reading(table.rig, condition, channel_id, value, stat, rules, weather=weather)
    usual = band_of(table.rig, condition, channel_id, stat)
    if plain.kind is VerdictKind.NOT_DECIDABLE or usual is None:
        return Weighed(plain, None, (), _elsewhere(table, condition, channel_id))
    found = _column(table, condition, channel_id, stat)
    if found is None or channel(channel_id).is_trim:
        # Trims are judged by the school's rule; of other readings that no test takes, nothing is known about faults.
        return Weighed(plain, None, (), "")
    band = usual if weather is None else usual.around(weather)
    rows, weights = found
    # Faults move the reading from where it would be in this weather.
    moves = table.points[rows, column_of(table, condition, channel_id, stat)] - usual.mean
    beyond = _beyond_display(channel(channel_id).step, error)
    measured = _Measured(table, band, beyond, rows, moves)
    strong, width = measured.strong, measured.width
    if not strong.any():
        return Weighed(plain, None, (), "")
    alternatives = measured.alternatives(usual)
    sound = float(_student((value - band.mean) / width)) / width
    slack = np.hypot(width, FAULTS_SPREAD * np.abs(moves))[strong]
    each = _student((value - band.mean - moves[strong]) / slack) / slack
    faulty = float((weights[strong] * each).sum() / weights[strong].sum())
    ratio = sound / max(faulty, 1e-30)
    here = shown(value, *reading_scale(table.rig, channel_id, stat))
    verdict = _verdict(here, channel(channel_id).step, plain, ratio, alternatives, error)
    undecided = verdict.kind is VerdictKind.NOT_DECIDABLE
    return Weighed(verdict, ratio, alternatives, _elsewhere(table, condition, channel_id) if undecided else "")


def _beyond_display(step: float, error: float | None) -> float:
    """What an instrument adds to the band's own spread, in which the display's step is already. [unit of the
    channel]
    """
    return 0.0 if error is None else math.sqrt(max(error**2 - step**2 / 12.0, 0.0))


def _student(z: "Numbers | float") -> Numbers:
    """Student's density with four degrees of freedom, but for its constant."""
    return np.asarray((1.0 + np.square(z) / 4.0) ** -2.5)


@dataclass(frozen=True)
class _Measured:
    """A reading taken with an instrument, with what faults do to it."""

    table: Table
    band: Band  # where the vehicle stands
    beyond: float  # spread that the instrument adds
    rows: NDArray[np.int64]  # points of the table with a fault
    moves: Numbers  # how far each moves the reading

    @property
    def width(self) -> float:
        """How far readings of sound engines spread, the instrument's error in it."""
        return math.hypot(self.band.deviation, self.beyond)

    @property
    def strong(self) -> NDArray[np.bool_]:
        """Which points count as moving it: a matter of the engines. How well they are told, is one of the instrument
        too.
        """
        return np.asarray(np.abs(self.moves) / self.band.deviation > MOVES)

    def alternatives(self, usual: Band) -> tuple[Alternative, ...]:
        """Each fault that moves the reading, at the smallest size that can be told; the most common faults first.

        ``usual``: the band at the school, from where the moves count.
        """
        owner = self.table.owner[self.rows]
        found = [self._alternative(usual, int(number)) for number in np.unique(owner[self.strong])]
        return tuple(sorted((entry for entry in found if entry is not None), key=lambda entry: -entry.prior))

    def _alternative(self, usual: Band, number: int) -> Alternative | None:
        """A fault; what comes and goes by chance moves the reading in one course and not in the next: all count."""
        table, size_of, mine = self.table, self.table.first_course[self.rows], []
        for first in np.unique(size_of[self.strong & (table.owner[self.rows] == number)]):
            if table.sizes[first] is not None:
                of_size = self.moves[size_of == first]
                mine.append((float(np.median(np.abs(of_size))) / self.width, of_size, int(first)))
        if not mine:
            return None
        mine.sort(key=lambda entry: entry[0])
        for d_prime, of_size, point in [entry for entry in mine if entry[0] >= TELLS] or mine[-1:]:
            held_by, rate = self._seen(usual, d_prime, of_size, point)
            told = d_prime >= TELLS and (rate is None or rate >= SEEN)
            if told:
                break
        usually = told and float(np.median([entry[0] for entry in mine])) >= d_prime
        label, cause = describe_fault(cast(FaultSpec, table.sizes[point])), table.candidates[number]
        by_chance = len(of_size) > 1
        return Alternative(cause.id, label, d_prime, rate, held_by, by_chance, told, usually, cause.prior)

    def _seen(self, usual: Band, d_prime: float, of_size: Numbers, point: int) -> tuple[str, float | None]:
        """What takes the fault up, or how often it is seen here."""
        held_by = taken_up_by(self.table, usual.condition, usual.channel, point, d_prime)
        if held_by:
            return held_by, None
        step = channel(usual.channel).step
        return "", promised_rate(self.table, self.band, usual.mean + of_size, step, self.beyond)


def taken_up_by(table: Table, condition: str, channel_id: str, point: int, d_prime: float) -> str:
    """The actuator with which the control unit takes up what a fault does to a reading, so that the fault shows there
    and more than here; "" where there is none.

    How often such a fault is seen, nobody can tell from sound engines: with it they lie closer together as long as the
    actuator has room, and farther apart once it has none.

    Parameters
    ----------
    point : int
        Of the table, with the fault.
    d_prime : float
        How far it moves the reading. [spreads]
    """
    held_by = channel(channel_id).held_by
    if held_by is None or held_by[1] not in table.rig.features:
        return ""
    band, column = band_of(table.rig, condition, held_by[0]), column_of(table, condition, held_by[0], "mean")
    if band is None or column < 0:
        return ""
    moved = abs(float(table.points[point, column] - table.points[0, column])) / band.deviation
    return channel(held_by[0]).label if moved > max(MOVES, d_prime) else ""


def _verdict(
    here: str, step: float, plain: Verdict, ratio: float, alternatives: tuple[Alternative, ...], error: float | None
) -> Verdict:
    """The verdict by likelihoods on a reading, told as ``here``."""
    told = [a for a in alternatives if a.told]
    usually = sum(a.prior for a in alternatives if a.told_usually)
    if usually < DECIDES * sum(a.prior for a in alternatives) and plain.kind is VerdictKind.GOOD:
        why = "with this instrument" if error is not None and error > step else "from this reading"
        hidden = [a for a in alternatives if not a.told_usually][:NAMED]
        reason = say(
            (
                "Not decidable {why}: most faults that move it, at a usual size, move it by less than it "
                "spreads, such as {numbers}."
            ),
            why=why,
            numbers=_told_words(hidden),
        )
        return Verdict(VerdictKind.NOT_DECIDABLE, reason, plain.band, plain.distance)
    if ratio >= GOOD_ABOVE:
        kind = VerdictKind.GOOD if plain.kind is VerdictKind.GOOD else VerdictKind.SUSPECT
    elif ratio < FAULTY_BELOW and plain.kind is not VerdictKind.GOOD:
        kind = VerdictKind.FAULTY
    else:
        kind = VerdictKind.SUSPECT
    times = (
        say("{ratio} times better", ratio=how_often(ratio))
        if ratio >= 1.0
        else say("{value} times worse", value=how_often(1.0 / ratio))
    )
    weighed = say(
        "A sound engine explains {here} {times} than the faults that move this reading.",
        here=here,
        times=times,
    )
    seen = say("Told here: {list}.", list=_told_words(told[:NAMED])) if told else ""
    unseen = [a for a in alternatives if not a.told][: NAMED - 1]
    not_seen = say("Not told here: {list}.", list=_told_words(unseen)) if unseen and kind is VerdictKind.GOOD else ""
    reason = " ".join(part for part in (_placed(plain, kind), weighed, seen, not_seen) if part)
    return Verdict(kind, reason, plain.band, plain.distance)


def _placed(plain: Verdict, kind: VerdictKind) -> str:
    """Where the reading lies; when the weight of evidence says otherwise than its place in the band alone, that too."""
    place = plain.place or plain.reason
    if plain.kind is kind:
        return place
    return say("{place} The weight of evidence decides here, not the place in the band.", place=place)


def _told_words(alternatives: "tuple[Alternative, ...] | list[Alternative]") -> str:
    return "; ".join(map(_told_word, alternatives))


def _told_word(a: Alternative) -> str:
    if a.hit_rate is None:
        return say(
            "{label} (d' {d:.1f}; rather look at {actuator}, which takes it up)",
            label=a.label,
            d=a.d_prime,
            actuator=a.held_by,
        )
    if a.by_chance:
        # How far it moves the reading in the middle of its courses says little of one drive.
        return say("{label} (comes and goes; seen in {percent:.0f} of 100)", label=a.label, percent=100.0 * a.hit_rate)
    return say(
        "{label} (d' {d:.1f}, seen in {percent:.0f} of 100)", label=a.label, d=a.d_prime, percent=100.0 * a.hit_rate
    )


def promised_rate(table: Table, band: Band, values: "Numbers | float", step: float, error: float = 0.0) -> float:
    """How often a fault that makes the rig itself show a value is shown outside a band. [-]

    The sound individuals of the table are moved by what it moves the rig: their shape, with the middle and the spread
    of the band, which rest on more engines.

    Parameters
    ----------
    band : Band
        Of sound engines where the vehicle stands; the values are those of the school's day.
    values : float or array
        In the channel's kept unit; several where the fault comes and goes by chance, one in each course of it.
    step, error : float
        Of the display and of the instrument, see :func:`evidence.seen_rate`.
    """
    column = column_of(table, band.condition, band.channel, band.stat)
    odd = table.odd[1:, column]
    shape = (odd - odd.mean()) * (band.deviation / max(float(np.std(odd)), 1e-12))
    moves = np.atleast_1d(values) - table.points[0, column]
    return float(np.mean([seen_rate(band, band.mean + move + shape, step, error) for move in moves]))


def column_of(table: Table, condition: str, channel_id: str, stat: str) -> int:
    """Column of a reading among those of the table; -1 when no data list has it."""
    for test in tests_of(table.rig):
        if test.condition == condition:
            for k, outcome in enumerate(test.outcomes):
                if (outcome.channel, outcome.stat) == (channel_id, stat):
                    return int(table.slices[test.id].start) + k
    return -1


def _column(table: Table, condition: str, channel_id: str, stat: str) -> tuple[NDArray[np.int64], Numbers] | None:
    """Rows of all faulty points of the table that have a reading, with the points' prior weights."""
    place = column_of(table, condition, channel_id, stat)
    if place < 0:
        return None
    rows = np.flatnonzero((table.owner > 0) & ~np.isnan(table.points[:, place]))
    priors = np.array([c.prior for c in table.candidates])[table.owner] * table.weight
    return rows, priors[rows]


def _elsewhere(table: Table, condition: str, channel_id: str) -> str:
    """The other test that reads the same thing and sees, for its minutes, most of the faults."""
    best: tuple[float, DiagnosticTest] | None = None
    told_of = channel(channel_id).measurand
    for test in tests_of(table.rig):
        same = any(outcome.channel and channel(outcome.channel).measurand == told_of for outcome in test.outcomes)
        if not same or (test.condition == condition and test.instrument == "scan_tool"):
            continue
        part = table.slices[test.id]
        apart = (
            np.abs(np.nan_to_num(table.points[table.owner > 0][:, part] - table.points[0, part])) / table.spread[part]
        )
        worth = float(np.mean(apart.max(axis=1) > SEEN_FROM)) / max(test.minutes, 1.0)
        if best is None or worth > best[0]:
            best = (worth, test)
    return best[1].label if best is not None and best[0] > 0.0 else ""
