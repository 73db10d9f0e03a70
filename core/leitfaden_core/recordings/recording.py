"""What a recording is, wherever it comes from: points of time, columns by channel, events, and the stretches in which a
named condition was there.
"""

from dataclasses import dataclass
from typing import Any, Literal, Protocol

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.channels import channel
from leitfaden_core.quantities import QUANTITIES
from leitfaden_core.rigs import Rig


@dataclass(frozen=True)
class Event:
    """Something that was done, or began, at a time. [s]"""

    seconds: float
    kind: Literal["action", "segment", "mark"]
    words: str
    details: tuple[tuple[str, Any], ...] = ()


@dataclass(frozen=True)
class Stretch:
    """A time in which a named condition was there. [s]"""

    condition: str
    start: float
    end: float


class Recording(Protocol):
    """A run along a script, a live record, or a capture from elsewhere."""

    @property
    def rig(self) -> Rig:
        """The engine, as far as it is known."""

    @property
    def time(self) -> NDArray[np.float64]:
        """Time of each row, from the beginning. [s]"""

    @property
    def channels(self) -> list[str]:
        """Ids of the columns."""

    def column(self, name: str) -> NDArray[np.floating[Any]]:
        """Values of a channel, in the unit in which its quantity is kept; NaN where it was not defined."""

    @property
    def events(self) -> tuple[Event, ...]:
        """What was done, in order."""

    @property
    def stretches(self) -> tuple[Stretch, ...]:
        """Where which condition was there, in order."""

    def statistic(self, condition: str, name: str, stat: str) -> float:
        """A statistic of a channel in a condition; NaN where the channel is not defined there."""

    def substituted(self, condition: str, name: str) -> bool:
        """Whether a channel is known to show the control unit's own making in a condition instead of a sensor's
        value.
        """


def unit_of(name: str) -> str:
    """The unit in which a channel's values are kept.

    >>> unit_of("maf"), unit_of("ect")
    ('g/s', '°C')
    """
    return QUANTITIES[channel(name).quantity].kept


def conditions_of(recording: Recording) -> list[str]:
    """The named conditions that a recording has, each once, in the order in which they came."""
    return list(dict.fromkeys(stretch.condition for stretch in recording.stretches))
