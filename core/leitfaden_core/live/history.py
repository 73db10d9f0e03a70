"""What was: a picture of every channel in pairs of lowest and highest, and instants from which rows are computed again.

A picture takes 5 kB a second of all channels of two engines, an instant 8 kB every ten seconds; the rows themselves
would be a hundred.
"""

import bisect
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.live.doings import perform, reaches_twin
from leitfaden_core.rigs import Rig, rig_channels
from leitfaden_core.simulate import FRAME, Machine, Snapshot
from leitfaden_core.simulate.layout import LANES, blank_rows, flat

#: Rows of a pair of lowest and highest. [frames]
PICTURE_ROWS = 20
#: Frames between instants that are kept: so many are computed again at most. [frames]
INSTANT = 1000
#: Rows that wait for their pairs: many together cost less than few. [frames]
TOGETHER = 200
_LANE = {name: k for k, name in enumerate(LANES.names or ())}


@dataclass(frozen=True)
class Picture:
    """Lowest and highest value of each PICTURE_ROWS rows: shape (pairs, channels, 2), of engine and twin."""

    channels: list[str]
    run: NDArray[np.float32]
    twin: NDArray[np.float32]

    @property
    def seconds_each(self) -> float:
        """Time that a pair stands for. [s]"""
        return PICTURE_ROWS * FRAME


class _Pairs:
    """Lowest and highest of each PICTURE_ROWS rows, in any portions."""

    def __init__(self, places: NDArray[np.intp]) -> None:
        self.places = places
        self.blocks: list[NDArray[np.float32]] = []
        self.waiting: list[NDArray[np.float32]] = []
        self.count = 0  # rows that wait

    def feed(self, rows: NDArray[np.void]) -> None:
        self.waiting.append(flat(rows))
        self.count += len(rows)
        if self.count >= TOGETHER:
            self._fold()

    def _fold(self) -> None:
        """Make pairs of what waits, but for a rest."""
        full = self.count // PICTURE_ROWS * PICTURE_ROWS
        if not full:
            return
        waiting = np.concatenate(self.waiting)
        self.waiting, self.count = [waiting[full:].copy()], len(waiting) - full
        groups = waiting[:full, self.places].reshape(-1, PICTURE_ROWS, len(self.places))
        # A value that is not defined in a part of the group does not hide the rest.
        self.blocks.append(np.stack([np.fmin.reduce(groups, axis=1), np.fmax.reduce(groups, axis=1)], axis=2))

    def whole(self, columns: list[int]) -> NDArray[np.float32]:
        self._fold()
        if len(self.blocks) > 1:
            self.blocks = [np.concatenate(self.blocks)]
        if not self.blocks:
            return np.zeros((0, len(columns), 2), dtype=np.float32)
        return self.blocks[0][:, columns]


class History:
    """Everything since a bench was opened."""

    def __init__(self, rig: Rig) -> None:
        self.rig = rig
        self.channels = rig_channels(rig)
        self._places = np.array([_LANE[name] for name in self.channels])
        self._pictures = (_Pairs(self._places), _Pairs(self._places))
        self._frames: list[int] = []
        self._instants: list[tuple[Snapshot, Snapshot, int]] = []  # with the number of doings before
        self._doings: list[Any] = []

    def before(self, frame: int, machine: Machine, twin: Machine) -> None:
        """Keep this instant, when it is time."""
        if self._frames and frame < self._frames[-1] + INSTANT:
            return
        self._frames.append(frame)
        pair = [replace(engine.snapshot(), followers=()) for engine in (machine, twin)]
        self._instants.append((pair[0], pair[1], len(self._doings)))

    def done(self, done: Any) -> None:
        """Something was done."""
        self._doings.append(done)

    def feed(self, rows: NDArray[np.void], twin: NDArray[np.void]) -> None:
        """The next rows."""
        for picture, part in zip(self._pictures, (rows, twin), strict=True):
            picture.feed(part)

    def of_row(self, row: np.void) -> NDArray[np.float64]:
        """Values of all channels in a row, in their order."""
        flat = np.frombuffer(row.tobytes(), dtype=np.float32)
        return np.asarray(flat[self._places], dtype=np.float64)

    def picture(self, channels: list[str]) -> Picture:
        """All that was, of some channels."""
        columns = [self.channels.index(name) for name in channels]
        return Picture(channels, *(pairs.whole(columns) for pairs in self._pictures))

    def rows(self, first: int, last: int, individual: dict[str, float]) -> tuple[NDArray[np.void], NDArray[np.void]]:
        """Rows of a stretch, computed again from the last instant before it."""
        if last <= first:
            nothing = blank_rows(0)
            return nothing, nothing
        k = max(bisect.bisect_right(self._frames, first) - 1, 0)
        of_machine, of_twin, doings = self._instants[k]
        found = []
        for snapshot, is_twin in ((of_machine, False), (of_twin, True)):
            engine = Machine(self.rig, snapshot.of[1], individual)
            engine.restore(snapshot)
            found.append(self._again(engine, self._frames[k], doings, is_twin, first, last, individual))
        return found[0], found[1]

    def _again(
        self,
        engine: Machine,
        now: int,
        doings: int,
        is_twin: bool,
        first: int,
        last: int,
        individual: dict[str, float],
    ) -> NDArray[np.void]:
        parts = []
        for done in [*self._doings[doings:], None]:
            until = last if done is None else min(done.frame, last)
            if until > now:
                rows = engine.advance(until - now)
                parts.append(rows[max(first - now, 0) :])
                now = until
            if done is None or done.frame >= last:
                break
            if not is_twin or reaches_twin(done.doing):
                perform(done.doing, engine, individual)
        return np.concatenate(parts) if parts else blank_rows(0)
