"""What sets the rigs apart: how they know their air, how they inject, what they sense with."""

import numpy as np
import pytest

from leitfaden_core.errors import LeitfadenError, UnknownName
from leitfaden_core.expect import individual_engine
from leitfaden_core.faults import circuits_of, parse_fault
from leitfaden_core.monitors import trouble_codes
from leitfaden_core.rigs import load_rig, rig_channels, rig_ids
from leitfaden_core.scripts import load_script, reading_scripts
from leitfaden_core.simulate import Run, cached_run, simulate

DAY, HILL, PASS = load_script("workshop_day"), load_script("after_the_hill"), load_script("over_the_pass")
STEADY = ("hot_idle", "no_load_2500", "cruise_80")


def drive(rig: str, *faults: str, script=DAY, seed: int = 0, individual: dict[str, float] | None = None) -> Run:
    return cached_run(load_rig(rig), script, [parse_fault(text) for text in faults], seed, individual)


def total(run: Run, condition: str) -> float:
    return run.statistic(condition, "total_trim", "mean")


@pytest.mark.parametrize("rig_id", rig_ids())
class TestEveryRig:
    def test_idles_like_an_engine_of_its_size(self, rig_id: str) -> None:
        run, rig = drive(rig_id), load_rig(rig_id)
        litres = rig.engine.displacement * 1000.0
        assert 0.85 <= run.statistic("hot_idle", "maf_true", "mean") / litres <= 1.3  # g/s per litre
        assert 27 <= run.statistic("hot_idle", "map_true", "mean") <= 33
        assert run.statistic("hot_idle", "rpm", "mean") == pytest.approx(rig.control.idle_target, abs=10)

    def test_keeps_its_mixture_and_needs_no_correction(self, rig_id: str) -> None:
        run = drive(rig_id)
        for condition in STEADY:
            assert run.statistic(condition, "lambda_true", "mean") == pytest.approx(1.0, abs=0.02)
            assert abs(total(run, condition)) < 4

    def test_breathes_freely_at_full_load(self, rig_id: str) -> None:
        run, rig = drive(rig_id), load_rig(rig_id)
        density = 101300.0 / (287.05 * 293.15)
        rows = run.rows(run.script.span("wot_pull"))
        filling = rows["maf_true"] / 1000.0 / (rows["rpm"] / 120.0 * density * rig.engine.displacement)
        assert 0.74 <= float(filling.mean()) <= 0.95
        assert run.statistic("wot_pull", "map_true", "mean") > 97
        assert 0.83 <= run.statistic("wot_pull", "lambda_true", "mean") <= 0.90

    def test_fits_the_filling_equation_among_its_channels(self, rig_id: str) -> None:
        """m = VE·p·V·n/(120·R·T) with one VE for both halves of a steady stretch: pressure, speed and flow agree with each other."""
        rows = drive(rig_id).rows(DAY.span("cruise_80"))
        filling = rows["maf_true"] / (rows["map_true"] * rows["rpm"])
        assert float(np.std(filling) / np.mean(filling)) < 0.01

    @pytest.mark.parametrize("seed", range(500, 506))
    def test_sets_no_code_when_healthy(self, rig_id: str, seed: int) -> None:
        individual = individual_engine(load_rig(rig_id), seed)
        for script in reading_scripts():
            assert trouble_codes(drive(rig_id, script=script, seed=seed, individual=individual)) == []

    def test_loses_full_load_with_the_height_and_keeps_its_idle_need(self, rig_id: str) -> None:
        low, high = drive(rig_id), drive(rig_id, script=PASS)
        ratio = high.statistic("full_load_altitude", "torque_true", "mean") / low.statistic("wot_pull", "torque_true", "mean")
        assert 0.76 < ratio < 0.90
        assert high.statistic("full_load_altitude", "map_true", "mean") == pytest.approx(84.5 - 2.0, abs=2.0)

    def test_soaks_heat_after_a_hard_drive(self, rig_id: str) -> None:
        run = drive(rig_id, script=HILL)
        assert run.statistic("hot_soak_restart", "iat", "max") > 40
        assert run.statistic("hot_soak_restart", "iat", "min") < run.statistic("hot_soak_restart", "iat", "max") - 2
        assert run.statistic("hot_soak_restart", "rpm", "mean") > 500

    def test_records_only_channels_that_it_has(self, rig_id: str) -> None:
        assert set(drive(rig_id).summary()["hot_idle"]) == set(rig_channels(load_rig(rig_id)))


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
        # Counted air goes with the believed pressure times a filling that itself rises with it: between first and second power.
        first, second = (100.0 * ((pressure / (pressure + kilopascal)) ** power - 1.0) for power in (1.0, 2.0))
        low, high = sorted((first, second))
        assert low - 2 <= total(shifted, "cruise_80") - total(good, "cruise_80") <= high + 2
        assert np.sign(total(shifted, "hot_idle")) == -np.sign(kilopascal)

    def test_a_wrong_intake_temperature_is_answered(self) -> None:
        good, warm = drive("R2"), drive("R2", "iat_offset:K=40")
        assert total(warm, "cruise_80") > total(good, "cruise_80") + 5

    def test_a_leaking_sensor_hose_reads_high_at_idle_and_right_at_full_load(self) -> None:
        good, leaky = drive("R2"), drive("R2", "map_hose_leak:fraction=0.1")
        assert leaky.statistic("hot_idle", "map", "mean") == pytest.approx(29.4 + 0.1 * (101.3 - 29.4), abs=1.0)
        assert leaky.statistic("wot_pull", "map", "mean") == pytest.approx(good.statistic("wot_pull", "map", "mean"), abs=1.0)
        assert total(leaky, "hot_idle") < -15

    def test_a_narrowed_hose_is_late_and_right_in_the_end(self) -> None:
        slow = drive("R2", "map_hose_blocked:tau_s=0.4")
        assert slow.statistic("hot_idle", "map", "mean") == pytest.approx(slow.statistic("hot_idle", "map_true", "mean"), abs=0.5)
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
        assert soaked.statistic("hot_soak_restart", "iat", "mean") > good.statistic("hot_soak_restart", "iat", "mean") + 12
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
        fuel = run.statistic("hot_idle", "maf_true", "mean") / 14.6 / 8.0 / (run.statistic("hot_idle", "rpm", "mean") / 120.0) / 1000.0
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
    with pytest.raises(LeitfadenError, match=r"fault maf_dirty does not exist on rig R2 \(Greenhouse van\): it has no sensor 'maf'"):
        simulate(load_rig("R2"), DAY, [parse_fault("maf_dirty")], 0)
    with pytest.raises(UnknownName, match=r"unknown circuit 'maf_signal' on rig R2; known: .*map_signal"):
        simulate(load_rig("R2"), DAY, [parse_fault("signal_open:circuit=maf_signal")], 0)
    with pytest.raises(LeitfadenError, match="cylinder is 6"):
        simulate(load_rig("R1"), DAY, [parse_fault("dead_cylinder:cylinder=6")], 0)


@pytest.mark.parametrize("rig_id", rig_ids())
def test_circuits_follow_from_the_sensors(rig_id: str) -> None:
    rig = load_rig(rig_id)
    assert ("maf_signal" in circuits_of(rig)) == (rig.airflow_meter is not None)
    assert ("map_signal" in circuits_of(rig)) == (rig.map_sensor is not None)
    assert ("ho2s_b1s1_heater" in circuits_of(rig)) == (rig.oxygen_sensors.heater_rise > 0)
    assert ("ho2s_b1s2_signal" in circuits_of(rig)) == rig.oxygen_sensors.rear_sensor
