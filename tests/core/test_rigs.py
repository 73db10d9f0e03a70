"""What sets the rigs apart: how they know their air, how they inject, what they sense with."""

import numpy as np
import pytest
import yaml

from leitfaden_core.diagnose import candidates
from leitfaden_core.errors import LeitfadenError, UnknownName
from leitfaden_core.expect import (
    MissingSheet,
    band_of,
    compute_sheet,
    has_sheet,
    individual_engine,
    keep_sheet,
    load_sheet,
    sheet_text,
)
from leitfaden_core.faults import FaultSpec, effects_on, offered_on, parse_fault
from leitfaden_core.judge import VerdictKind, judge_reading
from leitfaden_core.monitors import trouble_codes
from leitfaden_core.rigs import Rig, is_shipped, load_rig, parse_rig, rig_channels, rig_ids
from leitfaden_core.scripts import Script, load_script, parse_script, reading_scripts
from leitfaden_core.simulate import Run, cached_run, simulate
from leitfaden_core.wiring.circuits import circuits_of

pytestmark = pytest.mark.model

DAY, HILL, PASS = load_script("workshop_day"), load_script("after_the_hill"), load_script("over_the_pass")
STEADY = ("hot_idle", "no_load_2500", "cruise_80")


def drive(rig: str, *faults: str, script=DAY, seed: int = 0, individual: dict[str, float] | None = None) -> Run:
    return cached_run(load_rig(rig), script, [parse_fault(text) for text in faults], seed, individual)


def total(run: Run, condition: str) -> float:
    return run.statistic(condition, "total_trim", "mean")


#: Sound engines in numbers: air at idle per litre [g/s], pressure before the valves at idle and at full load [kPa abs],
#: lambda at idle and at full load. From the filling equation m = VE·p·Vd·n/(120·R·T) with VE 0.55 to 0.62 at idle
#: (residual gas; 0.8 without throttle) and the trade's figures for each kind of engine (Heywood 1988, ch. 2 and 6;
#: boost and lambda of the diesel from its rated smoke limit).
SOUND = {
    "R1": ((0.9, 1.3), (27, 33), (97, 101), (0.97, 1.02), (0.84, 0.90)),
    "R2": ((0.9, 1.3), (27, 33), (97, 101), (0.97, 1.02), (0.84, 0.90)),
    "R3": ((1.1, 1.6), (27, 33), (196, 212), (0.97, 1.02), (0.83, 0.90)),
    "R4": ((3.2, 5.0), (100, 105), (230, 248), (3.5, 7.0), (1.20, 1.45)),
    "R5": ((0.85, 1.3), (27, 33), (96, 101), (0.97, 1.02), (0.84, 0.90)),
    "R6": ((2.6, 3.4), (27, 33), (96, 101), (0.96, 0.99), (0.85, 0.90)),
}


def before_the_valves(run: Run, condition: str, stat: str = "mean") -> float:
    return run.statistic(condition, "map_true" if "throttle" in run.rig.features else "charge_true", stat)


