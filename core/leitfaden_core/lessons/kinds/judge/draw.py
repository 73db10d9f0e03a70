"""Which readings a learner judges: as hard for everybody, another selection for each."""

from leitfaden_core.chance import chance
from leitfaden_core.judge import VerdictKind, judge_reading
from leitfaden_core.lessons.item import Item, read_value
from leitfaden_core.lessons.kinds.judge.document import Judge
from leitfaden_core.lessons.shapes import ReadingPlace

#: Share of judge readings taken from the faulty car; the others come from a sound one of the same type.
FAULTY_SHARE = 0.6
#: Shares of a judge station's readings that are off (suspect or faulty) and that cannot be decided.
OFF_SHARE, UNDECIDABLE_SHARE = 0.4, 0.2


def drawn_readings(item: Item[Judge]) -> list[tuple[ReadingPlace, bool]]:
    """Place of each reading, and whether it is from the faulty car.

    Every learner gets the same number of each kind, as far as the pool has them: OFF_SHARE of the readings off (suspect
    or faulty), UNDECIDABLE_SHARE not decidable, the others good, from either car. So the difficulty does not hang on
    the draw.
    """
    station = item.station
    drawing = chance(item.seed, "readings", station.id)
    kinds: dict[str, list[tuple[ReadingPlace, bool]]] = {"off": [], "undecidable": [], "good": []}
    for k in drawing.permutation(len(station.pool)):
        place = station.pool[int(k)]
        faulty = bool(drawing.random() < FAULTY_SHARE)
        seen, other = ((place, side) for side in (faulty, not faulty))
        kind, kind_other = _kind_of(item, *seen), _kind_of(item, *other)
        # A place that can show the fault shows it as long as readings that are off are wanted.
        wanted = max(1, round(OFF_SHARE * station.count))
        if kind != "off" and kind_other == "off" and len(kinds["off"]) < wanted:
            seen, kind = other, kind_other
        kinds[kind].append(seen)
    off = kinds["off"][: max(1, round(OFF_SHARE * station.count))]
    undecidable = kinds["undecidable"][: max(1, round(UNDECIDABLE_SHARE * station.count))]
    good = kinds["good"][: max(station.count - len(off) - len(undecidable), 0)]
    rest = [entry for kind in kinds.values() for entry in kind if entry not in [*off, *undecidable, *good]]
    drawn = [*off, *undecidable, *good, *rest][: station.count]
    return [drawn[int(k)] for k in drawing.permutation(len(drawn))]


def _kind_of(item: Item[Judge], place: ReadingPlace, faulty: bool) -> str:
    """Whether a reading is off, undecidable or good, by the default rules: the draw must not depend on who asks."""
    value = read_value(item.run(faulty), place)
    verdict = judge_reading(
        item.rig,
        place.condition,
        place.channel,
        value,
        place.stat,
        substitute=item.run(faulty).substituted(place.condition, place.channel),
    )
    return {VerdictKind.GOOD: "good", VerdictKind.NOT_DECIDABLE: "undecidable"}.get(verdict.kind, "off")
