"""Which readings a learner judges: composed by chance, within bounds."""

from math import ceil

import numpy as np

from leitfaden_core.chance import chance
from leitfaden_core.judge import VerdictKind, judge_reading
from leitfaden_core.lessons.item import Item, read_value
from leitfaden_core.lessons.kinds.judge.document import Judge
from leitfaden_core.lessons.shapes import ReadingPlace
from leitfaden_core.simulate import Run

#: Chance of each reading to be off (suspect or faulty), not decidable, or good.
SHARES = {"off": 0.45, "undecidable": 0.15, "good": 0.4}
#: From this many readings on, at least one is off and at least one good, and no more than this share is off. Fewer
#: readings have no bounds: with one alone, "always faulty" would be right for everybody.
BOUND_FROM, MOST_OFF = 4, 0.7


def run_of(item: Item[Judge], faulty: bool) -> Run:
    """The run that a reading is from: the learner's car, or another sound one of the type."""
    return item.car.run if faulty else item.stranger


def drawn_readings(item: Item[Judge]) -> list[tuple[ReadingPlace, bool]]:
    """Place of each reading, and whether it is from the faulty car.

    How many are off, not decidable and good is a matter of chance within bounds, so that nobody can count verdicts
    instead of reading. With a closed book, channels that stations before have shown of a sound engine come last: what
    was seen there need only be looked up. A kind that the pool does not have is replaced by what it has.
    """
    pool = item.station.pool
    drawing = chance(item.seed, "readings", item.station.id)
    count = min(item.station.count, len(pool))
    left = [int(k) for k in drawing.permutation(len(pool))]
    kinds = {(k, faulty): _kind_of(item, pool[k], faulty) for k in left for faulty in (True, False)}
    drawn: list[tuple[ReadingPlace, bool]] = []
    for wish in sorted(_wishes(drawing, count), key=list(SHARES).index):
        sides = [bool(side) for side in drawing.permutation([True, False])]
        order = sorted(left, key=lambda k: pool[k].channel in item.closed)
        fitting = ((k, side) for k in order for side in sides if kinds[k, side] == wish)
        k, side = next(fitting, (order[0], sides[0]))
        left.remove(k)
        drawn.append((pool[k], side))
    return [drawn[int(k)] for k in drawing.permutation(count)]


def _wishes(drawing: np.random.Generator, count: int) -> list[str]:
    """What each reading shall be, by chance; drawn again until the bounds hold."""
    while True:
        wishes = [str(wish) for wish in drawing.choice(list(SHARES), count, p=list(SHARES.values()))]
        off, good = wishes.count("off"), wishes.count("good")
        if count < BOUND_FROM or (1 <= off <= ceil(MOST_OFF * count) and good >= 1):
            return wishes


def _kind_of(item: Item[Judge], place: ReadingPlace, faulty: bool) -> str:
    """Whether a reading is off, undecidable or good, by the default rules: the draw must not depend on who asks."""
    run = run_of(item, faulty)
    verdict = judge_reading(
        item.rig,
        place.condition,
        place.channel,
        read_value(run, place),
        place.stat,
        substitute=run.substituted(place.condition, place.channel),
    )
    return {VerdictKind.GOOD: "good", VerdictKind.NOT_DECIDABLE: "undecidable"}.get(verdict.kind, "off")
