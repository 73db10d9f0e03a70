"""What goes in and out of drills."""

from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from leitfaden_core.drills import DrillKey, DrillView
from people.schemas import Wish


class DrillRow(Schema):
    """A drill, and how far the asking person is with it."""

    id: int
    title: str
    own: bool
    kinds: list[str]
    engines: list[str]
    answered: int


class DrillIn(Wish):
    """A drill out of a lesson, or of kinds of faults."""

    title: Annotated[str, Field(max_length=160)] = ""
    lesson: Annotated[int, Field(ge=0, le=2**31 - 1)] = 0
    kinds: Annotated[list[Annotated[str, Field(max_length=60)]], Field(max_length=20)] = []


class DrillKind(Schema):
    """A kind of fault that can be drilled."""

    id: str
    label: str
    place: str


class NextIn(Wish):
    """Nothing is asked but the next item."""


class TrialOut(Schema):
    """An item, without its key."""

    id: int
    number: int
    item: DrillView


class TrialIn(Wish):
    """What the learner says, and how sure they are. [%]"""

    said: Literal["sound", "faulty", "first", "second"]
    confidence: Literal[50, 75, 95]


class TrialTold(Schema):
    """Whether it was right, why, and what a false alarm costs."""

    right: bool
    said: str
    key: DrillKey
    cost: str
    size: str


class SurenessOut(Schema):
    confidence: int
    trials: int
    right: int


class KindFigures(Schema):
    """A kind of fault: trials, the size that is found in four of five, when it comes again."""

    kind: str
    label: str
    faulty: int
    hits: int
    threshold: str
    due: str | None


class FiguresOut(Schema):
    """What the trials of a drill say of a learner."""

    learner: str
    faulty: int
    hits: int
    sound: int
    false_alarms: int
    d_prime: float | None
    bias: float | None
    pairs: int
    pairs_right: int
    d_prime_pairs: float | None
    minutes_in_vain: float
    sureness: list[SurenessOut]
    kinds: list[KindFigures]
