"""What goes in and out of good against faulty."""

from typing import Annotated

from ninja import Schema
from pydantic import Field

from leitfaden_core.faults import FaultSpec
from people.schemas import Wish


class FaultsIn(Wish):
    """Faults at any size, on an engine."""

    rig: Annotated[str, Field(max_length=20)]
    faults: Annotated[list[FaultSpec], Field(min_length=1, max_length=4)]


class OneFaultIn(Wish):
    """A fault, on an engine."""

    rig: Annotated[str, Field(max_length=20)]
    fault: FaultSpec


class DepartureOut(Schema):
    """A statistic outside the band of healthy engines; ``deviations`` from their mean, its sign is the side."""

    condition: str
    channel: str
    layer: str
    stat: str
    value: float
    low: float
    high: float
    deviations: float
    quantity: str


class NoticedOut(Schema):
    """What a driver notices, and in which state."""

    symptom: str
    label: str
    state: str
    state_label: str


class SignatureOut(Schema):
    """What leaves its band, in the order in which it can be seen; and what the driver notices."""

    words: list[str]
    departures: list[DepartureOut]
    noticed: list[NoticedOut]
    codes: list[str]


class AlikeOut(Schema):
    """Another cause that data lists do not tell apart, and the test that does."""

    candidate: str
    label: str
    distance: float
    separated_by: str
    minutes: float
    separation: float


class ToldOut(Schema):
    condition: str
    channel: str
    share: float | None
    words: str
    size: str
    deviations: float


class AlikesOut(Schema):
    """What looks like a fault in the data lists, and from which size on it can be told there."""

    alike: list[AlikeOut]
    smallest: list[ToldOut]


class MatrixRow(Schema):
    candidate: str
    label: str
    words: str
    fault: FaultSpec
    cells: dict[str, str]


class MatrixOut(Schema):
    conditions: list[str]
    rows: list[MatrixRow]


class CellOut(Schema):
    condition: str
    channel: str
    value: float | None
    outside: bool
    quantity: str


class ColumnOut(Schema):
    label: str
    words: str
    fault: FaultSpec | None
    cells: list[CellOut]


class StepsOut(Schema):
    """The trim-step test of an engine, and the leak's place against the pressure where it is boosted."""

    conditions: list[str]
    columns: list[ColumnOut]
    place_conditions: list[str]
    places: list[ColumnOut]


class TestOut(Schema):
    """A test of the diagnosis. [min]"""

    id: str
    label: str
    minutes: float


class SymptomOut(Schema):
    """A symptom with the states in which it can be noticed."""

    id: str
    label: str
    states: list[str]


class StateOut(Schema):
    id: str
    label: str


class SymptomsOut(Schema):
    symptoms: list[SymptomOut]
    states: list[StateOut]


class CauseOut(Schema):
    candidate: str
    label: str
    group: str
    size: str


class ToldIn(Wish):
    """What the driver tells: symptoms, each with a state (``high_idle:cold_idle``) or in any."""

    rig: Annotated[str, Field(max_length=20)]
    told: Annotated[list[Annotated[str, Field(max_length=60)]], Field(min_length=1, max_length=6)]
