"""How hard a station is, as the model sees it: a dial of its fault's size, and what three learners would draw."""

from dataclasses import dataclass

from leitfaden_core.lessons.document import Lesson
from leitfaden_core.lessons.kind import Remedy
from leitfaden_core.lessons.kinds import kind_called
from leitfaden_core.lessons.shapes import reading_label
from leitfaden_core.lessons.showing import TELLS, dial, in_that_size
from leitfaden_core.scripts import condition
from leitfaden_core.words import say

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
class DrawnBy:
    """What the learner with a seed would draw."""

    seed: int
    hardest: float | None
    off: int
    of: int


@dataclass(frozen=True)
class Difficulty:
    """Sizes, the smallest first; draws; ``told_from``: spreads at which a reading tells in one look."""

    told_from: float
    dial: list[DialSize]
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
                where=condition(step.place.condition).label.lower(),
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
    return Difficulty(TELLS, sizes, draws)
