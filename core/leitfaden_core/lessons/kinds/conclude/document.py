"""The shapes of a conclude station."""

from typing import Annotated, Literal

from pydantic import Field, field_validator

from leitfaden_core.faults import FaultSpec
from leitfaden_core.lessons.shapes import (
    Answer,
    KeyPart,
    MarkedStation,
    ReadingPlace,
    Shape,
    StationDocument,
    StationKey,
    StationReading,
    StationView,
)

#: Causes that one station can offer.
MOST_CAUSES = 8


class Conclude(StationDocument):
    """Which of the offered causes explains all readings? None among the causes is «nothing is wrong»; ``together`` are
    causes that come two or three at once.
    """

    kind: Literal["conclude"] = "conclude"
    readings: Annotated[list[ReadingPlace], Field(min_length=1, max_length=12, title="readings")]
    causes: Annotated[list[FaultSpec | None], Field(min_length=2, max_length=MOST_CAUSES, title="causes")]
    together: Annotated[
        list[Annotated[list[FaultSpec], Field(min_length=2, max_length=3)]],
        Field(max_length=3, title="causes that act together"),
    ] = []

    @field_validator("causes")
    @classmethod
    def _are_faults(cls, causes: list[FaultSpec | None]) -> list[FaultSpec | None]:
        for cause in causes:
            if cause is not None:
                cause.checked()
        return causes

    @property
    def options(self) -> list[tuple[FaultSpec, ...]]:
        """What can be chosen: each a set of faults, the empty one a sound engine."""
        single: list[tuple[FaultSpec, ...]] = [() if cause is None else (cause,) for cause in self.causes]
        return [*single, *(tuple(causes) for causes in self.together)]


class OfferedCause(Shape):
    """A cause without its size: the size would be a hint."""

    id: str
    label: str


class ConcludeView(StationView):
    """The car's readings, and the causes in the learner's own order."""

    kind: Literal["conclude"] = "conclude"
    readings: list[StationReading]
    causes: list[OfferedCause]


class ConcludeAnswer(Answer):
    """The id of a cause, None while none is chosen."""

    kind: Literal["conclude"] = "conclude"
    cause: Annotated[str, Field(max_length=10)] | None = None


class CausePart(KeyPart, OfferedCause):
    """Whether a cause explains all readings, and if not, which one rules it out."""

    detail: str
    explains: bool
    true_cause: bool
    reason: str
    distance: float


class ConcludeKey(StationKey):
    """The causes."""

    kind: Literal["conclude"] = "conclude"
    parts: list[CausePart] = []


class MarkedCausePart(CausePart):
    """A cause, and whether it was chosen."""

    given: bool = False
    points: float | None = None


class MarkedConclude(MarkedStation):
    """The cause that was chosen among all."""

    kind: Literal["conclude"] = "conclude"
    parts: list[MarkedCausePart] = []
