"""What driver, roller bench and hands do at present, and the rows that the compiled step reads of it, one for each
frame.
"""

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.rigs import Rig
from leitfaden_core.simulate.layout import (
    FOOT_PEDAL,
    FOOT_SNAP,
    FRAME,
    INPUT,
    INPUT_NAMES,
    KEY_OFF,
    KEY_ON,
    KEY_START,
)

KEYS = {"off": KEY_OFF, "on": KEY_ON, "start": KEY_START}
#: An alternator's regulator takes new consumers up so slowly that the idle can follow (load response). [s]
TAKEN_UP_IN = 3.0
RAD_PER_RPM = 2.0 * np.pi / 60.0
#: Road speed at the rig's cruising speed. [km/h]
CRUISE_KMH = 80.0


@dataclass(frozen=True)
class Hands:
    """Present intentions. Ramps count from the frame in which they began."""

    key: int = KEY_ON
    time_lapse: float = 1.0
    moved: str | None = None  # place that a hand moves
    foot: int = FOOT_PEDAL
    target: float = 0.0  # where the pedal goes [-], or the speed [rad/s] or torque [N m] that the foot holds
    pedal_from: float = 0.0
    pedal_since: int = 0
    pedal_seconds: float = 0.0
    roller: tuple[float, float, int, int] | None = None  # [rev/min] from, to; frame of its start; frames
    gear_ratio: float = 1.0
    #: Current [A] and torque [Nm] of what was switched on, before and after; frame in which it was.
    consumers: tuple[tuple[float, float], tuple[float, float]] = ((0.0, 0.0), (0.0, 0.0))
    consumers_since: int = 0

    def pedal_at(self, frame: int) -> float:
        """Where a pedal that is moved along a ramp stands in this frame. [-]"""
        gone = (frame - self.pedal_since) * FRAME / max(self.pedal_seconds, FRAME)
        return self.target if gone >= 1.0 - 1e-9 else self.pedal_from + (self.target - self.pedal_from) * gone

    def consumers_at(self, frame: int) -> tuple[float, float]:
        """Current and torque of what is switched on, in this frame. [A], [Nm]"""
        (amps, torque), (amps_then, torque_then) = self.consumers
        share = min((frame - self.consumers_since) * FRAME / TAKEN_UP_IN, 1.0)
        return amps + (amps_then - amps) * share, torque + (torque_then - torque) * share

    def _ramp_consumers(self, rows: NDArray[np.void], first: int) -> None:
        gone = (np.arange(first, first + len(rows)) - self.consumers_since + 1) * FRAME
        share = np.clip(gone / TAKEN_UP_IN, 0.0, 1.0)
        for name, before, after in zip(("consumer_amps", "compressor_torque"), *self.consumers, strict=True):
            rows[name] = before + (after - before) * share

    @cached_property
    def rest_from(self) -> int:
        """Frame from which on nothing moves, as long as nobody does anything else."""
        ends = [0]
        if self.consumers_since:
            ends.append(self.consumers_since + math.ceil(TAKEN_UP_IN / FRAME) + 1)
        if self.foot == FOOT_PEDAL:
            ends.append(self.pedal_since + math.ceil(self.pedal_seconds / FRAME) + 1)
        if self.roller is not None:
            start, stop, since, length = self.roller
            ends.append(since + length if start != stop else since)
        return max(ends)

    def rows(self, rig: Rig, first: int, frames: int) -> NDArray[np.void]:
        """Rows of ``layout.INPUT`` for the frames from ``first`` on, as long as nobody does anything else."""
        target = 0.0 if self.foot == FOOT_SNAP else self.target
        # Filled as plain numbers: record by record takes three times as long.
        numbers = np.empty((frames, len(INPUT_NAMES)))
        numbers[:] = (self.key, self.foot, target, 0.0, 0.0, 0.0, self.time_lapse, *self.consumers[1])
        rows = numbers.view(INPUT)[:, 0]
        if (first - self.consumers_since) * FRAME < TAKEN_UP_IN and self.consumers_since:
            self._ramp_consumers(rows, first)
        if self.foot == FOOT_PEDAL and (first - self.pedal_since) * FRAME < self.pedal_seconds:
            seconds = (np.arange(first - self.pedal_since, first - self.pedal_since + frames) + 1) * FRAME
            share = np.clip(seconds / max(self.pedal_seconds, FRAME), 0.0, 1.0)
            rows["target"] = self.pedal_from + (self.target - self.pedal_from) * share
        if self.roller is not None:
            speed = _ramp(*self.roller, first, frames)
            rows["in_gear"] = 1.0
            rows["roller_speed"] = speed * RAD_PER_RPM
            rows["vehicle_kmh"] = CRUISE_KMH * speed / rig.vehicle.cruise_speed * self.gear_ratio
        return rows


def _ramp(start: float, stop: float, since: int, length: int, first: int, frames: int) -> NDArray[np.float64]:
    """A part of ``np.linspace(start, stop, length)``, bit for bit, which stays at ``stop`` behind its end."""
    at = np.arange(first - since, first - since + frames)
    if length < 2:
        return np.full(frames, start if length == 1 and not (at > 0).any() else stop)
    return np.where(at >= length - 1, stop, at * ((stop - start) / (length - 1)) + start)


def gear_ratio(rig: Rig, gear: str | None) -> float:
    """Road speed of a gear over that of the usual gear, at one engine speed.

    The next gear lies in the geometric middle between both.
    """
    pull = rig.vehicle.pull_ratio
    return {"pull": pull, "next": math.sqrt(pull)}.get(gear or "", 1.0)


def roller_speed(rig: Rig, speed: float | str) -> float:
    """Crankshaft speed of a script's speed on this rig. [rev/min]"""
    if isinstance(speed, float):
        return speed
    share, _, reference = speed.rpartition(" ")
    references = {
        "cruise": rig.vehicle.cruise_speed,
        "rated": rig.engine.rated_speed,
        "shifted": rig.engine.rated_speed * gear_ratio(rig, "pull") / gear_ratio(rig, "next"),
    }
    wanted = float(share or 1.0) * references[reference]
    # A governed engine has no faster speed than that of its governor.
    return min(wanted, rig.governor.governed_speed) if rig.governor is not None else wanted
