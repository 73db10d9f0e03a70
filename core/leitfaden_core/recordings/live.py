"""The record of an engine under somebody's hands: everything since it began, each action with its time, and the named
conditions as its state tells them.
"""

import itertools
from typing import Any

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.channels import channel
from leitfaden_core.recordings.recording import Event, Stretch
from leitfaden_core.rigs import Rig, rig_channels
from leitfaden_core.simulate import FRAME, Machine
from leitfaden_core.simulate.actions import Action
from leitfaden_core.simulate.naming import NAMED, NONE, Naming
from leitfaden_core.simulate.shape import statistic_of

#: A condition counts as a stretch of its own from so long on. [s]
SHORTEST = 1.0


class LiveRecord:
    """Acts on a machine and lets it go on, and keeps what came of it."""

    def __init__(self, machine: Machine) -> None:
        self.machine, self.naming = machine, Naming(machine.rig)
        self.began = machine.frame
        self._rows: list[NDArray[np.void]] = []
        self._names: list[NDArray[np.int8]] = []
        self._events: list[Event] = []
        self._columns: dict[str, NDArray[np.floating[Any]]] = {}

    def act(self, action: Action) -> None:
        """Do something to the vehicle; LeitfadenError when it cannot be done, and then nothing is recorded."""
        self.machine.act(action)
        done = action.model_dump(mode="json", exclude_defaults=True)
        self._events.append(Event(self._seconds, "action", action.do, tuple(done.items())))

    def mark(self, words: str) -> None:
        """Mark this instant."""
        self._events.append(Event(self._seconds, "mark", words))

    def advance(self, frames: int) -> NDArray[np.void]:
        """Go on by some frames; the rows that came of it."""
        rows = self.machine.advance(frames)
        if len(rows):
            self._rows.append(rows)
            self._names.append(self.naming.feed(rows))
            self._columns.clear()
        return rows

    @property
    def _seconds(self) -> float:
        return (self.machine.frame - self.began) * FRAME

    @property
    def rig(self) -> Rig:
        """The engine under the hands."""
        return self.machine.rig

    @property
    def time(self) -> NDArray[np.float64]:
        """Time of each row since the record began. [s]"""
        return np.asarray((np.arange(sum(map(len, self._rows))) + 1) * FRAME, dtype=np.float64)

    @property
    def channels(self) -> list[str]:
        """The channels that the engine has."""
        return rig_channels(self.rig)

    def column(self, name: str) -> NDArray[np.floating[Any]]:
        """Values of a channel."""
        if name not in self._columns:
            parts = [rows[name] for rows in self._rows]
            self._columns[name] = np.concatenate(parts) if parts else np.zeros(0, dtype=np.float32)
        return self._columns[name]

    @property
    def events(self) -> tuple[Event, ...]:
        """Every action and mark."""
        return tuple(self._events)

    @property
    def stretches(self) -> tuple[Stretch, ...]:
        """Where the state named a condition for SHORTEST at least."""
        return tuple(
            Stretch(NAMED[name].id, start * FRAME, end * FRAME)
            for name, start, end in self._spells()
            if name != NONE and (end - start) * FRAME >= SHORTEST
        )

    def _spells(self) -> list[tuple[int, int, int]]:
        """Names of rows with the first row and the one behind the last of each spell."""
        if not self._names:
            return []
        names = np.concatenate(self._names)
        cuts = [0, *(np.flatnonzero(np.diff(names)) + 1).tolist(), len(names)]
        return [(int(names[start]), start, end) for start, end in itertools.pairwise(cuts)]

    def statistic(self, condition: str, name: str, stat: str) -> float:
        """A statistic over the last stretch of a condition; NaN before there was one."""
        last = self._last(condition)
        if last is None:
            return float("nan")
        return statistic_of(lambda column: self._within(last, column), name, stat, last.end - last.start)

    def substituted(self, condition: str, name: str) -> bool:
        """Whether a channel shows the control unit's own making over the last stretch of a condition."""
        last, status = self._last(condition), channel(name).stands_in
        return bool(status) and last is not None and float(np.mean(self._within(last, status))) > 0.5

    def _last(self, condition: str) -> Stretch | None:
        return next((s for s in reversed(self.stretches) if s.condition == condition), None)

    def _within(self, stretch: Stretch, name: str) -> NDArray[np.floating[Any]]:
        return self.column(name)[round(stretch.start / FRAME) : round(stretch.end / FRAME)]
