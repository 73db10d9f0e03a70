"""Which offered causes explain a car's readings: each is simulated in several sizes and compared."""

from collections.abc import Generator, Iterable
from concurrent.futures import FIRST_COMPLETED, wait
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
from leitfaden_core.simulate import Statistics, simulating
from leitfaden_core.words import inside, say

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
#: Those of the ladder that are tried first.
SMALLER, LARGER = 2, 4

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

    Two sizes of seven are tried first. As long as every reading goes one way with the size of a fault, a size between
    two others shows what lies between theirs (an interval's ends bound what is monotone in it; Moore, Interval
    Analysis, 1966), a smaller one what lies between a sound engine and them, and a larger one goes on in the same
    direction; sizes that cannot come near all readings are not simulated. Where a reading turns back, a nearer size of
    a cause that is ruled out by far can be missed; one that might explain the readings is tried in all its sizes.
    """
    searches = [_nearest(rig, places, observed, size_ladder(cause)) for cause in causes]
    best: dict[int, Misfit] = {}
    with simulating(rig, script) as ask:
        asked = {k: [ask(size) for size in next(search)] for k, search in enumerate(searches)}
        while asked:
            wait([one for ones in asked.values() for one in ones if not one.done()], return_when=FIRST_COMPLETED)
            for k in [k for k, ones in asked.items() if all(one.done() for one in ones)]:
                told = [one.result() for one in asked.pop(k)]
                try:
                    asked[k] = [ask(size) for size in searches[k].send(told)]
                except StopIteration as ended:
                    best[k] = ended.value
    return [best[k] for k in range(len(causes))]


def _nearest(
    rig: Rig, places: list[ReadingPlace], observed: list[float], ladder: Sizes
) -> Generator[Sizes, list[Statistics], Misfit]:
    """Asks for sizes, is sent what they show, and returns the smallest misfit of all."""
    tried: dict[int, list[float]] = {}

    def ask(steps: Iterable[int]) -> Generator[Sizes, list[Statistics], None]:
        if new := [k for k in steps if k not in tried]:
            for k, found in zip(new, (yield [ladder[k] for k in new]), strict=True):
                tried[k] = [found[at.condition][at.channel].get(at.stat, float("nan")) for at in places]

    def nearest() -> Misfit:
        misfits = [_worst_misfit(rig, places, observed, expected) for expected in tried.values()]
        return min(misfits, key=lambda misfit: misfit.distance)

    if len(ladder) == len(LADDER):
        least, middle, most = 0, (SMALLER + LARGER) // 2, len(LADDER) - 1
        yield from ask([SMALLER, LARGER])
        small, large = tried[SMALLER], tried[LARGER]
        smaller = _may_lie_between(rig, places, observed, _sound(rig, places), small)
        between = _may_lie_between(rig, places, observed, small, large)
        larger = _may_lie_beyond(rig, places, observed, small, large)
        yield from ask([step for step, may in ((least, smaller), (middle, between), (most, larger)) if may])
        inner = (
            [*range(least, SMALLER)] if smaller and _may_lie_between(rig, places, observed, tried[least], small) else []
        )
        outer = [*range(LARGER, most)] if larger and _may_lie_between(rig, places, observed, large, tried[most]) else []
        yield from ask([*inner, *outer])
    if not tried or nearest().distance < DOUBTFUL:
        yield from ask(range(len(ladder)))
    return nearest()


def _sound(rig: Rig, places: list[ReadingPlace]) -> list[float]:
    """What a sound engine shows."""
    bands = [band_of(rig, place.condition, place.channel, place.stat) for place in places]
    return [float("nan") if band is None else band.mean for band in bands]


def _may_lie_between(
    rig: Rig, places: list[ReadingPlace], observed: list[float], ones: list[float], others: list[float]
) -> bool:
    """Whether a size between two can come near all readings."""
    return all(
        min(one, other) <= seen <= max(one, other)
        or min(_distance(rig, place, seen, one), _distance(rig, place, seen, other)) <= DOUBTFUL
        for place, seen, one, other in zip(places, observed, ones, others, strict=True)
    )


def _may_lie_beyond(
    rig: Rig, places: list[ReadingPlace], observed: list[float], smaller: list[float], larger: list[float]
) -> bool:
    """Whether a size beyond two can come near all readings: none of them is far already and goes farther. One that
    moved little beside how far it is may do anything: a lean mixture shows only when the trims are at their end.
    """

    def goes_away(place: ReadingPlace, seen: float, small: float, large: float) -> bool:
        far = _distance(rig, place, seen, large)
        moved = _distance(rig, place, small, large)
        return far > DOUBTFUL and moved > 0.2 * far and (large - seen) * (large - small) > 0.0

    return not any(map(goes_away, places, observed, smaller, larger))


def _worst_misfit(rig: Rig, places: list[ReadingPlace], observed: list[float], expected: list[float]) -> Misfit:
    """The reading that a simulated cause explains worst."""
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
    at = inside(condition(place.condition).label)
    is_here, would_be = (shown(value, quantity, step, units) for value in (misfit.seen, misfit.expected))
    return say(
        (
            "does not fit: {reading_label} at {at} is {is_here}, this cause gives {would_be} in the nearest of "
            "the sizes tried"
        ),
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
