"""Order: some causes are in question; in which order does one test? Every order that costs about as little as the best
one is right.
"""

from collections.abc import Iterator, Sequence
from itertools import permutations
from typing import Any

from leitfaden_core.chance import chance
from leitfaden_core.diagnose.costs import minutes_now, price
from leitfaden_core.diagnose.procedures import DiagnosticTest
from leitfaden_core.diagnose.ranking import TOLD_APART
from leitfaden_core.errors import MissingPart
from leitfaden_core.faults import FaultSpec, describe_fault
from leitfaden_core.judge import SchoolRules
from leitfaden_core.lessons.item import Item
from leitfaden_core.lessons.kind import FairnessWarning, Mark, Ruling, StationKind, taking_out
from leitfaden_core.lessons.kinds.order.document import (
    AS_GOOD,
    MOST_TESTS,
    MarkedOrder,
    Order,
    OrderAnswer,
    OrderedTest,
    OrderKey,
    OrderPart,
    OrderView,
    TestTold,
)
from leitfaden_core.lessons.kinds.tests_offered import named_tests, offering, quickest_telling, separations
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.words import say

#: An order earns half up to so many times the least cost.
USABLE = 1.6
#: How much dearer than the best order a trainer may let one be that is right. [%]
DEARER = ("5", "15", "30", "60")


class OrderKind(StationKind[Order]):
    """In which order does one test?"""

    id = "order"
    document = Order
    view_shape = OrderView
    answer_shape = OrderAnswer
    key_shape = OrderKey
    marked_shape = MarkedOrder

    def causes(self, station: Order) -> list[FaultSpec]:
        return station.causes

    def engines(self, station: Order) -> list[tuple[FaultSpec, ...]]:
        return [(cause,) for cause in station.causes]

    def work(self, station: Order) -> float:
        return 0.8 * len(station.tests)

    def view(self, item: Item[Order]) -> OrderView:
        return OrderView(
            **self.heading(item),
            causes=[describe_fault(cause) for cause in item.station.causes],
            tests=[
                OrderedTest(id=str(k), label=test.label, minutes=test.minutes, exchange=_bought(test))
                for k, test in enumerate(_in_order(item))
            ],
        )

    def key(self, item: Item[Order], rules: SchoolRules | None, units: UnitSystem) -> Sequence[OrderPart]:
        tests, causes = _in_order(item), item.station.causes
        told = [_told_apart(apart) for apart in separations(item.rig, causes, tests)]
        costs = {
            " ".join(str(k) for k in order): round(
                _cost([tests[k] for k in order], [told[k] for k in order], causes), 1
            )
            for order in permutations(range(len(tests)))
        }
        best = min(costs, key=lambda order: (costs[order], order))
        return [
            OrderPart(
                tests=[
                    TestTold(
                        id=str(k),
                        label=test.label,
                        minutes=test.minutes,
                        exchange=_bought(test),
                        tells=_words(causes, pairs),
                    )
                    for k, (test, pairs) in enumerate(zip(tests, told, strict=True))
                ],
                best=best.split(),
                least=costs[best],
                costs=costs,
            )
        ]

    def warnings(self, item: Item[Order]) -> Iterator[FairnessWarning]:
        station, tests = item.station, _in_order(item)
        told: set[tuple[int, int]] = set()
        for apart in separations(item.rig, station.causes, tests):
            told |= _told_apart(apart)
        alike = [pair for pair in _pairs(len(station.causes)) if pair not in told]
        if alike:
            one, other = (describe_fault(station.causes[k]) for k in alike[0])
            text = say(
                "{title}: all tests together do not tell {one} from {other}.", title=station.title, one=one, other=other
            )
            telling = quickest_telling(item.rig, *(station.causes[k] for k in alike[0]))
            remedies = (offering(station.tests, telling, MOST_TESTS), taking_out()) if telling else (taking_out(),)
            yield FairnessWarning(station.id, "never_told", text, remedies)
        part = self.key(item, None, UnitSystem.METRIC)[0]
        if max(part.costs.values()) <= AS_GOOD * part.least:
            text = say("{title}: every order costs about the same, so nothing is asked.", title=station.title)
            yield FairnessWarning(station.id, "all_same", text, (taking_out(),))

    def rulings(self, part: OrderPart, parts: Sequence[OrderPart]) -> list[Ruling]:
        words = {name: say("an order up to {percent} % dearer is right", percent=name) for name in DEARER}
        changes = {name: {"as_good": 1.0 + int(name) / 100.0} for name in DEARER}
        return [Ruling("order", say("Which orders are right"), words, f"{100.0 * (part.as_good - 1.0):.0f}", changes)]

    def require(self, view: OrderView, answer: OrderAnswer) -> None:
        if sorted(answer.order) != sorted(test.id for test in view.tests):
            raise MissingPart("the order is not complete; put each test in its place once")

    def mark(self, parts: list[dict[str, Any]], answer: OrderAnswer, units: UnitSystem) -> Mark:
        part = parts[0]
        cost = part["costs"].get(" ".join(answer.order))
        times = cost / part["least"] if cost is not None and part["least"] else None
        as_good = part.get("as_good", AS_GOOD)
        points = 0.0 if times is None else 1.0 if times <= as_good else 0.5 if times <= max(USABLE, as_good) else 0.0
        return Mark(points, [part | {"given": answer.order, "cost": cost, "points": points}])

    def right_answer(self, parts: list[dict[str, Any]]) -> OrderAnswer:
        return OrderAnswer(order=parts[0]["best"])

    def printed(self, view: Any, parts: Any, units: UnitSystem) -> list[list[str]]:
        rows = [[" / ".join(view["causes"]), say("Place"), *([say("What it tells")] if parts else [])]]
        for k, test in enumerate(view["tests"]):
            place = str(parts[0]["best"].index(test["id"]) + 1) if parts else "…"
            rows.append([test["label"], place, *([parts[0]["tests"][k]["tells"]] if parts else [])])
        return rows