@pytest.mark.parametrize("rig_id", rig_ids())
class TestEveryRig:
    def test_breathes_and_burns_like_an_engine_of_its_kind(self, rig_id: str) -> None:
        run, rig = drive(rig_id), load_rig(rig_id)
        air, idle, full, lambda_idle, lambda_full = SOUND[rig_id]
        assert air[0] <= run.statistic("hot_idle", "maf_true", "mean") / (rig.engine.displacement * 1000.0) <= air[1]
        assert idle[0] <= before_the_valves(run, "hot_idle") <= idle[1]
        assert full[0] <= before_the_valves(run, "wot_pull") <= full[1]
        assert lambda_idle[0] <= run.statistic("hot_idle", "lambda_true", "mean") <= lambda_idle[1]
        assert lambda_full[0] <= run.statistic("wot_pull", "lambda_true", "mean") <= lambda_full[1]
        assert run.statistic("hot_idle", "rpm", "mean") == pytest.approx(rig.control.idle_target, abs=10)

    def test_needs_no_correction(self, rig_id: str) -> None:
        run = drive(rig_id)
        if "trims" in run.rig.features:
            assert all(abs(total(run, condition)) < 4 for condition in STEADY)

    def test_fills_its_cylinders_at_full_load(self, rig_id: str) -> None:
        run, rig = drive(rig_id), load_rig(rig_id)
        rows = run.rows(run.script.span("wot_pull"))
        # Against the air that stands before the valves, a little warmed.
        density = before_the_valves(run, "wot_pull") * 1000.0 / (287.05 * (rows["iat_true"].mean() + 273.15 + 8.0))
        filling = rows["maf_true"] / 1000.0 / (rows["rpm"] / 120.0 * density * rig.engine.displacement)
        assert 0.74 <= float(filling.mean()) <= 0.97

    def test_fits_the_filling_equation_among_its_channels(self, rig_id: str) -> None:
        """m = VE·p·V·n/(120·R·T) with one VE over a steady stretch: pressure, speed and flow agree with each other."""
        run = drive(rig_id)
        if "egr" in run.rig.features:
            return  # recirculated gas takes its share of the filling
        rows = run.rows(DAY.span("cruise_80"))
        filling = rows["maf_true"] / (rows["map_true"] * rows["rpm"])
        assert float(np.std(filling) / np.mean(filling)) < 0.01

    @pytest.mark.parametrize("seed", range(500, 506))
    def test_sets_no_code_when_healthy(self, rig_id: str, seed: int) -> None:
        individual = individual_engine(load_rig(rig_id), seed)
        for script in reading_scripts():
            assert trouble_codes(drive(rig_id, script=script, seed=seed, individual=individual)) == []

    @pytest.mark.parametrize(("celsius", "kilopascal"), [(-15, 101.3), (-5, 85.0), (40, 101.3), (38, 85.0)])
    def test_sets_no_code_in_any_weather_and_idles_at_its_speed(
        self, rig_id: str, celsius: float, kilopascal: float
    ) -> None:
        weather = {"ambient_temp": celsius + 273.15, "ambient_pressure": kilopascal * 1000.0}
        day, hill = (drive(rig_id, script=script, individual=weather) for script in (DAY, HILL))
        assert trouble_codes(day) == [] and trouble_codes(hill) == []
        assert day.statistic("hot_idle", "rpm", "mean") == pytest.approx(load_rig(rig_id).control.idle_target, abs=25)

    def test_loses_full_load_with_the_height_and_keeps_its_idle_need(self, rig_id: str) -> None:
        low, high = drive(rig_id), drive(rig_id, script=PASS)
        ratio = high.statistic("full_load_altitude", "torque_true", "mean") / low.statistic(
            "wot_pull", "torque_true", "mean"
        )
        # A diesel with reserve in its turbocharger loses only what the smoke limit takes.
        assert 0.76 < ratio < (0.98 if "diesel" in low.rig.features else 0.92)
        if "turbo" in low.rig.features:
            assert (
                high.statistic("full_load_altitude", "charge_true", "mean")
                < low.statistic("wot_pull", "charge_true", "mean") - 20
            )
        else:
            assert high.statistic("full_load_altitude", "map_true", "mean") == pytest.approx(84.5 - 2.0, abs=2.0)

    def test_soaks_heat_after_a_hard_drive(self, rig_id: str) -> None:
        run = drive(rig_id, script=HILL)
        assert run.statistic("hot_soak_restart", "iat", "max") > 40
        assert run.statistic("hot_soak_restart", "iat", "min") < run.statistic("hot_soak_restart", "iat", "max") - 2
        assert run.statistic("hot_soak_restart", "rpm", "mean") > 500

    def test_shows_the_same_hot_values_whether_it_was_warmed_up_or_started_hot(self, rig_id: str) -> None:
        warmed, started_hot = drive(rig_id), drive(rig_id, script=hot_idle_script())
        for name, within in (
            ("rpm", 10.0),
            ("maf_true", 0.08 * warmed.statistic("hot_idle", "maf_true", "mean")),
            ("ect_true", 4.0),
        ):
            assert started_hot.statistic("hot_idle", name, "mean") == pytest.approx(
                warmed.statistic("hot_idle", name, "mean"), abs=within
            )

    def test_records_only_channels_that_it_has(self, rig_id: str) -> None:
        assert set(drive(rig_id).summary()["hot_idle"]) == set(rig_channels(load_rig(rig_id)))

    def test_offers_only_faults_that_it_can_have(self, rig_id: str) -> None:
        rig = load_rig(rig_id)
        offered = offered_on(rig)
        assert len(offered) > 25
        for kind, choices in offered.items():
            for name, values in choices.items():
                for value in values:
                    others = {other: found[0] for other, found in choices.items() if other != name}
                    assert effects_on(FaultSpec(kind=kind, params={name: value, **others}), rig)[2]


