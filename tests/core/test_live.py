"""An engine on a bench: what is done to it counts, its twin stays undisturbed, and everything that was can be had
again.
"""

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from leitfaden_core.engine.fuel import blended
from leitfaden_core.errors import LeitfadenError
from leitfaden_core.faults import FaultSpec, Onset
from leitfaden_core.instruments import instruments, measure
from leitfaden_core.judge import VerdictKind
from leitfaden_core.judge.traces import OxygenLimits
from leitfaden_core.live import (
    PICTURE_ROWS,
    Beginning,
    Bench,
    BenchReading,
    KeptReading,
    TwinShown,
    circuit_of,
    doing_of,
    judge_kept,
    judge_together,
    judged,
    parted,
    present,
    reach_of,
    undisturbed,
)
from leitfaden_core.rigs import load_rig, rig_ids, variant_ids
from leitfaden_core.scripts import load_script
from leitfaden_core.simulate import FRAME, simulate
from leitfaden_core.simulate.actions import script_actions

pytestmark = pytest.mark.model

FEW = settings(max_examples=10, suppress_health_check=[HealthCheck.too_slow])
LEAK: dict[str, Any] = {"kind": "manifold_vacuum_leak", "params": {"area_mm2": 8.0}}
#: A fault that comes and goes, so that chance counts.
LOOSE = FaultSpec(
    kind="connector_intermittent", params={"circuit": "iat"}, onset=Onset(mode="random", on_s=0.4, off_s=0.7)
)
BREAK = {"do": "put_fault", "name": "leak", "fault": LEAK}
HANDS: list[dict[str, Any]] = [
    {"do": "move_pedal", "to": 0.15},
    {"do": "hold_speed", "rpm": 2500.0},
    {"do": "snap"},
    {"do": "move_pedal", "to": 0.0},
    BREAK,
    {"do": "size_fault", "name": "leak", "params": {"area_mm2": 2.0}},
    {"do": "take_fault", "name": "leak"},
    {"do": "pull_plug", "circuit": "iat"},
    {"do": "put_plug", "circuit": "iat"},
    {"do": "lapse_time", "factor": 10.0},
    {"do": "reset_learned"},
    {"do": "clear_codes"},
    {"do": "mark", "words": "here"},
    {"do": "surround", "weather": {"temp_C": -5.0, "baro_kPa": 92.0}},
]


def same(left: Any, right: Any) -> bool:
    return all(left[name].tobytes() == right[name].tobytes() for name in left.dtype.names)


def bench(rig: str = "R1", **more: Any) -> Bench:
    return Bench(Beginning(rig=rig, **more))


def do(on: Bench, **raw: Any) -> None:
    on.do(doing_of(raw))


def mean(rows: Any, name: str) -> float:
    return float(np.mean(rows[name]))


@pytest.mark.parametrize("rig_id", [*rig_ids(), *variant_ids()])
def test_hands_that_do_what_a_script_says_get_the_numbers_of_the_script(rig_id: str) -> None:
    script, rig = load_script("settle_memory"), load_rig(rig_id)
    whole = simulate(rig, script, [LOOSE], 7)
    live, parts = Bench(Beginning(rig=rig_id, seed=7, start=script.start, faults=(LOOSE,))), []
    for done, frames in script_actions(script):
        for action in done:
            live.do(action)
        while frames:
            portion = min(frames, 5)
            parts.append(live.advance(portion).rows)
            frames -= portion
    assert same(np.concatenate(parts), whole.lanes)


