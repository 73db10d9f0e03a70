"""What a monitor is: a question to what the control unit believed and saw during one drive, and when it may be asked.

Limits are engineering choices in the size that the trade knows; SAE J2012 defines meanings, not limits. What happens to an answer (pending,
confirmed, permanent) is in :mod:`leitfaden_core.monitors.report`.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.simulate import FRAME, Run

Flags = NDArray[np.bool_]
Values = NDArray[np.floating[Any]]
#: Groups of readiness in SAE J1979, service 01, PID 01. The first three are watched all the time.
System = Literal[
    "misfire", "fuel system", "components", "catalyst", "oxygen sensor", "oxygen sensor heater", "EGR system", "boost", "particle filter"
]
CONTINUOUS: tuple[System, ...] = ("misfire", "fuel system", "components")


@dataclass(frozen=True)
class Outcome:
    """Whether a monitor came to an answer in a drive, and when it failed. [s of the drive]"""

    completed: bool
    failed_at: float | None = None


@dataclass(frozen=True)
class Monitor:
    """A code and the test that sets it. ``needs`` is a feature of the rig; ``trips`` the drives in a row that confirm it."""

    code: str
    system: System
    test: Callable[[Run], Outcome]
    needs: str
    trips: int


MONITORS: list[Monitor] = []


def monitor(code: str, system: System, needs: str = "", trips: int = 2) -> Callable[[Callable[[Run], Outcome]], Callable[[Run], Outcome]]:
    """Register a test for a code."""

    def register(test: Callable[[Run], Outcome]) -> Callable[[Run], Outcome]:
        MONITORS.append(Monitor(code, system, test, needs, trips))
        return test

    return register


def monitors_of(run: Run) -> list[Monitor]:
    """The monitors that a run's rig has."""
    return [entry for entry in MONITORS if entry.needs in {"", *run.rig.features}]


def held_at(flags: Flags, seconds: float) -> float | None:
    """When a condition has held without a break for some seconds, for the first time; None when it never has. [s]"""
    needed = max(round(seconds / FRAME), 1)
    edges = np.flatnonzero(np.diff(np.concatenate([[0], flags.astype(np.int8), [0]])))
    starts, ends = edges[::2], edges[1::2]
    long = np.flatnonzero(ends - starts >= needed)
    return float((starts[long[0]] + needed) * FRAME) if long.size else None


def watch(flags: Flags, seconds: float, enabled: Flags | None = None) -> Outcome:
    """Outcome of a monitor that fails when ``flags`` hold for some seconds; it has answered once ``enabled`` held as long."""
    completed = enabled is None or held_at(enabled, seconds) is not None
    failed = held_at(flags if enabled is None else flags & enabled, seconds)
    return Outcome(completed, failed)


def running(run: Run) -> Flags:
    """Rows in which the engine runs."""
    return np.asarray(run.lanes["running"] > 0.5)


def soaked(run: Run) -> Flags:
    """Rows at key on before the first start after a night, once the values have settled; none in a drive that starts hot."""
    turned = np.maximum.accumulate(run.lanes["rpm"] > 5.0)
    flags = ~turned & (np.arange(len(turned)) * FRAME > 1.0)
    return flags if run.script.start == "cold" else np.zeros_like(flags)


def steady(run: Run, condition: str) -> tuple[NDArray[np.void], float] | None:
    """Rows of a condition in which the loop was closed all the time, and their start [s]; None where the drive has none."""
    if condition not in run.script.conditions():
        return None
    span = run.script.span(condition)
    rows = run.rows(span)
    return (rows, span[0]) if np.all(rows["closed_loop"] > 0.5) else None


def smooth(values: Values, seconds: float) -> NDArray[np.float64]:
    """Running mean. Shorter drives than the window keep their values."""
    width = max(round(seconds / FRAME), 1)
    if len(values) < width:
        return values.astype(np.float64)
    # As np.convolve(mode="same") has it, from one running sum: a window's length costs nothing.
    total = np.concatenate([[0.0], np.cumsum(values, dtype=np.float64)])
    here = np.arange(len(values))
    end, start = np.minimum(here + (width + 1) // 2, len(values)), np.maximum(here - width // 2, 0)
    return np.asarray((total[end] - total[start]) / width)
