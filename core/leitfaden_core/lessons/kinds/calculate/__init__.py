"""Calculate: numbers of the learner's own engine, worked through step by step; a slip is named once and carried
forward.
"""

from collections.abc import Iterator, Sequence
from typing import Annotated, Any, Literal

from pydantic import Field, field_validator, model_validator

from leitfaden_core.errors import LeitfadenError, MissingPart, UnknownName
from leitfaden_core.judge import SchoolRules
from leitfaden_core.lessons.item import Item
from leitfaden_core.lessons.kind import (
    BLANK,
    FairnessWarning,
    Mark,
    Ruling,
    StationKind,
)
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
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.scripts import condition as condition_of
from leitfaden_core.words import say
from leitfaden_core.workings import Sheet, from_run, mark_steps, symbol_tex, tex, work, workings
from leitfaden_core.workings.working import significant

#: How near a line may be to be right by a trainer's word. [%]
WITHIN = ("1", "2", "5", "10")


class Calculate(StationDocument):
    """A calculation fed by the engine in a condition; ``given`` are inputs that an engine does not show, with units."""

    kind: Literal["calculate"] = "calculate"
    working: Annotated[Name, Field(title="working")]
    condition: Annotated[Name, Field(title="condition")]
    given: Annotated[dict[Name, Annotated[str, Field(max_length=60)]], Field(title="values that are given")] = {}
    faulty: Annotated[bool, Field(title="values of the faulty engine")] = True
    show_formulas: Annotated[bool, Field(title="formulas shown")] = False

    @field_validator("working")
    @classmethod
    def _exists(cls, name: str) -> str:
        return workings.get(name).id

    @model_validator(mode="after")
    def _hangs_together(self) -> "Calculate":
        condition_of(self.condition)
        known = {entry.symbol for entry in workings.get(self.working).inputs}
        for symbol in self.given:
            if symbol not in known:
                raise UnknownName("input", symbol, known, where=say("of the working {id}", id=self.working))
        return self


class GivenNumber(Shape):
    """A number that goes in."""

    symbol: str
    tex: str
    label: str
    value: str
    source: str = ""


class AskedStep(Shape):
    """A line to be worked out; its formula where it may be seen."""

    symbol: str
    tex: str
    label: str
    formula: str = ""


class CalculateView(StationView):
    """The numbers, and the lines without their results."""

    kind: Literal["calculate"] = "calculate"
    working: str
    given: list[GivenNumber]
    steps: list[AskedStep]


class CalculateAnswer(Answer):
    """What was written at each line, with its unit."""

    kind: Literal["calculate"] = "calculate"
    steps: dict[Name, Annotated[str, Field(max_length=60)]] = {}


class WorkedLine(Shape):
    """A line with its numbers."""

    symbol: str
    tex: str
    label: str
    formula: str
    numbers: str
    shown: str


class CalculatePart(KeyPart):
    """The worked sheet; ``inputs`` in the units that the formulas want, by which an answer is marked."""

    working: str
    label: str
    inputs: dict[str, float]
    lines: list[WorkedLine]
    meaning: str
    within_percent: float = 0.0  # of a line's value, where a trainer wants more to be right than rounding explains


class CalculateKey(StationKey):
    """One sheet."""

    kind: Literal["calculate"] = "calculate"
    parts: list[CalculatePart] = []


class MarkedLine(Shape):
    """A line of the learner: what was given, what it is, and why."""

    symbol: str
    given: str
    verdict: str
    points: float | None
    reason: str


class MarkedCalculatePart(CalculatePart):
    """The sheet beside the learner's lines."""

    marked: list[MarkedLine] = []
    points: float | None = None


class MarkedCalculate(MarkedStation):
    """A calculation, marked line by line."""

    kind: Literal["calculate"] = "calculate"
    parts: list[MarkedCalculatePart] = []


