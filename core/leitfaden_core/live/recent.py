"""The last rows of an engine, at hand without computing them again."""

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.simulate.layout import blank_rows

#: So many rows are at hand. [frames]
AT_HAND = 1000


class Recent:
    """The last AT_HAND rows, in one piece of memory: joining structured rows costs more than stepping them."""

    def __init__(self) -> None:
        self._rows = blank_rows(2 * AT_HAND)
        self._bytes = self._rows.view(np.uint8).reshape(len(self._rows), -1)
        self._end = 0

    def append(self, rows: NDArray[np.void]) -> None:
        """The next rows, AT_HAND at most."""
        if self._end + len(rows) > len(self._rows):
            self._bytes[:AT_HAND] = self._bytes[self._end - AT_HAND : self._end]
            self._end = AT_HAND
        self._bytes[self._end : self._end + len(rows)] = rows.view(np.uint8).reshape(len(rows), -1)
        self._end += len(rows)

    def last(self, frames: int) -> NDArray[np.void]:
        """The last rows, as far as they are at hand; they stay as they are until some more were appended."""
        return self._rows[max(self._end - min(frames, AT_HAND), 0) : self._end]
