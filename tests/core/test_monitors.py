"""Codes: none from a healthy engine, the right one from a circuit, none from a fault that in truth sets none."""

import numpy as np
import pytest

from leitfaden_core.errors import UnknownName
from leitfaden_core.expect import individual_engine
from leitfaden_core.faults import parse_fault
from leitfaden_core.monitors import CODES, code, trouble_codes, trouble_report
from leitfaden_core.monitors.logic import MONITORS
from leitfaden_core.recordings import RunRecording
from leitfaden_core.rigs import load_rig
from leitfaden_core.scripts import load_script
from leitfaden_core.simulate import simulate
from leitfaden_core.simulate.shape import statistics_of

pytestmark = pytest.mark.model

RIG, DAY = load_rig("R1"), load_script("workshop_day")


@pytest.mark.parametrize("seed", range(300, 320))
def test_a_healthy_engine_sets_no_code(run, seed: int) -> None:
    assert trouble_codes(run(seed=seed, individual=individual_engine(RIG, seed))) == []


@pytest.mark.parametrize(("celsius", "kilopascal"), [(-10, 101.3), (0, 98.0), (35, 101.3), (20, 84.5), (38, 90.0)])
def test_no_weather_and_no_altitude_sets_a_code(celsius: float, kilopascal: float) -> None:
    weather = {"ambient_temp": celsius + 273.15, "ambient_pressure": kilopascal * 1000.0}
    assert trouble_codes(simulate(RIG, DAY, [], 0, weather)) == []


@pytest.mark.parametrize(
    ("fault", "wanted"),
    [
        ("signal_open:circuit=maf_signal", "P0102"),
        ("signal_short_to_5v:circuit=maf_signal", "P0103"),
        ("signal_open:circuit=iat", "P0113"),
        ("signal_short_to_ground:circuit=iat", "P0112"),
        ("signal_open:circuit=ect", "P0118"),
        ("signal_short_to_ground:circuit=ect", "P0117"),
        ("signal_open:circuit=ho2s_b1s1_signal", "P0134"),
        ("signal_short_to_5v:circuit=ho2s_b1s1_signal", "P0132"),
        ("ho2s_heater_open:sensor=b1s1", "P0031"),
        ("ho2s_heater_open:sensor=b1s2", "P0037"),
        ("ho2s_stuck:volts=0.05", "P0131"),
        ("ho2s_slow:tau_s=0.8", "P0133"),
        ("maf_under_read:gain=0.72", "P0171"),
        ("fuel_pressure_high:factor=2.0", "P0172"),
        ("dead_cylinder:cylinder=2,cause=spark", "P0302"),
        ("dead_cylinder:cylinder=2,cause=fuel", "P0302"),
        ("thermostat_stuck_open:opening_percent=100", "P0128"),
        ("catalyst_worn:storage_ratio=0.02", "P0420"),
        ("manifold_vacuum_leak:area_mm2=6", "P0171"),
    ],
)
def test_a_fault_sets_its_code(run, fault: str, wanted: str) -> None:
    assert wanted in trouble_codes(run(fault))


@pytest.mark.parametrize(
    "fault",
    [
        "iat_offset:K=25",
        "ect_offset:K=-6",
        "maf_under_read:gain=0.92",
        "manifold_vacuum_leak:area_mm2=1",
        "exhaust_restricted:dp_full_kPa=60",
        "ho2s_slow:tau_s=0.1",
        "air_filter_restricted",
    ],
)
def test_a_fault_that_stays_inside_all_limits_sets_none(run, fault: str) -> None:
    assert trouble_codes(run(fault)) == []


def test_every_monitor_sets_a_known_code_and_unknown_ones_are_refused() -> None:
    assert {entry.code for entry in MONITORS} <= set(CODES)
    assert code("P0171").meaning == "system too lean, bank 1"
    with pytest.raises(UnknownName, match="unknown trouble code 'P9999'"):
        code("P9999")


