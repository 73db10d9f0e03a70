"""Separate: two causes look alike; which test tells them apart, at what price?"""

from collections.abc import Iterator, Sequence
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from leitfaden_core.chance import chance
from leitfaden_core.diagnose.procedures import DiagnosticTest, tests_of
from leitfaden_core.diagnose.ranking import TOLD_APART
from leitfaden_core.errors import MissingPart
from leitfaden_core.faults import FaultSpec, describe_fault
from leitfaden_core.judge import SchoolRules
from leitfaden_core.lessons.item import Item
from leitfaden_core.lessons.kind import (
    FairnessWarning,
    Mark,
    Question,
    Remedy,
    Ruling,
    StationKind,
    taking_out,
)
from leitfaden_core.lessons.kinds.tests_offered import named_tests, offering, quickest_telling, separations
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
from leitfaden_core.words import say

#: A test that separates but takes longer than this many times the quickest that does earns half the points.
DEAR = 2.0
#: Tests that one station can offer, and those that hardly any pair of causes is told apart by.
MOST_TESTS = 8
IDLE_TESTS = ("look.fuel", "look.plugs and cables", "meter.grounds", "heat.ect")


#: What a test may be called.
TELLS = {"separates": "tells them apart", "same": "shows the same for both"}


class Separate(StationDocument):
    """Two causes and some tests of the diagnosis; none of them reads what is wrong."""

    kind: Literal["separate"] = "separate"
    causes: Annotated[list[FaultSpec], Field(min_length=2, max_length=2, title="causes")]
    tests: Annotated[list[Name], Field(min_length=2, max_length=MOST_TESTS, title="tests")]

    @model_validator(mode="after")
    def _differ(self) -> "Separate":
        if len(set(self.tests)) < len(self.tests):
            raise ValueError("a test is offered twice")
        return self


class OfferedTest(Shape):
    """A test to choose; its id is its place in the learner's order."""

    id: str
    label: str
    minutes: float


class SeparateView(StationView):
    """The causes, and the tests."""

    kind: Literal["separate"] = "separate"
    causes: list[str]
    tests: list[OfferedTest]


class SeparateAnswer(Answer):
    """The test that was chosen."""

    kind: Literal["separate"] = "separate"
    test: Annotated[str, Field(max_length=4)] = ""


class SeparatePart(KeyPart, OfferedTest):
    """A test with how far apart it puts the two, in spreads of its readings."""

    separation: float
    separates: bool
    worth: float
    reason: str


class SeparateKey(StationKey):
    """What each test would show."""

    kind: Literal["separate"] = "separate"
    parts: list[SeparatePart] = []


class MarkedSeparatePart(SeparatePart):
    """A test, and whether it was chosen."""

    given: bool = False
    points: float | None = None


class MarkedSeparate(MarkedStation):
    """The chosen test among all."""

    kind: Literal["separate"] = "separate"
    parts: list[MarkedSeparatePart] = []


