"""What a monitor is: a question to what the control unit believes and sees during a drive, and when it may be asked.

Monitors run along: each is fed the rows of a drive, in whatever portions they come, and knows at any time whether it
has failed. Limits are engineering choices in the size that the trade knows; SAE J2012 defines meanings, not limits.
What happens to an answer (pending, confirmed, permanent) is in :mod:`leitfaden_core.monitors.report`.
"""

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.rigs import Rig
from leitfaden_core.simulate import FRAME
from leitfaden_core.simulate.naming import Columns, Naming, held_for, number_of

Flags = NDArray[np.bool_]
Values = NDArray[np.floating[Any]]
#: Groups of readiness in SAE J1979, service 01, PID 01. The first three are watched all the time.
System = Literal[
    "misfire",
    "fuel system",
    "components",
    "catalyst",
    "oxygen sensor",
    "oxygen sensor heater",
    "EGR system",
    "boost",
    "particle filter",
]
CONTINUOUS: tuple[System, ...] = ("misfire", "fuel system", "components")


@dataclass
class Stretch:
    """The rows of a drive that have come last, with what several monitors derive from them."""

    rig: Rig
    rows: Columns
    first: int  # number of the first row in the drive
    named: NDArray[np.int8]
    ran: Values  # s that the engine has run so far in this drive, time lapse not counted
    tails: dict[str, Values]
    smoothed: dict[str, Values] = field(default_factory=dict)

    def __getitem__(self, channel: str) -> Values:
        """A recorded channel or status."""
        return self.rows[channel]

    @property
    def running(self) -> Flags:
        """Where the engine runs."""
        return np.asarray(self.rows["running"] > 0.5)

    @property
    def powered(self) -> Flags:
        """Where the control unit supplies its sensors."""
        return np.asarray(self.rows["powered"] > 0.5)

    def is_in(self, condition: str) -> Flags:
        """Where the engine is in a condition, with the loop closed: what steady monitors ask for."""
        return np.asarray((self.named == number_of(condition)) & (self.rows["closed_loop"] > 0.5))

    def smooth(self, name: str, values: Values, seconds: float) -> Values:
        """Mean over the last seconds up to each row; over what there is at the start of a drive.

        ``name`` tells it from others.
        """
        if name in self.smoothed:
            return self.smoothed[name]
        width = max(round(seconds / FRAME), 1)
        before = self.tails.get(name, np.zeros(0))
        whole = np.concatenate([before, values.astype(np.float64)])
        total = np.concatenate([[0.0], np.cumsum(whole)])
        end = np.arange(len(before), len(whole)) + 1
        start = np.maximum(end - width, 0)
        self.tails[name] = whole[-width + 1 :] if width > 1 else whole[:0]
        self.smoothed[name] = np.asarray((total[end] - total[start]) / (end - start))
        return self.smoothed[name]


class Test:
    """One monitor's answer in one drive: whether it has come to one, and the frame of the drive in which it failed."""

    def __init__(self) -> None:
        self.completed = False
        self.failed_at: int | None = None

    def feed(self, stretch: Stretch) -> None:
        """Look at the next rows."""
        raise NotImplementedError

    def close(self, frames: int) -> None:
        """The drive is over after so many frames: what can only be said at its end."""

    def _fail(self, frame: int) -> None:
        if self.failed_at is None:
            self.failed_at = frame


class Held(Test):
    """Fails when something holds for some seconds without a break; has answered once it could have held as long."""

    def __init__(
        self, flags: Callable[[Stretch], Flags], seconds: float, enabled: Callable[[Stretch], Flags] | None = None
    ) -> None:
        super().__init__()
        self.flags, self.enabled = flags, enabled
        self.needed = max(round(seconds / FRAME), 1)
        self.failing = self.asking = 0
        self.completed = enabled is None

    def feed(self, stretch: Stretch) -> None:
        if self.completed and self.failed_at is not None:
            return  # nothing more can come of it
        flags = self.flags(stretch)
        if self.enabled is not None:
            enabled = self.enabled(stretch)
            self._ask(enabled)
            flags = flags & enabled
        if not flags.any():  # as nearly always
            self.failing = 0
            return
        held = held_for(flags, self.failing)
        self.failing = int(held[-1])
        there = np.flatnonzero(held >= self.needed)
        if there.size:
            self._fail(stretch.first + int(there[0]))

    def _ask(self, enabled: Flags) -> None:
        """Whether it could have held as long by now."""
        if self.completed:
            return
        asked = held_for(enabled, self.asking)
        self.asking = int(asked[-1])
        self.completed = bool((asked >= self.needed).any())


