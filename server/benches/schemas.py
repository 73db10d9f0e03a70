"""What goes in and out of the list of benches."""

from datetime import datetime
from typing import Annotated

from ninja import Schema
from pydantic import Field

from leitfaden_core.live import Beginning, KeptReading


class OpenBenchIn(Schema):
    """An engine to be put on a bench."""

    beginning: Beginning
    name: Annotated[str, Field(max_length=80)] = ""


class OptionOut(Schema):
    id: str
    label: str
    choices: list[str]
    low: float
    high: float
    unit: str
    default: str


class InstrumentOut(Schema):
    """An instrument with the places where it fits; ``several``: what separates them where it takes more than one,
    ``words``: what those are called whose name is no word.
    """

    id: str
    label: str
    purpose: str
    minutes: float
    cautions: list[str]
    conditions: list[str]
    options: list[OptionOut]
    places: list[str]
    several: str
    words: dict[str, str]


class PlugOut(Schema):
    circuit: str
    wire: str
    plug: str
    label: str
    sensor: str


class PartOut(Schema):
    name: str
    sensor: str


class StationOut(Schema):
    """A part on the way of the air, or a branch off it that joins at a sensor; with what hands find there."""

    id: str
    label: str
    name: str
    at: str
    channels: list[str]
    hoses: list[str]
    parts: list[str]
    actuators: list[str]


class WayOut(Schema):
    """Sensors and parts in the order of the air, the parts, and the branches."""

    order: list[str]
    parts: list[StationOut]
    branches: list[StationOut]


class MeasuresOut(Schema):
    """What is to be done first: the right answer, and two that are not enough."""

    right: str
    wrong: list[str]


class CautionOut(Schema):
    """A caution with the acts at which it stands; with measures where somebody can be hurt."""

    id: str
    words: str
    at: list[str]
    measures: MeasuresOut | None


class ReachOut(Schema):
    """What hands can reach on an engine."""

    plugs: list[PlugOut]
    hoses: list[str]
    parts: list[PartOut]
    actuators: list[str]
    instruments: list[InstrumentOut]
    way: WayOut
    cautions: list[CautionOut]


class KeptVerdict(Schema):
    """The verdict on something that an instrument showed, with its reason."""

    verdict: str
    reason: str


class KeptIn(KeptReading):
    """A kept reading. ``sealed`` is what came with it, as it came; a reading of another state than the engine is in has
    none.
    """

    sealed: Annotated[str, Field(max_length=2000)] = ""


class KeptList(Schema):
    """Readings that are looked at together."""

    readings: Annotated[list[KeptIn], Field(min_length=1, max_length=60)]


class RelationOut(Schema):
    """Readings of one condition that must agree, and whether they do."""

    condition: str
    label: str
    verdict: str
    reason: str


class TellingTest(Schema):
    """A test that would tell much after some readings, and the minutes that it takes now."""

    label: str
    minutes: float


class KeptTogether(Schema):
    """What readings say together, and the tests that would tell most after them, best first.

    ``known``: share of the engine's causes that have been simulated; before 1 no test is named. ``advice``: where a
    cause that is left may be the victim of another.
    """

    relations: list[RelationOut]
    tests: list[TellingTest]
    advice: str
    known: float


class RecordIn(Schema):
    """A stretch of a bench, by its frames, to be kept."""

    name: Annotated[str, Field(min_length=1, max_length=120)]
    first: Annotated[int, Field(ge=0, le=2**31 - 1)]
    last: Annotated[int, Field(ge=1, le=2**31 - 1)]
    channels: Annotated[list[Annotated[str, Field(max_length=60)]], Field(min_length=1, max_length=40)]


class RecordingRow(Schema):
    """A recording of a person."""

    id: int
    name: str
    rig: str
    seconds: float
    channels: list[str]
    made_at: datetime


class RecordingLanesOut(Schema):
    """Values of a recording's channels over its time."""

    time: list[float]
    lanes: dict[str, list[float | None]]


class BenchRow(Schema):
    """A bench of a person."""

    id: int
    name: str
    rig: str
    seconds: float
    doings: int
    used_at: datetime


class RecordingFeedOut(Schema):
    """What an instant of a recording gives for the inputs of a calculation, and where each comes from. [s]"""

    given: dict[str, str]
    sources: dict[str, str]
    at: float
