"""How hard a station is, as the model sees it: a dial of its fault's size, what else would make it harder or easier,
and what three learners would draw.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from leitfaden_core.faults import describe_fault
from leitfaden_core.lessons.document import Lesson
from leitfaden_core.lessons.item import Item
from leitfaden_core.lessons.kind import Remedy
from leitfaden_core.lessons.kinds import kind_called
from leitfaden_core.lessons.shapes import ReadingPlace, reading_label
from leitfaden_core.lessons.showing import TELLS, dial, in_that_size, red_herring, showing_places, telling_places
from leitfaden_core.scripts import condition
from leitfaden_core.words import inside, say

#: Learners whose draws a trainer sees.
DRAWS = (1, 2, 3)


@dataclass(frozen=True)
class DialSize:
    """A size of the fault, what it shows at the station, and the change that sets it."""

    share: float
    words: str
    separation: float
    reading: str
    telling: int
    remedy: Remedy


@dataclass(frozen=True)
class Turn:
    """Something else than the size that makes a station harder, or easier."""

    harder: bool
    remedy: Remedy


@dataclass(frozen=True)
class DrawnBy:
    """What the learner with a seed would draw."""

    seed: int
    hardest: float | None
    off: int
    of: int


@dataclass(frozen=True)
class Difficulty:
    """Sizes, the smallest first; turns; draws; ``told_from``: spreads at which a reading tells in one look."""

    told_from: float
    dial: list[DialSize]
    turns: list[Turn]
    draws: list[DrawnBy]


def difficulty(lesson: Lesson, index: int) -> Difficulty:
    """How hard a station is."""
    kind, item = kind_called(lesson.stations[index].kind), lesson.item(index, 0)
    sizes = [
        DialSize(
            step.share,
            step.words,
            round(min(step.separation, 99.0), 1),
            say(
                "{reading} at {where}",
                reading=reading_label(step.place),
                where=inside(condition(step.place.condition).label),
            ),
            step.telling,
            in_that_size(item, step),
        )
        for step in dial(item, kind.places(item.station))
    ]
    draws = []
    for seed in DRAWS:
        drawn = kind.draw(lesson.item(index, seed))
        if drawn is not None:
            hardest = None if drawn.hardest is None else round(min(drawn.hardest, 99.0), 1)
            draws.append(DrawnBy(seed, hardest, drawn.off, drawn.of))
    return Difficulty(TELLS, sizes, list(_turns(item, kind.places(item.station))), draws)


def _turns(item: Item[Any], places: list[ReadingPlace]) -> Iterator[Turn]:
    """Fewer readings or more, in those kinds of station that have a list of them, and a second fault."""
    field = next((name for name in ("pool", "readings") if hasattr(item.station, name)), None)
    if field is None or not item.setting.faults or len(places) < 2:
        return
    fewest, most = _bounds(item, field)
    telling = telling_places(item, places)
    if len(telling) > 1 and len(places) > fewest:
        best = telling[0]
        kept = [place.model_dump(mode="json") for k, place in enumerate(places) if k != best]
        says = say(
            "Take out what tells most: {reading} at {where}",
            reading=reading_label(places[best]),
            where=inside(condition(places[best].condition).label),
        )
        yield Turn(True, Remedy(says, {field: kept}))
    beside = red_herring(item, places)
    if beside is not None:
        vehicle = item.station.vehicle.model_dump(mode="json")
        faults = [fault.model_dump(mode="json") for fault in (*item.setting.faults, beside)]
        says = say("Put a second fault beside it here: {fault}", fault=describe_fault(beside))
        yield Turn(True, Remedy(says, {"vehicle": vehicle | {"faults": faults}}))
    yield from (Turn(False, remedy) for remedy in showing_places(item, field, places, most))


def _bounds(item: Item[Any], field: str) -> tuple[int, int]:
    """Fewest and most entries of a list of the station's document."""
    limits = type(item.station).model_fields[field].metadata
    fewest = next((limit.min_length for limit in limits if hasattr(limit, "min_length")), 0)
    most = next((limit.max_length for limit in limits if hasattr(limit, "max_length")), len(limits))
    return fewest, most