@FEW
@given(data=st.data())
def test_what_was_done_brings_a_bench_back_in_any_portions(data: st.DataObject) -> None:
    first, seen = bench(seed=3), []
    for _ in range(data.draw(st.integers(1, 8))):
        seen.append(first.advance(data.draw(st.integers(1, 700))))
        try:
            first.do(doing_of(data.draw(st.sampled_from(HANDS))))
        except LeitfadenError:
            continue  # no leak to size, no plug that is off
    seen.append(first.advance(50))
    again = Bench.replayed(first.beginning, first.journal, first.frame)
    assert again.machine.state.tobytes() == first.machine.state.tobytes()
    assert again.report == first.report
    assert same(again.advance(200).rows, first.advance(200).rows)
    # And any stretch of what was seen comes back with the same bits, of engine and twin.
    rows, twin = np.concatenate([p.rows for p in seen]), np.concatenate([p.twin for p in seen])
    start = data.draw(st.integers(0, len(rows) - 1))
    end = data.draw(st.integers(start + 1, len(rows)))
    stretch = first.rows(start, end)
    assert same(stretch.rows, rows[start:end]) and same(stretch.twin, twin[start:end])


def test_the_twin_has_the_same_hands_and_no_fault() -> None:
    live = bench()
    do(live, **BREAK)
    do(live, do="pull_plug", circuit="iat")
    do(live, do="hold_speed", rpm=2500.0)
    live.go_to(1500)
    now = live.advance(300)
    assert mean(now.rows, "rpm") == pytest.approx(mean(now.twin, "rpm"), rel=0.02)
    assert mean(now.rows, "total_trim") > 4.0 + mean(now.twin, "total_trim")
    assert mean(now.rows, "iat_volts") > 4.8 > mean(now.twin, "iat_volts")


def test_a_leak_opened_by_hand_moves_the_trims_and_earns_its_code_while_it_runs() -> None:
    live = bench()
    live.go_to(3000)
    assert live.condition == "hot_idle" and not live.report.codes
    do(live, do="put_fault", name="leak", fault={"kind": "manifold_vacuum_leak", "params": {"area_mm2": 6.0}})
    live.go_to(30_000)
    assert "P0171" in {code.code for code in live.report.codes}
    do(live, do="take_fault", name="leak")
    do(live, do="clear_codes")
    live.go_to(live.frame + 500)
    assert not live.report.codes


def test_what_cannot_be_done_changes_nothing() -> None:
    live = bench()
    live.advance(10)
    before, journal = live.machine.state.tobytes(), list(live.journal)
    for raw in (
        {"do": "take_fault", "name": "nothing"},
        {"do": "stand", "hours": 12},
        {"do": "put_fault", "name": "x", "fault": {"kind": "no_such_fault"}},
        {"do": "disconnect_battery"},
    ):
        with pytest.raises(LeitfadenError):
            do(live, **raw)
    assert live.machine.state.tobytes() == before and live.journal == journal


@pytest.mark.parametrize(
    ("raw", "sentence"),
    [
        (None, "must be a set of named values"),
        ([], "must be a set of named values"),
        ({}, "does not say of which kind it is"),
        ({"do": "fly"}, "nobody knows how to do 'fly' on a bench"),
        ({"do": "move_pedal", "to": 7}, "to: must be 1 at most"),
        ({"do": "move_pedal", "to": "far"}, "to: must be a number"),
        ({"do": "move_pedal", "to": float("nan")}, "to: must be a finite number"),
        ({"do": "stand", "hours": -1}, "hours: must be more than 0"),
        ({"do": "mark", "words": "x" * 5000}, "words: may have 120 characters at most"),
        ({"do": "snap", "more": 1}, "more: is not known here"),
    ],
)
def test_what_is_no_doing_is_refused_with_a_sentence(raw: Any, sentence: str) -> None:
    with pytest.raises(LeitfadenError) as refused:
        doing_of(raw)
    assert refused.value.message == sentence


