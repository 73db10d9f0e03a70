"""The shapes of a procedure station."""

from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from leitfaden_core.lessons.kinds.procedure.pieces import piece_called
from leitfaden_core.lessons.shapes import (
    Answer,
    KeyPart,
    MarkedStation,
    Name,
    Shape,
    StationDocument,
    StationKey,
    StationView,
)


class Procedure(StationDocument):
    """A piece of handwork, by its id."""

    kind: Literal["procedure"] = "procedure"
    piece: Annotated[Name, AfterValidator(lambda name: piece_called(name).id), Field(title="procedure")]


class OfferedChoice(Shape):
    """What can be done; its id is its place in the learner's order."""

    id: str
    text: str


class OfferedStage(Shape):
    """A situation with its choices."""

    id: str
    situation: str
    choices: list[OfferedChoice]


class ProcedureView(StationView):
    """The cautions, to be acknowledged first, and the stages."""

    kind: Literal["procedure"] = "procedure"
    cautions: list[str]
    stages: list[OfferedStage]


class ProcedureAnswer(Answer):
    """What was done at each stage; ``heeded``: the cautions were acknowledged."""

    kind: Literal["procedure"] = "procedure"
    heeded: bool = False
    done: dict[Annotated[str, Field(max_length=4)], Annotated[str, Field(max_length=4)]] = {}


class ToldChoice(OfferedChoice):
    """A choice with what comes of it; its name is the same for every learner."""

    name: str = ""
    comes: str
    worth: float
    hurts: bool


class ProcedurePart(KeyPart):
    """A stage with all that could come."""

    id: str
    situation: str
    choices: list[ToldChoice]


class ProcedureKey(StationKey):
    """The stages."""

    kind: Literal["procedure"] = "procedure"
    parts: list[ProcedurePart] = []


class MarkedProcedurePart(ProcedurePart):
    """A stage with what was done there."""

    given: str | None = None
    points: float | None = None


class MarkedProcedure(MarkedStation):
    """The piece of work as it went."""

    kind: Literal["procedure"] = "procedure"
    parts: list[MarkedProcedurePart] = []