def hot_idle_script() -> Script:
    return parse_script(
        """
schema_version: 1
id: hot_idle_only
name: Hot idle
description: An engine that is warm already
start: hot
segments:
- {label: Settle, seconds: 20, pedal: 0, time_lapse: 4}
- {label: Idle, seconds: 30, pedal: 0, window: {condition: hot_idle, span: [0, 30]}}
"""
    )


class TestSpeedDensity:
    """R2: air from MAP, temperature and speed. Directions from the trade, sizes from closed forms."""

    def test_a_leak_is_counted_and_needs_no_trim(self) -> None:
        good, leaky = drive("R2"), drive("R2", "manifold_vacuum_leak:area_mm2=4")
        for condition in STEADY:
            assert total(leaky, condition) == pytest.approx(total(good, condition), abs=2)
        assert leaky.statistic("hot_idle", "idle_air", "mean") < good.statistic("hot_idle", "idle_air", "mean") - 4

    def test_a_leak_beyond_the_idle_valve_raises_the_speed(self) -> None:
        big = drive("R2", "manifold_vacuum_leak:area_mm2=14")
        assert big.statistic("hot_idle", "rpm", "mean") > 780
        assert abs(total(big, "hot_idle")) < 8

    @pytest.mark.parametrize("kilopascal", [5.0, -5.0])
    def test_a_shifted_sensor_is_answered_by_the_inverse_share(self, kilopascal: float) -> None:
        good, shifted = drive("R2"), drive("R2", f"pressure_offset:sensor=map,kPa={kilopascal}")
        pressure = good.statistic("cruise_80", "map_true", "mean")
        # Counted air goes with the believed pressure times a filling that itself rises with it: between first and
        # second power.
        first, second = (100.0 * ((pressure / (pressure + kilopascal)) ** power - 1.0) for power in (1.0, 2.0))
        low, high = sorted((first, second))
        assert low - 2 <= total(shifted, "cruise_80") - total(good, "cruise_80") <= high + 2
        assert np.sign(total(shifted, "hot_idle")) == -np.sign(kilopascal)

    def test_a_wrong_intake_temperature_is_answered(self) -> None:
        good, warm = drive("R2"), drive("R2", "iat_offset:K=40")
        assert total(warm, "cruise_80") > total(good, "cruise_80") + 5

    def test_a_leaking_sensor_hose_reads_high_at_idle_and_right_at_full_load(self) -> None:
        good, leaky = drive("R2"), drive("R2", "map_hose_leak:fraction=0.1")
        inside = leaky.statistic("hot_idle", "map_true", "mean")
        assert leaky.statistic("hot_idle", "map", "mean") == pytest.approx(inside + 0.1 * (101.3 - inside), abs=1.0)
        assert leaky.statistic("wot_pull", "map", "mean") == pytest.approx(
            good.statistic("wot_pull", "map", "mean"), abs=1.0
        )
        assert total(leaky, "hot_idle") < -15

    def test_a_narrowed_hose_is_late_and_right_in_the_end(self) -> None:
        slow = drive("R2", "map_hose_blocked:tau_s=0.4")
        assert slow.statistic("hot_idle", "map", "mean") == pytest.approx(
            slow.statistic("hot_idle", "map_true", "mean"), abs=0.5
        )
        assert slow.statistic("snap_throttle", "map", "max") < slow.statistic("snap_throttle", "map_true", "max") - 5

    def test_purge_vapour_is_rich_and_clean_purge_air_is_counted(self) -> None:
        vapour, air = (drive("R2", f"purge_stuck_open:area_mm2=2,fuel_fraction={share}") for share in (0.08, 0.0))
        assert total(vapour, "hot_idle") < -10 and total(vapour, "hot_idle") < total(vapour, "cruise_80") - 3
        assert abs(total(air, "hot_idle")) < 4

    def test_the_same_purge_valve_leans_a_metered_engine_once_the_canister_is_empty(self) -> None:
        assert total(drive("R1", "purge_stuck_open:area_mm2=1.5,fuel_fraction=0"), "hot_idle") > 10

    def test_without_map_signal_a_model_keeps_the_engine_running(self) -> None:
        dead = drive("R2", "signal_open:circuit=map_signal")
        assert dead.statistic("koeo", "map_volts", "mean") < 0.1
        assert dead.statistic("hot_idle", "rpm", "mean") == pytest.approx(700, abs=60)
        assert "P0107" in trouble_codes(dead)

    def test_the_barometer_is_learned_with_the_key_on(self) -> None:
        up = drive("R2", script=PASS)
        assert up.statistic("full_load_altitude", "baro", "mean") == pytest.approx(84.5, abs=1.0)

    def test_an_intake_sensor_that_soaks_heat_is_hot_at_the_restart_and_cold_after_a_night(self) -> None:
        good, soaked = (drive("R2", *faults, script=HILL) for faults in ((), ("iat_heat_soak:rise_K=35",)))
        assert (
            soaked.statistic("hot_soak_restart", "iat", "mean") > good.statistic("hot_soak_restart", "iat", "mean") + 12
        )
        assert drive("R2", "iat_heat_soak:rise_K=35").statistic("koeo", "iat", "mean") == pytest.approx(20, abs=1)

    def test_rail_pressure_is_constant_against_the_surrounding_air(self) -> None:
        good = drive("R2")
        assert good.statistic("hot_idle", "fuel_pressure", "mean") == pytest.approx(380, abs=3)
        assert drive("R1").statistic("hot_idle", "fuel_pressure", "mean") == pytest.approx(300 - 72, abs=4)


