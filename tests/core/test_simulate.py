"""The healthy engine: what the trade expects, balances, determinism."""

import importlib
import inspect
import pkgutil

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from leitfaden_core import control
from leitfaden_core.channels import CHANNELS, Layer, channel
from leitfaden_core.constants import R_AIR
from leitfaden_core.faults import FaultSpec, Onset, parse_fault
from leitfaden_core.rigs import load_rig, rig_channels
from leitfaden_core.scripts import load_script, reading_scripts
from leitfaden_core.simulate import Run, measured, simulate, store, stored_statistics
from leitfaden_core.simulate.shape import rising_crossings
from leitfaden_core.simulate.state import STATE

RIG, SCRIPT = load_rig("R1"), load_script("workshop_day")

#: Condition, channel, low, high: what the trade expects of a 1.6 L four (rules of thumb: 1 to 1.2 g/s per litre and 28
#: to 33 kPa at hot idle, a narrowband that swings about once a second at idle and faster above, full load near ambient
#: pressure, fuel cut near 0 V).
EXPECTED = [
    ("koeo", "maf", -0.05, 0.05),
    ("koeo", "map_true", 101.2, 101.4),
    ("koeo", "ect", 19, 21),
    ("koeo", "iat", 19, 21),
    ("koeo", "ho2s_b1s1_v", 0.43, 0.47),
    ("crank", "rpm", 180, 280),
    ("crank", "map_true", 90, 100),
    ("cold_idle", "rpm", 900, 1150),
    ("hot_idle", "rpm", 690, 750),
    ("hot_idle", "maf", 1.6, 1.92),
    ("hot_idle", "map_true", 28, 33),
    ("hot_idle", "ect", 85, 95),
    ("hot_idle", "lambda_true", 0.98, 1.02),
    ("hot_idle", "total_trim", -5, 5),
    ("no_load_2500", "map_true", 22, 29),
    ("no_load_2500", "total_trim", -5, 5),
    ("cruise_80", "map_true", 40, 60),
    ("cruise_80", "lambda_true", 0.98, 1.02),
    ("cruise_80", "total_trim", -5, 5),
    ("wot_pull", "map_true", 97, 101.3),
    ("wot_pull", "lambda_true", 0.84, 0.90),
    ("wot_pull", "ho2s_b1s1_v", 0.80, 0.95),
    ("wot_pull", "ve", 78, 92),
    ("wot_pull", "exhaust_backpressure", 5, 20),
    ("decel_fuel_cut", "map_true", 15, 25),
    ("decel_fuel_cut", "ho2s_b1s1_v", -0.01, 0.1),
    ("decel_fuel_cut", "injector_ms", 0, 0),
]


@pytest.mark.parametrize(("condition", "channel", "low", "high"), EXPECTED, ids=[f"{c}-{n}" for c, n, _, _ in EXPECTED])
def test_a_healthy_engine_shows_what_the_trade_expects(
    healthy: Run, condition: str, channel: str, low: float, high: float
) -> None:
    assert low <= healthy.statistic(condition, channel, "mean") <= high


def test_manifold_pressure_falls_from_crank_to_idle_and_is_lowest_on_overrun(healthy: Run) -> None:
    crank, idle, raised, overrun = (
        healthy.statistic(c, "map_true", "mean") for c in ("crank", "hot_idle", "no_load_2500", "decel_fuel_cut")
    )
    assert crank > idle > raised > overrun


def test_the_narrowband_swings_faster_with_more_flow(healthy: Run) -> None:
    idle, raised = (healthy.statistic(c, "ho2s_b1s1_v", "freq") for c in ("hot_idle", "no_load_2500"))
    assert 0.5 <= idle <= 1.3
    assert 1.0 <= raised <= 3.5
    assert (
        healthy.statistic("hot_idle", "ho2s_b1s1_v", "min")
        < 0.2
        < 0.75
        < healthy.statistic("hot_idle", "ho2s_b1s1_v", "max")
    )


def test_snap_throttle_reaches_ambient_pressure_and_a_rush_of_air(healthy: Run) -> None:
    assert healthy.statistic("snap_throttle", "map_true", "max") > 93
    assert healthy.statistic("snap_throttle", "maf", "max") > 45
    assert healthy.statistic("snap_throttle", "rpm", "max") > 3500


