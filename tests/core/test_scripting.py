"""A stretch of a bench becomes a drive that a lesson can use."""

import numpy as np
import pytest

from leitfaden_core.errors import LeitfadenError
from leitfaden_core.faults import FaultSpec
from leitfaden_core.live import Beginning, Bench, doing_of, script_of
from leitfaden_core.scripts import Script
from leitfaden_core.simulate import Run, simulate

ROLL = {"do": "drive", "roller": [1800.0, 2400.0], "gear": "road", "seconds": 3.0}


def driven(doings: list[tuple[float, dict]], seconds: float, rig: str = "R1") -> Bench:
    """A bench on which these things were done at these times."""
    bench = Bench(Beginning(rig=rig))
    for at, raw in doings:
        bench.go_to(round(at * 100))
        bench.do(doing_of(raw))
    bench.go_to(round(seconds * 100))
    return bench


def again(bench: Bench, script: Script, faults: tuple[FaultSpec, ...] = ()) -> Run:
    """The same engine along the drive."""
    return simulate(bench.rig, script, list(faults), bench.beginning.seed, bench.beginning.individual)


def test_a_whole_bench_driven_again_shows_the_same_engine() -> None:
    doings = [
        (20.0, {"do": "hold_speed", "rpm": 2500.0}),
        (40.0, {"do": "snap"}),
        (45.0, {"do": "move_pedal", "to": 0.0}),
    ]
    bench = driven(doings, 70.0)
    made = script_of(bench.beginning, bench.journal, 0, bench.frame, "By hand")
    run = again(bench, made.script)
    rows, before = bench.rows(0, bench.frame).rows, round(made.script.segments[0].seconds * 100)
    # All but the snap, a fourteenth of the drive: how it falls back hangs on the instant at which fuel comes again.
    for name, allowed in (("rpm_true", 30.0), ("map_true", 1.0)):
        here, there = rows[name][500:].astype(float), run.lanes[name][before + 500 :].astype(float)
        assert np.percentile(np.abs(here - there[: len(here)]), 90) < allowed, name
    assert set(made.script.conditions()) >= {"hot_idle", "no_load_2500"}
    # Where a condition is read, the engine is in it.
    low, high = made.script.span("no_load_2500")
    assert run.lanes["rpm_true"][round(low * 100) : round(high * 100)] == pytest.approx(2500.0, abs=60.0)


def test_rollers_come_to_their_speed_and_keep_it() -> None:
    bench = driven([(5.0, ROLL), (5.0, {"do": "hold_load", "share": 0.3})], 30.0)
    made = script_of(bench.beginning, bench.journal, 0, bench.frame, "Rollers")
    assert [s.roller for s in made.script.segments] == [None, None, (1800.0, 2400.0), (2400.0, 2400.0)]
    assert made.script.segments[2].seconds == pytest.approx(3.0)
    run = again(bench, made.script)
    assert run.lanes["rpm_true"][-1] == pytest.approx(2400.0, rel=0.01)


def test_a_stretch_in_the_middle_begins_as_the_engine_was_there() -> None:
    bench = driven([(5.0, ROLL), (5.0, {"do": "hold_load", "share": "cruise"})], 60.0)
    made = script_of(bench.beginning, bench.journal, 3000, 6000, "Later")
    run = again(bench, made.script)
    rows = bench.rows(3000, 6000).rows
    for name in ("map_true", "maf_true"):
        assert float(run.lanes[name][-500:].mean()) == pytest.approx(float(rows[name][-500:].mean()), rel=0.03)


def test_faults_go_beside_the_drive_and_other_handwork_is_told_as_left_out() -> None:
    leak = {"kind": "manifold_vacuum_leak", "params": {"area_mm2": 4.0}}
    doings = [
        (2.0, {"do": "put_fault", "name": "leak", "fault": leak}),
        (3.0, {"do": "pull_plug", "circuit": "iat"}),
        (4.0, {"do": "mark", "words": "here"}),
    ]
    bench = driven(doings, 10.0)
    made = script_of(bench.beginning, bench.journal, 0, bench.frame, "With a leak")
    assert [fault.kind for fault in made.faults] == ["manifold_vacuum_leak"]
    assert made.left_out == ("plug off: IAT",)
    # What was done before the stretch and still stands is told as well; what was undone is not.
    later = script_of(bench.beginning, bench.journal, 600, 1000, "Later")
    assert later.left_out == ("plug off: IAT",)


def test_a_night_is_no_part_of_a_drive() -> None:
    bench = driven([(2.0, {"do": "turn_key", "to": "off"}), (3.0, {"do": "stand", "hours": 1.0})], 5.0)
    with pytest.raises(LeitfadenError, match="choose a stretch without"):
        script_of(bench.beginning, bench.journal, 0, bench.frame, "Night")


def test_a_restless_hand_is_told_to_choose_less() -> None:
    doings = [(0.02 * k + 0.02, {"do": "move_pedal", "to": (k % 9) / 100.0}) for k in range(320)]
    bench = driven(doings, 8.0)
    with pytest.raises(LeitfadenError, match="choose a shorter one"):
        script_of(bench.beginning, bench.journal, 0, bench.frame, "Restless")