class TestOldTender:
    """R5: bank-fired V8 with a hot wire, an unheated sensor and no fuel cut."""

    def test_injects_twice_a_cycle_with_half_the_fuel_each(self) -> None:
        run, rig = drive("R5"), load_rig("R5")
        # Fuel per cylinder and cycle by hand, in two openings, plus the dead time of each.
        fuel = (
            run.statistic("hot_idle", "maf_true", "mean")
            / 14.6
            / 8.0
            / (run.statistic("hot_idle", "rpm", "mean") / 120.0)
            / 1000.0
        )
        by_hand = 1000.0 * (fuel / 2.0 / rig.fuel_system.injector_flow + rig.fuel_system.injector_dead_time)
        assert run.statistic("hot_idle", "injector_ms", "mean") == pytest.approx(by_hand, rel=0.03)

    def test_has_no_rear_sensor_and_no_fuel_cut(self) -> None:
        run = drive("R5")
        assert "ho2s_b1s2_v" not in rig_channels(run.rig)
        assert run.statistic("decel_fuel_cut", "injector_ms", "min") > 0.5

    def test_its_unheated_sensor_wakes_later_than_a_heated_one(self) -> None:
        def awake(run: Run) -> float:
            return float(np.argmax(run.lanes["closed_loop"] > 0.5)) * 0.01

        assert awake(drive("R5")) > awake(drive("R1")) + 3

    def test_the_wire_is_glowed_clean_after_key_off_unless_the_relay_is_dead(self) -> None:
        def pulse(run: Run) -> float:
            return float(np.count_nonzero(run.lanes["maf_volts"][-800:] > 4.4)) * 0.01

        assert pulse(drive("R5")) == pytest.approx(1.0, abs=0.05)
        assert pulse(drive("R5", "maf_burnoff_inoperative")) == 0.0
        assert pulse(drive("R1")) == 0.0

    def test_counts_around_128_say_the_same_as_percent(self, run) -> None:
        from leitfaden_core.quantities import convert

        leaky = drive("R5", "manifold_vacuum_leak:area_mm2=5")
        assert convert(leaky.statistic("hot_idle", "ltft", "mean"), "trim", "%", "count") > 145


