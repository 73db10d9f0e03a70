"""What goes in and out of the catalogue and the bench."""

from typing import Annotated

from ninja import Schema
from pydantic import Field

from leitfaden_core.faults import FaultSpec
from people.schemas import Wish


class UnitOut(Schema):
    symbol: str
    factor: float
    offset: float
    extra_digits: int
    signed: bool


class QuantityOut(Schema):
    id: str
    label: str
    reference: str
    metric: str
    imperial: str
    units: list[UnitOut]
    means: dict[str, str]


class ChannelOut(Schema):
    """A channel; one that ``swings`` is never at its mean."""

    id: str
    label: str
    quantity: str
    unit: str
    layer: str
    family: str
    measurand: str
    digits: int
    meaning: str
    swings: bool
    statistics: list[str]


class RangeOut(Schema):
    low: float
    high: float
    steps: list[float]


class ParameterOut(Schema):
    id: str
    label: str
    unit: str
    low: float
    high: float
    steps: list[float]
    choices: list[str]
    called: dict[str, str]
    optional: bool
    depends_on: str
    ranges: dict[str, RangeOut]


class OnsetNumberOut(Schema):
    id: str
    label: str
    unit: str
    low: float
    high: float
    start: float


class OnsetModeOut(Schema):
    id: str
    label: str
    numbers: list[OnsetNumberOut]


class FaultKindOut(Schema):
    id: str
    label: str
    group: str
    meaning: str
    place: str
    parameters: list[ParameterOut]
    repair: str
    proof: str
    cautions: list[str]


class SensorOut(Schema):
    id: str
    term: str
    name: str
    family: str
    place: str
    channels: list[str]


class RigOut(Schema):
    id: str
    base: str  # the rig of which it is a variant, or itself
    name: str
    description: str
    governed: bool  # whether a lever sets the speed instead of a pedal the throttle
    sensors: list[SensorOut]
    channels: list[str]
    faults: dict[str, dict[str, list[str]]]  # kinds that this engine can have, with the choices that exist on it


class ConditionOut(Schema):
    id: str
    label: str
    meaning: str
    closed_loop: bool


class ScriptOut(Schema):
    id: str
    name: str
    description: str
    seconds: float
    conditions: list[str]


class Catalogue(Schema):
    """Everything that a screen needs to name things."""

    core: str
    rigs: list[RigOut]
    scripts: list[ScriptOut]
    conditions: list[ConditionOut]
    channels: list[ChannelOut]
    quantities: list[QuantityOut]
    faults: list[FaultKindOut]
    circuits: dict[str, str]
    onsets: list[OnsetModeOut]


class BenchIn(Wish):
    """What to run."""

    rig: str = Field("R1", max_length=20)
    script: str = Field("workshop_day", max_length=40)
    faults: list[FaultSpec] = Field([], max_length=8)
    seed: int = Field(0, ge=0, le=2**31 - 1)
    channels: list[Annotated[str, Field(max_length=60)]] = Field(min_length=1, max_length=16)
    #: Whether the sound engine's lanes come along; who changes a fault has them from before.
    good: bool = True


class Lane(Schema):
    """Values of one channel over the points of time; ``good`` is the sound engine, where it may be shown and was
    asked for.
    """

    run: list[float | None]
    good: list[float | None] | None


class WindowOut(Schema):
    condition: str
    label: str
    start: float
    end: float
    closed_loop: bool


class SegmentOut(Schema):
    label: str
    start: float
    end: float
    time_lapse: float


class ReadingOut(Schema):
    condition: str
    channel: str
    value: float | None
    good: float | None
    low: float | None
    high: float | None
    substitute: bool = False
    verdict: str
    measure: str = "mean"
    reason: str


class BandOut(Schema):
    """What healthy engines show in a condition; ``swing`` tells that it spans lowest to highest instead of means."""

    condition: str
    channel: str
    low: float
    high: float
    swing: bool


class CodeOut(Schema):
    """A trouble code with its generic meaning."""

    id: str
    meaning: str


class LanesOut(Schema):
    """Lanes along a script."""

    time: list[float]
    lanes: dict[str, Lane]
    quantities: dict[str, str]  # as this engine's tool shows each channel
    windows: list[WindowOut]
    segments: list[SegmentOut]
    seconds: float
    readings: list[ReadingOut] = []
    bands: list[BandOut] = []
    codes: list[CodeOut] = []
    sound_alarms: float | None = None  # share of sound engines that show any alarm here, by design