def test_the_rear_sensor_is_far_calmer_than_the_front(healthy: Run) -> None:
    front, rear = (healthy.statistic("cruise_80", name, "std") for name in ("ho2s_b1s1_v", "ho2s_b1s2_v"))
    assert rear < 0.3 * front


def test_air_into_the_cylinders_is_what_came_through_the_meter(healthy: Run) -> None:
    for condition in ("hot_idle", "no_load_2500", "cruise_80"):
        # What is purged from the canister passes no meter: its air comes on top.
        purged = (1.0 - RIG.purge.purge_vapour) * healthy.statistic(condition, "purge_true", "mean")
        assert healthy.statistic(condition, "maf_true", "mean") == pytest.approx(
            healthy.statistic(condition, "maf_meter_true", "mean") + purged, rel=0.003
        )


def test_mass_balance_of_duct_and_manifold_through_the_snap(healthy: Run) -> None:
    """What comes in and does not go out is stored: ∫(in − out) dt = Δp·V/(R·T), duct and manifold, within the change of
    charge temperature.
    """
    rows = healthy.rows((SCRIPT.span("snap_throttle")[0], SCRIPT.span("snap_throttle")[0] + 0.6))
    stored = np.sum(rows["maf_meter_true"].astype(float) - rows["maf_true"]) * 0.01 / 1000.0
    pressure = (rows["map_true"][-1] - rows["map_true"][0]) * 1000.0
    expected = pressure * RIG.air_path.manifold_volume / (R_AIR * 330.0)
    assert expected > 0.001
    assert stored == pytest.approx(expected, rel=0.25)


def test_volumetric_efficiency_follows_from_the_displayed_values(healthy: Run) -> None:
    rows = healthy.rows(SCRIPT.span("wot_pull"))
    density = 101300.0 / (R_AIR * 293.15)
    by_hand = rows["maf"] / (rows["rpm"] / 60.0 * density * 1.6e-3 / 2.0 * 1000.0) * 100.0
    assert rows["ve"] == pytest.approx(by_hand, rel=1e-3)


def test_the_same_seed_gives_the_same_bits_and_another_seed_other_noise() -> None:
    fault = [parse_fault("connector_intermittent:circuit=maf_signal")]
    first, second, other = (simulate(RIG, SCRIPT, fault, seed) for seed in (3, 3, 4))
    assert first.lanes.tobytes() == second.lanes.tobytes()
    assert first.lanes.tobytes() != other.lanes.tobytes()
    assert first.statistic("cruise_80", "map_true", "mean") == pytest.approx(
        other.statistic("cruise_80", "map_true", "mean"), rel=0.02
    )


def test_a_second_fault_does_not_move_the_gaps_of_the_first() -> None:
    loose = parse_fault("connector_intermittent:circuit=ect,gap_ms=200,rate_per_min=20")
    alone, with_other = (
        simulate(RIG, SCRIPT, faults, 5) for faults in ([loose], [loose, parse_fault("iat_offset:K=20")])
    )
    assert np.array_equal(alone.lanes["ect_volts"] > 4.8, with_other.lanes["ect_volts"] > 4.8)


#: Not defined where no fuel burns.
LAMBDAS = {name for name in CHANNELS if name.startswith("lambda_") and channel(name).layer is not Layer.PIN} - {
    "lambda_sensed",
    "lambda_rear",
}


def test_every_channel_is_recorded_and_finite_where_it_is_defined(healthy: Run) -> None:
    powered = healthy.lanes[healthy.lanes["powered"] > 0.5]
    off = healthy.lanes[-1]
    for name in rig_channels(healthy.rig):
        if name not in LAMBDAS:
            assert np.isfinite(powered[name]).all(), name
        # Without its supply the control unit tells nothing; meters and the truth go on.
        assert np.isnan(off[name]) == (channel(name).layer is Layer.SCAN or name in LAMBDAS), name
    assert np.isnan(healthy.lanes["lambda_true"]).any()


def test_learned_trims_settle_and_unlearned_ones_start_at_zero() -> None:
    leak = [parse_fault("manifold_vacuum_leak:area_mm2=2")]
    settled, fresh = (simulate(RIG, SCRIPT, leak, 0, cold_memory=cold) for cold in (False, True))
    assert settled.statistic("koeo", "ltft", "mean") > 10
    assert fresh.statistic("koeo", "ltft", "mean") == 0


