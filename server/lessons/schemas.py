"""What goes in and out of lessons."""

from datetime import datetime
from typing import Any

from ninja import Schema
from pydantic import Field

from leitfaden_core.lessons import Key, View
from leitfaden_core.lessons import Lesson as LessonDocument
from people.schemas import Wish
from simulations.schemas import LanesOut


class LessonRow(Schema):
    id: int
    title: str
    revision: int
    updated_at: datetime
    updated_by: str
    version: int | None
    changed_since_version: bool
    assigned: int
    finished: int


class LessonOut(Schema):
    """A lesson with its draft."""

    id: int
    title: str
    revision: int
    draft: LessonDocument
    version: int | None
    changed_since_version: bool


class LessonIn(Wish):
    document: dict[str, Any]


class CheckIn(Wish):
    document: dict[str, Any]


class DraftIn(Wish):
    revision: int = Field(ge=1, le=2**31 - 1)
    document: dict[str, Any]


class VersionOut(Schema):
    number: int
    title: str
    assigned: int


class PreviewIn(Wish):
    """A draft, stored or not, at one station for one learner's seed."""

    document: dict[str, Any]
    station: int = Field(ge=0, le=100)
    seed: int = Field(0, ge=0, le=2**31 - 1)


class PreviewOut(Schema):
    """A station as a learner sees it, with its key, and its lanes where it has any."""

    station: View
    key: Key
    lanes: LanesOut | None


class WarningOut(Schema):
    station: str
    code: str
    text: str


class CheckOut(Schema):
    warnings: list[WarningOut]
