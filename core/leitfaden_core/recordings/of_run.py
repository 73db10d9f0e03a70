"""A run along a script, as a recording: its conditions are the windows of the script."""

from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.faults import describe_fault
from leitfaden_core.recordings.recording import Event, Stretch
from leitfaden_core.rigs import Rig, rig_channels
from leitfaden_core.scripts.document import Span
from leitfaden_core.simulate import FRAME, Run
from leitfaden_core.simulate.moments import MOMENTS, moments_in
from leitfaden_core.simulate.run import rows_of
from leitfaden_core.simulate.shape import statistic_of


@dataclass(frozen=True)
class RunRecording:
    """A simulated run."""

    run: Run
    # What was asked before: columns in one piece, statistics.
    _columns: dict[str, NDArray[np.floating[Any]]] = field(default_factory=dict, repr=False, compare=False)
    _statistics: dict[tuple[str, str, str], float] = field(default_factory=dict, repr=False, compare=False)

    @property
    def rig(self) -> Rig:
        """The engine that ran."""
        return self.run.rig

    @cached_property
    def time(self) -> NDArray[np.float64]:
        """Script time of each row. [s]"""
        return self.run.time

    @property
    def channels(self) -> list[str]:
        """The channels that the engine has."""
        return rig_channels(self.rig)

    def column(self, name: str) -> NDArray[np.floating[Any]]:
        """Values of a channel."""
        if name not in self._columns:
            self._columns[name] = np.ascontiguousarray(self.run.lanes[name])
        return self._columns[name]

    @property
    def events(self) -> tuple[Event, ...]:
        """The faults that were in from the beginning, and where each segment of the script begins."""
        script = self.run.script
        put = [Event(0.0, "action", describe_fault(fault)) for fault in self.run.faults]
        begun = [
            Event(round(start, 3), "segment", s.label, (("seconds", s.seconds), ("time_lapse", s.time_lapse)))
            for start, s in zip(script.starts(), script.segments, strict=True)
        ]
        return (*put, *begun)

    @cached_property
    def stretches(self) -> tuple[Stretch, ...]:
        """The windows of the script."""
        script = self.run.script
        return tuple(Stretch(name, *script.span(name)) for name in script.conditions())

    @cached_property
    def _windows(self) -> dict[Span, list[tuple[str, str]]]:
        """The moments of conditions that are read in each window."""
        script = self.run.script
        found: dict[Span, list[tuple[str, str]]] = {}
        for name in script.conditions():
            for stat in MOMENTS:
                found.setdefault(script.span(name, stat), []).append((name, stat))
        return found

    def statistic(self, condition: str, name: str, stat: str) -> float:
        """A statistic in a window; the script may read lowest and highest in windows of their own."""
        asked = (condition, name, stat)
        if asked not in self._statistics:
            rows = rows_of(self.run.script.span(condition, stat))
            if stat in MOMENTS:
                self._take_moments(name)
            else:
                seconds = (rows.stop - rows.start) * FRAME
                self._statistics[asked] = statistic_of(lambda column: self.column(column)[rows], name, stat, seconds)
        return self._statistics[asked]

    def _take_moments(self, name: str) -> None:
        """All moments of a channel in all windows: they take hardly longer than one."""
        spans = np.array([(rows.start, rows.stop) for rows in map(rows_of, self._windows)], dtype=np.intp)
        found = moments_in(self.column(name), spans)
        for numbers, read in zip(found.T.tolist(), self._windows.values(), strict=True):
            for condition, stat in read:
                self._statistics[condition, name, stat] = numbers[MOMENTS.index(stat)]

    def substituted(self, condition: str, name: str) -> bool:
        """Whether a channel shows the control unit's own making in a window."""
        return self.run.substituted(condition, name)
