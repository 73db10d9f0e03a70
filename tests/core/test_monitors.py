"""Codes: none from a healthy engine, the right one from a circuit, none from a fault that in truth sets none."""

import numpy as np
import pytest

from leitfaden_core.errors import UnknownName
from leitfaden_core.expect import individual_engine
from leitfaden_core.monitors import CODES, code, trouble_codes
from leitfaden_core.monitors.run import MONITORS, lasts
from leitfaden_core.rigs import load_rig
from leitfaden_core.scripts import load_script
from leitfaden_core.simulate import simulate

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
        ("ho2s_heater_open:sensor=b1s1", "P0030"),
        ("ho2s_heater_open:sensor=b1s2", "P0036"),
        ("ho2s_stuck:volts=0.05", "P0131"),
        ("ho2s_slow:tau_s=0.8", "P0133"),
        ("maf_under_read:gain=0.72", "P0171"),
        ("fuel_pressure_high:factor=2.0", "P0172"),
        ("dead_cylinder:cylinder=2,cause=spark", "P0300"),
        ("dead_cylinder:cylinder=2,cause=fuel", "P0300"),
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


def test_a_condition_must_last_without_a_break() -> None:
    flags = np.array([True] * 60 + [False] + [True] * 60)
    assert lasts(flags, 0.6) and not lasts(flags, 0.61)
    assert not lasts(np.zeros(100, dtype=bool), 0.01)
