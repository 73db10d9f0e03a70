"""Verdicts on a running engine: on the last moments of the named condition that it is in.

What healthy engines show was recorded on drives of a known course; an engine under hands has a course of its own, such
as an hour's idle that warms the intake. So its undisturbed twin, a sound engine with the same hands, is judged too:
where that would raise the same alarm, nothing is decided.
"""

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.channels import channel
from leitfaden_core.expect import MissingSheet
from leitfaden_core.judge import LaneVerdict, OxygenLimits, SchoolRules, Verdict, VerdictKind, judge_lanes
from leitfaden_core.judge.verdict import ALARMS
from leitfaden_core.live.bench import Bench
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.recordings import Event, Stretch
from leitfaden_core.rigs import Rig
from leitfaden_core.simulate import FRAME
from leitfaden_core.simulate.shape import statistic_of
from leitfaden_core.words import say

#: A condition is judged from so long on. [s]
AFTER = 4.0
#: By how much further than its twin's a reading must lie from healthy engines. [standard deviations]
CLEARLY = 4.0


@dataclass(frozen=True)
class Spell:
    """Rows of one condition as a recording."""

    rig: Rig
    condition: str
    rows: NDArray[np.void]

    @property
    def time(self) -> NDArray[np.float64]:
        """Time of each row. [s]"""
        return np.asarray((np.arange(len(self.rows)) + 1) * FRAME, dtype=np.float64)

    @property
    def channels(self) -> list[str]:
        """All that is recorded."""
        return list(self.rows.dtype.names or ())

    def column(self, name: str) -> NDArray[np.floating[Any]]:
        """Values of a channel."""
        return np.asarray(self.rows[name])

    @property
    def events(self) -> tuple[Event, ...]:
        """None."""
        return ()

    @property
    def stretches(self) -> tuple[Stretch, ...]:
        """The whole of it."""
        return (Stretch(self.condition, 0.0, len(self.rows) * FRAME),)

    def statistic(self, condition: str, name: str, stat: str) -> float:
        """A statistic of it."""
        return statistic_of(self.column, name, stat, len(self.rows) * FRAME)

    def substituted(self, condition: str, name: str) -> bool:
        """Whether a channel shows the control unit's own making."""
        status = channel(name).stands_in
        return bool(status) and float(np.mean(self.rows[status])) > 0.5


def judged(
    bench: Bench,
    channels: list[str],
    rules: SchoolRules | None = None,
    limits: OxygenLimits | None = None,
    units: UnitSystem = UnitSystem.METRIC,
) -> list[LaneVerdict]:
    """Verdicts on channels in the condition in which the engine is; none while it is in none, or only just."""
    spell = bench.spell
    if spell is None or len(spell.rows) * FRAME < AFTER or not channels:
        return []
    condition = bench.condition or ""
    places = [(condition, name) for name in channels]
    try:
        here, sound = (
            judge_lanes(Spell(bench.rig, condition, rows), places, rules, limits, units)
            for rows in (spell.rows, spell.twin)
        )
    except MissingSheet:
        return []
    return [_told(lane, twin) for lane, twin in zip(here, sound, strict=True)]


def _further(verdict: Verdict, twin: Verdict) -> bool:
    """Whether a reading lies clearly further from healthy engines than the twin's."""
    if verdict.distance is None or twin.distance is None:
        return False
    same_side = verdict.distance * twin.distance > 0.0
    return not same_side or abs(verdict.distance) > abs(twin.distance) + CLEARLY


def beside_twin(verdict: Verdict, twin: Verdict) -> Verdict:
    """A verdict, or that nothing is decided where the twin would raise the same alarm."""
    if verdict.kind not in ALARMS or twin.kind not in ALARMS or _further(verdict, twin):
        return verdict
    reason = say(
        "A sound engine with the same course shows this as well: the band holds for another course. ({reason})",
        reason=verdict.place or verdict.reason,
    )
    return Verdict(VerdictKind.NOT_DECIDABLE, reason, verdict.band, verdict.distance)


def _told(lane: LaneVerdict, twin: LaneVerdict) -> LaneVerdict:
    if lane.measure != twin.measure:
        return lane
    return replace(lane, verdict=beside_twin(lane.verdict, twin.verdict))
