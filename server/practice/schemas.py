"""What goes in and out of practice."""

from datetime import datetime
from typing import Annotated, Any, Literal

from ninja import Schema
from pydantic import Field

from api.problems import Problem, StationProblem
from leitfaden_core.lessons import AnyAnswer, Marked, View
from people.schemas import Username, Wish


class PublishIn(Wish):
    """Who gets it, and how. ``numbers_of``: with the same numbers as that learner, for who was ill."""

    learners: list[Username] = Field([], max_length=500)
    closed_book: bool = False
    debrief_held: bool = False
    numbers_of: str = Field("", max_length=150)


class OpenedOut(Schema):
    """How many debriefs were opened."""

    opened: int


class PublishProblem(Problem):
    """Why a lesson is not published, station by station."""

    problems: list[StationProblem] = []


class LearnerOut(Schema):
    username: str
    name: str


class AssignmentOut(Schema):
    """A learner's assignment with how far they are."""

    id: int
    title: str
    goal: str
    version: int
    stations: int
    answered: int
    attempt: int | None
    started_at: datetime | None
    finished_at: datetime | None
    debrief_held: bool


class StationHead(Schema):
    index: int
    kind: str
    title: str
    open: bool
    answered: bool
    left_out: bool


class AttemptOut(Schema):
    """An attempt as its learner sees it: heads of all stations, contents only of open ones."""

    id: int
    title: str
    goal: str
    cautions: list[str]
    rig: str
    closed_book: bool
    finished: bool
    stations: list[StationHead]


class TakeStepIn(Wish):
    """A choice at a step of a station."""

    name: str = Field(max_length=8)
    choice: str = Field(max_length=8)


class TakenStepOut(Schema):
    """A choice that was made at a step, and what came of it."""

    name: str
    choice: str
    comes: str
    hurts: bool


class AttemptStation(Schema):
    """An open station with the answer given so far, and the steps taken there."""

    station: View
    answer: AnyAnswer | None
    steps: list[TakenStepOut] = []


class ActOut(Schema):
    """Something that was done on a running engine, so long after it was put up. [s]"""

    seconds: float
    words: str


class SeenStation(AttemptStation):
    """A station as its learner saw it, and what they did on its running engine, where one ran."""

    done: list[ActOut]


class AnswerIn(Wish):
    answer: dict[str, Any]


class Stored(Schema):
    """An answer is on disk."""

    stored: bool
    next: int | None


class StationBenchIn(Wish):
    """``anew``: put the engine up again as it was at first."""

    anew: bool = False


class DisputeOut(Schema):
    """A questioned key, and what has become of it."""

    id: int
    attempt: int
    station: int
    title: str
    learner: str
    text: str
    asked_at: datetime
    outcome: str
    answer: str
    answered_by: str


class DisputeIn(Wish):
    text: Annotated[str, Field(min_length=1, max_length=2_000)]


class OutcomeIn(Wish):
    outcome: Literal["stands", "granted"]
    answer: Annotated[str, Field(min_length=1, max_length=2_000)]


class Debrief(Schema):
    """What was right and why."""

    title: str
    learner: str
    rig: str
    version: int
    finished_at: datetime | None
    score: float | None
    cause: str
    repair: list[str]
    proof: list[str]
    rules: str
    core_version: str
    stations: list[Marked]
    disputes: list[DisputeOut]


class StationPoints(Schema):
    """Points (0..1) of one marked station."""

    index: int
    kind: str
    title: str
    points: float


class ResultRow(Schema):
    """One learner's result; what the marks say is there once the lesson is finished."""

    attempt: int | None
    username: str
    name: str
    version: int
    answered: int
    stations: int
    finished_at: datetime | None
    score: float | None
    points: list[StationPoints]
    missed: int | None
    condemned: int | None
    debrief_held: bool
    closed_book: bool


class PuzzleReading(Schema):
    id: str
    term: str
    label: str
    family: str
    place: str
    quantity: str
    step: float
    digits: int
    unit: str
    value: float
    trace: list[float]


class PuzzleOut(Schema):
    """The start page's question, one of ``count``: a running engine with one reading out of band."""

    number: int
    count: int
    condition: str
    rig: str
    readings: list[PuzzleReading]


class PuzzleIn(Wish):
    reading: str = Field(max_length=60)


class PuzzleAnswer(Schema):
    """Whether it was the one; which one it is, the verdict on it, and why."""

    right: bool
    id: str
    verdict: str
    reason: str
