"""The states beside the workshop day: raised idle, load step, gear shift, long idle, deep frost; and the sensors that
behave otherwise there.
"""

import numpy as np
import pytest

from leitfaden_core.faults import parse_fault
from leitfaden_core.judge import no_meaning
from leitfaden_core.rigs import load_rig, rig_ids
from leitfaden_core.scripts import CONDITIONS, load_script, reading_scripts
from leitfaden_core.simulate import FRAME, Run, cached_run

pytestmark = pytest.mark.model

DAY, YARD, FROST = (load_script(name) for name in ("workshop_day", "road_and_yard", "winter_morning"))


def drive(rig: str, script=YARD, *faults: str) -> Run:
    return cached_run(load_rig(rig), script, [parse_fault(text) for text in faults])


def mean(run: Run, condition: str, channel: str) -> float:
    return run.statistic(condition, channel, "mean")


class TestCatalogue:
    def test_every_condition_is_read_in_exactly_one_script(self) -> None:
        read = [condition for script in reading_scripts() for condition in script.conditions()]
        assert sorted(read) == sorted(CONDITIONS)

    @pytest.mark.parametrize("rig_id", [rig for rig in rig_ids() if "trims" in load_rig(rig).features])
    def test_the_loop_is_closed_and_open_where_the_condition_says(self, rig_id: str) -> None:
        for script in reading_scripts():
            run = cached_run(load_rig(rig_id), script, [])
            for name in script.conditions():
                if name == "decel_fuel_cut" and not load_rig(rig_id).control.fuel_cut:
                    continue
                rows = run.rows(script.span(name))
                corrected = ((rows["closed_loop"] > 0.5) & (rows["fuel_cut"] < 0.5)).mean()
                if CONDITIONS[name].closed_loop and no_meaning(load_rig(rig_id), name, "total_trim") is None:
                    assert corrected > 0.9, name
                elif name in {
                    "koeo",
                    "crank",
                    "decel_fuel_cut",
                    "wot_pull",
                    "shift_pull",
                    "full_load_altitude",
                    "deep_cold_idle",
                }:
                    assert corrected < 0.1, name


class TestGearShift:
    @pytest.mark.parametrize("rig_id", ["R1", "R3", "R4", "R5"])
    def test_road_speed_runs_on_while_engine_speed_drops(self, rig_id: str) -> None:
        run = drive(rig_id)
        starts = dict(zip((s.label for s in YARD.segments), YARD.starts(), strict=True))
        before, after = (round(starts[label] / FRAME) for label in ("Shift", "Pull in third gear"))
        rows = run.lanes
        assert rows["kmh"][after] == pytest.approx(rows["kmh"][before - 1], rel=0.02)
        assert rows["rpm_true"][after] < 0.8 * rows["rpm_true"][before - 1]

    def test_the_frame_after_the_shift_is_the_wrong_one_for_volumetric_efficiency(self) -> None:
        run = drive("R1")
        at_peak = mean(run, "shift_pull", "ve")
        shift = dict(zip((s.label for s in YARD.segments), YARD.starts(), strict=True))["Pull in third gear"]
        assert at_peak == pytest.approx(87.0, abs=6.0)
        assert run.rows((shift - 0.4, shift - 0.1))["ve"].mean() < 0.6 * at_peak


class TestLoadStep:
    def test_a_governed_engine_dips_and_recovers(self) -> None:
        speed = drive("R6").rows(YARD.span("load_step"))["rpm_true"]
        settled = speed[-50:].mean()
        assert speed.min() < settled - 20 and abs(settled - 3600) < 100

    def test_the_correction_stays_in_charge(self) -> None:
        for rig_id in ("R1", "R2", "R3"):
            rows = drive(rig_id).rows(YARD.span("load_step"))
            assert 0.97 < np.nanmean(rows["lambda_true"]) < 1.03


class TestUnheatedSensor:
    def test_it_falls_asleep_in_a_long_idle_and_wakes_on_the_road(self) -> None:
        run = drive("R5")
        asleep = run.rows(YARD.span("long_idle"))
        assert asleep["closed_loop"].max() == 0.0 and np.ptp(asleep["ho2s_b1s1_pin_v"]) < 0.30
        assert run.rows(YARD.span("no_load_1500"))["closed_loop"].min() == 1.0
        assert (
            no_meaning(load_rig("R5"), "long_idle", "total_trim") is not None
            and no_meaning(load_rig("R1"), "long_idle", "total_trim") is None
        )

    def test_a_heated_one_stays_awake_until_its_heater_is_lost(self) -> None:
        assert drive("R1").rows(YARD.span("long_idle"))["closed_loop"].min() == 1.0
        lost = drive("R1", YARD, "ho2s_heater_open:sensor=b1s1").rows(YARD.span("long_idle"))
        assert lost["front_ohms"].mean() > 20.0 * drive("R1").rows(YARD.span("long_idle"))["front_ohms"].mean()

    def test_it_wakes_clearly_later_after_a_cold_start(self) -> None:
        def waking(rig: str) -> float:
            rows = cached_run(load_rig(rig), DAY, []).lanes
            begins = np.flatnonzero(rows["running"] > 0.5)[0]
            return float((np.flatnonzero(np.abs(rows["ho2s_b1s1_pin_v"] - 0.45) > 0.2)[0] - begins) * FRAME)

        assert waking("R1") < 30.0 and waking("R5") > 2.0 * waking("R1")


class TestDeepFrost:
    @pytest.mark.parametrize("rig_id", ["R1", "R2", "R3", "R5", "R6"])
    def test_it_starts_rich_and_leans_within_seconds(self, rig_id: str) -> None:
        run = drive(rig_id, FROST)
        rows = run.rows(FROST.span("deep_cold_idle"))
        tenth = len(rows) // 10
        assert rows["running"].min() == 1.0
        # Seven parts of fuel for six: rich, less so with every second.
        assert np.nanmean(rows["lambda_true"][:tenth]) < np.nanmean(rows["lambda_true"][-tenth:]) < 0.95
        assert mean(run, "deep_cold_idle", "ect") < -5.0

    def test_key_on_shows_the_frost_everywhere(self) -> None:
        rows = drive("R1", FROST).rows((2.0, 4.0))
        assert rows["ect"].mean() == pytest.approx(-18.0, abs=2.0) and rows["iat"].mean() == pytest.approx(
            -18.0, abs=2.0
        )
