"""What the evidence says: posterior of all causes after any set of tests, and which reading ruled what out.

A reading counts by how well each cause explains it: a Student distribution around what the cause would show, as wide as
sound engines and the instrument spread, with tails heavy enough that one odd reading never decides alone. Readings of
one test are not independent witnesses, so a test's log-likelihood grows with the root of their number. Neither are
tests independent of each other, since one odd engine shows in many of them: each cause is held against the evidence on
several engines, odd in different ways, and the sum over them counts: a finite mixture (McLachlan and Peel 2000, ch. 1).
A size that lies between two simulated ones shows its readings where the nearer of them has them, or, as likely, all at
the same place between theirs: each point is held against the evidence at its own place and at the best one of its
stretch, and a long stretch, which fits much and foretells little, counts less. Priors are workshop experience; all are
open to the trainer's objection.
"""

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.diagnose.procedures import test_of
from leitfaden_core.diagnose.table import Table
from leitfaden_core.errors import LeitfadenError
from leitfaden_core.words import say

#: Degrees of freedom of the tails; the most that one test may speak against a cause [nat].
TAILS, LOUDEST = 6.0, 11.0
#: Readings of one test are no independent witnesses: their sum is divided by the number of those that have moved to
#: this power.
SHARED = 0.3
#: How much louder a stored code speaks against a cause that does not set it than a missing one against a cause that
#: does.
UNEXPECTED_CODE = 2.5
#: How far what is not defined lies from every number. [spreads]
NOT_DEFINED = 8.0
#: What moves no farther from one size to the next stands still. [spreads]
STANDS_STILL = 0.2
#: Breadth of a normal distribution of one spread, sqrt(2 pi). The mean of its density along a stretch that is much
#: longer falls with their ratio (the marginal likelihood, MacKay 1992, Bayesian interpolation, Neural Computation 4),
#: that along a short one with its square; the root of 1 + ratio² does both, within 0.1 nat in between. [spreads]
NORMAL_BREADTH = float(np.sqrt(2.0 * np.pi))
#: Tests whose likelihoods are remembered: those of one vehicle are asked for again after every further test.
REMEMBERED = 30


@dataclass(frozen=True)
class Taken:
    """A test that was taken, with what it showed."""

    test: str
    values: tuple[float, ...]


@dataclass(frozen=True)
class Ranked:
    """A cause with its probability."""

    candidate: str
    label: str
    probability: float


def test_likelihoods(table: Table, test_id: str, values: NDArray[np.float64]) -> NDArray[np.float32]:
    """Log-likelihood of a test's values under every point of the table on each of its odd engines, shape (engines,
    points), or (1, points) where they are all alike; 0 is the best explanation. [nat]
    """
    part = table.slices[test_id]
    wanted = part.stop - part.start
    if len(values) != wanted:
        raise LeitfadenError(
            say(
                "test {test_id} gives {wanted} readings, not {count}", test_id=test_id, wanted=wanted, count=len(values)
            )
        )
    known = test_id, values.tobytes()
    found = table.heard.get(known)
    if found is None:
        if len(table.heard) >= REMEMBERED:
            table.heard.clear()
        heard = _likelihood(table, part, values, UNEXPECTED_CODE if test_id == "codes" else 1.0)
        found = heard.astype(np.float32)  # a millionth of a nat; half the memory
        table.heard[known] = found
    return found


def _likelihood(
    table: Table, columns: slice | list[int], values: NDArray[np.float64], unexpected: float = 1.0
) -> NDArray[np.float64]:
    """Log-likelihood of readings that count as one test, see :func:`test_likelihoods`. ``unexpected``: how much farther
    away counts what is there though a point does not show it. [nat]
    """
    z, ways = _away(table, columns, values)
    # A fault may be too small for its code; a code that is there came from something.
    z = np.where(z > 0.0, unexpected * z, z) if unexpected != 1.0 else z
    heard, length = joint_likelihood(z), np.linalg.norm(ways, axis=0).sum(axis=0)
    moving = np.flatnonzero(length > STANDS_STILL)
    if len(moving):
        on_the_way = joint_likelihood(_from_best_place(z[:, :, moving], ways[:, :, moving]))
        counts = 0.5 * np.log1p((length[moving] / NORMAL_BREADTH) ** 2)
        heard[:, moving] = np.logaddexp(heard[:, moving], on_the_way - counts) - np.log(2.0)
    return _in_any_course(table, np.maximum(heard, -LOUDEST))


def _in_any_course(table: Table, likelihood: NDArray[np.float64]) -> NDArray[np.float64]:
    """What comes and goes is met by one test and missed by the next: each test counts by the mean of its likelihoods
    over the courses of chance that were simulated. Shapes (engines, points). [nat]
    """
    of_courses = likelihood[:, table.courses]
    highest = of_courses.max(axis=2, keepdims=True)
    mean = highest + np.log(np.exp(of_courses - highest).mean(axis=2, keepdims=True))
    found = likelihood.copy()
    found[:, table.courses] = mean
    return found


