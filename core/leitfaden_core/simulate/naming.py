"""Which named condition an engine is in, from its state: also where nobody follows a script."""

from dataclasses import dataclass, field
from typing import ClassVar

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.compiled import compiled
from leitfaden_core.rigs import Rig
from leitfaden_core.scripts import CONDITIONS
from leitfaden_core.simulate.layout import FRAME, LANES, flat

#: Conditions that a state can tell, in the order in which they are asked.
NAMED = tuple(entry for entry in CONDITIONS.values() if entry.state is not None)
_NUMBER = {entry.id: k for k, entry in enumerate(NAMED)}
NONE = -1
_LANE = {name: k for k, name in enumerate(LANES.names or ())}


class Columns:
    """Recorded rows by channel or status, each laid out for reading when it is first asked for, together with whatever
    was asked of other rows before: a row lies in one piece, a column is strewn over all of them.
    """

    _asked: ClassVar[dict[str, int]] = {}  # name -> place in the row

    def __init__(self, rows: NDArray[np.void]) -> None:
        self.rows = rows
        self._laid_out: dict[str, NDArray[np.float32]] = {}

    def __len__(self) -> int:
        return len(self.rows)

    def __getitem__(self, name: str) -> NDArray[np.float32]:
        if name not in self._laid_out:
            self._asked.setdefault(name, _LANE[name])
            wanted = {asked: place for asked, place in tuple(self._asked.items()) if asked not in self._laid_out}
            found = np.empty((len(wanted), len(self.rows)), dtype=np.float32)
            _lay_out(flat(self.rows), np.array(list(wanted.values())), found)
            self._laid_out |= dict(zip(wanted, found, strict=True))
        return self._laid_out[name]


@compiled
def _lay_out(rows: NDArray[np.float32], places: NDArray[np.int64], found: NDArray[np.float32]) -> None:
    for row in range(rows.shape[0]):
        for k in range(len(places)):
            found[k, row] = rows[row, places[k]]


def held_for(flags: NDArray[np.bool_], before: int) -> NDArray[np.int32]:
    """For how many rows in a row each flag has held, itself included;

    ``before``: rows that held just before the first.
    """
    held = np.empty(len(flags), dtype=np.int32)
    _hold(flags, before, held)
    return held


@compiled
def _hold(flags: NDArray[np.bool_], before: int, held: NDArray[np.int32]) -> None:
    count = before
    for row in range(len(flags)):
        count = count + 1 if flags[row] else 0
        held[row] = count


@dataclass
class Naming:
    """Names rows one portion after the other; what has held before goes on.

    May follow a machine: ``now`` tells where it is.
    """

    rig: Rig
    held: list[int] = field(default_factory=lambda: [0] * len(NAMED))
    now: str | None = None  #: condition of the last row

    def feed(self, rows: NDArray[np.void]) -> NDArray[np.int8]:
        """As :meth:`name`, of recorded rows."""
        return self.name(Columns(rows))

    def name(self, rows: Columns) -> NDArray[np.int8]:
        """Number of the condition of each row in :data:`NAMED`, or NONE. At least one row."""
        names = np.full(len(rows), NONE, dtype=np.int8)
        for k, entry in enumerate(NAMED):
            assert entry.state is not None
            flags = entry.state(rows, self.rig)
            if not flags.any():
                self.held[k] = 0
                continue
            held = held_for(flags, self.held[k])
            self.held[k] = int(held[-1])
            names[(names == NONE) & flags & (held > entry.after / FRAME)] = k
        self.now = NAMED[names[-1]].id if names[-1] != NONE else None
        return names


def number_of(condition: str) -> int:
    """The number by which :meth:`Naming.feed` names a condition."""
    return _NUMBER[condition]