class SeparateKind(StationKind[Separate]):
    """Which test tells two causes apart?"""

    id = "separate"
    document = Separate
    view_shape = SeparateView
    answer_shape = SeparateAnswer
    key_shape = SeparateKey
    marked_shape = MarkedSeparate

    def causes(self, station: Separate) -> list[FaultSpec]:
        return station.causes

    def engines(self, station: Separate) -> list[tuple[FaultSpec, ...]]:
        return [(cause,) for cause in station.causes]

    def work(self, station: Separate) -> float:
        return 1.0 + 0.3 * len(station.tests)

    def names(self, station: Separate, faults: tuple[FaultSpec, ...]) -> list[FaultSpec]:
        return station.causes

    def view(self, item: Item[Separate]) -> SeparateView:
        return SeparateView(
            **self.heading(item),
            causes=[describe_fault(cause) for cause in item.station.causes],
            tests=[
                OfferedTest(id=str(k), label=test.label, minutes=test.minutes) for k, test in enumerate(_in_order(item))
            ],
        )

    def key(self, item: Item[Separate], rules: SchoolRules | None, units: UnitSystem) -> Sequence[SeparatePart]:
        tests = _in_order(item)
        apart = [pairs[0, 1] for pairs in separations(item.rig, item.station.causes, tests)]
        quickest = min((t.minutes for t, far in zip(tests, apart, strict=True) if far >= TOLD_APART), default=0.0)
        parts = []
        for k, (test, far) in enumerate(zip(tests, apart, strict=True)):
            separates = far >= TOLD_APART
            worth = 0.0 if not separates else 1.0 if test.minutes <= DEAR * quickest else 0.5
            parts.append(
                SeparatePart(
                    id=str(k),
                    label=test.label,
                    minutes=test.minutes,
                    separation=round(min(far, 99.0), 1),
                    separates=separates,
                    worth=worth,
                    reason=_reason(far, separates, worth, test.minutes, quickest),
                )
            )
        return parts

    def warnings(self, item: Item[Separate]) -> Iterator[FairnessWarning]:
        station, parts = item.station, self.key(item, None, UnitSystem.METRIC)
        telling = [part for part in parts if part.separates]
        if not telling:
            text = say("{title}: none of the tests tells the two causes apart.", title=station.title)
            yield FairnessWarning(station.id, "none_separates", text, _telling_test(item))
        elif len(telling) == len(parts):
            text = say("{title}: every test tells them apart, so nothing is asked.", title=station.title)
            yield FairnessWarning(station.id, "all_separate", text, _idle_test(item))

    def rulings(self, part: SeparatePart, parts: Sequence[SeparatePart]) -> list[Ruling]:
        telling = {said: said == "separates" for said in TELLS}
        changes = {said: {"separates": tells, "worth": float(tells)} for said, tells in telling.items()}
        return [Ruling(part.label, part.label, TELLS, "separates" if part.separates else "same", changes)]

    def require(self, view: SeparateView, answer: SeparateAnswer) -> None:
        if answer.test not in {test.id for test in view.tests}:
            raise MissingPart("no test was chosen")

    def mark(self, parts: list[dict[str, Any]], answer: SeparateAnswer, units: UnitSystem) -> Mark:
        chosen = next((part for part in parts if part["id"] == answer.test), None)
        points = float(chosen["worth"]) if chosen is not None else 0.0
        return Mark(
            points, [part | {"given": part is chosen, "points": points if part is chosen else None} for part in parts]
        )

    def right_answer(self, parts: list[dict[str, Any]]) -> SeparateAnswer:
        return SeparateAnswer(test=max(parts, key=lambda part: (part["worth"], -part["minutes"]))["id"])

    def printed(self, view: Any, parts: Any, units: UnitSystem) -> list[list[str]]:
        rows = [[" / ".join(view["causes"]), say("Minutes"), *([say("Why")] if parts else [])]]
        for k, test in enumerate(view["tests"]):
            told = [parts[k]["reason"]] if parts else []
            rows.append([test["label"] if parts else f"☐ {test['label']}", f"{test['minutes']:.0f}", *told])
        return rows

    def questions(self, view: Any, parts: Any, units: UnitSystem) -> list[Question]:
        best = max(part["worth"] for part in parts)
        return [Question(" / ".join(view["causes"]), [(part["label"], part["worth"] == best) for part in parts])]


def _telling_test(item: Item[Separate]) -> tuple[Remedy, ...]:
    """The quickest test of the engine that tells the two apart."""
    test = quickest_telling(item.rig, *item.station.causes)
    return (offering(item.station.tests, test, MOST_TESTS) if test else taking_out(),)


def _idle_test(item: Item[Separate]) -> tuple[Remedy, ...]:
    """A test that has nothing to do with either cause."""
    there = {test.id: test for test in tests_of(item.rig)}
    fresh = [name for name in IDLE_TESTS if name in there and name not in item.station.tests]
    return (offering(item.station.tests, there[fresh[0]], MOST_TESTS) if fresh else taking_out(),)


def _in_order(item: Item[Separate]) -> list[DiagnosticTest]:
    """The tests in another order for every learner."""
    tests = named_tests(item.rig, item.station.tests)
    return [tests[int(k)] for k in chance(item.seed, "tests", item.station.id).permutation(len(tests))]


def _reason(far: float, separates: bool, worth: float, minutes: float, quickest: float) -> str:
    if not separates:
        return say("Shows the same for both: {far:.1f} of its spread apart.", far=far)
    told = say("Tells them apart by {far:.0f} times its spread", far=min(far, 99.0))
    if worth < 1.0:
        return say(
            "{told}, but takes {minutes:.0f} min where {quickest:.0f} would do.",
            told=told,
            minutes=minutes,
            quickest=quickest,
        )
    return say("{told} in {minutes:.0f} min.", told=told, minutes=minutes)