class Once(Test):
    """Decides once in a drive, over the first so many seconds in which something holds without a break."""

    def __init__(
        self,
        when: Callable[[Stretch], Flags],
        seconds: float,
        columns: tuple[str, ...],
        failed: Callable[[dict[str, Values]], bool],
    ) -> None:
        super().__init__()
        self.when, self.columns, self.failed = when, columns, failed
        self.needed = round(seconds / FRAME)
        self.kept: dict[str, Values] = {name: np.zeros(0) for name in columns}
        self.count = 0

    def feed(self, stretch: Stretch) -> None:
        if self.completed:
            return
        held = held_for(self.when(stretch), self.count)
        there = np.flatnonzero(held >= self.needed)
        end = int(there[0]) + 1 if there.size else len(held)
        length = int(held[end - 1])
        for name in self.columns:
            whole = np.concatenate([self.kept[name], stretch[name][:end].astype(float)])
            self.kept[name] = whole[len(whole) - length :]
        self.count = length
        if there.size:
            self.completed = True
            if self.failed(self.kept):
                self._fail(stretch.first + end - 1)


class After(Test):
    """Decides some seconds after an event, over what came before and after it; an event that tells nothing leaves it
    open.
    """

    def __init__(
        self,
        event: Callable[[Stretch], Flags],
        before: float,
        after: float,
        columns: tuple[str, ...],
        failed: Callable[[dict[str, Values], dict[str, Values]], bool | None],
    ) -> None:
        super().__init__()
        self.event, self.columns, self.failed = event, columns, failed
        self.before, self.after = round(before / FRAME), round(after / FRAME)
        self.kept: dict[str, Values] = {name: np.zeros(0) for name in columns}
        self.flagged = False
        self.since: int | None = None  # rows kept since the event

    def feed(self, stretch: Stretch) -> None:
        if self.completed:
            return
        flags = self.event(stretch)
        rising = flags & ~np.concatenate([[self.flagged], flags[:-1]])
        self.flagged = bool(flags[-1])
        events, at = np.flatnonzero(rising), 0
        while at < len(flags):
            if self.since is None:
                later = events[events >= at]
                end = int(later[0]) if later.size else len(flags)
                self._keep(stretch, at, end, self.before)
                self.since = 0 if later.size else None
            else:
                end = min(at + self.after - self.since, len(flags))
                self._keep(stretch, at, end, self.before + self.after)
                self.since += end - at
                if self.since == self.after and self._decide(stretch.first + end - 1):
                    return
            at = end

    def _keep(self, stretch: Stretch, start: int, end: int, most: int) -> None:
        for name in self.columns:
            self.kept[name] = np.concatenate([self.kept[name], stretch[name][start:end].astype(float)])[-most:]

    def _decide(self, frame: int) -> bool:
        parts = [
            {name: values[part] for name, values in self.kept.items()}
            for part in (slice(None, -self.after), slice(-self.after, None))
        ]
        self.since = None
        failed = self.failed(parts[0], parts[1])
        self.completed = failed is not None
        if failed:
            self._fail(frame)
        return self.completed


@dataclass(frozen=True)
class Monitor:
    """A code and the test that sets it, made anew for every drive.

    ``needs`` is a feature of the rig; ``trips`` the drives that confirm it.
    """

    code: str
    system: System
    test: Callable[[Rig], Test]
    needs: str
    trips: int


MONITORS: list[Monitor] = []


def monitor(
    code: str, system: System, needs: str = "", trips: int = 2
) -> Callable[[Callable[[Rig], Test]], Callable[[Rig], Test]]:
    """Register a test for a code."""

    def register(test: Callable[[Rig], Test]) -> Callable[[Rig], Test]:
        MONITORS.append(Monitor(code, system, test, needs, trips))
        return test

    return register


def monitors_of(rig: Rig) -> list[Monitor]:
    """The monitors that a rig has."""
    return [entry for entry in MONITORS if entry.needs in {"", *rig.features}]


@dataclass
class Drive:
    """The monitors of one drive, from key on to key off."""

    rig: Rig
    frames: int = 0
    ran: float = 0.0
    tails: dict[str, Values] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.naming = Naming(self.rig)
        self.watched = [(entry, entry.test(self.rig)) for entry in monitors_of(self.rig)]

    def feed(self, rows: NDArray[np.void]) -> None:
        """The next rows of ``layout.LANES``."""
        if not len(rows):
            return
        columns = Columns(rows)
        ran = self.ran + np.cumsum(columns["running"] > 0.5) * FRAME
        stretch = Stretch(self.rig, columns, self.frames, self.naming.name(columns), ran, self.tails)
        for _entry, test in self.watched:
            test.feed(stretch)
        self.frames += len(rows)
        self.ran = float(ran[-1])

    def close(self) -> None:
        """The key is off: what can only be said at the end of a drive."""
        for _entry, test in self.watched:
            test.close(self.frames)