def test_trims_take_their_time_after_a_fault_appears() -> None:
    """Unlearned and hot, the correction climbs at the controller's slope: it must not jump when the hose comes off."""
    fault = FaultSpec(kind="manifold_vacuum_leak", params={"area_mm2": 2.0}, onset=Onset(mode="hot", above_C=86))
    run = simulate(RIG, SCRIPT, [fault], 0, cold_memory=True)
    trim = run.lanes["stft"][run.lanes["powered"] > 0.5].astype(float)
    assert np.max(np.abs(np.diff(trim))) < 8.0  # the relay's own jump is 2 · 2.8 %


def test_crossings_are_counted_with_a_dead_band() -> None:
    time = np.linspace(0.0, 4.0, 4000, endpoint=False)
    swing = 0.45 + 0.4 * np.sin(2 * np.pi * 2.0 * time - 0.5)
    assert rising_crossings(swing, 0.45) == 8
    assert rising_crossings(0.45 + 0.03 * np.sin(2 * np.pi * 50.0 * time), 0.45) == 0


@pytest.mark.parametrize("script", [script.id for script in reading_scripts()])
def test_statistics_do_not_wait_for_what_comes_after_the_last_condition(script: str) -> None:
    drive, leak = load_script(script), [parse_fault("manifold_vacuum_leak:area_mm2=4")]
    whole = simulate(load_rig("R2"), drive, leak, seed=3)
    found = measured(load_rig("R2"), drive, leak, seed=3)
    assert list(found) == drive.conditions()
    for condition, table in found.items():
        for name, statistics in table.items():
            for stat, value in statistics.items():
                assert np.array_equal(value, whole.statistic(condition, name, stat), equal_nan=True)


def test_a_drive_to_its_last_window_reads_the_same_conditions_in_the_same_spans() -> None:
    for drive in reading_scripts():
        short = drive.to_last_window()
        assert short.conditions() == drive.conditions() and short.seconds <= drive.seconds
        for condition in drive.conditions():
            for stat in ("mean", "min", "max", "std"):
                assert short.span(condition, stat) == drive.span(condition, stat)
                assert short.span(condition, stat)[1] <= short.seconds + 1e-9
    assert load_script("workshop_day").to_last_window().seconds < load_script("workshop_day").seconds - 15.0
    idle = load_script("workshop_day").to_last_window({"koeo", "hot_idle"})
    assert idle.span("hot_idle") == load_script("workshop_day").span("hot_idle") and idle.seconds < 130.0
    nothing_read = load_script("settle_memory")
    assert nothing_read.to_last_window() == nothing_read


def test_stored_statistics_are_those_of_a_fresh_run(tmp_path, monkeypatch) -> None:
    monkeypatch.setattr(store, "_folder", lambda: tmp_path)
    store._statistics.cache_clear()
    fault = [parse_fault("maf_under_read:gain=0.9")]
    first = stored_statistics(RIG, SCRIPT, [fault])[0]
    store._statistics.cache_clear()
    again = stored_statistics(RIG, SCRIPT, [fault])[0]
    assert len(list(tmp_path.iterdir())) == 1
    assert (
        again["hot_idle"]["maf"]["mean"]
        == first["hot_idle"]["maf"]["mean"]
        == simulate(RIG, SCRIPT, fault, 0).statistic("hot_idle", "maf", "mean")
    )
    store._statistics.cache_clear()


@settings(max_examples=6)
@given(st.floats(0.3, 5.0), st.floats(1.05, 2.0))
def test_a_larger_leak_never_lowers_the_trim(area: float, factor: float) -> None:
    small, large = (
        simulate(RIG, SCRIPT, [parse_fault(f"manifold_vacuum_leak:area_mm2={size}")], 0).statistic(
            "hot_idle", "total_trim", "mean"
        )
        for size in (area, area * factor)
    )
    assert large >= small - 0.8


def test_the_control_unit_sees_no_truth_of_the_engine() -> None:
    """Its functions are handed pins, what it believes and remembers, and the crankshaft's speed; never the gas
    itself.
    """
    seen: set[str] = set()
    for module in pkgutil.iter_modules(control.__path__):
        for _name, function in inspect.getmembers(importlib.import_module(f"{control.__name__}.{module.name}")):
            plain = getattr(function, "py_func", None)
            if plain is not None and plain.__module__.startswith(control.__name__):
                seen |= set(inspect.signature(plain).parameters) & set(STATE.names or ())
    assert {"pins", "known", "unit", "mix"} <= seen <= {"pins", "known", "unit", "mix", "crank"}
