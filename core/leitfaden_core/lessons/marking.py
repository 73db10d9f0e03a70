"""What a learner sees at a station, its key, and marking an answer against it."""

from typing import Any

from pydantic import TypeAdapter, ValidationError

from leitfaden_core.errors import BadDocument
from leitfaden_core.judge import SchoolRules
from leitfaden_core.lessons.branching import decides
from leitfaden_core.lessons.document import Lesson
from leitfaden_core.lessons.kind import Consequence, LaneWish, Mark, Ruling
from leitfaden_core.lessons.kinds import AnyAnswer, Key, View, kind_called
from leitfaden_core.lessons.overruling import rulings, with_overrides
from leitfaden_core.live import Beginning, Cover
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.validation import first_wrong
from leitfaden_core.words import say

_VIEW: TypeAdapter[View] = TypeAdapter(View)


def station_view(lesson: Lesson, index: int, seed: int) -> View:
    """What a learner with this seed sees at a station, numbers included, key left out."""
    item = lesson.item(index, seed)
    view = kind_called(item.station.kind).view(item)
    return view.model_copy(update={"final": decides(lesson, index)})


def station_lanes(lesson: Lesson, index: int, seed: int) -> LaneWish | None:
    """The lanes that a station shows to this learner, if any."""
    item = lesson.item(index, seed)
    return kind_called(item.station.kind).lanes(item)


def station_engine(lesson: Lesson, index: int, seed: int) -> tuple[Beginning, Cover] | None:
    """The running engine that a station gives to this learner, and what may be touched on it, if any. Simulates
    nothing.
    """
    item = lesson.item(index, seed)
    return kind_called(item.station.kind).engine(item)


def station_key(
    lesson: Lesson, index: int, seed: int, rules: SchoolRules | None = None, units: UnitSystem = UnitSystem.METRIC
) -> Key:
    """The right answers at a station for this seed, each with its reason."""
    item = lesson.item(index, seed)
    kind = kind_called(item.station.kind)
    return kind.key_shape(kind=kind.id, parts=with_overrides(kind, item.station, kind.key(item, rules, units)))


def station_rulings(
    lesson: Lesson, index: int, seed: int, rules: SchoolRules | None = None, units: UnitSystem = UnitSystem.METRIC
) -> list[Ruling]:
    """Which parts of the key that the model computes a trainer may overrule, as the model has them."""
    item = lesson.item(index, seed)
    kind = kind_called(item.station.kind)
    return rulings(kind, kind.key(item, rules, units))


def kept_view(data: Any) -> View:
    """A view as it was kept."""
    return _VIEW.validate_python(data)


def parse_answer(kind: str, data: Any) -> AnyAnswer:
    """An answer to a station of that kind from plain data, or BadDocument. Answers of old versions do not name the
    kind.
    """
    try:
        return kind_called(kind).answer_shape.model_validate({"kind": kind} | data if isinstance(data, dict) else data)
    except ValidationError as error:
        place, sentence = first_wrong(error)
        named = f", {place}" if place else ""
        raise BadDocument(say("answer{place}: {sentence}", place=named, sentence=sentence)) from error


def require_answer(view: View, answer: AnyAnswer) -> None:
    """Refuse an answer that cannot be marked, with one sentence that helps. ``view`` is what the learner was shown.

    Raises
    ------
    MissingPart
        When a reading has no unit, or the answer lacks what the station asks for: it is not marked, and nothing is
        lost.
    """
    kind_called(view.kind).require(view, answer)


def consequence(kind: str, parts: list[dict[str, Any]], step: str, choice: str, taken: dict[str, str]) -> Consequence:
    """What comes of a choice at a step of a station, after the steps ``taken``; by the parts of its key.

    Raises
    ------
    UnknownName, MissingPart, BadDocument
        For a step or choice that there is not, a step before its turn, and a station without steps.
    """
    found = kind_called(kind).consequence(parts, step, choice, taken)
    if found is None:
        raise BadDocument(say("nothing is done step by step at this station"))
    return found


def with_steps(answer: AnyAnswer, taken: dict[str, str]) -> AnyAnswer:
    """An answer with the choices that were made step by step."""
    made: AnyAnswer = kind_called(answer.kind).with_steps(answer, taken)
    return made


def mark_answer(
    lesson: Lesson,
    index: int,
    seed: int,
    answer: Any,
    rules: SchoolRules | None = None,
    units: UnitSystem = UnitSystem.METRIC,
) -> Mark:
    """Mark an answer, as plain data, against the key that the model computes now."""
    key = station_key(lesson, index, seed, rules, units)
    return mark_by_key(key.kind, key.model_dump()["parts"], answer, units)


def mark_by_key(kind: str, parts: list[dict[str, Any]], answer: Any, units: UnitSystem = UnitSystem.METRIC) -> Mark:
    """Mark an answer, as plain data, against a key that was computed, and perhaps kept, before.

    Needs no model, so it cannot fail on one.
    """
    return kind_called(kind).mark(parts, parse_answer(kind, answer), units)


def right_answer(kind: str, parts: list[dict[str, Any]]) -> dict[str, Any]:
    """An answer that gets all points for a key, as plain data."""
    return kind_called(kind).right_answer(parts).model_dump()


def weaknesses(stations: list[dict[str, Any]]) -> tuple[int, int]:
    """In marked stations as they are kept: faulty readings called good, and good readings called faulty."""
    pairs = [kind_called(row["kind"]).weaknesses(row["parts"]) for row in stations]
    return sum(missed for missed, _ in pairs), sum(condemned for _, condemned in pairs)
