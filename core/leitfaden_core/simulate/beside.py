"""Looking on beside a drive: what follows a machine works in a thread of its own, while the compiled step, which needs
no interpreter, goes on.
"""

from concurrent.futures import Future, ThreadPoolExecutor
from types import TracebackType
from typing import Self

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.simulate.machine import Follower

#: Rows that are worth a look: smaller portions cost more than they spare, since both then ask for the interpreter.
PORTION = 1500


class Beside:
    """Hands the rows of a drive to followers, in portions and in their order; at the end of ``with`` they have seen
    all.

    Parameters
    ----------
    followers : tuple of Follower
        What one raises is raised at the end.
    lanes : array of ``layout.LANES``
        The whole drive, filled as it goes on; a row does not change any more once it was recorded.
    """

    def __init__(self, followers: tuple[Follower, ...], lanes: NDArray[np.void]) -> None:
        self._followers, self._lanes = followers, lanes
        self._thread = ThreadPoolExecutor(1)
        self._looks: list[Future[object]] = []
        self._handed = 0

    def recorded(self, rows: int) -> None:
        """So many rows of the drive are there by now."""
        if rows - self._handed >= PORTION or rows == len(self._lanes):
            portion = self._lanes[self._handed : rows]
            self._looks += [self._thread.submit(follower.feed, portion) for follower in self._followers]
            self._handed = rows

    def __enter__(self) -> Self:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self._thread.shutdown()
        if error is None:
            for look in self._looks:
                look.result()
