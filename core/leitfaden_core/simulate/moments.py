"""Mean, lowest and highest value and spread: of many channels at once, from rows as they lie in memory, or of one; and
the lowest and highest of each portion of a signal.
"""

from typing import Any

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.compiled import compiled

#: Statistics that every channel has.
MOMENTS = ("mean", "min", "max", "std")


def moments(rows: NDArray[np.floating[Any]], places: NDArray[np.intp]) -> NDArray[np.float64]:
    """The ``MOMENTS`` of some columns, in their order, over what is defined of each, NaN where nothing is: shape
    (4, columns).

    ``rows``: one for each frame, shape (frames, lanes). The spread is taken about the mean, as by its definition.
    """
    found = np.full((len(MOMENTS), len(places)), np.nan)
    _moments(rows, places, np.zeros(len(places)), found)
    return found


_ONLY = np.zeros(1, dtype=np.intp)


def moments_of(values: NDArray[Any]) -> dict[str, float]:
    """The same of one column of numbers, by name."""
    whole = np.array([(0, len(values))], dtype=np.intp)
    return dict(zip(MOMENTS, moments_in(values, whole)[:, 0].tolist(), strict=True))


@compiled
def _moments(
    rows: NDArray[np.floating[Any]], places: NDArray[np.intp], defined: NDArray[np.float64], found: NDArray[np.float64]
) -> None:
    # Row by row, since rows lie in one piece; column by column each value would come from another part of memory.
    for row in range(rows.shape[0]):
        for k in range(len(places)):
            value = float(rows[row, places[k]])
            if value != value:
                continue
            if defined[k] == 0.0:
                found[0, k], found[1, k], found[2, k], found[3, k] = 0.0, value, value, 0.0
            defined[k] += 1.0
            found[0, k] += value
            found[1, k] = min(found[1, k], value)
            found[2, k] = max(found[2, k], value)
    for k in range(len(places)):
        found[0, k] /= defined[k]
    for row in range(rows.shape[0]):
        for k in range(len(places)):
            value = float(rows[row, places[k]])
            if value == value:
                found[3, k] += (value - found[0, k]) ** 2
    for k in range(len(places)):
        found[3, k] = np.sqrt(found[3, k] / defined[k])


def moments_in(values: NDArray[Any], spans: NDArray[np.intp]) -> NDArray[np.float64]:
    """The same of one column over several stretches, each from its first row to the one behind its last: shape (4,
    stretches).
    """
    single = values.dtype == np.float32
    column = np.ascontiguousarray(values if single else values.astype(np.float64)).reshape(-1, 1)
    found = np.full((len(MOMENTS), len(spans)), np.nan)
    _moments_in(column, spans, _ONLY, np.zeros(len(spans)), found)
    return found


@compiled
def _moments_in(
    column: NDArray[np.floating[Any]],
    spans: NDArray[np.intp],
    only: NDArray[np.intp],
    defined: NDArray[np.float64],
    found: NDArray[np.float64],
) -> None:
    for k in range(len(spans)):
        _moments(column[spans[k, 0] : spans[k, 1]], only, defined[k : k + 1], found[:, k : k + 1])


def extremes(values: NDArray[np.floating[Any]], each: int) -> NDArray[np.floating[Any]]:
    """Lowest and highest value of every portion of so many values, in the order in which they came, shape (2 ·
    portions,); both NaN where one of a portion is.
    """
    found = np.empty(2 * (len(values) // each), dtype=values.dtype)
    _extremes(np.ascontiguousarray(values), each, found)
    return found


@compiled
def _extremes(values: NDArray[np.floating[Any]], each: int, found: NDArray[np.floating[Any]]) -> None:
    for portion in range(len(found) // 2):
        first = portion * each
        lowest = highest = values[first]
        undefined = lowest != lowest
        low, high = 0, 0
        for k in range(1, each):
            value = values[first + k]
            if value < lowest:
                lowest, low = value, k
            if value > highest:
                highest, high = value, k
            undefined |= value != value
        if undefined:
            lowest = highest = values.dtype.type(np.nan)
        found[2 * portion] = lowest if low < high else highest
        found[2 * portion + 1] = highest if low < high else lowest
