"""What an explorable drawing is: hands that move something, numbers that follow, poses that show the idea step by step.

A drawing computes and never draws: the screen has a picture for each id and fills it with these numbers. Its words are
its equivalent in text.
"""

import math
from collections.abc import Callable, Mapping
from dataclasses import KW_ONLY, dataclass, field

from leitfaden_core.errors import LeitfadenError, OutOfRange, UnknownName
from leitfaden_core.quantities import QUANTITIES
from leitfaden_core.registry import Registry
from leitfaden_core.words import say

Hands = Mapping[str, float | str]
Numbers = dict[str, float]
#: Places of a curve.
POINTS = 61


@dataclass(frozen=True)
class Hand:
    """Something that moves: a number of a quantity with its range and start in the kept unit, or one of some
    choices.
    """

    id: str
    label: str
    _: KW_ONLY
    quantity: str = ""
    low: float = 0.0
    high: float = 0.0
    start: float | str = 0.0
    step: float = 1.0
    digits: int = 0
    choices: tuple[tuple[str, str], ...] = ()  # id and label

    def checked(self, value: float | str) -> float | str:
        """A value for it.

        Raises
        ------
        UnknownName, OutOfRange
            When it is none of the choices, or outside the range.
        """
        if self.choices:
            if value not in dict(self.choices):
                raise UnknownName(self.label, str(value), dict(self.choices))
            return value
        number = _number(value, self.label)
        if not self.low <= number <= self.high:
            raise OutOfRange(self.label, number, self.low, self.high, QUANTITIES[self.quantity].kept)
        return number


@dataclass(frozen=True)
class Seen:
    """A number that a drawing shows, with its digits in the kept unit."""

    id: str
    label: str
    quantity: str
    digits: int = 2


@dataclass(frozen=True)
class Pose:
    """A step of the explanation: hands set so, and what is to be seen then."""

    id: str
    label: str
    hands: Hands
    words: str


@dataclass(frozen=True)
class Curve:
    """A number over what a hand moves. Shapes: (POINTS,), in the kept units."""

    along: str
    seen: str
    given: list[float]
    result: list[float]


@dataclass(frozen=True)
class Trace:
    """A signal in time. [s], and the quantity's kept unit."""

    id: str
    label: str
    quantity: str
    digits: int
    seconds: list[float]
    values: list[float]


Look = Callable[[Hands], Numbers]


@dataclass(frozen=True)
class Drawing:
    """An explorable drawing. ``holds``: where its numbers are good, and from whom they are."""

    id: str
    label: str
    shows: str
    _: KW_ONLY
    hands: tuple[Hand, ...]
    seen: tuple[Seen, ...]
    poses: tuple[Pose, ...]
    look: Look
    tells: Callable[[Hands, Numbers], str]
    along: str = ""  # the hand along which curves run
    over: tuple[str, ...] = ()  # the numbers that are drawn as curves
    traces: Callable[[Hands], list[Trace]] | None = None
    simulated: bool = False  # it drives an engine for its traces, which takes a worker
    holds: str = ""

    def set(self, hands: Hands) -> dict[str, float | str]:
        """All hands with their values: those told, the others at their start.

        Raises
        ------
        UnknownName, OutOfRange
            For a hand that it has not, or a value that it cannot take.
        """
        known = {hand.id: hand for hand in self.hands}
        for name in hands:
            if name not in known:
                raise UnknownName("hand", name, known, where=say("of the drawing '{label}'", label=self.label))
        return {hand.id: hand.checked(hands.get(hand.id, hand.start)) for hand in self.hands}


@dataclass(frozen=True)
class Shown:
    """A drawing with its hands set: all numbers (those seen and those only drawn), words, curves, traces."""

    hands: dict[str, float | str]
    numbers: Numbers
    words: str
    curves: list[Curve] = field(default_factory=list)
    traces: list[Trace] = field(default_factory=list)


drawings: Registry[Drawing] = Registry("drawing")


def showing(drawing: Drawing, told: Hands) -> Shown:
    """What a drawing shows with some hands moved."""
    hands = drawing.set(told)
    numbers = drawing.look(hands)
    curves = _curves(drawing, hands) if drawing.along else []
    traces = drawing.traces(hands) if drawing.traces else []
    return Shown(
        hands, {name: _tidy(value) for name, value in numbers.items()}, drawing.tells(hands, numbers), curves, traces
    )


def _curves(drawing: Drawing, hands: dict[str, float | str]) -> list[Curve]:
    hand = next(hand for hand in drawing.hands if hand.id == drawing.along)
    places = [hand.low + (hand.high - hand.low) * k / (POINTS - 1) for k in range(POINTS)]
    looks = [drawing.look(hands | {hand.id: place}) for place in places]
    return [
        Curve(hand.id, name, [_tidy(place) for place in places], [_tidy(look[name]) for look in looks])
        for name in drawing.over
    ]


def number(hands: Hands, name: str) -> float:
    """The value of a hand that is a number."""
    return float(hands[name])


def _number(value: float | str, label: str) -> float:
    try:
        found = float(value)
    except ValueError:
        found = math.nan
    if not math.isfinite(found):
        raise LeitfadenError(say("{label}: '{value}' is no number", label=label, value=str(value)))
    return found


def _tidy(value: float) -> float:
    """Six significant digits: more than any screen shows."""
    return float(f"{value:.6g}") + 0.0
