"""Which offered causes explain a car's readings: each is simulated in several sizes and compared."""

from dataclasses import dataclass
from itertools import product

import numpy as np

from leitfaden_core.expect import band_of
from leitfaden_core.faults import FaultSpec
from leitfaden_core.judge import reading_scale
from leitfaden_core.lessons.shapes import ReadingPlace, reading_label
from leitfaden_core.quantities import UnitSystem, shown
from leitfaden_core.rigs import Rig
from leitfaden_core.scripts import condition
from leitfaden_core.simulate import Statistics
from leitfaden_core.words import say

#: A cause explains a reading when it comes within this many standard deviations of the healthy spread.
EXPLAINS_WITHIN = 3.0


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
LADDER, LADDER_TOGETHER = (0.4, 0.65, 0.85, 1.15, 1.5, 2.0), (0.75, 1.3)


def size_ladder(causes: tuple[FaultSpec, ...]) -> list[tuple[FaultSpec, ...]]:
    """Causes in the sizes that a technician would consider: as offered, and each smaller and larger."""
    shares = LADDER if len(causes) < 2 else LADDER_TOGETHER
    return list(product(*(_sizes(cause, shares) for cause in causes)))


def _sizes(cause: FaultSpec, shares: tuple[float, ...]) -> list[FaultSpec]:
    kind, values = cause.checked()
    ladder = [cause.model_copy(update={"params": kind.sized(values, share)}) for share in shares]
    return [cause, *(step for step in ladder if step.params != values)]


def worst_misfit(rig: Rig, places: list[ReadingPlace], observed: list[float], found: Statistics) -> Misfit:
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
        "does not fit: {reading_label} at {at} is {is_here}, this cause in its best size gives {would_be}",
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
