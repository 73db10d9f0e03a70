"""Procedure: a piece of handwork in stages; at each, what is done next, when is it time to stop, and what comes of
it?
"""

from collections.abc import Sequence
from typing import Any

from leitfaden_core.cautions import CAUTIONS
from leitfaden_core.chance import chance
from leitfaden_core.errors import MissingPart, UnknownName
from leitfaden_core.judge import SchoolRules
from leitfaden_core.lessons.item import Item
from leitfaden_core.lessons.kind import Consequence, Mark, Question, Ruling, StationKind
from leitfaden_core.lessons.kinds.procedure.document import (
    MarkedProcedure,
    OfferedChoice,
    OfferedStage,
    Procedure,
    ProcedureAnswer,
    ProcedureKey,
    ProcedurePart,
    ProcedureView,
    ToldChoice,
)
from leitfaden_core.lessons.kinds.procedure.pieces import piece_called
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.words import say


class ProcedureKind(StationKind[Procedure]):
    """What is done next?"""

    id = "procedure"
    document = Procedure
    view_shape = ProcedureView
    answer_shape = ProcedureAnswer
    key_shape = ProcedureKey
    marked_shape = MarkedProcedure

    def work(self, station: Procedure) -> float:
        return 1.0 * len(piece_called(station.piece).stages)

    def view(self, item: Item[Procedure]) -> ProcedureView:
        return ProcedureView(
            **self.heading(item),
            cautions=[CAUTIONS[name].words for name in piece_called(item.station.piece).cautions],
            stages=[
                OfferedStage(
                    id=stage.id,
                    situation=stage.situation,
                    choices=[OfferedChoice(id=choice.id, text=choice.text) for choice in stage.choices],
                )
                for stage in _staged(item)
            ],
        )

    def key(self, item: Item[Procedure], rules: SchoolRules | None, units: UnitSystem) -> Sequence[ProcedurePart]:
        return _staged(item)

    def rulings(self, part: ProcedurePart, parts: Sequence[ProcedurePart]) -> list[Ruling]:
        """What could hurt somebody is never right, whatever a trainer says."""
        words, changes = {}, {}
        for choice in part.choices:
            if choice.hurts:
                continue
            words[choice.name] = choice.text
            chosen = choice.model_copy(update={"worth": 1.0})
            others = [other.model_copy(update={"worth": min(other.worth, 0.5)}) for other in part.choices]
            changes[choice.name] = {
                "choices": [chosen if other.id == choice.id else other for other in others],
            }
        best = max(part.choices, key=lambda choice: choice.worth)
        return [Ruling(part.id, part.situation, words, best.name, changes)]

    def consequence(self, parts: Any, step: str, choice: str, taken: dict[str, str]) -> Consequence:
        stages = {part["id"]: part for part in parts}
        if step not in stages:
            raise UnknownName("stage", step, stages)
        before = next((name for name in stages if name != step and name not in taken), step)
        if list(stages).index(before) < list(stages).index(step):
            raise MissingPart(say("a stage has no choice yet: {situation}", situation=stages[before]["situation"]))
        choices = {entry["id"]: entry for entry in stages[step]["choices"]}
        if choice not in choices:
            raise UnknownName("choice", choice, choices)
        return Consequence(choices[choice]["comes"], choices[choice]["hurts"])

    def with_steps(self, answer: ProcedureAnswer, taken: dict[str, str]) -> ProcedureAnswer:
        return answer.model_copy(update={"done": answer.done | taken})

    def require(self, view: ProcedureView, answer: ProcedureAnswer) -> None:
        if not answer.heeded:
            raise MissingPart(say("the cautions are not acknowledged yet; read them, then begin"))
        for stage in view.stages:
            if answer.done.get(stage.id) not in {choice.id for choice in stage.choices}:
                raise MissingPart(say("a stage has no choice yet: {situation}", situation=stage.situation))

    def mark(self, parts: list[dict[str, Any]], answer: ProcedureAnswer, units: UnitSystem) -> Mark:
        """The mean over all stages; nothing when a choice could have hurt somebody."""
        marked, hurt = [], False
        for part in parts:
            given = next((choice for choice in part["choices"] if choice["id"] == answer.done.get(part["id"])), None)
            hurt = hurt or bool(given and given["hurts"])
            worth = float(given["worth"]) if given else 0.0
            marked.append(part | {"given": given["id"] if given else None, "points": worth})
        points = 0.0 if hurt else sum(part["points"] for part in marked) / len(marked)
        return Mark(points, marked)

    def right_answer(self, parts: list[dict[str, Any]]) -> ProcedureAnswer:
        return ProcedureAnswer(heeded=True, done={part["id"]: _best(part)["id"] for part in parts})

    def printed(self, view: Any, parts: Any, units: UnitSystem) -> list[list[str]]:
        rows = [[say("Stage"), say("What is done next?"), *([say("Why")] if parts else [])]]
        rows += [["⚠", words, *([""] if parts else [])] for words in view["cautions"]]
        for k, stage in enumerate(view["stages"]):
            best = _best(parts[k]) if parts else None
            for n, choice in enumerate(stage["choices"]):
                head = stage["situation"] if n == 0 else ""
                told = [parts[k]["choices"][n]["comes"]] if parts else []
                right = best is not None and best["id"] == choice["id"]
                rows.append([head, f"{'☒' if right else '☐'} {choice['text']}", *told])
        return rows

    def questions(self, view: Any, parts: Any, units: UnitSystem) -> list[Question]:
        return [
            Question(
                part["situation"],
                [(choice["text"], choice["worth"] == 1.0) for choice in part["choices"]],
                _best(part)["comes"],
            )
            for part in parts
        ]


def _staged(item: Item[Procedure]) -> list[ProcedurePart]:
    """The stages, the choices of each in another order for every learner."""
    draw = chance(item.seed, "stages", item.station.id)
    parts = []
    for number, stage in enumerate(piece_called(item.station.piece).stages, 1):
        order = draw.permutation(len(stage.choices))
        choices = [
            ToldChoice(
                id=str(place),
                name=str(k),
                **stage.choices[int(k)].model_dump(include={"text", "comes", "worth", "hurts"}),
            )
            for place, k in enumerate(order)
        ]
        parts.append(ProcedurePart(id=str(number), situation=stage.situation, choices=choices))
    return parts


def _best(part: dict[str, Any]) -> dict[str, Any]:
    best: dict[str, Any] = max(part["choices"], key=lambda choice: choice["worth"])
    return best
