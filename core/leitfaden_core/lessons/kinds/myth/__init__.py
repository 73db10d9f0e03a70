"""Myth: statements of the trade, some of them common misconceptions; which are true? Each has the fact as its
feedback.
"""

from collections.abc import Iterator, Sequence
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from leitfaden_core.atlas.documents import myths
from leitfaden_core.chance import chance
from leitfaden_core.errors import MissingPart, UnknownName
from leitfaden_core.judge import SchoolRules
from leitfaden_core.lessons.item import Item
from leitfaden_core.lessons.kind import (
    FairnessWarning,
    Mark,
    Question,
    Remedy,
    Ruling,
    StationKind,
)
from leitfaden_core.lessons.shapes import (
    Answer,
    Document,
    KeyPart,
    MarkedStation,
    Name,
    Shape,
    StationDocument,
    StationKey,
    StationView,
)
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.words import say

#: So many letters of a statement name it in an override.
MOST_LETTERS = 200
Said = Literal["true", "false"]


class OwnStatement(Document):
    """A statement of the trainer's, whether it is true, and what the physics says to it."""

    text: Annotated[str, Field(min_length=1, max_length=600)]
    right: Said
    reason: Annotated[str, Field(min_length=1, max_length=1_200)]


class Myth(StationDocument):
    """Misconceptions by their ids (see the atlas) and own statements; a learner gets so many of them, a misconception
    as the claim or as what is true.
    """

    kind: Literal["myth"] = "myth"
    myths: Annotated[list[Name], Field(max_length=20, title="statements")] = []
    own: Annotated[list[OwnStatement], Field(max_length=20, title="statements of one's own")] = []
    count: Annotated[int, Field(ge=1, le=10, title="how many")] = 4

    @model_validator(mode="after")
    def _exist(self) -> "Myth":
        if not self.myths and not self.own:
            raise ValueError("it has no statement")
        for name in self.myths:
            if name not in myths():
                raise UnknownName("misconception", name, myths())
        return self


class Statement(Shape):
    """A statement; its id is its place in the learner's order."""

    id: str
    text: str


class MythView(StationView):
    """The statements."""

    kind: Literal["myth"] = "myth"
    statements: list[Statement]


class MythAnswer(Answer):
    """For each statement whether it is true."""

    kind: Literal["myth"] = "myth"
    said: dict[Annotated[str, Field(max_length=4)], Said] = {}


class MythPart(KeyPart, Statement):
    """A statement with what is right, and the fact."""

    right: Said
    reason: str


class MythKey(StationKey):
    """True or false of each."""

    kind: Literal["myth"] = "myth"
    parts: list[MythPart] = []


class MarkedMythPart(MythPart):
    """A statement with what was said."""

    given: str | None = None
    points: float | None = None


class MarkedMyth(MarkedStation):
    """What was said beside what is right."""

    kind: Literal["myth"] = "myth"
    parts: list[MarkedMythPart] = []


class MythKind(StationKind[Myth]):
    """True or a misconception."""

    id = "myth"
    document = Myth
    view_shape = MythView
    answer_shape = MythAnswer
    key_shape = MythKey
    marked_shape = MarkedMyth

    def work(self, station: Myth) -> float:
        return 0.4 * station.count

    def texts(self, station: Myth) -> list[str]:
        return [own.text for own in station.own if own.right == "true"]

    def view(self, item: Item[Myth]) -> MythView:
        return MythView(
            **self.heading(item), statements=[Statement(id=part.id, text=part.text) for part in _drawn(item)]
        )

    def key(self, item: Item[Myth], rules: SchoolRules | None, units: UnitSystem) -> Sequence[MythPart]:
        return _drawn(item)

    def warnings(self, item: Item[Myth]) -> Iterator[FairnessWarning]:
        station, said = item.station, {own.right for own in item.station.own}
        if not station.myths and len(station.own) > 1 and len(said) == 1:
            text = say("{title}: every statement has the same answer.", title=station.title)
            yield FairnessWarning(station.id, "one_answer", text)
        if station.count > (there := len(station.own) + len(station.myths)):
            text = say(
                "{title}: {count} statements are asked, there are {there}.",
                title=station.title,
                count=station.count,
                there=there,
            )
            remedy = Remedy(say("Ask {count}", count=there), {"count": there})
            yield FairnessWarning(station.id, "small_pool", text, (remedy,))

    def rulings(self, part: MythPart, parts: Sequence[MythPart]) -> list[Ruling]:
        words = {"true": say("true"), "false": say("not true")}
        changes: dict[str, dict[str, Any]] = {said: {"right": said} for said in words}
        return [Ruling(part.text[:MOST_LETTERS], part.text, words, part.right, changes)]

    def require(self, view: MythView, answer: MythAnswer) -> None:
        if {statement.id for statement in view.statements} - set(answer.said):
            raise MissingPart("a statement is not answered yet; say true or false to each")

    def mark(self, parts: list[dict[str, Any]], answer: MythAnswer, units: UnitSystem) -> Mark:
        marked = [
            part | {"given": (given := answer.said.get(part["id"])), "points": float(given == part["right"])}
            for part in parts
        ]
        return Mark(sum(part["points"] for part in marked) / len(marked), marked)

    def right_answer(self, parts: list[dict[str, Any]]) -> MythAnswer:
        return MythAnswer(said={part["id"]: part["right"] for part in parts})

    def printed(self, view: Any, parts: Any, units: UnitSystem) -> list[list[str]]:
        rows = [[say("Statement"), say("True?"), *([say("Why")] if parts else [])]]
        for k, statement in enumerate(view["statements"]):
            told = [parts[k]["right"], parts[k]["reason"]] if parts else [say("true / not true")]
            rows.append([statement["text"], *told])
        return rows

    def questions(self, view: Any, parts: Any, units: UnitSystem) -> list[Question]:
        return [
            Question(
                part["text"],
                [(said, said == part["right"]) for said in ("true", "false")],
                part["reason"],
                statement=True,
            )
            for part in parts
        ]


def _drawn(item: Item[Myth]) -> list[MythPart]:
    """The learner's statements: which, in which order, and whether claim or fact, all by chance.

    Misconceptions are told as facts so often that, own statements included, half of all are true where that can be.
    """
    station, draw = item.station, chance(item.seed, "myths", item.station.id)
    pool: list[str | OwnStatement] = [*station.own, *station.myths]
    drawn = [pool[int(k)] for k in draw.permutation(len(pool))][: station.count]
    own = [entry for entry in drawn if isinstance(entry, OwnStatement)]
    told = len(drawn) - len(own)
    wanted = 0.5 * len(drawn) - sum(entry.right == "true" for entry in own)
    as_fact = min(max(wanted / told, 0.0), 1.0) if told else 0.0
    parts = []
    for k, entry in enumerate(drawn):
        if isinstance(entry, OwnStatement):
            parts.append(MythPart(id=str(k), text=entry.text, right=entry.right, reason=entry.reason))
            continue
        known, fact = myths()[entry], bool(draw.random() < as_fact)
        text, right = (known.truth, "true") if fact else (known.claim, "false")
        parts.append(MythPart(id=str(k), text=text, right=right, reason=known.fact))
    return parts
