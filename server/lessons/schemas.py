"""What goes in and out of lessons."""

from datetime import datetime
from typing import Annotated, Any

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
    archived: bool
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
    archived: bool
    updated_by: str


class LessonIn(Wish):
    document: dict[str, Any]


class ArchiveIn(Wish):
    archived: bool


class VersionRow(Schema):
    """A published version, and how many have it."""

    number: int
    title: str
    published_at: datetime
    published_by: str
    assigned: int


class FieldChange(Schema):
    field: str
    called: str
    before: str
    after: str


class PartChange(Schema):
    """What has become of a station; of the lesson as a whole where ``station`` is empty."""

    station: str
    title: str
    kind: str
    what: str
    fields: list[FieldChange]


class VersionDocument(Schema):
    """A version as it was published."""

    number: int
    document: LessonDocument


class CommentOut(Schema):
    """A word for a colleague, at a station or (``station`` empty) at the lesson as a whole."""

    id: int
    station: str
    text: str
    author: str
    written_at: datetime
    settled: bool


class CommentIn(Wish):
    station: Annotated[str, Field(max_length=40)] = ""
    text: Annotated[str, Field(min_length=1, max_length=2_000)]


class SettledIn(Wish):
    settled: bool


class FromBenchIn(Wish):
    """A stretch of a bench, by its frames, and the channels that the lesson shows first."""

    bench: int = Field(ge=1, le=2**31 - 1)
    name: str = Field(min_length=1, max_length=120)
    first: int = Field(ge=0, le=2**31 - 1)
    last: int = Field(ge=1, le=2**31 - 1)
    channels: list[Annotated[str, Field(max_length=60)]] = Field(min_length=1, max_length=8)


class FromBenchOut(Schema):
    """A lesson's document, and what was done on the bench that is no part of its drive."""

    document: LessonDocument
    left_out: list[str]


class AimRig(Schema):
    """An engine of an aim; ``ready``: its sheet of healthy values is there."""

    id: str
    name: str
    ready: bool


class AimOut(Schema):
    """What learners can do afterwards, for whom, on which engines; ``after``: aims that come before it."""

    id: str
    title: str
    can: str
    family: str
    level: str
    minutes: int
    rigs: list[AimRig]
    why: str
    after: list[str]


class ProposeIn(Wish):
    """What learners can do afterwards: an aim, or else a device; an engine that is meant for it, a fault (empty: the
    one that shows best).
    """

    aim: Annotated[str, Field(max_length=60)] = ""
    page: Annotated[str, Field(max_length=60)] = ""
    rig: Annotated[str, Field(max_length=20)]
    fault: Annotated[str, Field(max_length=60)] = ""
    level: Annotated[str, Field(max_length=20)] = "journeyman"
    minutes: Annotated[int, Field(ge=1, le=600)] = 60


class ProposedOut(Schema):
    """A proposed lesson, and why it is as it is."""

    document: LessonDocument
    minutes: int
    reasons: list[str]


class CheckIn(Wish):
    document: dict[str, Any]


class DraftIn(Wish):
    revision: int = Field(ge=1, le=2**31 - 1)
    document: dict[str, Any]


class VersionOut(Schema):
    number: int
    title: str
    assigned: int


class PictureOut(Schema):
    """A picture that is kept. [pixels]"""

    id: str
    width: int
    height: int


class PreviewIn(Wish):
    """A draft, stored or not, at one station for one learner's seed."""

    document: dict[str, Any]
    station: int = Field(ge=0, le=100)
    seed: int = Field(0, ge=0, le=2**31 - 1)


class RulingOut(Schema):
    """A part of a key that may be overruled: what it may be instead, and what the model says; a band with its ends in
    the unit in which the quantity is kept.
    """

    part: str
    label: str
    options: dict[str, str]
    now: str
    quantity: str
    low: float | None
    high: float | None


class PreviewOut(Schema):
    """A station as a learner sees it, with its key, what of it may be overruled, and its lanes where it has any."""

    rulings: list[RulingOut]
    station: View
    key: Key
    lanes: LanesOut | None


class RemedyOut(Schema):
    """A change that answers a warning: fields of the station and of the lesson that become others; ``takes_out``: the
    station goes; ``behind``: it goes behind that one.
    """

    says: str
    station: dict[str, Any] = {}
    lesson: dict[str, Any] = {}
    takes_out: bool = False
    behind: str = ""


class WarningOut(Schema):
    station: str
    code: str
    text: str
    remedies: list[RemedyOut] = []


class DialStepOut(Schema):
    """A size of the fault: how many spreads of sound engines the farthest reading of the station lies away then, which
    that is, how many readings tell it, and the change that sets this size.
    """

    share: float
    words: str
    separation: float
    reading: str
    telling: int
    remedy: RemedyOut


class DrawOut(Schema):
    """A learner's draw: what is hardest to tell in it, in spreads; how much of it is off."""

    seed: int
    hardest: float | None
    off: int
    of: int


class TurnOut(Schema):
    """Something else that makes the station harder, or easier."""

    harder: bool
    remedy: RemedyOut


class DifficultyOut(Schema):
    """``told_from``: spreads of sound engines at which a reading tells in one look."""

    told_from: float
    dial: list[DialStepOut]
    turns: list[TurnOut]
    draws: list[DrawOut]


class CheckOut(Schema):
    warnings: list[WarningOut]
