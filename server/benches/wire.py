"""What goes over the line: rows as float32 for many seconds of the day, JSON for everything that is said once.

A block of values is 48 bytes of float64 and then float32. The head: what it is (0 running, 1 the past), the number of
the watch that it answers, first frame, frames between two points, points, frames in all. The values: engine, then
twin; in each the channels in the order of the watch, each with its points.
"""

import struct
from collections.abc import Sequence
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.live import PICTURE_ROWS, Bench, Portion
from leitfaden_core.simulate.layout import LANES, flat

RUNNING, PAST = 0, 1
HEAD = struct.Struct("<6d")
#: Rows of one block beyond which pairs of lowest and highest stand for them.
MOST_ROWS = 20
#: Frames of the past up to which it is computed again row by row.
FINEST = 6000


def running(portion: Portion, watch: int, channels: Sequence[str], alone: bool) -> bytes:
    """The next rows, as a block; ``alone``: without the twin's, which are NaN then."""
    rows = len(portion.rows)
    each = 1 if rows <= MOST_ROWS else -(-rows // (MOST_ROWS // 2))
    return _block(RUNNING, watch, portion, channels, each, alone)


def past(bench: Bench, watch: int, channels: Sequence[str], first: int, last: int, points: int, alone: bool) -> bytes:
    """A stretch that has been, in some hundred points; ``alone``: without the twin's."""
    last = min(last, bench.frame)
    first = min(first, last)
    each = max((last - first) * 2 // max(points, 2), 1)
    if last - first <= FINEST and each < 2 * PICTURE_ROWS:
        return _block(PAST, watch, bench.rows(first, last), channels, each, alone)
    picture = bench.history.picture(list(channels))
    pairs = slice(first // PICTURE_ROWS, last // PICTURE_ROWS)
    group = max(each // PICTURE_ROWS, 1)
    values = [_grouped(part[pairs], group) for part in (picture.run, picture.twin)]
    start, between = pairs.start * PICTURE_ROWS, group * PICTURE_ROWS / 2.0
    return _packed(PAST, watch, start, between, last - first, np.stack(values), alone)


def _grouped(pairs: NDArray[np.float32], group: int) -> NDArray[np.float32]:
    """Pairs of lowest and highest, some together: shape (channels, points)."""
    full = len(pairs) // group * group
    grouped = pairs[:full].reshape(full // group, group, *pairs.shape[1:])
    low, high = np.fmin.reduce(grouped[..., 0], axis=1), np.fmax.reduce(grouped[..., 1], axis=1)
    return np.asarray(
        np.stack([low, high], axis=1).transpose(2, 0, 1).reshape(pairs.shape[1], 2 * len(low)), dtype=np.float32
    )


def _block(kind: int, watch: int, portion: Portion, channels: Sequence[str], each: int, alone: bool) -> bytes:
    columns = (_columns(portion.rows, channels), _columns(portion.twin, channels))
    values = np.array(columns if each == 1 else [_thinned(rows, each) for rows in columns])
    between = 1.0 if each == 1 else each / 2.0
    return _packed(kind, watch, portion.first, between, len(portion.rows), values, alone)


@lru_cache(1000)
def _places(channels: tuple[str, ...]) -> NDArray[np.intp]:
    return np.array([(LANES.names or ()).index(name) for name in channels], dtype=np.intp)


def _columns(rows: NDArray[np.void], channels: Sequence[str]) -> NDArray[np.float32]:
    return flat(rows).take(_places(tuple(channels)), axis=1).T


def _thinned(columns: NDArray[np.float32], each: int) -> NDArray[np.float32]:
    """Lowest and highest of each so many rows, in the order in which they came; a rest at the end is a group too."""
    rows = columns.shape[1]
    padded = np.pad(columns, ((0, 0), (0, -rows % each)), mode="edge")
    groups = padded.reshape(len(columns), padded.shape[1] // each, each)
    # Where a value is not defined it must not win: NaN stays only where there is nothing else.
    low = np.where(np.isnan(groups), np.inf, groups).argmin(axis=2)
    high = np.where(np.isnan(groups), -np.inf, groups).argmax(axis=2)
    order = np.sort(np.stack([low, high], axis=2), axis=2)
    return np.take_along_axis(groups, order, axis=2).reshape(len(columns), 2 * groups.shape[1])


def _packed(kind: int, watch: int, first: int, between: float, frames: int, values: NDArray[Any], alone: bool) -> bytes:
    if alone:
        values[1] = np.nan
    return (
        HEAD.pack(kind, watch, first, between, values.shape[2], frames)
        + np.ascontiguousarray(values, dtype="<f4").tobytes()
    )