@pytest.mark.parametrize(
    ("rig_id", "fault", "wanted"),
    [
        ("R2", "signal_short_to_5v:circuit=map_signal", "P0108"),
        ("R3", "signal_short_to_ground:circuit=charge_signal", "P0237"),
        ("R3", "signal_open:circuit=ambient_signal", "P2228"),
        ("R3", "signal_open:circuit=tp_signal", "P0122"),
        ("R3", "pressure_offset:sensor=charge,kPa=-12", "P0236"),
        ("R3", "pressure_offset:sensor=map,kPa=14", "P0106"),
        ("R3", "pressure_offset:sensor=ambient,kPa=-14", "P2227"),
        ("R3", "wastegate_stuck:opening_percent=100", "P0299"),
        ("R3", "catalyst_worn:storage_ratio=0.03", "P0420"),
        ("R3", "signal_open:circuit=ho2s_b1s2_signal", "P0140"),
        ("R3", "signal_short_to_ground:circuit=ho2s_b1s2_signal", "P0137"),
        ("R3", "wideband_slow:tau_s=2.5", "P0133"),
        ("R3", "reference_pulled_down:volts=3.5", "P0642"),
        ("R4", "boost_leak:area_mm2=1500", "P0299"),
        ("R4", "maf_under_read:gain=0.6", "P0101"),
        ("R4", "egr_stuck_open:opening_percent=40", "P0404"),
        ("R4", "egr_passage_blocked:share=1", "P0401"),
        ("R4", "fuel_pressure_low:factor=0.7", "P0087"),
        ("R4", "exhaust_restricted:dp_full_kPa=60,place=dpf", "P2463"),
        ("R4", "dp_hose_fault:mode=swapped", "P2453"),
        ("R4", "signal_open:circuit=rail_signal", "P0192"),
        ("R4", "signal_open:circuit=dpf_dp_signal", "P2454"),
        ("R4", "signal_open:circuit=egt_1", "P0546"),
        ("R4", "signal_short_to_ground:circuit=egt_2", "P2032"),
        ("R4", "egt_offset:sensor=egt_1,K=120", "P2080"),
        ("R6", "charging_lost", "P0562"),
    ],
)
def test_the_other_rigs_set_theirs(rig_id: str, fault: str, wanted: str) -> None:
    assert wanted in trouble_codes(simulate(load_rig(rig_id), DAY, [parse_fault(fault)]))


class TestMemory:
    """Pending, confirmed, permanent; freeze frame; readiness; origin."""

    def test_a_two_trip_code_is_pending_after_one_drive_and_confirmed_after_two(self, run) -> None:
        lean = run("maf_under_read:gain=0.72")
        once, twice = trouble_report([lean]), trouble_report([lean, lean])
        assert [(c.code, c.status, c.lamp, c.permanent) for c in once.codes] == [("P0171", "pending", False, False)]
        assert [(c.code, c.status, c.lamp, c.permanent) for c in twice.codes] == [("P0171", "confirmed", True, True)]
        assert twice.lamp and not once.lamp

    def test_a_circuit_code_is_confirmed_at_once(self, run) -> None:
        assert [(c.code, c.status) for c in trouble_report([run("signal_open:circuit=iat")]).codes] == [
            ("P0113", "confirmed")
        ]

    def test_a_good_drive_takes_a_pending_code_and_three_put_the_lamp_out(self, run, healthy) -> None:
        lean = run("maf_under_read:gain=0.72")
        assert trouble_report([lean, healthy]).codes == []
        two, three = (trouble_report([lean, lean, *([healthy] * good)]).codes[0] for good in (2, 3))
        assert two.lamp and two.permanent and not three.lamp and not three.permanent
        assert three.status == "confirmed"

    def test_the_freeze_frame_is_that_instant(self, run) -> None:
        lean = run("maf_under_read:gain=0.72")
        stored = trouble_report([lean]).codes[0]
        assert stored.drive == 1 and 60 < stored.seconds < lean.script.seconds
        row = lean.lanes[round(stored.seconds * 100) - 1]
        assert stored.freeze_frame["rpm"] == pytest.approx(float(row["rpm"]), abs=0.01)
        assert {"rpm", "load", "ect", "maf", "stft", "ltft"} <= set(
            stored.freeze_frame
        ) and "map" not in stored.freeze_frame

    def test_readiness_tells_which_monitors_have_answered(self, run) -> None:
        whole = trouble_report([run()]).readiness
        assert set(whole.values()) == {"complete"} and {"catalyst", "oxygen sensor", "oxygen sensor heater"} <= set(
            whole
        )
        short = trouble_report([simulate(RIG, load_script("after_the_hill"), [])]).readiness
        assert short["catalyst"] == "incomplete" and short["misfire"] == "complete"

    def test_codes_that_only_an_unplugged_connector_has_caused_are_marked(self, run) -> None:
        lean, unplugged = run("maf_under_read:gain=0.72"), run("maf_under_read:gain=0.72", "signal_open:circuit=iat")
        origins = {c.code: c.origin for c in trouble_report([unplugged], without_unplugging=[lean]).codes}
        assert origins == {"P0113": "unplugging", "P0171": "vehicle"}


class TestOwnMeanings:
    def test_a_governed_engine_means_its_own_by_a_number(self) -> None:
        weak = simulate(
            load_rig("R6"), load_script("workshop_day"), [parse_fault("fuel_pressure_low:factor=0.9,factor_full=0.3")]
        )
        assert "P0174" in trouble_codes(weak)
        assert code("P0174", load_rig("R6")).meaning != code("P0174").meaning
        assert code("P0171", load_rig("R6")).meaning == code("P0171").meaning


def test_a_recording_remembers_what_it_was_asked_and_says_what_its_run_says(run) -> None:
    of_day = run("manifold_vacuum_leak:area_mm2=4")
    recording = RunRecording(of_day)
    for condition in DAY.conditions():
        for name in ("rpm", "maf", "ho2s_b1s1_v", "ho2s_b1s2_v"):
            for stat in statistics_of(name):
                said = [recording.statistic(condition, name, stat) for _ in range(2)]
                assert np.array_equal(said, [of_day.statistic(condition, name, stat)] * 2, equal_nan=True)
