"""Conclude: which of the offered causes explains all readings of the learner's car?"""

from collections.abc import Iterator, Sequence
from typing import Any

from leitfaden_core.chance import chance
from leitfaden_core.errors import MissingPart
from leitfaden_core.faults import FaultSpec, describe_fault
from leitfaden_core.judge import SchoolRules
from leitfaden_core.lessons.item import Item, read_value, reading_of
from leitfaden_core.lessons.kind import (
    Draw,
    FairnessWarning,
    Mark,
    Question,
    Remedy,
    Ruling,
    StationKind,
    value_in_words,
    without,
)
from leitfaden_core.lessons.kinds.conclude.document import (
    MOST_CAUSES,
    CausePart,
    Conclude,
    ConcludeAnswer,
    ConcludeKey,
    ConcludeView,
    MarkedConclude,
    OfferedCause,
)
from leitfaden_core.lessons.kinds.conclude.explains import best_misfits, in_words, size_ladder
from leitfaden_core.lessons.shapes import ReadingPlace
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.words import say

#: What a cause may be called.
EXPLAINS = {"explains": "explains all readings", "ruled_out": "ruled out"}


class ConcludeKind(StationKind[Conclude]):
    """One cause for all readings."""

    id = "conclude"
    asks_cause = True
    document = Conclude
    view_shape = ConcludeView
    answer_shape = ConcludeAnswer
    key_shape = ConcludeKey
    marked_shape = MarkedConclude

    def places(self, station: Conclude) -> list[ReadingPlace]:
        return station.readings

    def causes(self, station: Conclude) -> list[FaultSpec]:
        return [cause for option in station.options for cause in option]

    def engines(self, station: Conclude) -> list[tuple[FaultSpec, ...]]:
        return [size for option in station.options for size in size_ladder(option)]

    def work(self, station: Conclude) -> float:
        return 0.3 * len(station.readings) + 0.4 * len(station.causes)

    def view(self, item: Item[Conclude]) -> ConcludeView:
        run = item.car.run
        return ConcludeView(
            **self.heading(item),
            readings=[reading_of(item.rig, place, read_value(run, place)) for place in item.station.readings],
            causes=[OfferedCause(id=str(k), label=_label(cause)) for k, cause in enumerate(_in_order(item))],
        )

    def key(self, item: Item[Conclude], rules: SchoolRules | None, units: UnitSystem) -> Sequence[CausePart]:
        """A cause counts in any size: what decides is the best of a ladder of sizes. Ids are places in the learner's
        order, so that neither the order nor a name on the wire tells anything to a neighbour.
        """
        observed = [read_value(item.car.run, place) for place in item.station.readings]
        causes = _in_order(item)
        built_in = _built_in(causes, item.setting.faults)
        misfits = best_misfits(item.rig, item.setting.script, item.station.readings, observed, causes)
        parts = []
        for k, (cause, best) in enumerate(zip(causes, misfits, strict=True)):
            parts.append(
                CausePart(
                    id=str(k),
                    label=_label(cause),
                    detail=", ".join(describe_fault(fault) for fault in cause) or _label(cause),
                    explains=best.explains,
                    true_cause=k in built_in,
                    reason=in_words(item.rig, best, units),
                    distance=round(best.distance, 2),
                )
            )
        return parts

    def draw(self, item: Item[Conclude]) -> Draw:
        wrong = [part.distance for part in self.key(item, None, UnitSystem.METRIC) if not part.explains]
        return Draw(min(wrong, default=None), len(wrong), len(item.station.causes))

    def warnings(self, item: Item[Conclude]) -> Iterator[FairnessWarning]:
        station = item.station
        parts = self.key(item, None, UnitSystem.METRIC)
        explaining = [part for part in parts if part.explains]
        wrong = {part.label for part in parts if part.explains and not part.true_cause}
        too_many = {k for k, cause in enumerate(station.causes) if _label(() if cause is None else (cause,)) in wrong}
        if not any(part.true_cause for part in parts):
            text = say("{title}: the lesson's own fault is not among the causes.", title=station.title)
            yield FairnessWarning(station.id, "cause_not_offered", text, _offering(item))
        elif len(explaining) > 1:
            names = " and ".join(part.label for part in explaining)
            text = say(
                "{title}: {names} explain all readings; both count as right. Add a reading that separates them.",
                title=station.title,
                names=names,
            )
            yield FairnessWarning(station.id, "two_right", text, without("causes", station.causes, too_many, 2))
        if not explaining:
            text = say("{title}: no offered cause alone explains all readings.", title=station.title)
            yield FairnessWarning(station.id, "none_right", text)

    def rulings(self, part: CausePart, parts: Sequence[CausePart]) -> list[Ruling]:
        now = "explains" if part.explains else "ruled_out"
        changes = {said: {"explains": said == "explains"} for said in EXPLAINS}
        return [Ruling(part.detail, part.detail, EXPLAINS, now, changes)]

    def require(self, view: ConcludeView, answer: ConcludeAnswer) -> None:
        if answer.cause not in {cause.id for cause in view.causes}:
            raise MissingPart("no cause was chosen")

    def mark(self, parts: list[dict[str, Any]], answer: ConcludeAnswer, units: UnitSystem) -> Mark:
        """Full points for a cause that explains all readings, whether or not it is the one built in: the evidence
        cannot tell them apart.
        """
        chosen = next((part for part in parts if part["id"] == answer.cause), None)
        points = 1.0 if chosen is not None and _counts(chosen) else 0.0
        return Mark(
            points,
            [part | {"given": part is chosen, "points": points if part is chosen else None} for part in parts],
        )

    def right_answer(self, parts: list[dict[str, Any]]) -> ConcludeAnswer:
        return ConcludeAnswer(cause=next(part["id"] for part in parts if _counts(part)))

    def printed(self, view: Any, parts: Any, units: UnitSystem) -> list[list[str]]:
        rows = [[say("Condition"), say("Reading"), say("Value")]]
        rows += [[r["condition_label"], r["label"], value_in_words(r, units)] for r in view["readings"]]
        for k, cause in enumerate(view["causes"]):
            told = (
                [say("explains all"), ""]
                if parts and parts[k]["explains"]
                else ["", parts[k]["reason"] if parts else ""]
            )
            rows.append([f"☐ {cause['label']}" if not parts else cause["label"], *told])
        return rows

    def questions(self, view: Any, parts: Any, units: UnitSystem) -> list[Question]:
        readings = [f"{r['condition_label']}: {r['label']} {value_in_words(r, units)}" for r in view["readings"]]
        options = [(part["label"], _counts(part)) for part in parts]
        return [Question("; ".join(readings), options)]


