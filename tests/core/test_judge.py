"""Verdicts in their condition."""

import pytest

from leitfaden_core.errors import UnknownName
from leitfaden_core.expect import band_of
from leitfaden_core.judge import SchoolRules, VerdictKind, judge_reading, no_meaning
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.simulate import Run

GOOD, SUSPECT, FAULTY, OPEN = VerdictKind.GOOD, VerdictKind.SUSPECT, VerdictKind.FAULTY, VerdictKind.NOT_DECIDABLE


@pytest.mark.parametrize(
    ("condition", "channel", "value", "stat", "kind"),
    [
        ("hot_idle", "maf", 1.8, "mean", GOOD),
        ("hot_idle", "maf", 1.2, "mean", FAULTY),
        ("hot_idle", "maf", 2.6, "mean", FAULTY),
        ("hot_idle", "ect", 89.0, "mean", GOOD),
        ("hot_idle", "ect", 62.0, "mean", FAULTY),
        ("hot_idle", "total_trim", 4.0, "mean", GOOD),
        ("hot_idle", "total_trim", -7.5, "mean", SUSPECT),
        ("hot_idle", "total_trim", 24.0, "mean", FAULTY),
        ("hot_idle", "ho2s_b1s1_v", 0.8, "freq", GOOD),
        ("hot_idle", "ho2s_b1s1_v", 0.1, "freq", FAULTY),
        ("wot_pull", "total_trim", 24.0, "mean", OPEN),
        ("decel_fuel_cut", "ltft", -20.0, "mean", OPEN),
        ("koeo", "ho2s_b1s1_v", 0.45, "mean", OPEN),
        ("koeo", "ve", 0.0, "mean", OPEN),
        ("cruise_80", "rpm", 2300.0, "mean", OPEN),
        ("decel_fuel_cut", "lambda_true", float("nan"), "mean", OPEN),
        ("decel_fuel_cut", "ho2s_b1s1_v", 0.0, "mean", GOOD),
    ],
)
def test_a_value_is_judged_in_its_condition(condition: str, channel: str, value: float, stat: str, kind: VerdictKind) -> None:
    assert judge_reading("R1", condition, channel, value, stat).kind is kind


def test_outside_the_band_a_reading_is_first_suspect_then_faulty() -> None:
    band = band_of("R1", "hot_idle", "maf")
    assert band is not None
    beyond = [judge_reading("R1", "hot_idle", "maf", band.high + k * band.deviation).kind for k in (0.1, 0.5, 6.0)]
    assert beyond == [SUSPECT, SUSPECT, FAULTY]


def test_the_reason_carries_value_band_and_condition() -> None:
    verdict = judge_reading("R1", "hot_idle", "maf", 1.2)
    assert verdict.band is not None
    assert f"1.20 g/s lies below {verdict.band.low:.2f} g/s" in verdict.reason and "hot idle" in verdict.reason


def test_the_reason_speaks_the_persons_units() -> None:
    assert "°F" in judge_reading("R1", "hot_idle", "ect", 89.0, units=UnitSystem.IMPERIAL).reason
    assert "inHg absolute" in judge_reading("R1", "hot_idle", "map_true", 29.4, units=UnitSystem.IMPERIAL).reason
    assert "kPa absolute" in judge_reading("R1", "hot_idle", "map_true", 29.4).reason


def test_not_decidable_names_the_missing_precondition() -> None:
    assert "open loop" in judge_reading("R1", "wot_pull", "stft", 0.0).reason
    assert "still cold" in (no_meaning("R1", "koeo", "ho2s_b1s1_v") or "")
    assert "roller bench" in (no_meaning("R1", "cruise_80", "rpm") or "")


def test_an_engine_without_fuel_cut_has_no_such_condition() -> None:
    verdict = judge_reading("R5", "decel_fuel_cut", "ho2s_b1s1_v", 0.02)
    assert verdict.kind is OPEN and "does not cut its fuel" in verdict.reason


def test_the_schools_own_limits_are_honoured_and_printed() -> None:
    strict = judge_reading("R1", "hot_idle", "total_trim", 4.0, rules=SchoolRules(trim_good=3.0, trim_investigate=8.0))
    assert strict.kind is SUSPECT
    assert "within ±3 %, investigate beyond ±8 %" in strict.reason


def test_unknown_names_are_refused() -> None:
    with pytest.raises(UnknownName, match="unknown condition 'idle'"):
        judge_reading("R1", "idle", "maf", 1.8)
    with pytest.raises(UnknownName, match="unknown channel 'boost'"):
        judge_reading("R1", "hot_idle", "boost", 30.0)


def test_a_sound_engine_is_never_called_faulty(healthy: Run) -> None:
    for condition in healthy.script.conditions():
        for name in ("rpm", "maf", "iat", "ect", "total_trim", "ho2s_b1s1_v", "ho2s_b1s2_v", "baro", "throttle", "injector_ms"):
            verdict = judge_reading("R1", condition, name, healthy.statistic(condition, name, "mean"))
            assert verdict.kind is not FAULTY, (condition, name, verdict.reason)


@pytest.mark.parametrize(("area", "least"), [(0.1, 0), (1.0, 1), (4.0, 3)])
def test_larger_leaks_put_more_readings_off(run, area: float, least: int) -> None:
    leaky = run(f"manifold_vacuum_leak:area_mm2={area}")
    places = [("hot_idle", "maf"), ("hot_idle", "total_trim"), ("no_load_2500", "total_trim"), ("hot_idle", "idle_air")]
    off = sum(judge_reading("R1", c, n, leaky.statistic(c, n, "mean")).kind in {SUSPECT, FAULTY} for c, n in places)
    assert off >= least
    if least == 0:
        assert off == 0
