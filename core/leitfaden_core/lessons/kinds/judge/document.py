"""The shapes of a judge station."""

from typing import Annotated, Literal

from pydantic import Field

from leitfaden_core.lessons.shapes import (
    Answer,
    KeyPart,
    MarkedStation,
    ReadingPlace,
    StationDocument,
    StationKey,
    StationReading,
    StationView,
)

#: Readings in one pool.
MOST_POOL = 60


class Judge(StationDocument):
    """A set of readings, drawn from a pool by the learner's seed; a verdict for each."""

    kind: Literal["judge"] = "judge"
    pool: Annotated[list[ReadingPlace], Field(min_length=1, max_length=MOST_POOL, title="readings to draw from")]
    count: Annotated[int, Field(ge=1, le=12, title="how many")] = 5


class JudgeView(StationView):
    """The readings with their values."""

    kind: Literal["judge"] = "judge"
    readings: list[StationReading]


class JudgeAnswer(Answer):
    """A verdict for each reading, None where there is none yet."""

    kind: Literal["judge"] = "judge"
    verdicts: Annotated[list[Annotated[str, Field(max_length=20)] | None], Field(max_length=12)] = []


class JudgePart(KeyPart, StationReading):
    """A reading with the verdict that is right, the band, and from which car it is."""

    verdict: str
    reason: str
    band_low: float | None = None
    band_high: float | None = None
    from_faulty_car: bool


class JudgeKey(StationKey):
    """The verdicts."""

    kind: Literal["judge"] = "judge"
    parts: list[JudgePart] = []


class MarkedJudgePart(JudgePart):
    """A reading with the verdict that was given."""

    given: str | None = None
    points: float | None = None


class MarkedJudge(MarkedStation):
    """Verdicts given beside verdicts right."""

    kind: Literal["judge"] = "judge"
    parts: list[MarkedJudgePart] = []
