"""Verify: its shapes."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from leitfaden_core.channels import channel
from leitfaden_core.lessons.shapes import (
    Answer,
    KeyPart,
    MarkedStation,
    Name,
    ReadingPlace,
    StationDocument,
    StationKey,
    StationReading,
    StationView,
)
from leitfaden_core.scripts import condition
from leitfaden_core.words import inside, say

Said = Literal["mended", "not_mended", "not_shown"]


#: Readings at one station.
MOST_READINGS = 10


class Verify(StationDocument):
    """Readings before and after a repair; ``complaint`` is the condition in which it has to be shown."""

    kind: Literal["verify"] = "verify"
    complaint: Annotated[Name, Field(title="complaint")]
    readings: Annotated[list[ReadingPlace], Field(min_length=1, max_length=MOST_READINGS, title="readings")]

    @model_validator(mode="after")
    def _shows_the_complaint(self) -> "Verify":
        label = inside(condition(self.complaint).label)
        if not any(place.condition == self.complaint and decides(place) for place in self.readings):
            raise ValueError(say("no reading at {label} decides whether it is mended", label=label))
        return self


def decides(place: ReadingPlace) -> bool:
    """Whether a reading counts: trims that are still unlearning after a repair are shown, but decide nothing."""
    return not channel(place.channel).unlearns


class BeforeAndAfter(StationReading):
    """A reading (``value``: before), and what it is after the repair; None where that condition was not driven."""

    after: float | None
    driven: bool


class VerifyView(StationView):
    """The readings, and where the complaint was."""

    kind: Literal["verify"] = "verify"
    complaint: str
    complaint_label: str
    readings: list[BeforeAndAfter]


class VerifyAnswer(Answer):
    """Whether it is mended."""

    kind: Literal["verify"] = "verify"
    state: Said | None = None


class JudgedAfter(BeforeAndAfter):
    """A reading with the verdict on its second value."""

    verdict: str
    reason: str
    counts: bool


class VerifyPart(KeyPart):
    """What the readings after the repair say."""

    right: Said
    half: list[Said]
    reason: str
    rows: list[JudgedAfter]


class VerifyKey(StationKey):
    """One answer."""

    kind: Literal["verify"] = "verify"
    parts: list[VerifyPart] = []


class MarkedVerifyPart(VerifyPart):
    """What was said beside it."""

    given: str | None = None
    points: float | None = None


class MarkedVerify(MarkedStation):
    """Mended, or not?"""

    kind: Literal["verify"] = "verify"
    parts: list[MarkedVerifyPart] = []
