"""Mean, lowest and highest value and spread: of many channels at once, from rows as they lie in memory, or of one."""

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
    single = values.dtype == np.float32
    column = np.ascontiguousarray(values if single else values.astype(np.float64)).reshape(-1, 1)
    return dict(zip(MOMENTS, moments(column, _ONLY)[:, 0].tolist(), strict=True))


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
