"""What goes in and out of value sheets."""

from datetime import datetime
from typing import Annotated

from ninja import Schema
from pydantic import Field


class NumbersOut(Schema):
    low: float
    high: float
    median: float


class ValueRow(Schema):
    """What sound engines show of a channel, by statistic, and what makes the band as wide as it is."""

    channel: str
    quantity: str
    stats: dict[str, NumbersOut]
    width: str


class ValuesOut(Schema):
    """A value sheet in one condition; ``estimated``: moved into other air, not yet computed there."""

    members: int
    kpa: float
    estimated: bool
    conditions: list[str]
    rows: list[ValueRow]


class FullOut(Schema):
    """The full sheet is there."""

    full: bool


class ServiceValueIn(Schema):
    """A service value in words with units, and where it comes from."""

    condition: Annotated[str, Field(max_length=40)]
    channel: Annotated[str, Field(max_length=60)]
    low: Annotated[str, Field(max_length=40)]
    high: Annotated[str, Field(max_length=40)]
    source: Annotated[str, Field(min_length=3, max_length=200)]
    vehicle: Annotated[str, Field(max_length=80)] = ""


class ServiceValueOut(Schema):
    """A service value in the channel's kept unit."""

    id: int
    condition: str
    channel: str
    low: float
    high: float
    source: str
    vehicle: str
    made_at: datetime
    made_by: str