def test_a_night_cools_the_engine_to_the_air_and_takes_no_time_of_the_record() -> None:
    live = bench("R1")
    live.go_to(300)
    do(live, do="turn_key", to="off")
    live.go_to(600)
    hot = live.advance(1).rows["ect_true"][0]
    do(live, do="stand", hours=1.0)
    do(live, do="turn_key", to="on")
    hour = live.advance(1).rows["ect_true"][0]
    do(live, do="turn_key", to="off")
    do(live, do="stand", hours=14.0)
    do(live, do="turn_key", to="on")
    night = live.advance(1).rows["ect_true"][0]
    assert live.frame == 603
    assert hot > hour + 10.0 > night + 20.0
    assert night == pytest.approx(20.0, abs=3.0)


def test_a_settled_memory_is_that_of_days_of_driving_with_the_fault() -> None:
    live = bench()
    do(live, **BREAK)
    live.go_to(200)
    young = mean(live.advance(100).rows, "ltft")
    do(live, do="settle_memory")
    assert mean(live.advance(100).rows, "ltft") > young + 3.0
    assert mean(live.advance(100).twin, "ltft") == pytest.approx(young, abs=1.5)


def test_the_picture_holds_every_extreme() -> None:
    live, rows = bench(), []
    do(live, do="snap")
    for portion in (7, 53, 5, 400, 135):
        rows.append(live.advance(portion).rows)
    picture = live.history.picture(["rpm", "map"] if "map" in live.history.channels else ["rpm", "maf"])
    seen = np.concatenate(rows)
    assert len(picture.run) == len(seen) // PICTURE_ROWS
    for k, name in enumerate(picture.channels):
        groups = seen[name].reshape(-1, PICTURE_ROWS)
        assert np.array_equal(picture.run[:, k, 0], groups.min(axis=1))
        assert np.array_equal(picture.run[:, k, 1], groups.max(axis=1))
    assert picture.seconds_each == PICTURE_ROWS * FRAME


@pytest.mark.parametrize("rig_id", rig_ids())
def test_no_layer_parts_on_a_sound_engine_and_a_lying_sensor_is_marked(rig_id: str) -> None:
    live = bench(rig_id, individual={})
    for raw in (None, {"do": "hold_speed", "rpm": 2500.0}, {"do": "move_pedal", "to": 0.0}):
        if raw:
            live.do(doing_of(raw))
        live.go_to(live.frame + 900)
        moment = live.moment
        assert moment is not None and parted(live.rig, moment.rows, moment.twin) == []
    do(live, do="put_fault", name="lie", fault={"kind": "ect_offset", "params": {"K": -25.0}})
    live.go_to(live.frame + 1500)
    moment = live.moment
    assert moment is not None and parted(live.rig, moment.rows, moment.twin) == ["ect"]


@pytest.mark.parametrize("rig_id", rig_ids())
def test_a_sound_engine_raises_no_alarm_whatever_its_course(rig_id: str) -> None:
    live = bench(rig_id)
    shown = [s.channels[0] for s in live.rig.sensors if s.channels[0] in live.history.channels]
    told = []
    for raw in (None, {"do": "hold_speed", "rpm": 2500.0}, {"do": "move_pedal", "to": 0.0}):
        if raw:
            live.do(doing_of(raw))
        live.go_to(live.frame + 4000)
        told += judged(live, shown)
    assert told and not [lane for lane in told if str(lane.verdict.kind) in {"faulty", "suspect"}]


def test_a_verdict_on_a_running_engine_follows_what_is_broken_and_mended() -> None:
    live = bench("R2")
    live.go_to(2500)
    do(live, do="put_fault", name="offset", fault={"kind": "ect_offset", "params": {"K": -30.0}})
    live.go_to(live.frame + 2500)
    (lane,) = judged(live, ["ect"])
    assert (lane.condition, str(lane.verdict.kind)) == ("hot_idle", "faulty") and lane.verdict.reason
    do(live, do="take_fault", name="offset")
    live.go_to(live.frame + 2500)
    assert str(judged(live, ["ect"])[0].verdict.kind) == "good"


