"""Two faults at once: each pair of likely causes as a cause of its own, simulated at a few combinations of sizes."""

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from leitfaden_core.diagnose.candidates import Candidate
from leitfaden_core.diagnose.chains import may_lead
from leitfaden_core.diagnose.procedures import tests_of
from leitfaden_core.diagnose.table import Readings, Subject, Table, compute_readings
from leitfaden_core.faults import FaultSpec
from leitfaden_core.words import inside, say

#: Two faults at once are so much rarer than chance would have it if they were common.
PAIR_PRIOR = 0.5
#: How far a pair's readings may lie from those that were added up, as a share of what both change. [-]
BENT_IN_PAIRS = 0.15
#: Sizes of each of the two that are combined with all of the other's.
PAIR_SIZES = 6


def with_pairs(
    base: Table, likely: list[str], workers: int = 2, progress: Callable[[int, int], None] | None = None
) -> Table:
    """The table with all pairs of some likely causes added, each simulated at three combinations of sizes.

    Priors of pairs: :func:`_pair_prior`. Other combinations of sizes: :func:`_superposed`.
    """
    known = {c.id: c for c in base.candidates}
    chosen = [known[name] for name in likely if known[name].sizes]
    pairs = [(one, two) for k, one in enumerate(chosen) for two in chosen[k + 1 :] if one.kind != two.kind]
    if not pairs:
        return base
    subjects = [Subject(both) for one, two in pairs for both in _combined(one, two)]
    readings = iter(compute_readings(base.rig, subjects, workers, progress))
    points, owner, weight = [base.points], [base.owner], [base.weight]
    slack = [base.slack]
    added: list[Candidate] = []
    for one, two in pairs:
        number = len(base.candidates) + len(added)
        own, loose = _superposed(base, one, two, np.array([next(readings) for _ in _combined(one, two)]))
        added.append(
            Candidate(
                f"{one.id}+{two.id}",
                say("{label}, and {label_2}", label=one.label, label_2=inside(two.label)),
                "pair",
                (),
                _pair_prior(base, one, two),
                (one, two),
            )
        )
        points.append(own)
        owner.append(np.full(len(own), number))
        weight.append(np.full(len(own), 1.0 / len(own)))
        slack.append(loose)
    of_pairs = range(len(base.points), sum(map(len, points)))
    return replace(
        base,
        candidates=(*base.candidates, *added),
        points=np.concatenate(points),
        owner=np.concatenate(owner),
        weight=np.concatenate(weight),
        slack=np.concatenate(slack),
        sizes=(*base.sizes, *[None for _ in of_pairs]),
        meant=(*base.meant, *[None for _ in of_pairs]),
        neighbours=np.hstack([base.neighbours, np.tile(np.array(of_pairs), (2, 1))]),
    )


def _pair_prior(base: Table, one: Candidate, two: Candidate) -> float:
    """How often both are there: by chance the product of both, times ``PAIR_PRIOR``; where one spoils the other, as
    often as that part is a victim, shared out among what may have spoilt it.
    """
    found = PAIR_PRIOR * one.prior * two.prior
    for origin, spoilt in ((one, two), (two, one)):
        if may_lead(origin.kind, spoilt.kind):
            others = sum(c.prior for c in base.candidates if c.kind and may_lead(c.kind, spoilt.kind))
            victims = spoilt.prior * base.victims / (1.0 - base.victims)
            found = max(found, victims * origin.prior / others)
    return found


def _superposed(base: Table, one: Candidate, two: Candidate, simulated: Readings) -> tuple[Readings, Readings]:
    """Readings of a pair at its simulated combinations and at others between them, shape (n, readings), and their
    slack.

    At the others what both change is added up (of what is seen or not seen, the one that differs counts); how far the
    sum is off where the pair was simulated is taken off, and is slack as far as it differs from one to the next.
    """
    sound = base.points[0]
    seen = np.array([outcome.yes_or_no for test in tests_of(base.rig) for outcome in test.outcomes])

    def added(first: Readings, second: Readings) -> Readings:
        odd = np.where(np.abs(first - sound) > np.abs(second - sound), first, second)
        return np.asarray(np.where(seen, odd, first + second - sound))

    def points(c: Candidate) -> Readings:
        mine = np.flatnonzero(base.owner == base.candidates.index(c))
        chosen = np.unique(np.linspace(0, len(mine) - 1, PAIR_SIZES).round().astype(int))
        return np.asarray(base.points[mine[chosen]])

    sums = [added(*(base.points[base.sizes.index(size)] for size in both)) for both in _combined(one, two)]
    off = np.nan_to_num(simulated - np.array(sums))
    firsts, seconds = points(one), points(two)
    between = np.array([added(first, second) + off.mean(axis=0) for first in firsts for second in seconds])
    bent = BENT_IN_PAIRS * np.abs(np.nan_to_num(np.concatenate([simulated, between]) - sound))
    loose = np.concatenate([np.zeros_like(simulated), np.tile(off.std(axis=0), (len(between), 1))])
    return np.concatenate([simulated, between]), np.hypot(bent, loose)


def _combined(one: Candidate, two: Candidate) -> list[tuple[FaultSpec, FaultSpec]]:
    def at(c: Candidate, share: float) -> FaultSpec:
        return c.sizes[round(share * (len(c.sizes) - 1))]

    found = [(at(one, a), at(two, b)) for a, b in ((0.5, 0.5), (0.0, 1.0), (1.0, 0.0))]
    return found if len(one.sizes) > 1 or len(two.sizes) > 1 else found[:1]
