"""The benchmark that holds the judge against its promises: its own arithmetic, and the vehicles that it draws."""

import numpy as np
import pytest
from benchmark.shares import interval
from benchmark.vehicles import by_prior, drawn, said_against_right, somewhere_from

from leitfaden_core.diagnose import table
from leitfaden_core.faults import FaultSpec, effects_on
from leitfaden_core.rigs import load_rig


@pytest.mark.parametrize(
    ("hits", "count", "low", "high"),
    [
        # Newcombe, Two-sided confidence intervals for the single proportion, Stat. Med. 17, 1998, table I.
        (81, 263, 0.2553, 0.3662),
        (15, 148, 0.0624, 0.1605),
        (0, 20, 0.0, 0.1611),
        (1, 29, 0.0061, 0.1718),
    ],
)
def test_intervals_are_those_of_wilson(hits: int, count: int, low: float, high: float) -> None:
    assert interval(hits, count) == pytest.approx((low, high), abs=2e-4)


def test_nothing_counted_tells_nothing() -> None:
    assert interval(0, 0) == (0.0, 1.0)


def test_what_was_said_is_held_against_what_was_right_tenth_by_tenth() -> None:
    said = [
        [(0.05, False)] * 19 + [(0.05, True)],
        [(0.75, True)] * 2 + [(1.0, True)],
        [(0.75, True), (0.75, False), (1.0, True)],
    ]
    rows = said_against_right("said", said)
    assert [(row["what"], row["promised"], row["got_percent"], row["of"], row["vehicles"]) for row in rows] == [
        ("said 0% to 10%", "5.0 %", 5.0, 20, 1),
        ("said 70% to 80%", "75.0 %", 75.0, 4, 2),
        ("said 90% to 100%", "100.0 %", 100.0, 2, 2),
    ]


def test_a_vehicle_that_says_the_same_ten_times_counts_about_once() -> None:
    """Fifty vehicles, each right or wrong ten times over, tell as much as fifty statements; each of its own, as five
    hundred.
    """
    together = [[(0.85, k % 5 > 0)] * 10 for k in range(50)]
    apart = [[pair] for said in together for pair in said]
    (one,), (other,) = (said_against_right("said", said) for said in (together, apart))
    assert one["got_percent"] == other["got_percent"] == 80.0
    assert (one["from"], one["to"]) == pytest.approx([100 * end for end in interval(40, 50)], abs=0.05)
    assert (other["from"], other["to"]) == pytest.approx([100 * end for end in interval(400, 500)], abs=0.05)


def holds(way: tuple[FaultSpec, ...], fault: FaultSpec) -> bool:
    """Whether a fault lies on a way: of the same choices, and within its sizes or one step beyond the largest."""
    if set(way[0].params) != set(fault.params):
        return False
    for name, value in fault.params.items():
        known = [size.params[name] for size in way]
        if isinstance(value, str):
            if {value} != set(known):
                return False
        elif not min(known) - 0.31 * np.ptp(known) - 1e-6 <= value <= max(known) + 0.31 * np.ptp(known) + 1e-6:
            return False
    return True


@pytest.mark.parametrize("rig_id", ["R1", "R4"])
def test_a_drawn_size_lies_on_a_way_that_the_table_knows(rig_id: str) -> None:
    """Never between the end of one way and the beginning of the next: half way from a sensor that reads 40 K too warm
    to one that reads 5 K too cold nothing is wrong.
    """
    causes = table(load_rig(rig_id))
    moved = 0
    for point, meant in enumerate(causes.meant):
        if meant is None:
            continue
        cause, here = causes.candidates[causes.owner[point]], meant.faults[0]
        found = somewhere_from(causes, point, 0.5)
        assert found is not None
        effects_on(found, causes.rig)  # raises where the engine cannot have it
        assert [way for way in cause.ways if holds(way, here) and holds(way, found)], (cause.id, here, found)
        moved += found != here
    assert moved > 0.6 * len(causes.meant)


def test_vehicles_are_drawn_as_the_judge_expects_them() -> None:
    causes = table(load_rig("R1"))
    first = [by_prior(causes, seed)[0] for seed in range(600)]
    for cause in sorted(causes.candidates, key=lambda c: -c.prior)[:3]:
        spread = (cause.prior * (1.0 - cause.prior) / len(first)) ** 0.5
        assert first.count(cause.id) / len(first) == pytest.approx(cause.prior, abs=3.5 * spread)


def test_the_same_seed_draws_the_same_vehicle() -> None:
    causes = table(load_rig("R1"))
    assert drawn(causes, 7) == drawn(causes, 7)
    assert len({drawn(causes, seed)[0] for seed in range(40)}) > 15
