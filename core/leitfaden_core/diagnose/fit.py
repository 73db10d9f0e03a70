"""Whether the likeliest cause explains everything that was seen, or only more of it than the others do.

A posterior always finds a best cause, also when none fits. The point of the table that explains the evidence best is
held against every reading; what lies too far from it is named. Where that point lies between two simulated sizes, the
vehicle is simulated at that very size first: across a threshold (a sensor stuck just below or just above what the
control unit takes for lean) a straight line between two sizes shows what no vehicle shows.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.diagnose.evidence import Taken, engine_posterior
from leitfaden_core.diagnose.procedures import test_of
from leitfaden_core.diagnose.table import Table, compute_readings

#: A reading is unexplained when it lies so many spreads from what the cause shows; of sound individuals and true causes
#: hardly one in two hundred has such a one over all its tests.
UNEXPLAINED = 5.5
#: Share of the best point's probability from which on a neighbouring size counts as one that it may be, and how well a
#: reading is known between two sizes, as a share of how far the fault moves it. [-]
NEARLY_AS_LIKELY, BETWEEN_SIZES = 0.02, 0.1


@dataclass(frozen=True)
class Unexplained:
    """A reading that the best explanation does not explain. [spreads]"""

    test: str
    label: str
    seen: float
    expected: float
    away: float


def unexplained(table: Table, taken: list[Taken], candidate: str | None = None) -> list[Unexplained]:
    """Readings that the best point of the table, or of one of its causes, leaves unexplained; the worst first."""
    if not taken:
        return []
    on_engines = engine_posterior(table, taken)
    shares = on_engines.sum(axis=0)
    point = _best(table, shares, candidate)
    odd = table.odd[int(np.argmax(on_engines[:, point]))]
    shown = [table.points[point]]
    meant = table.meant[point]
    if meant is not None and table.sizes[point] is None:
        shown = [compute_readings(table.rig, [meant], workers=1)[0]]
    # The size is known no better than the neighbouring points that are nearly as likely, nor the course of chance.
    near = [k for k in (point - 1, point + 1) if 0 <= k < len(shares) and table.owner[k] == table.owner[point]]
    near += [k for course in table.courses if point in course for k in course]
    shown += [table.points[k] for k in near if shares[k] > NEARLY_AS_LIKELY * shares[point]]
    with np.errstate(invalid="ignore"):
        low, high = np.min(shown, axis=0) + odd, np.max(shown, axis=0) + odd
    slack = BETWEEN_SIZES * np.abs(np.nan_to_num(shown[0] - table.points[0]))
    found = [entry for t in taken for entry in _of_test(table, t, low, high, slack)]
    return sorted(found, key=lambda entry: -entry.away)


def _best(table: Table, shares: NDArray[np.float64], candidate: str | None) -> int:
    """Number of the point that explains the evidence best, among all or those of a cause."""
    if candidate is not None:
        number = next(k for k, c in enumerate(table.candidates) if c.id == candidate)
        shares = np.where(table.owner == number, shares, -1.0)
    return int(np.argmax(shares))


def _of_test(
    table: Table, taken: Taken, low: NDArray[np.float64], high: NDArray[np.float64], slack: NDArray[np.float64]
) -> list[Unexplained]:
    if taken.test == "codes":
        return []
    part, test = table.slices[taken.test], test_of(table.rig, taken.test)
    found = []
    for k, (outcome, seen) in enumerate(zip(test.outcomes, taken.values, strict=True)):
        at = part.start + k
        nearest = float(np.clip(seen, low[at], high[at]))
        # Where it is yes or no, a contradiction speaks by its likelihood alone.
        if seen != seen or nearest != nearest or outcome.yes_or_no:
            continue
        away = abs(seen - nearest) / float(np.hypot(table.spread[at], slack[at]))
        if away > UNEXPLAINED:
            found.append(Unexplained(taken.test, outcome.label, seen, nearest, away))
    return found
