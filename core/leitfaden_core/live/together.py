"""Kept readings looked at together: whether those that must agree do, and which test would tell most about what they
leave open. Both see what was read and nothing else.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.channels import CHANNELS
from leitfaden_core.diagnose import VICTIMS, Table, origins_of, table
from leitfaden_core.diagnose.evidence import after_readings
from leitfaden_core.diagnose.ranking import Proposal, tests_by_worth
from leitfaden_core.judge import RelationRules, RelationVerdict, Seen, check_relations
from leitfaden_core.judge.weighing import column_of
from leitfaden_core.live.compared import KeptReading, course_explains
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.rigs import Rig
from leitfaden_core.words import say

#: Tests that an answer names, and what each must tell about what is open. [bit]
NAMED, TELLS = 3, 0.05
#: A spoilt part is spoken of when it is one of so many likeliest causes.
LIKELIEST = 3


@dataclass(frozen=True)
class Related:
    """A relation between readings that were taken in one condition."""

    condition: str
    verdict: RelationVerdict


@dataclass(frozen=True)
class Together:
    """What several readings say together: relations between them, and the tests that are worth most after them."""

    relations: tuple[Related, ...]
    tests: tuple[Proposal, ...]
    advice: str = ""  # where what is left may be the victim of something else


def judge_together(
    rig: Rig,
    readings: Sequence[KeptReading],
    rules: RelationRules | None = None,
    units: UnitSystem = UnitSystem.METRIC,
    rank: bool = True,
    victims: float = VICTIMS,
) -> Together:
    """Relations between kept readings, condition by condition, and what would tell most after them.

    The last reading of a channel in a condition counts. ``rank``: rank tests, too; for an engine whose faults have
    never been simulated that takes some minutes. ``victims``: see ``diagnose.VICTIMS``. [-]
    """
    latest = {(r.condition, r.channel): r for r in readings if r.channel and r.value is not None}
    related: list[Related] = []
    for where in dict.fromkeys(condition for condition, _channel in latest):
        here = [reading for (condition, _channel), reading in latest.items() if condition == where]
        seen = Seen(
            {reading.channel: reading.value for reading in here if reading.value is not None},
            where,
            here[-1].stood_h,
            here[-1].kpa,
            rules or RelationRules(),
            units,
        )
        related += [Related(where, verdict) for verdict in check_relations(rig, seen)]
    if not rank:
        return Together(tuple(related), ())
    telling = [reading for reading in latest.values() if not course_explains(rig, reading, units)]
    return Together(tuple(related), *_left_open(table(rig, workers=1, victims=victims), telling))


def _left_open(causes: Table, readings: Sequence[KeptReading]) -> tuple[tuple[Proposal, ...], str]:
    """The tests that are worth most after these readings, on an engine that has been run for them, and what to think of
    where a spoilt part is among the causes that are left.
    """
    known = {column_of(causes, r.condition, r.channel, "mean"): r.value for r in readings if r.channel in CHANNELS}
    known.pop(-1, None)
    if not known:
        return (), ""
    weights = after_readings(causes, list(known), [value for value in known.values() if value is not None])
    begun = [name for name, part in causes.slices.items() if not known.keys().isdisjoint(range(part.start, part.stop))]
    done = [name for name in begun if known.keys() >= set(range(causes.slices[name].start, causes.slices[name].stop))]
    found = tests_by_worth(causes, weights, begun, done, NAMED)
    return tuple(test for test in found if test.bits > TELLS), _advice(causes, weights)


def _advice(causes: Table, weights: NDArray[np.float64]) -> str:
    """What to think of, where a spoilt part is among the likeliest causes ahead of nothing being wrong."""
    belief = np.bincount(causes.owner, weights, len(causes.candidates)) / weights.sum()
    likeliest = [causes.candidates[k] for k in np.argsort(-belief)[:LIKELIEST] if belief[k] > belief[0]]
    if not any(origins_of(c.kind) for c in likeliest):
        return ""
    return say(
        (
            "Among the causes that are left is a part that another fault usually spoils. The school counts "
            "{count:.0f} of 100 such parts as victims: look for what spoilt it before it is renewed."
        ),
        count=100 * causes.victims,
    )
