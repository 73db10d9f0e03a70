"""When a fault that comes and goes is there: stretches drawn one after the other, so that a run may go on for as long
as it likes.
"""

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.chance import chance
from leitfaden_core.faults import FaultSpec
from leitfaden_core.simulate.layout import FRAME

Stretches = Iterator[tuple[int, int]]


def pulses(stream: np.random.Generator, seconds: float, per_minute: float) -> Stretches:
    """Random instants (Poisson) at which something is there for a fixed time: first frame and the one behind the last,
    from frame 0 on.
    """
    now, length = 0.0, max(round(seconds / FRAME), 1)
    while True:
        now += stream.exponential(60.0 / per_minute)
        start = int(now / FRAME)
        yield start, start + length
        now += seconds


def on_and_off(stream: np.random.Generator, on: float, off: float) -> Stretches:
    """Random stretches present and absent with the given mean times [s]: those in which it is there."""
    now, there = 0.0, False
    while True:
        length = stream.exponential(on if there else off)
        if there:
            yield int(now / FRAME), int((now + length) / FRAME) + 1
        now, there = now + length, not there


#: How often a loose contact opens while a hand moves it. [1/min]
MOVED_PER_MINUTE = 90.0


class Presence:
    """In which frames a fault is there, asked for forwards only.

    Parameters
    ----------
    spec : FaultSpec
        As it was put in: its stream of chance stays the same when its size is changed later.
    seed : int
        Of all chance in the vehicle.
    since : int
        Frame in which it was put in; its stretches count from there.
    """

    def __init__(self, spec: FaultSpec, seed: int, since: int) -> None:
        kind, values = spec.checked()
        # A stream of its own for each fault, so that a second fault does not move the gaps of the first.
        stream = chance(seed, spec.model_dump_json())
        onset = spec.onset
        self.since, self.stretches = since, None
        self.moved_place = (
            str(values.get("circuit", kind.place)) if onset.mode == "wiggle" and kind.pulses is None else None
        )
        self.loose_place, self.moved_pulse = "", 1
        if kind.pulses is not None:
            seconds, per_minute = kind.pulses(values)
            self.stretches = pulses(stream, seconds, per_minute)
            # Under a hand the gap follows the hand: it opens with every move, as long as it does by itself.
            self.loose_place, self.moved_pulse = str(values.get("circuit", "")), max(round(seconds / FRAME), 1)
        elif onset.mode == "random":
            self.stretches = on_and_off(stream, onset.on_s or 1.0, onset.off_s or 1.0)
        #: Whether it is there at times only.
        self.changes = self.stretches is not None or self.moved_place is not None
        self.open: list[tuple[int, int]] = []
        self.drawn_to = -1

    def fill(self, mask: NDArray[np.uint8], first: int, moved: str | None) -> None:
        """Set ``mask``, whose entry 0 is frame ``first``, to 1 where the fault is there.

        ``moved``: the place that a hand moves meanwhile.
        """
        if self.moved_place is not None:
            mask[:] = self.moved_place == moved
            return
        if self.stretches is None:
            mask[:] = 1
            return
        mask[:] = 0
        here, end = first - self.since, first - self.since + len(mask)
        while self.drawn_to < end:
            stretch = next(self.stretches)
            self.open.append(stretch)
            self.drawn_to = stretch[0]
        for start, stop in self.open:
            mask[max(start - here, 0) : max(stop - here, 0)] = 1
        self.open = [stretch for stretch in self.open if stretch[1] > end]
        if moved is not None and moved == self.loose_place:
            since_move = (here + np.arange(len(mask))) % round(60.0 / MOVED_PER_MINUTE / FRAME)
            mask[since_move < self.moved_pulse] = 1
