"""Statistics of a signal over a condition, its shape among them: how far it swings, how fast its edges are, how often
it comes, and how much of the front sensor's swing is left behind the catalyst.
"""

from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.channels import CHANNELS, SWITCHES_AT, channel
from leitfaden_core.compiled import compiled
from leitfaden_core.simulate.moments import MOMENTS, moments_of

#: Dead band around the crossing, so that noise on a slow edge does not count.
CROSSING_BAND = 0.05
#: Ends of a switching sensor's edge. [V]
LOW_SIDE, HIGH_SIDE = 0.3, 0.6
#: The signal behind the catalyst, and those before it of which one is there.
BEHIND, BEFORE = "ho2s_b1s2_v", ("ho2s_b1s1_v", "lambda_wideband")


def statistics_of(name: str) -> tuple[str, ...]:
    """Statistics that tell something of a channel: of a switching signal how often it rises and how long its edges
    take, of the signal behind the catalyst its swing over the one before.
    """
    more = ("freq", "edge") if channel(name).swings == "switching" else ()
    return (*MOMENTS, *more, *(("ratio",) if name == BEHIND else ()))


def statistic_of(column: Callable[[str], NDArray[np.floating[Any]]], name: str, stat: str, seconds: float) -> float:
    """A statistic of a channel whose columns span so many seconds.

    In the unit of the channel; ``freq`` [1/s], ``edge`` [s], ``ratio`` [-]. What is not defined does not count; NaN
    when nothing is.
    """
    if stat in MOMENTS:
        return moments_of(column(name))[stat]
    values = np.asarray(column(name), dtype=np.float64)
    holes = np.isnan(values)
    known = values[~holes] if holes.any() else values
    if known.size == 0:
        return float("nan")
    if stat == "freq":
        return rising_crossings(known, SWITCHES_AT) / seconds
    if stat == "edge":
        edge = edge_time(known, seconds / len(values))
        return edge if np.isfinite(edge) else float("nan")
    return _swing_left(column, known)


def _swing_left(column: Callable[[str], NDArray[np.floating[Any]]], behind: NDArray[np.float64]) -> float:
    """Swing behind the catalyst over the front sensor's; a wideband's is taken as what a switching one would show.
    [-]
    """
    for name in BEFORE:
        try:
            front = np.asarray(column(name), dtype=np.float64)
        except (KeyError, ValueError):
            continue
        front = front[~np.isnan(front)]
        if CHANNELS[name].quantity == "lambda":
            # A hundredth of lambda on either side is what makes a switching sensor go from end to end.
            front = 0.35 * np.tanh((front - np.median(front)) / 0.01) if front.size else front
        if front.size and front.std() > 0.02:
            return float(behind.std() / front.std())
    return float("nan")


def rising_crossings(values: NDArray[np.floating[Any]], level: float, band: float = CROSSING_BAND) -> int:
    """How often a signal rises through a level, counted with a dead band on either side of it."""
    exact = values.dtype.type  # compared as what they are
    return _rises(np.ascontiguousarray(values), exact(level + band), exact(level - band))


@compiled
def _rises(values: NDArray[np.floating[Any]], above: Any, below: Any) -> int:
    side, rises = 0, 0
    for value in values:
        if value > above:
            rises += side < 0
            side = 1
        elif value < below:
            side = -1
    return rises


def edge_time(volts: NDArray[np.float64], step: float) -> float:
    """Median time of a passage between 0.3 and 0.6 V, interpolated; infinite when there is none. [s]"""
    took = np.empty(len(volts))
    count = _passages(np.ascontiguousarray(volts), took)
    return float(np.median(took[:count])) * step if count else float("inf")


@compiled
def _passages(volts: NDArray[np.float64], took: NDArray[np.float64]) -> int:
    """How long each passage takes, in samples; their number."""
    last, side, count = 0, 0, 0  # the last sample that was on a side, and which
    for now in range(len(volts)):
        here = 1 if volts[now] >= HIGH_SIDE else -1 if volts[now] <= LOW_SIDE else 0
        if here == 0:
            continue
        if here == -side:
            leaves = LOW_SIDE if side < 0 else HIGH_SIDE
            arrives = LOW_SIDE + HIGH_SIDE - leaves
            began = last + (leaves - volts[last]) / (volts[last + 1] - volts[last])
            ended = now - 1 + (arrives - volts[now - 1]) / (volts[now] - volts[now - 1])
            took[count] = ended - began
            count += 1
        last, side = now, here
    return count