@pytest.mark.parametrize(("rig_id", "element"), [("R1", True), ("R5", False)])
def test_a_heated_sensor_is_judged_by_its_element_and_one_without_a_heater_by_what_stands_in(
    rig_id: str, element: bool
) -> None:
    live = bench(rig_id)
    live.do(doing_of({"do": "hold_speed", "rpm": 2500.0}))
    live.go_to(6000)
    (by_element,) = judged(live, ["ho2s_b1s1_v"], limits=OxygenLimits(works_c=900.0))
    (by_coolant,) = judged(live, ["ho2s_b1s1_v"], limits=OxygenLimits(warm_c=120.0))
    assert [by_element.measure == "asleep", by_coolant.measure == "asleep"] == [element, not element]
    assert ("element shows" in by_element.verdict.reason) == element


def shown(live: Bench, instrument: str, place: str, condition: str, **options: str) -> dict[str, float | None]:
    seen = measure(instruments.get(instrument), present(live), place, condition, options)
    return {entry.label: entry.value for entry in seen.shown}


def test_instruments_read_the_engine_as_it_is() -> None:
    live = bench("R2")
    live.go_to(2000)
    do(live, do="surround", weather={"temp_C": 20.0, "baro_kPa": 80.0})
    do(live, do="hold_speed", rpm=2430.0)
    live.go_to(live.frame + 2000)
    assert live.condition == "no_load_2500"
    rows = live.advance(100).rows
    (volts,) = shown(live, "multimeter", "map.signal/map.ground", "no_load_2500").values()
    assert volts == pytest.approx(mean(rows, "map_volts"), abs=0.04)
    (rpm,) = (v for k, v in shown(live, "scan_tool", "rpm", "no_load_2500").items() if "rpm" in k.lower() or v)
    assert rpm == pytest.approx(2430.0, rel=0.02)
    # Whatever is read on a drive is read in the same air.
    (elsewhere,) = shown(live, "scan_tool", "map", "koeo").values()
    assert elsewhere == pytest.approx(80.0, abs=2.0)


def test_what_is_read_on_a_drive_has_the_petrol_and_the_charger_of_the_bench() -> None:
    def told(doing: dict[str, Any], channel: str, condition: str) -> float:
        live = bench("R1")
        live.go_to(500)
        live.do(doing_of(doing))
        live.go_to(live.frame + 300)
        (value,) = shown(live, "scan_tool", channel, condition).values()
        assert value is not None
        return value

    air = {"temp_C": 20.0, "baro_kPa": 101.0}
    pure, blend = (
        told({"do": "surround", "weather": air | {"ethanol": share}}, "ltft", "cruise_80") for share in (0.0, 0.3)
    )
    # Less air burns what is metered by volume: the trim makes good for ratio and density, in closed form.
    ratio, _energy, density = blended(0.3)
    assert blend - pure == pytest.approx(100.0 * (1.0 / (ratio * math.sqrt(density)) - 1.0), abs=2.5)
    alone, charged = (told({"do": "connect_charger", "on": on}, "battery_v", "koeo") for on in (False, True))
    assert charged > alone + 0.1


def kept(live: Bench, instrument: str, place: str, condition: str) -> BenchReading:
    """What an instrument shows first on the running engine, kept with what it shows on the twin."""
    here, beside = (
        measure(instruments.get(instrument), vehicle, place, condition).shown[0]
        for vehicle in (present(live), undisturbed(live))
    )
    told = {"instrument": instrument, "place": place, "condition": condition, "what": here.id, "label": here.label}
    return BenchReading(**told, value=here.value, text=here.text, twin=TwinShown(value=beside.value, text=beside.text))


