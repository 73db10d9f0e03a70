"""Marking an answer against the key: points per part, and what the reading meant."""

from dataclasses import dataclass, field
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from leitfaden_core.errors import BadDocument, LeitfadenError, MissingPart
from leitfaden_core.judge import SchoolRules, VerdictKind
from leitfaden_core.lessons.document import Lesson
from leitfaden_core.lessons.items import StationView, station_key
from leitfaden_core.quantities import UnitSystem, parse_reading, shown_difference
from leitfaden_core.validation import explained

VERDICTS = tuple(str(kind) for kind in VerdictKind)
#: Suspect and faulty differ in size, not in side: half the points.
NEIGHBOURS = ({"suspect", "faulty"}, {"good", "suspect"})


class Answer(BaseModel):
    """What a learner gave at a station; which field counts depends on the station's kind."""

    model_config = ConfigDict(extra="forbid", strict=True)

    reading: Annotated[str, Field(max_length=60)] | None = None
    verdicts: Annotated[list[Annotated[str, Field(max_length=20)] | None], Field(max_length=12)] | None = None
    cause: Annotated[str, Field(max_length=10)] | None = None
    seen: bool = False


@dataclass
class Mark:
    """Points of an answer (0..1) and its parts: given, right, points, reason."""

    points: float | None
    parts: list[dict[str, Any]] = field(default_factory=list)


def parse_answer(data: Any) -> Answer:
    """An answer from plain data, or BadDocument."""
    try:
        return Answer.model_validate(data)
    except ValidationError as error:
        first = error.errors()[0]
        raise BadDocument(f"answer, {'.'.join(str(part) for part in first['loc'])}: {explained(first)}") from error


def mark_answer(
    lesson: Lesson,
    index: int,
    seed: int,
    answer: Answer,
    rules: SchoolRules | None = None,
    units: UnitSystem = UnitSystem.METRIC,
) -> Mark:
    """Mark an answer.

    Raises
    ------
    MissingPart
        When a reading has no unit, or the answer lacks what the station asks for: it is not marked, and nothing is
        lost.
    """
    key = station_key(lesson, index, seed, rules, units)
    return mark_by_key(key.kind, key.parts, answer, units)


def mark_by_key(kind: str, parts: list[dict[str, Any]], answer: Answer, units: UnitSystem = UnitSystem.METRIC) -> Mark:
    """Mark an answer against a key that was computed, and perhaps kept, before.

    Needs no model, so it cannot fail on one.
    """
    if kind == "measure":
        return _mark_measure(parts[0], answer, units)
    if kind == "judge":
        return _mark_judge(parts, answer)
    if kind == "conclude":
        return _mark_conclude(parts, answer)
    return Mark(None)


def check_answer(view: StationView, answer: Answer) -> None:
    """Refuse an answer that cannot be marked, with one sentence that helps. ``view`` is what the learner was shown."""
    if view.kind == "measure":
        if not answer.reading or not answer.reading.strip():
            raise MissingPart("no reading was given; read the value in the lane and write it with its unit")
        parse_reading(answer.reading, view.readings[0]["quantity"])
    elif view.kind == "judge":
        given, wanted = answer.verdicts or [], len(view.readings)
        if len(given) != wanted or any(verdict not in VERDICTS for verdict in given):
            raise MissingPart(f"a verdict is missing; judge all {wanted} readings: {', '.join(VERDICTS)}")
    elif view.kind == "conclude" and answer.cause not in {cause["id"] for cause in view.causes}:
        raise MissingPart("no cause was chosen")


def _mark_measure(part: dict[str, Any], answer: Answer, units: UnitSystem) -> Mark:
    try:
        given = parse_reading(answer.reading or "", part["quantity"])
    except LeitfadenError as error:
        return Mark(0.0, [part | {"given": answer.reading, "points": 0.0, "reason": error.message}])
    off = abs(given - part["value"])
    right = off <= part["tolerance"]
    wide, limit = (shown_difference(size, part["quantity"], units) for size in (off, part["tolerance"]))
    judged = "Read right" if right else f"Off by {wide}; accepted is within {limit}"
    return Mark(
        1.0 if right else 0.0,
        [
            part
            | {
                "given": answer.reading,
                "given_value": given,
                "points": 1.0 if right else 0.0,
                "reason": f"{judged}. {part['reason']}",
            }
        ],
    )


def _mark_judge(parts: list[dict[str, Any]], answer: Answer) -> Mark:
    given = list(answer.verdicts or [])
    given += [None] * (len(parts) - len(given))
    marked = []
    for part, verdict in zip(parts, given, strict=False):
        points = 1.0 if verdict == part["verdict"] else 0.5 if {verdict, part["verdict"]} in NEIGHBOURS else 0.0
        marked.append(part | {"given": verdict, "points": points})
    return Mark(sum(part["points"] for part in marked) / len(marked), marked)


def _mark_conclude(parts: list[dict[str, Any]], answer: Answer) -> Mark:
    """Full points for a cause that explains all readings, whether or not it is the one built in: the evidence cannot
    tell them apart.
    """
    chosen = next((part for part in parts if part["id"] == answer.cause), None)
    points = 1.0 if chosen is not None and (chosen["explains"] or chosen["true_cause"]) else 0.0
    return Mark(
        points,
        [
            part | {"given": part["id"] == answer.cause, "points": points if part["id"] == answer.cause else None}
            for part in parts
        ],
    )
