"""What to do next: expected information per shop minute, what would separate two causes, what looks alike.

The expected information of a test is the mutual information between cause and outcome under what is believed now,
estimated from a fixed number of outcomes drawn from the table (Lindley, On a measure of the information provided by an
experiment, Ann. Math. Statist. 27, 1956).
"""

from collections import defaultdict
from collections.abc import Collection
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.diagnose.costs import minutes_now, price
from leitfaden_core.diagnose.evidence import Taken, _of_candidates, joint_likelihood, point_posterior
from leitfaden_core.diagnose.procedures import DiagnosticTest, Isolated, isolable, tests_of
from leitfaden_core.diagnose.table import Table

#: Outcomes drawn for one test; points that take part, at least and at most, and the share of all belief from which on
#: no
#: more are needed.
DRAWS, FEWEST, POINTS, NEARLY_ALL = 48, 60, 240, 0.995
#: Where a reading that is not defined stands among the others. [spreads]
FAR = 1e3
#: What taking up another tool and thinking about what it showed costs besides. [min]
ANOTHER_TEST = 15.0
#: Two causes are told apart by a test whose readings differ by this many spreads.
TOLD_APART = 3.0


@dataclass(frozen=True)
class Proposal:
    """A test with what it is worth now."""

    test: str
    label: str
    minutes: float
    bits: float
    per_minute: float
    cautions: tuple[str, ...]


def next_tests(table: Table, taken: list[Taken], count: int = 5, seed: int = 0) -> list[Proposal]:
    """The tests that are worth most for what they cost now, best first."""
    before = [entry.test for entry in taken]
    return tests_by_worth(table, point_posterior(table, taken), before, before, count, seed)


def tests_by_worth(
    table: Table,
    weights: NDArray[np.float64],
    before: Collection[str],
    known: Collection[str],
    count: int = 5,
    seed: int = 0,
) -> list[Proposal]:
    """The tests that are worth most for what they cost, best first.

    Parameters
    ----------
    weights : array
        Probability of every point of the table, shape (points,).
    before : collection of str
        Tests that say where the vehicle stands, in their order.
    known : collection of str
        Tests that can tell nothing more.
    """
    conditions = {test.id: test.condition for test in tests_of(table.rig)}
    causes = _of_candidates(table, weights)
    isolated = _isolated_shares(table, causes)
    found = []
    chosen = _likely(weights)
    shares = weights[chosen] / weights[chosen].sum()
    chance = np.random.default_rng(seed)
    drawn = _drawn(shares, table.owner[chosen], chance)
    entropy = float(_entropies(_of_candidates(table, weights)[None, :])[0])
    # Column by column the points of one cause each.
    _causes, group = np.unique(table.owner[chosen], return_inverse=True)
    belongs = (group[:, None] == np.arange(group.max() + 1)[None, :]).astype(float)
    for test in tests_of(table.rig):
        if test.id in known:
            continue
        bits = _information(table, test, chosen, shares, drawn, chance, entropy, belongs)
        minutes = minutes_now(test, list(before), conditions)
        cost = price(test, minutes, isolated[test.isolates] if test.isolates else 0.0) + ANOTHER_TEST
        found.append(Proposal(test.id, test.label, minutes, bits, bits / cost, test.cautions))
    return sorted(found, key=lambda proposal: -proposal.per_minute)[:count]


def _likely(weights: NDArray[np.float64]) -> NDArray[np.int64]:
    """Numbers of the points that are believed at all, the likeliest first."""
    order = np.argsort(-weights, kind="stable")
    enough = int(np.searchsorted(np.cumsum(weights[order]), NEARLY_ALL)) + 1
    return np.asarray(order[: min(max(enough, FEWEST), POINTS)])


def _drawn(shares: NDArray[Any], owner: NDArray[Any], chance: np.random.Generator) -> NDArray[np.int64]:
    """Points by their shares, shape (DRAWS,), drawn in even steps through the causes rather than each by itself
    (systematic resampling, Kitagawa 1996): no cause with so much as its part of a draw is left out by chance.
    """
    order = np.argsort(owner, kind="stable")
    steps = (np.arange(DRAWS) + chance.random()) / DRAWS
    return np.asarray(order[np.searchsorted(np.cumsum(shares[order]), steps).clip(max=len(order) - 1)])


def _isolated_shares(table: Table, causes: NDArray[np.float64]) -> dict[Isolated, float]:
    """Probability that a cause is true which is taken away with a part or a hose, by what tests isolate. [-]"""
    found: dict[Isolated, float] = defaultdict(float)
    for cause, share in zip(table.candidates, causes, strict=True):
        if share > 1e-4 and cause.sizes:
            for isolated in isolable(cause.sizes[0]):
                found[isolated] += float(share)
    return found