@pytest.mark.parametrize(
    ("instrument", "place"), [("scan_tool", "iat"), ("multimeter", "iat.signal/iat.ground")], ids=["display", "pin"]
)
def test_what_the_course_of_the_engine_explains_is_no_alarm(instrument: str, place: str) -> None:
    """The intake is soaked with heat in the first minute after a hot start: both a sound sensor and what it shows are
    far from what a drive leaves behind.
    """
    live = bench("R1")
    live.go_to(1200)
    reading = kept(live, instrument, place, "hot_idle")
    by_itself = KeptReading.model_validate(reading.model_dump(exclude={"twin"}))
    assert judge_kept(live.rig, by_itself).kind is VerdictKind.FAULTY
    assert judge_kept(live.rig, reading).kind is VerdictKind.NOT_DECIDABLE
    assert not judge_together(live.rig, [reading]).tests
    do(live, do="put_fault", name="offset", fault={"kind": "iat_offset", "params": {"K": -40.0}})
    live.go_to(live.frame + 200)
    assert judge_kept(live.rig, kept(live, instrument, place, "hot_idle")).kind is VerdictKind.FAULTY


def test_what_was_touched_a_moment_ago_is_not_read_from_before() -> None:
    live = bench("R2")
    live.go_to(2500)
    do(live, do="pull_plug", circuit="map_signal")
    live.advance(10)
    (volts,) = shown(live, "multimeter", "unit.map/battery minus", "hot_idle").values()
    assert volts is not None and not 1.0 < volts < 2.5


def test_whatever_fits_can_be_used_on_a_running_engine() -> None:
    live = bench("R3")
    live.go_to(2500)
    for fits in reach_of(live.rig).instruments:
        may = fits.instrument.conditions
        condition = "hot_idle" if not may or "hot_idle" in may else may[0]
        first = fits.places[0] if fits.several != "/" else "map.signal/battery minus"
        seen = measure(fits.instrument, present(live), first, condition)
        assert seen.shown or seen.traces or seen.refused, fits.instrument.id


def test_a_sensor_that_stands_still_is_faulty_also_where_the_twin_lies_at_the_edge_of_its_band() -> None:
    live = bench("R1")
    live.go_to(1000)
    do(live, do="put_fault", name="leak", fault={"kind": "manifold_vacuum_leak", "params": {"area_mm2": 4.0}})
    kinds = []
    for _ in range(6):
        live.go_to(live.frame + 1500)
        kinds += [str(lane.verdict.kind) for lane in judged(live, ["ho2s_b1s1_v", "maf", "total_trim"])]
    assert set(kinds) == {"faulty"}


@pytest.mark.parametrize("rig_id", rig_ids())
def test_every_plug_has_a_circuit_whose_signal_arrives_at_the_control_unit(rig_id: str) -> None:
    live = bench(rig_id)
    live.go_to(1500)
    wires = {
        plug.wire for plug in reach_of(live.rig).plugs if plug.sensor and not plug.wire.endswith(("_supply", "_heater"))
    }
    assert wires
    for wire in wires:
        found = {entry.role: [joint.volts for joint in entry.joints] for entry in circuit_of(live, wire)}
        arrives = found.get("signal") or found["pump"]
        assert arrives[-1] == pytest.approx(arrives[-2], abs=0.02), wire


def test_volts_along_a_wire_show_where_they_are_lost() -> None:
    live = bench("R2")
    live.go_to(1500)
    do(
        live,
        do="put_fault",
        name="ground",
        fault={"kind": "ground_resistance", "params": {"circuit": "sensor_ground", "ohms": 30.0}},
    )
    live.go_to(1800)
    wires = {entry.role: {joint.name: joint.volts for joint in entry.joints} for entry in circuit_of(live, "map")}
    assert wires["supply"]["map.supply"] == pytest.approx(5.0, abs=0.02)
    # Kirchhoff: what the sensors draw flows over 30 ohms; both sides of that resistance are joints of the wire.
    assert wires["ground"]["map.ground"] > 0.2 > 0.01 > abs(wires["ground"]["unit.ground"])
    with pytest.raises(LeitfadenError):
        circuit_of(live, "no_such_wire")