def _counts(part: dict[str, Any]) -> bool:
    """Whether a cause is right: it explains all readings, or it is the one built in, unless the trainer has said no."""
    return bool(part["explains"] or (part["true_cause"] and not part.get("overruled")))


def _offering(item: Item[Conclude]) -> tuple[Remedy, ...]:
    """What is wrong with the car, offered too: alone, or together where it is more than one thing."""
    station, faults = item.station, [fault.model_dump(mode="json") for fault in item.setting.faults]
    if len(faults) > 1:
        pairs = [[fault.model_dump(mode="json") for fault in causes] for causes in station.together]
        return (Remedy(say("Offer it"), {"together": [*pairs, faults]}),)
    if len(station.causes) >= MOST_CAUSES:
        return ()
    offered = [*station.causes, *(item.setting.faults or (None,))]
    causes = [cause.model_dump(mode="json") if cause else None for cause in offered]
    return (Remedy(say("Offer it"), {"causes": causes}),)


def _in_order(item: Item[Conclude]) -> list[tuple[FaultSpec, ...]]:
    """Another order for every learner, so that the place of an option says nothing."""
    options = item.station.options
    return [options[int(k)] for k in chance(item.seed, "causes", item.station.id).permutation(len(options))]


def _label(causes: tuple[FaultSpec, ...]) -> str:
    """Names of causes without their sizes."""
    return say("Nothing is wrong") if not causes else say(" and ").join(_name(cause) for cause in causes)


def _name(cause: FaultSpec) -> str:
    kind, values = cause.checked()
    return kind.named(values)


def _built_in(options: list[tuple[FaultSpec, ...]], faults: tuple[FaultSpec, ...]) -> set[int]:
    """Places of the options that are what is wrong: all of it, or a part of it where nobody offers the whole."""
    wrong = {_sameness(fault) for fault in faults}
    named = [{_sameness(cause) for cause in option} for option in options]
    whole = {k for k, causes in enumerate(named) if causes == wrong}
    return whole or {k for k, causes in enumerate(named) if causes and causes < wrong}


def _sameness(fault: FaultSpec) -> tuple[str, ...]:
    """Kind and choices of a fault; its size does not matter."""
    return (fault.kind, *_words(fault))


def _words(fault: FaultSpec) -> list[str]:
    return [value for value in fault.checked()[1].values() if isinstance(value, str)]