def test_a_fault_that_a_rig_cannot_have_is_refused() -> None:
    with pytest.raises(
        LeitfadenError, match=r"fault maf_dirty does not exist on rig R2 \(Greenhouse van\): it has no airflow meter"
    ):
        simulate(load_rig("R2"), DAY, [parse_fault("maf_dirty")], 0)
    with pytest.raises(UnknownName, match=r"unknown circuit 'maf_signal' on rig R2; known: .*map_signal"):
        simulate(load_rig("R2"), DAY, [parse_fault("signal_open:circuit=maf_signal")], 0)
    with pytest.raises(LeitfadenError, match="cylinder is 6"):
        simulate(load_rig("R1"), DAY, [parse_fault("dead_cylinder:cylinder=6")], 0)


@pytest.mark.parametrize("rig_id", rig_ids())
def test_circuits_follow_from_the_sensors(rig_id: str) -> None:
    rig = load_rig(rig_id)
    there, sensors = circuits_of(rig), {sensor.id for sensor in rig.sensors}
    for circuit, sensor in (
        ("maf_signal", "maf"),
        ("map_signal", "map"),
        ("wideband", "wideband"),
        ("ho2s_b1s2_signal", "ho2s_b1s2"),
        ("egt_2", "egt_2"),
    ):
        assert (circuit in there) == (sensor in sensors)
    assert ("ho2s_b1s1_heater" in there) == (rig_id in {"R1", "R2", "R6"})
    assert ("ambient_signal" in there) == (rig_id in {"R3", "R4"})
    assert {"ref_5v", "sensor_ground", "engine_ground"} <= set(there)


class TestARigIsAValue:
    """What is asked of a rig is asked of its numbers, not of its name: a trainer's own engine can do what the six
    can.
    """

    @pytest.fixture
    def own(self, tmp_path, monkeypatch) -> Rig:
        monkeypatch.setenv("LEITFADEN_CACHE", str(tmp_path))
        document = load_rig("R1").model_dump()
        document["engine"]["displacement"] = 0.0019
        return parse_rig(yaml.safe_dump(document))

    def test_one_changed_number_makes_another_engine_that_nothing_ships_for(self, own) -> None:
        assert own != load_rig("R1") and own.digest != load_rig("R1").digest
        assert is_shipped(load_rig("R1")) and not is_shipped(own) and not has_sheet(own)
        with pytest.raises(MissingSheet):
            judge_reading(own, "hot_idle", "maf", 1.7)

    def test_it_is_judged_by_its_own_sheet_and_has_its_own_causes(self, own) -> None:
        keep_sheet(own, sheet_text(compute_sheet(own, members=4, workers=0)))
        usual, larger = band_of(load_rig("R1"), "hot_idle", "maf"), band_of(own, "hot_idle", "maf")
        assert usual is not None and larger is not None
        # Air at idle goes with displacement, 1.9 l to 1.6 l.
        assert larger.median / usual.median == pytest.approx(1.9 / 1.6, rel=0.12)
        assert judge_reading(own, "hot_idle", "maf", larger.median).kind is VerdictKind.GOOD
        assert judge_reading(load_rig("R1"), "hot_idle", "maf", larger.median).kind is not VerdictKind.GOOD
        assert {cause.id for cause in candidates(own)} == {cause.id for cause in candidates(load_rig("R1"))}
        load_sheet.cache_clear()
