"""What every station is made of: its document, what a learner sees of it, what they answer, its key, its debrief.

A kind of station adds its own fields to each of them.
"""

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, computed_field, model_validator

from leitfaden_core.channels import CHANNELS, Layer, channel
from leitfaden_core.faults import FaultSpec
from leitfaden_core.quantities import digits_of
from leitfaden_core.scripts import condition
from leitfaden_core.simulate.shape import statistics_of
from leitfaden_core.words import say

Stat = Literal["mean", "min", "max", "std", "freq", "edge", "ratio"]
STAT_WORDS = {
    "mean": "mean",
    "min": "lowest",
    "max": "highest",
    "std": "spread",
    "freq": "swings per second",
    "edge": "time of an edge",
    "ratio": "swing over the front sensor's",
}

#: A name out of a catalogue.
Name = Annotated[str, Field(max_length=60)]


class Document(BaseModel):
    """What people write. Unknown fields are refused, so that a typing slip cannot pass unseen; a number is finite and a
    number, not a text like one.
    """

    model_config = ConfigDict(extra="forbid", strict=True, allow_inf_nan=False)


class Shape(BaseModel):
    """What the core gives out. Fields of an older version that are not known any more are left out in silence, so that
    what was kept stays readable.
    """

    model_config = ConfigDict(extra="ignore")


class ReadingPlace(Document):
    """Where a value is read: condition, channel, and which statistic over the condition."""

    condition: Name
    channel: Name
    stat: Stat = "mean"

    @model_validator(mode="after")
    def _is_known(self) -> "ReadingPlace":
        condition(self.condition)
        entry = channel(self.channel)
        if self.stat == "freq" and entry.family != "oxygen":
            raise ValueError(
                say("'{label}' does not switch; only oxygen sensors have swings per second", label=entry.label)
            )
        if self.stat in {"edge", "ratio"} and self.stat not in statistics_of(self.channel):
            raise ValueError(
                say("'{label}' has no {stat} that could be read", label=entry.label, stat=STAT_WORDS[self.stat])
            )
        return self


class Vehicle(Document):
    """The engine of one station, where it is another than the lesson's. What is None is as in the lesson.

    ``individual`` is one engine of its series, with its own tolerances and sizes of faults: the same for all learners.
    0 is the rig itself, with the sizes as they are written; None gives each learner an engine of their own.
    """

    rig: Name | None = None
    script: Name | None = None
    faults: Annotated[list[FaultSpec], Field(max_length=4)] | None = None
    individual: Annotated[int, Field(ge=0, le=2**31 - 1)] | None = None


class Override(Document):
    """What a trainer lays over one part of a computed key, for every learner who gets it: what is right instead, or the
    band from ``low`` to ``high`` (in the unit in which the quantity is kept), or neither, then only the reason is
    another; why, and by which source.
    """

    part: Annotated[str, Field(min_length=1, max_length=200)]
    right: Annotated[str, Field(max_length=20)] = ""
    low: float | None = None
    high: float | None = None
    why: Annotated[str, Field(min_length=1, max_length=600)]
    source: Annotated[str, Field(min_length=1, max_length=200)]

    @model_validator(mode="after")
    def _says_something(self) -> "Override":
        if self.low is not None and self.high is not None and self.low >= self.high:
            raise ValueError("the band's upper end lies below its lower end")
        return self


StationId = Annotated[str, Field(pattern=r"^[a-z0-9-]{1,40}$")]


class Branch(Document):
    """Who gets a station: those whose result at an earlier one lay below so many percent, or reached them."""

    station: StationId
    result: Literal["below", "reached"] = "below"
    percent: Annotated[int, Field(ge=1, le=100)] = 60

    def holds(self, points: float) -> bool:
        """Whether a result (0..1) lies on that side."""
        # Points are shares of small numbers: two thirds of three questions is no more and no less than 66.7 %.
        reached = 100.0 * points >= self.percent - 1e-6
        return reached == (self.result == "reached")


class StationDocument(Document):
    """What a trainer writes of any station. ``given_if``: only some learners get it."""

    kind: Annotated[str, Field(title="kind")]
    id: Annotated[StationId, Field(title="id")]
    title: Annotated[str, Field(min_length=1, max_length=120, title="title")]
    text: Annotated[str, Field(max_length=20_000, title="text")] = ""
    minutes: Annotated[int, Field(ge=0, le=240, title="minutes")] = 0  # what it is meant to take; 0: nobody has said
    vehicle: Annotated[Vehicle, Field(title="engine of its own")] = Vehicle()
    overrides: Annotated[list[Override], Field(max_length=20, title="overruled keys")] = []
    given_if: Annotated[Branch | None, Field(title="given if")] = None


class StationView(Shape):
    """What a learner may see of a station: no key, no fault, no name that gives it away. ``final``: an answer stays,
    since what comes next hangs on it.
    """

    kind: str
    index: int
    id: str
    title: str
    text: str
    rig: str = ""
    has_lanes: bool = False
    problem: str = ""
    final: bool = False


class Answer(BaseModel):
    """What a learner gives at a station."""

    model_config = ConfigDict(extra="forbid", strict=True)

    kind: str


class Seen(Answer):
    """A station that asks for nothing but to be looked at."""

    seen: bool = False


class StationReading(Shape):
    """A reading with its words; its value where it may be seen."""

    condition: str
    condition_label: str
    channel: str
    label: str
    stat: str
    stat_label: str
    quantity: str
    layer: str
    family: str
    step: float
    value: float | None
    unit: str
    substitute: bool = False  # the tool marks it as the control unit's own making, for a sensor that is lost

    @computed_field  # type: ignore[prop-decorator]
    @property
    def digits(self) -> int:
        """Digits after the point that the display's step is worth."""
        return digits_of(self.step)

    @property
    def place_name(self) -> str:
        """Name of its place, the same for every learner."""
        return f"{self.condition}.{self.channel}.{self.stat}"


class Trace(Shape):
    """A displayed value along a condition."""

    label: str
    quantity: str
    unit: str
    condition: str
    seconds: list[float]
    values: list[float | None]


class KeyPart(Shape):
    """A part of a key; ``overruled``: what a trainer says over it, and by which source."""

    overruled: str = ""


class StationKey(Shape):
    """What is right at a station, with the reason for each part, in the order in which the view shows them."""

    kind: str
    parts: list[Any] = []


class MarkedStation(Shape):
    """A station in the debrief: points (0..1) where it has any, and for each part what was given and what is right.

    ``vehicle`` tells of its engine and what was wrong with it, where it was another than the lesson's. ``overruled``:
    who has granted the points against the key, and why. ``left_out``: the learner's way did not lead there.
    """

    kind: str
    index: int
    title: str
    answered: bool
    points: float | None
    vehicle: str = ""
    overruled: str = ""
    left_out: bool = False
    parts: list[Any] = []


def reading_label(place: ReadingPlace) -> str:
    """A reading place in words, such as «MAF, scan value, mean»."""
    entry = CHANNELS[place.channel]
    layer = {Layer.TRUTH: "true value", Layer.PIN: "at the pin", Layer.SCAN: "scan value"}[entry.layer]
    return say("{label}, {layer}, {stat}", label=entry.label, layer=layer, stat=STAT_WORDS[place.stat])
