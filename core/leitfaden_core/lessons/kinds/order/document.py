"""Order: its shapes."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from leitfaden_core.faults import FaultSpec
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

#: Every order of so many tests can be worked out.
MOST_TESTS = 5
#: An order is right when it costs no more than this many times the best.
AS_GOOD = 1.15
Id = Annotated[str, Field(max_length=4)]


class Order(StationDocument):
    """Causes that are in question, and tests to be put in order; few enough that every order can be worked out."""

    kind: Literal["order"] = "order"
    causes: Annotated[list[FaultSpec], Field(min_length=2, max_length=5, title="causes")]
    tests: Annotated[list[Name], Field(min_length=3, max_length=MOST_TESTS, title="tests")]

    @model_validator(mode="after")
    def _differ(self) -> "Order":
        if len(set(self.tests)) < len(self.tests):
            raise ValueError("a test is offered twice")
        return self


class OrderedTest(Shape):
    """A test with what it takes by itself; its id is its place in the learner's list."""

    id: str
    label: str
    minutes: float
    exchange: bool  # a part is bought for it


class OrderView(StationView):
    """The causes, and the tests in a chance order."""

    kind: Literal["order"] = "order"
    causes: list[str]
    tests: list[OrderedTest]


class OrderAnswer(Answer):
    """The ids of all tests, first to last."""

    kind: Literal["order"] = "order"
    order: Annotated[list[Id], Field(max_length=5)] = []


class TestTold(OrderedTest):
    """A test with the causes that it tells apart."""

    tells: str


class OrderPart(KeyPart):
    """What every order costs until the cause is known, on the mean over the causes: ``costs`` by the ids joined with a
    blank. [min] ``as_good``: up to so many times the least is right.
    """

    tests: list[TestTold]
    best: list[str]
    least: float
    costs: dict[str, float]
    as_good: float = AS_GOOD


class OrderKey(StationKey):
    """One table of costs."""

    kind: Literal["order"] = "order"
    parts: list[OrderPart] = []


class MarkedOrderPart(OrderPart):
    """The table, with the order that was given and its cost."""

    given: list[str] = []
    cost: float | None = None
    points: float | None = None


class MarkedOrder(MarkedStation):
    """The learner's order beside the best one."""

    kind: Literal["order"] = "order"
    parts: list[MarkedOrderPart] = []