class CalculateKind(StationKind[Calculate]):
    """A calculation, line by line."""

    id = "calculate"
    document = Calculate
    view_shape = CalculateView
    answer_shape = CalculateAnswer
    key_shape = CalculateKey
    marked_shape = MarkedCalculate

    def work(self, station: Calculate) -> float:
        return 1.2 * len(workings.get(station.working).steps)

    def view(self, item: Item[Calculate]) -> CalculateView:
        working = workings.get(item.station.working)
        sheet, sources = _worked(item)
        return CalculateView(
            **self.heading(item),
            working=working.label,
            given=[
                GivenNumber(
                    symbol=entry.symbol,
                    tex=symbol_tex(entry.symbol),
                    label=entry.label,
                    value=_given(sheet.inputs[entry.symbol], entry.unit),
                    source=sources.get(entry.symbol, ""),
                )
                for entry in working.inputs
            ],
            steps=[
                AskedStep(
                    symbol=step.symbol,
                    tex=symbol_tex(step.symbol),
                    label=step.label,
                    formula=tex(step.formula) if item.station.show_formulas else "",
                )
                for step in working.steps
            ],
        )

    def key(self, item: Item[Calculate], rules: SchoolRules | None, units: UnitSystem) -> Sequence[CalculatePart]:
        working = workings.get(item.station.working)
        sheet, _sources = _worked(item)
        values, lines = dict(sheet.inputs), []
        for step, worked in zip(working.steps, sheet.steps, strict=True):
            lines.append(
                WorkedLine(
                    symbol=step.symbol,
                    tex=symbol_tex(step.symbol),
                    label=step.label,
                    formula=tex(step.formula),
                    numbers=tex(step.formula, values),
                    shown=worked.shown,
                )
            )
            values[step.symbol] = worked.value
        return [
            CalculatePart(
                working=working.id, label=working.label, inputs=sheet.inputs, lines=lines, meaning=sheet.meaning
            )
        ]

    def warnings(self, item: Item[Calculate]) -> Iterator[FairnessWarning]:
        try:
            _worked(item)
        except LeitfadenError as error:
            text = say("{title}: {why}", title=item.station.title, why=error.message)
            yield FairnessWarning(item.station.id, "cannot_be_worked", text)

    def rulings(self, part: CalculatePart, parts: Sequence[CalculatePart]) -> list[Ruling]:
        words = {percent: say("right within {percent} %", percent=percent) for percent in WITHIN}
        changes = {percent: {"within_percent": float(percent)} for percent in WITHIN}
        return [Ruling(part.working, part.label, words, changes=changes)]

    def require(self, view: CalculateView, answer: CalculateAnswer) -> None:
        last = view.steps[-1]
        if not answer.steps.get(last.symbol, "").strip():
            raise MissingPart(say("the last line is missing: {label}", label=last.label))

    def mark(self, parts: list[dict[str, Any]], answer: CalculateAnswer, units: UnitSystem) -> Mark:
        part = parts[0]
        working = workings.get(part["working"])
        known = {step.symbol for step in working.steps}
        lines = mark_steps(
            working,
            work(working, part["inputs"]),
            {symbol: text for symbol, text in answer.steps.items() if symbol in known},
            part.get("within_percent", 0.0),
        )
        told = [
            {"symbol": m.symbol, "given": m.given, "verdict": str(m.verdict), "points": m.points, "reason": m.reason}
            for m in lines
        ]
        counted = [line.points for line in lines if line.points is not None]
        points = sum(counted) / len(counted)
        return Mark(points, [part | {"marked": told, "points": points}])

    def right_answer(self, parts: list[dict[str, Any]]) -> CalculateAnswer:
        return CalculateAnswer(steps={line["symbol"]: line["shown"] for line in parts[0]["lines"]})

    def printed(self, view: Any, parts: Any, units: UnitSystem) -> list[list[str]]:
        rows = [[say("Given"), view["working"], ""]]
        rows += [[entry["symbol"], entry["label"], entry["value"]] for entry in view["given"]]
        for k, step in enumerate(view["steps"]):
            rows.append([step["symbol"], step["label"], parts[0]["lines"][k]["shown"] if parts else BLANK])
        return rows


def _worked(item: Item[Calculate]) -> tuple[Sheet, dict[str, str]]:
    """The sheet for this learner's engine, and where each number is from."""
    station = item.station
    working = workings.get(station.working)
    values, sources = from_run(working, item.run(station.faulty), station.condition)
    told: dict[str, float | str] = {**values, **{s: text for s, text in station.given.items() if text.strip()}}
    return work(working, told), sources


def _given(value: float, unit: str) -> str:
    """A number with its unit, as a learner is given it."""
    number = significant(value, 6)
    return number if unit == "-" else f"{number} {unit}"
