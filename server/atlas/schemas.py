"""What goes out of the atlas."""

from typing import Annotated

from ninja import Schema
from pydantic import Field

from leitfaden_core.faults import FaultSpec


class ChoiceOut(Schema):
    id: str
    label: str


class HandOut(Schema):
    """Something that moves: a number of a quantity, or one of some choices."""

    id: str
    label: str
    quantity: str
    low: float
    high: float
    start: float | str
    step: float
    digits: int
    choices: list[ChoiceOut]


class SeenOut(Schema):
    id: str
    label: str
    quantity: str
    digits: int


class PoseOut(Schema):
    id: str
    label: str
    hands: dict[str, float | str]
    words: str


class DrawingOut(Schema):
    """An explorable drawing: its hands, the numbers that follow, its steps, and where it holds."""

    id: str
    label: str
    shows: str
    hands: list[HandOut]
    seen: list[SeenOut]
    poses: list[PoseOut]
    along: str
    holds: str


class HandsIn(Schema):
    hands: Annotated[dict[str, float | str], Field(max_length=12)] = {}


class CurveLine(Schema):
    along: str
    seen: str
    given: list[float]
    result: list[float]


class DrawingTraceOut(Schema):
    id: str
    label: str
    quantity: str
    digits: int
    seconds: list[float]
    values: list[float]


class ShownOut(Schema):
    """A drawing with its hands set."""

    hands: dict[str, float | str]
    numbers: dict[str, float]
    words: str
    curves: list[CurveLine]
    traces: list[DrawingTraceOut]


class PageLine(Schema):
    """A page in the index."""

    id: str
    title: str
    family: str
    summary: str
    rigs: list[str]
    sensors: list[str]
    stations: list[str]
    channels: list[str]


class AtlasOut(Schema):
    pages: list[PageLine]
    drawings: list[ChoiceOut]


class KindOut(Schema):
    name: str
    text: str


class TestWayOut(Schema):
    """A way to test, what it can miss, and the cautions at it in words."""

    way: str
    how: str
    misses: str
    cautions: list[str]


class KnotOut(Schema):
    id: str
    term: str
    name: str
    place: str


class GoodOut(Schema):
    channel: str
    condition: str
    low: float
    median: float
    high: float
    quantity: str


class PlateShownOut(Schema):
    """A plate beside others; ``mine``: what the example looks like."""

    look: str
    words: str
    mine: bool


class FailureOut(Schema):
    kind: str
    label: str
    meaning: str
    look: str
    proof: str
    repair: str
    words: str
    example: FaultSpec
    plates: list[PlateShownOut]


class MythOut(Schema):
    id: str
    claim: str
    fact: str


class DrawingOption(Schema):
    label: str
    hands: dict[str, float | str]


class SchoolCardOut(Schema):
    """A card on which schools differ, with what its switch is: engines, a drawing, a setting, a calculation, the
    bench.
    """

    id: str
    title: str
    schools: list[str]
    physics: str
    runs: bool
    drawing: str
    options: list[DrawingOption]
    setting: str
    working: str
    bench: str


class PageOut(Schema):
    """A page with what is true of it on a rig. ``good`` is empty for whom value sheets are closed."""

    id: str
    title: str
    family: str
    also: list[str]
    summary: str
    inside: str
    types: list[KindOut]
    tests: list[TestWayOut]
    workings: list[ChoiceOut]
    rigs: list[str]
    rig: str
    places: list[KnotOut]
    order: list[str]
    good: list[GoodOut]
    faults: list[FailureOut]
    wires: list[str]
    drawings: list[DrawingOut]
    myths: list[MythOut]
    schools: list[SchoolCardOut]


class JointOut(Schema):
    name: str
    volts: float
    label: str


class AtlasWireOut(Schema):
    role: str
    joints: list[JointOut]


class CircuitStateOut(Schema):
    id: str
    label: str
    plug_off: bool
    wires: list[AtlasWireOut]


class OutcomeOut(Schema):
    """A value in an option of a card's switch, with the band of sound engines where there is one."""

    option: str
    channel: str
    value: float | None
    low: float | None
    high: float | None
    outside: bool


class OutcomesOut(Schema):
    statistic: str
    rows: list[OutcomeOut]


class TermOut(Schema):
    term: str
    full: str
    means: str
    page: str
    also: list[str]


class PlateOut(Schema):
    """Names of its drawings, the drawing in words, and what it means."""

    id: str
    looks: list[str]
    sight: str
    means: str


class PlateGroupOut(Schema):
    group: str
    plates: list[PlateOut]


class SearchHitOut(Schema):
    kind: str
    id: str
    title: str
    text: str
    page: str
