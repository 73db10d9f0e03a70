"""A run along a script, as a recording: its conditions are the windows of the script."""

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.faults import describe_fault
from leitfaden_core.recordings.recording import Event, Stretch
from leitfaden_core.rigs import Rig, rig_channels
from leitfaden_core.simulate import Run


@dataclass(frozen=True)
class RunRecording:
    """A simulated run."""

    run: Run

    @property
    def rig(self) -> Rig:
        """The engine that ran."""
        return self.run.rig

    @property
    def time(self) -> NDArray[np.float64]:
        """Script time of each row. [s]"""
        return self.run.time

    @property
    def channels(self) -> list[str]:
        """The channels that the engine has."""
        return rig_channels(self.rig)

    def column(self, name: str) -> NDArray[np.floating[Any]]:
        """Values of a channel."""
        return np.asarray(self.run.lanes[name])

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

    @property
    def stretches(self) -> tuple[Stretch, ...]:
        """The windows of the script."""
        script = self.run.script
        return tuple(Stretch(name, *script.span(name)) for name in script.conditions())

    def statistic(self, condition: str, name: str, stat: str) -> float:
        """A statistic in a window; the script may read lowest and highest in windows of their own."""
        return self.run.statistic(condition, name, stat)

    def substituted(self, condition: str, name: str) -> bool:
        """Whether a channel shows the control unit's own making in a window."""
        return self.run.substituted(condition, name)