def _in_order(item: Item[Order]) -> list[DiagnosticTest]:
    """The tests in another order for every learner."""
    tests = named_tests(item.rig, item.station.tests)
    return [tests[int(k)] for k in chance(item.seed, "tests", item.station.id).permutation(len(tests))]


def _bought(test: DiagnosticTest) -> bool:
    return test.instrument == "known_good_part"


def _pairs(count: int) -> list[tuple[int, int]]:
    return [(one, other) for one in range(count) for other in range(one + 1, count)]


def _told_apart(apart: dict[tuple[int, int], float]) -> set[tuple[int, int]]:
    """Pairs of causes that a test tells apart."""
    return {pair for pair, far in apart.items() if far >= TOLD_APART}


def _cost(tests: list[DiagnosticTest], told: list[set[tuple[int, int]]], causes: list[FaultSpec]) -> float:
    """What an order costs until the cause is told from all others, on the mean over the causes, which are all as
    likely.

    A cause that the tests never tell costs them all. Ways and warming up count as they fall due; a part that is bought
    for trying counts with the chance that it was in vain. [min]
    """
    conditions = {test.id: test.condition for test in tests}
    taken: list[str] = []
    open_pairs = set(_pairs(len(causes)))
    spent = total = 0.0
    waiting = set(range(len(causes)))
    for test, pairs in zip(tests, told, strict=True):
        spent += price(test, minutes_now(test, taken, conditions), 1.0 / len(causes))
        taken.append(test.id)
        open_pairs -= pairs
        known = {cause for cause in waiting if not any(cause in pair for pair in open_pairs)}
        total += spent * len(known)
        waiting -= known
    return (total + spent * len(waiting)) / len(causes)


def _words(causes: list[FaultSpec], pairs: set[tuple[int, int]]) -> str:
    """Which causes a test singles out, in words."""
    if not pairs:
        return say("Shows the same for all of them.")
    if len(pairs) == len(_pairs(len(causes))):
        return say("Tells all of them apart.")
    singled = [
        describe_fault(cause)
        for k, cause in enumerate(causes)
        if all(tuple(sorted((k, other))) in pairs for other in range(len(causes)) if other != k)
    ]
    if singled:
        return say("Singles out: {causes}.", causes="; ".join(singled))
    one, other = (describe_fault(causes[k]) for k in min(pairs))
    return say("Tells {one} from {other}.", one=one, other=other)