def _entropies(shares: NDArray[Any]) -> NDArray[np.float64]:
    """Entropy of each row. [bit]"""
    return np.asarray(-(shares * np.log2(np.maximum(shares, 1e-300))).sum(axis=1))


def _information(
    table: Table,
    test: DiagnosticTest,
    chosen: NDArray[np.int64],
    shares: NDArray[np.float64],
    drawn: NDArray[np.int64],
    chance: np.random.Generator,
    entropy: float,
    belongs: NDArray[np.float64],
) -> float:
    part = table.slices[test.id]
    spread = table.spread[part]
    # In spreads from the sound rig, single precision is far finer than the draws, and half as slow.
    shown = (table.points[chosen][:, part] - np.nan_to_num(table.points[0, part])) / spread
    shown = np.nan_to_num(shown, nan=FAR).T.astype(np.float32)
    width = np.hypot(1.0, table.looseness(part)[chosen] / spread).T.astype(np.float32)
    # What all these causes show alike tells nothing.
    telling = np.ptp(shown, axis=1) > 0.4
    if not telling.any():
        return 0.0
    shown, width = shown[telling], width[telling]
    noise = chance.standard_normal((len(shown), len(drawn)), dtype=np.float32)
    outcomes = shown[:, drawn] + width[:, drawn] * noise
    z = (outcomes[:, :, None] - shown[:, None, :]) / width[:, None, :]
    logs = np.log(shares)[None, :] + joint_likelihood(z)
    after = np.exp(logs - logs.max(axis=1, keepdims=True))
    after /= after.sum(axis=1, keepdims=True)
    left = float(_entropies(after @ belongs).mean())
    here = float(_entropies((shares @ belongs)[None, :])[0])
    return max(min(here, entropy) - left, 0.0)


@dataclass(frozen=True)
class LookAlike:
    """Another cause that the chosen tests do not tell apart, and the test that does."""

    candidate: str
    label: str
    distance: float  # largest difference in the chosen tests, in spreads
    separated_by: str
    test: str  # its id; "" where no test of this rig does
    separating_minutes: float
    separation: float


def look_alikes(table: Table, candidate: str, tests: list[str]) -> list[LookAlike]:
    """Causes whose readings in these tests lie within ``TOLD_APART`` of a cause's own, at the sizes that come nearest;
    nearest first.
    """
    number = next(k for k, c in enumerate(table.candidates) if c.id == candidate)
    columns = np.concatenate([np.arange(table.slices[name].start, table.slices[name].stop) for name in tests])
    own = table.points[table.owner == number]
    found = []
    for other, c in enumerate(table.candidates):
        if other == number:
            continue
        theirs = table.points[table.owner == other]
        apart = _apart(own[:, columns], theirs[:, columns], table.spread[columns])
        k, m = np.unravel_index(int(np.argmin(apart)), apart.shape)
        if apart[k, m] >= TOLD_APART:
            continue
        test, separation = separating_test(table, own[k], theirs[m])
        found.append(
            LookAlike(
                c.id,
                c.label,
                float(apart[k, m]),
                test.label if test else "no test of this rig",
                test.id if test else "",
                test.minutes if test else 0.0,
                separation,
            )
        )
    return sorted(found, key=lambda alike: alike.distance)


def _apart(one: NDArray[np.float64], two: NDArray[np.float64], spread: NDArray[np.float64]) -> NDArray[np.float64]:
    gap = np.abs(np.nan_to_num(one, nan=1e6)[:, None, :] - np.nan_to_num(two, nan=1e6)[None, :, :])
    return np.asarray((gap / spread).max(axis=2))


def separating_test(
    table: Table, one: NDArray[np.float64], two: NDArray[np.float64]
) -> tuple[DiagnosticTest | None, float]:
    """The cheapest test that tells two vehicles apart, with its separation in spreads; the strongest one when none
    does.
    """
    best: tuple[DiagnosticTest | None, float] = (None, 0.0)
    cheapest: tuple[DiagnosticTest | None, float] = (None, 0.0)
    gaps = np.abs(np.nan_to_num(one, nan=1e6) - np.nan_to_num(two, nan=1e6)) / table.spread
    for test in tests_of(table.rig):
        separation = float(gaps[table.slices[test.id]].max())
        if separation > best[1]:
            best = (test, separation)
        if separation >= TOLD_APART and (cheapest[0] is None or test.minutes < cheapest[0].minutes):
            cheapest = (test, separation)
    return cheapest if cheapest[0] is not None else best