def _away(
    table: Table, columns: slice | list[int], values: NDArray[np.float64]
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """How far readings lie from what every point shows on each odd engine, shape (readings, engines, points), or
    (readings, 1, points) where the engines are alike; and the ways from there to halfway to the next sizes, shape
    (readings, 2, points). [spreads]

    What is not defined for a point (an engine that does not run) is a reading of its own: far from every number.
    """
    expected, odd = table.points.T[columns, None, :], table.odd.T[columns, :, None]
    if not odd.any():
        odd = odd[:, :1]
    width = table.width(columns).T[:, None, :]
    seen = values[:, None, None]
    here, there = np.isnan(seen), np.isnan(expected)
    z = (np.nan_to_num(seen) - np.nan_to_num(expected) - odd) / width
    z = np.where(here & there, 0.0, np.where(here ^ there, NOT_DEFINED, z))
    return z, np.where(here, 0.0, table.halfway(columns).transpose(2, 0, 1) / width)


def _from_best_place(z: NDArray[np.float64], ways: NDArray[np.float64]) -> NDArray[np.float64]:
    """What is left of distances, shape (readings, engines, points), when every point moves along one of its two ways,
    shape (readings, 2, points), to where all its readings together come nearest. [spreads]
    """
    square = (ways * ways).sum(axis=0)[:, None, :]
    along = np.einsum("rep,rwp->wep", z, ways)
    share = np.clip(along / np.maximum(square, 1e-12), 0.0, 1.0)
    nearer = share * (2.0 * along - share * square)
    onwards = nearer[1] > nearer[0]
    way = np.where(onwards, ways[:, 1:], ways[:, :1])
    return np.asarray(z - np.where(onwards, share[1], share[0]) * way)


def joint_likelihood(z: NDArray[Any]) -> NDArray[Any]:
    """Log-likelihood of readings of one test that lie z spreads from what is expected, shape (readings, ...) to (...).

    Student's distribution, which an odd reading does not upset (Lange, Little and Taylor, Robust statistical modeling
    using the t distribution, J. Am. Stat. Assoc. 84, 1989). [nat]
    """
    tails, moved = np.ones_like(z[0]), np.zeros_like(z[0])
    # A product that is too large for its number is as unlikely as can be.
    with np.errstate(over="ignore"):
        for square in z * z:
            tails *= 1.0 + square / TAILS
            # How many have moved: one that lies a spread away counts half, so that nothing hangs on a hair's breadth.
            moved += square / (1.0 + square)
    unlikely = 0.5 * (TAILS + 1.0) * np.log(tails) / np.maximum(moved, 1.0) ** SHARED
    return np.asarray(np.maximum(-unlikely, -LOUDEST))


def posterior(table: Table, taken: list[Taken]) -> NDArray[np.float64]:
    """Probability of every candidate of the table after some tests, shape (candidates,)."""
    return _of_candidates(table, point_posterior(table, taken))


def point_posterior(table: Table, taken: list[Taken]) -> NDArray[np.float64]:
    """Probability of every point of the table after some tests, shape (points,)."""
    return np.asarray(engine_posterior(table, taken).sum(axis=0))


def engine_posterior(table: Table, taken: list[Taken]) -> NDArray[np.float64]:
    """Probability of every point of the table on each of its odd engines after some tests, shape (engines, points)."""
    return _believed(table, [test_likelihoods(table, entry.test, np.array(entry.values)) for entry in taken])


def after_readings(table: Table, columns: list[int], values: list[float]) -> NDArray[np.float64]:
    """Probability of every point of the table after some readings that were taken one by one, each in its column of the
    table. Shape (points,). They count as those of one test: see :func:`joint_likelihood`.
    """
    return np.asarray(_believed(table, [_likelihood(table, columns, np.array(values))]).sum(axis=0))


def _believed(table: Table, likelihoods: list[NDArray[Any]]) -> NDArray[np.float64]:
    """Probability of every point on each odd engine from its prior and the log-likelihoods of what was seen. Shape
    (engines, points).
    """
    prior = np.array([c.prior for c in table.candidates])
    logs = np.log(table.odd_weight)[:, None] + np.log(prior[table.owner] * table.weight)[None, :]
    for likelihood in likelihoods:
        logs = logs + likelihood
    shares = np.exp(logs - logs.max())
    return np.asarray(shares / shares.sum())


def _of_candidates(table: Table, points: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.asarray(np.bincount(table.owner, weights=points, minlength=len(table.candidates)), dtype=np.float64)


def ranked(table: Table, taken: list[Taken]) -> list[Ranked]:
    """Causes from the most to the least probable."""
    found = posterior(table, taken)
    order = np.argsort(-found, kind="stable")
    return [Ranked(table.candidates[k].id, table.candidates[k].label, float(found[k])) for k in order]


def ruled_out(table: Table, taken: list[Taken], among: int = 12) -> list[tuple[str, str]]:
    """Which test spoke most against a cause that had been among the likely ones:

    (cause, test), for causes that are now improbable.
    """
    start = ranked(table, [])
    now = {entry.candidate: entry.probability for entry in ranked(table, taken)}
    best = engine_posterior(table, taken)
    engine, top = np.unravel_index(int(np.argmax(best)), best.shape)
    spoke = {
        t.test: np.broadcast_to(test_likelihoods(table, t.test, np.array(t.values)), best.shape)[engine] for t in taken
    }
    found = []
    for entry in start[:among]:
        if now[entry.candidate] > 0.1 * entry.probability or not taken:
            continue
        number = next(k for k, c in enumerate(table.candidates) if c.id == entry.candidate)
        mine = table.owner == number
        against = {test: float(heard[top] - heard[mine].max()) for test, heard in spoke.items()}
        found.append((entry.label, test_of(table.rig, max(against, key=lambda test: against[test])).label))
    return found
