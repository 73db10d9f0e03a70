"""Speed figures of lessons and drills, in the core: proposal, checks, a changed station, package, next item."""

import statistics
import time
from collections.abc import Callable
from typing import Any

from demo import course
from leitfaden_core.drills import FORMS, Ask, from_lesson, make_item
from leitfaden_core.faults import FaultSpec
from leitfaden_core.lessons import Wish, aims, check_lesson, parse_lesson, propose, station_key, station_view
from leitfaden_core.lessons.exchange import packed_lesson, unpacked

#: Aims that are proposed, one a rig; changed sizes of a station; items of a drill.
PROPOSED = (
    ("maf-flat-error", "R1"),
    ("map-hose-before-sensor", "R2"),
    ("wb-shifted-scale", "R3"),
    ("egr-diesel-loop", "R4"),
)
CHANGES, ITEMS = 20, 24


def _timed(work: Callable[[], Any]) -> float:
    start = time.perf_counter()
    work()
    return time.perf_counter() - start


def lessons() -> dict[str, float]:
    """Seconds of a proposal, cold and again; of the checks of a lesson of a dozen stations; milliseconds of a changed
    judge station (view and key), of a package, of a drill's item.
    """
    wishes = [Wish("", rig, level=aims()[aim].level, minutes=60, aim=aim) for aim, rig in PROPOSED]
    cold = [_timed(lambda wish=wish: propose(wish)) for wish in wishes]  # type: ignore[misc]
    warm = [_timed(lambda wish=wish: propose(wish)) for wish in wishes]  # type: ignore[misc]
    lesson = parse_lesson(next(raw for raw in course.kept() if len(raw["stations"]) >= 12))
    check_lesson(lesson)
    text = packed_lesson(lesson)
    judge = next(k for k, station in enumerate(lesson.stations) if station.kind == "judge")
    changed = []
    for k in range(CHANGES):
        leak = FaultSpec(kind="manifold_vacuum_leak", params={"area_mm2": round(1.0 + 0.05 * k, 3)})
        other = lesson.model_copy(update={"faults": [leak]})
        changed.append(_timed(lambda other=other: (station_view(other, judge, 0), station_key(other, judge, 0))))  # type: ignore[misc]
    entry = from_lesson(lesson)[0]
    asks = [
        Ask(fault=entry.fault, rig=entry.rigs[0], share=0.5, faulty=k % 2 == 0, form=FORMS[k % 4], seed=900 + k)
        for k in range(ITEMS)
    ]
    items = sorted(1000.0 * _timed(lambda ask=ask: make_item(ask)) for ask in asks)  # type: ignore[misc]
    ordered = sorted(1000.0 * value for value in changed)
    return {
        "proposal_cold_s": round(max(cold), 2),
        "proposal_again_s": round(statistics.median(warm), 2),
        "check_of_12_stations_s": round(_timed(lambda: check_lesson(lesson)), 2),
        "changed_station_median_ms": round(statistics.median(ordered)),
        "changed_station_p95_ms": round(ordered[int(0.95 * (len(ordered) - 1))]),
        "package_out_ms": round(1000.0 * _timed(lambda: packed_lesson(lesson)), 1),
        "package_in_ms": round(1000.0 * _timed(lambda: unpacked(text.encode())), 1),
        "drill_item_median_ms": round(statistics.median(items)),
        "drill_item_p95_ms": round(items[int(0.95 * (len(items) - 1))]),
    }
