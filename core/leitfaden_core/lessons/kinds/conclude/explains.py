"""Which offered causes explain a car's readings: each is simulated in several sizes and compared."""

from collections.abc import Generator, Iterable
from dataclasses import dataclass
from itertools import product

import numpy as np

from leitfaden_core.expect import band_of
from leitfaden_core.faults import FaultSpec
from leitfaden_core.judge import reading_scale
from leitfaden_core.lessons.shapes import ReadingPlace, reading_label
from leitfaden_core.quantities import UnitSystem, shown
from leitfaden_core.rigs import Rig
from leitfaden_core.scripts import Script, condition
from leitfaden_core.simulate import Statistics, stored_statistics
from leitfaden_core.words import say

#: A cause explains a reading when it comes within this many standard deviations of the healthy spread.
EXPLAINS_WITHIN = 3.0
#: A cause that comes as near as this in some of its sizes is tried in all of them.
DOUBTFUL = 2.0 * EXPLAINS_WITHIN


@dataclass(frozen=True)
class Misfit:
    """The reading that a cause explains worst: distance [healthy standard deviations], place, value read, value that
    the cause would give.
    """

    distance: float
    place: ReadingPlace
    seen: float
    expected: float

    @property
    def explains(self) -> bool:
        """Whether even the worst reading is explained."""
        return self.distance <= EXPLAINS_WITHIN


#: Shares of the offered size that are tried for one cause, and for each of several together.
LADDER, LADDER_TOGETHER = (0.4, 0.65, 0.85, 1.0, 1.15, 1.5, 2.0), (0.75, 1.0, 1.3)

Sizes = list[tuple[FaultSpec, ...]]


def size_ladder(causes: tuple[FaultSpec, ...]) -> Sizes:
    """Causes in the sizes that a technician would consider: as offered, and each smaller and larger, in this order."""
    shares = LADDER if len(causes) < 2 else LADDER_TOGETHER
    return list(product(*(_sizes(cause, shares) for cause in causes)))


def _sizes(cause: FaultSpec, shares: tuple[float, ...]) -> list[FaultSpec]:
    kind, values = cause.checked()
    ladder = {share: cause.model_copy(update={"params": kind.sized(values, share)}) for share in shares}
    return [cause if share == 1.0 else step for share, step in ladder.items() if share == 1.0 or step.params != values]


def best_misfits(
    rig: Rig, script: Script, places: list[ReadingPlace], observed: list[float], causes: Sizes
) -> list[Misfit]:
    """What each cause leaves unexplained in the size that comes nearest.

    As long as every reading goes one way with the size of a fault, the worst distance falls to one size and rises from
    there (the largest of quasi-convex functions is one; Boyd and Vandenberghe, Convex Optimization, 2004, sec. 3.4), so
    four of seven sizes find it (Kiefer, Sequential minimax search for a maximum, 1953). Where a reading turns back, the
    nearest size of a cause that is ruled out by far can be missed; one that might explain the readings is tried in all
    its sizes.
    """
    searches = [_nearest(size_ladder(cause)) for cause in causes]
    wanted = {k: next(search) for k, search in enumerate(searches)}
    best: dict[int, Misfit] = {}
    while wanted:
        found = iter(stored_statistics(rig, script, [list(size) for sizes in wanted.values() for size in sizes]))
        told = {k: [_worst_misfit(rig, places, observed, next(found)) for _ in sizes] for k, sizes in wanted.items()}
        for k, misfits in told.items():
            try:
                wanted[k] = searches[k].send(misfits)
            except StopIteration as ended:
                best[k] = ended.value
                del wanted[k]
    return [best[k] for k in range(len(causes))]


def _nearest(ladder: Sizes) -> Generator[Sizes, list[Misfit], Misfit]:
    """Asks for sizes, is sent their misfits, and returns the smallest of all."""
    tried: dict[int, Misfit] = {}

    def ask(places: Iterable[int]) -> Generator[Sizes, list[Misfit], None]:
        if new := [k for k in places if k not in tried]:
            tried.update(zip(new, (yield [ladder[k] for k in new]), strict=True))

    if len(ladder) == len(LADDER):
        yield from ask([2, 4])
        inner, outer, end = (2, 1, 0) if tried[2].distance < tried[4].distance else (4, 5, 6)
        yield from ask([outer])
        yield from ask([end if tried[outer].distance < tried[inner].distance else 3])
    if min((misfit.distance for misfit in tried.values()), default=0.0) < DOUBTFUL:
        yield from ask(range(len(ladder)))
    return min(tried.values(), key=lambda misfit: misfit.distance)


def _worst_misfit(rig: Rig, places: list[ReadingPlace], observed: list[float], found: Statistics) -> Misfit:
    """The reading that a simulated cause explains worst."""
    expected = [found[place.condition][place.channel].get(place.stat, float("nan")) for place in places]
    rows = [
        Misfit(_distance(rig, place, seen, value), place, seen, value)
        for place, seen, value in zip(places, observed, expected, strict=True)
    ]
    return max(rows, key=lambda row: row.distance)


def in_words(rig: Rig, misfit: Misfit, units: UnitSystem) -> str:
    """What rules a cause out, or that nothing does."""
    if misfit.explains:
        return "explains all readings within the spread of healthy engines"
    place = misfit.place
    quantity, step = reading_scale(rig, place.channel, place.stat)
    at = condition(place.condition).label.lower()
    is_here, would_be = (shown(value, quantity, step, units) for value in (misfit.seen, misfit.expected))
    return say(
        "does not fit: {reading_label} at {at} is {is_here}, this cause gives {would_be} in the nearest of the sizes tried",
        reading_label=reading_label(place),
        at=at,
        is_here=is_here,
        would_be=would_be,
    )


def _distance(rig: Rig, place: ReadingPlace, observed: float, expected: float) -> float:
    """Distance between two readings in standard deviations of the healthy spread. [-]

    A faulty engine spreads at least as much as a healthy one, and relative to its reading: a tenth of the shift from
    healthy is added.
    """
    band = band_of(rig, place.condition, place.channel, place.stat)
    if band is None or np.isnan(expected) or np.isnan(observed):
        return 0.0
    deviation = float(np.hypot(band.deviation, 0.05 * (expected - band.mean)))
    return abs(observed - expected) / deviation
