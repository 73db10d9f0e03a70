"""Verdicts in their condition."""

import numpy as np
import pytest

from leitfaden_core.channels import Layer
from leitfaden_core.diagnose import table
from leitfaden_core.errors import UnknownName
from leitfaden_core.expect import band_of
from leitfaden_core.faults import parse_fault
from leitfaden_core.judge import (
    PRECONDITIONS,
    SchoolRules,
    Seen,
    ServiceBand,
    Verdict,
    VerdictKind,
    catches,
    check_relations,
    drop_outs,
    judge_reading,
    matrix,
    moves_with,
    narrowband_findings,
    no_meaning,
    signature,
    weigh_reading,
)
from leitfaden_core.judge.verdict import Reading, judge_together
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.rigs import load_rig
from leitfaden_core.scripts import load_script
from leitfaden_core.simulate import FRAME, Run, simulate
from leitfaden_core.simulate.shape import edge_time

pytestmark = pytest.mark.model

GOOD, SUSPECT, FAULTY, OPEN = VerdictKind.GOOD, VerdictKind.SUSPECT, VerdictKind.FAULTY, VerdictKind.NOT_DECIDABLE


@pytest.mark.parametrize(
    ("condition", "channel", "value", "stat", "kind"),
    [
        ("hot_idle", "maf", 1.8, "mean", GOOD),
        ("hot_idle", "maf", 1.2, "mean", FAULTY),
        ("hot_idle", "maf", 2.6, "mean", FAULTY),
        ("hot_idle", "ect", 92.0, "mean", GOOD),
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
def test_a_value_is_judged_in_its_condition(
    condition: str, channel: str, value: float, stat: str, kind: VerdictKind
) -> None:
    assert judge_reading(load_rig("R1"), condition, channel, value, stat).kind is kind


def test_outside_the_band_a_reading_is_first_suspect_then_faulty() -> None:
    band = band_of(load_rig("R1"), "hot_idle", "maf")
    assert band is not None
    beyond = [
        judge_reading(load_rig("R1"), "hot_idle", "maf", band.high + k * band.deviation).kind for k in (0.1, 0.5, 6.0)
    ]
    assert beyond == [SUSPECT, SUSPECT, FAULTY]


def test_the_reason_carries_value_band_and_condition() -> None:
    verdict = judge_reading(load_rig("R1"), "hot_idle", "maf", 1.2)
    assert verdict.band is not None
    assert f"1.20 g/s lies below {verdict.band.low:.2f} g/s" in verdict.reason and "hot idle" in verdict.reason


def test_the_reason_speaks_the_persons_units() -> None:
    assert "°F" in judge_reading(load_rig("R1"), "hot_idle", "ect", 92.0, units=UnitSystem.IMPERIAL).reason
    assert (
        "inHg absolute" in judge_reading(load_rig("R1"), "hot_idle", "map_true", 29.4, units=UnitSystem.IMPERIAL).reason
    )
    assert "kPa absolute" in judge_reading(load_rig("R1"), "hot_idle", "map_true", 29.4).reason


def test_not_decidable_names_the_missing_precondition() -> None:
    assert "open loop" in judge_reading(load_rig("R1"), "wot_pull", "stft", 0.0).reason
    assert "still cold" in (no_meaning(load_rig("R1"), "koeo", "ho2s_b1s1_v") or "")
    assert "roller bench" in (no_meaning(load_rig("R1"), "cruise_80", "rpm") or "")


def test_an_engine_without_fuel_cut_has_no_such_condition() -> None:
    verdict = judge_reading(load_rig("R5"), "decel_fuel_cut", "ho2s_b1s1_v", 0.02)
    assert verdict.kind is OPEN and "does not cut its fuel" in verdict.reason


def test_the_schools_own_limits_are_honoured_and_printed() -> None:
    strict = judge_reading(
        load_rig("R1"), "hot_idle", "total_trim", 4.0, rules=SchoolRules(trim_good=3.0, trim_investigate=8.0)
    )
    assert strict.kind is SUSPECT
    assert "within ±3 %, investigate beyond ±8 %" in strict.reason


class TestServiceValues:
    """What a school itself knows of an engine goes before what the model says, and says so."""

    MINE = ServiceBand(
        rig="R1", condition="hot_idle", channel="maf", low=5.0, high=6.0, source="service book, library bus"
    )

    def verdict(self, value: float, stat: str = "mean", rig: str = "R1", condition: str = "hot_idle") -> Verdict:
        rules = SchoolRules(own=(self.MINE,))
        return judge_reading(load_rig(rig), condition, "maf", value, stat, rules)

    def test_it_decides_and_names_its_source_beside_the_model(self) -> None:
        model = judge_reading(load_rig("R1"), "hot_idle", "maf", 5.5)
        assert model.kind is VerdictKind.FAULTY
        mine = self.verdict(5.5)
        assert mine.kind is VerdictKind.GOOD
        assert "your school's own service value at hot idle (source: service book, library bus)" in mine.reason
        assert "Healthy engines of the model show" in mine.reason
        assert mine.band is not None and (mine.band.low, mine.band.high) == (5.0, 6.0)
        assert self.verdict(2.0).kind is VerdictKind.FAULTY

    def test_it_holds_for_its_own_place_only(self) -> None:
        for other in (
            self.verdict(5.5, stat="max"),
            self.verdict(5.5, rig="R5"),
            self.verdict(5.5, condition="no_load_2500"),
        ):
            assert "service value" not in other.reason

    def test_in_a_list_it_is_no_matter_of_chance(self) -> None:
        readings = [Reading("hot_idle", "maf", 6.2), Reading("hot_idle", "rpm", 720.0)]
        assert judge_together(load_rig("R1"), readings, SchoolRules(own=(self.MINE,)))[0].kind is VerdictKind.FAULTY


def test_unknown_names_are_refused() -> None:
    with pytest.raises(UnknownName, match="unknown condition 'idle'"):
        judge_reading(load_rig("R1"), "idle", "maf", 1.8)
    with pytest.raises(UnknownName, match="unknown channel 'boost'"):
        judge_reading(load_rig("R1"), "hot_idle", "boost", 30.0)


def test_a_sound_engine_is_never_called_faulty(healthy: Run) -> None:
    for condition in healthy.script.conditions():
        for name in (
            "rpm",
            "maf",
            "iat",
            "ect",
            "total_trim",
            "ho2s_b1s1_v",
            "ho2s_b1s2_v",
            "baro",
            "throttle",
            "injector_ms",
        ):
            verdict = judge_reading(load_rig("R1"), condition, name, healthy.statistic(condition, name, "mean"))
            assert verdict.kind is not FAULTY, (condition, name, verdict.reason)


@pytest.mark.parametrize(("area", "least"), [(0.1, 0), (1.0, 1), (4.0, 3)])
def test_larger_leaks_put_more_readings_off(run, area: float, least: int) -> None:
    leaky = run(f"manifold_vacuum_leak:area_mm2={area}")
    places = [("hot_idle", "maf"), ("hot_idle", "total_trim"), ("no_load_2500", "total_trim"), ("hot_idle", "idle_air")]
    off = sum(
        judge_reading(load_rig("R1"), c, n, leaky.statistic(c, n, "mean")).kind in {SUSPECT, FAULTY} for c, n in places
    )
    assert off >= least
    if least == 0:
        assert off == 0


class TestByLikelihoods:
    CAUSES = staticmethod(lambda: table(load_rig("R1")))

    @pytest.mark.parametrize(
        ("condition", "channel", "value", "stat", "kind"),
        [
            ("hot_idle", "maf", 1.8, "mean", GOOD),
            ("hot_idle", "maf", 1.3, "mean", FAULTY),
            ("koeo", "ect", 20.0, "mean", GOOD),
            ("koeo", "ect", 5.0, "mean", FAULTY),
            ("wot_pull", "maf", 50.0, "mean", FAULTY),
            ("cruise_80", "ho2s_b1s2_v", 0.1, "min", FAULTY),
            ("wot_pull", "stft", 0.0, "mean", OPEN),
            ("hot_idle", "total_trim", 7.0, "mean", SUSPECT),
        ],
    )
    def test_a_reading_is_weighed_against_the_faults_that_move_it(
        self, condition: str, channel: str, value: float, stat: str, kind: VerdictKind
    ) -> None:
        assert weigh_reading(self.CAUSES(), condition, channel, value, stat).verdict.kind is kind

    @pytest.mark.parametrize(
        ("condition", "channel", "other"),
        [
            ("hot_idle", "load", ""),
            ("hot_idle", "maf", "air at 2500"),
            ("hot_idle", "ect", "temperatures at key on"),
            ("cold_idle", "ho2s_b1s1_v", "front oxygen sensor at 2500"),
            ("cruise_80", "ho2s_b1s2_v", ""),
        ],
    )
    def test_what_would_decide_instead_reads_the_same_thing_elsewhere(
        self, condition: str, channel: str, other: str
    ) -> None:
        """No other test of this engine reads its load, or what lies behind the catalyst."""
        named = weigh_reading(self.CAUSES(), condition, channel, 1.0, missing=("warm",)).decided_by
        assert (other in named) if other else named == ""

    def test_of_what_comes_and_goes_only_how_often_it_is_seen_is_told(self) -> None:
        weighed = weigh_reading(self.CAUSES(), "koeo", "ect", 20.0)
        told = [entry for entry in weighed.verdict.reason.split("; Connector")[1:] if "(ECT," in entry]
        assert told and all("(comes and goes" in entry.split("; seen")[0] for entry in told)
        (loose,) = (entry for entry in weighed.alternatives if "loose contact (ECT" in entry.label)
        assert loose.by_chance and loose.hit_rate is not None and 0.05 < loose.hit_rate < 1.0
        assert not any(entry.by_chance for entry in weighed.alternatives if "reads wrong" in entry.label)

    @pytest.mark.parametrize("place", [("koeo", "throttle", 0.0), ("cold_idle", "maf", 4.0), ("hot_idle", "ect", 90.0)])
    def test_what_is_named_as_told_is_seen_in_half_of_such_drives(self, place: tuple[str, str, float]) -> None:
        """A ground of 3 ohm moves the throttle's display by 3.7 spreads, but hardly ever by one of its steps."""
        told = [entry for entry in weigh_reading(self.CAUSES(), *place).alternatives if entry.told]
        assert told and all(entry.hit_rate is None or entry.hit_rate >= 0.5 for entry in told)
        assert all(entry.d_prime >= 2.0 for entry in told)

    def test_a_coarse_instrument_cannot_decide(self) -> None:
        fine, coarse = (weigh_reading(self.CAUSES(), "hot_idle", "maf", 1.8, error=error) for error in (0.01, 1.5))
        assert fine.verdict.kind is GOOD and coarse.verdict.kind is OPEN and "this instrument" in coarse.verdict.reason
        seen = {entry.candidate: entry.d_prime for entry in fine.alternatives}
        assert all(entry.d_prime < seen[entry.candidate] * 1.01 or entry.told for entry in coarse.alternatives)
        assert sum(entry.told for entry in coarse.alternatives) < 0.7 * sum(entry.told for entry in fine.alternatives)

    @pytest.mark.parametrize(
        ("missing", "channel"),
        [
            ("loads_off", "maf"),
            ("closed_loop", "total_trim"),
            ("sensor_awake", "ho2s_b1s1_v"),
            ("warm", "rpm"),
            ("soaked", "ect"),
        ],
    )
    def test_a_missing_precondition_is_named_and_nothing_is_judged(self, missing: str, channel: str) -> None:
        found = weigh_reading(self.CAUSES(), "hot_idle", channel, 0.0, missing=(missing,))
        assert found.verdict.kind is OPEN and PRECONDITIONS[missing] in found.verdict.reason

    def test_a_precondition_that_does_not_matter_changes_nothing(self) -> None:
        assert weigh_reading(self.CAUSES(), "hot_idle", "ect", 92.0, missing=("loads_off",)).verdict.kind is GOOD

    def test_the_answer_names_what_would_decide(self) -> None:
        assert weigh_reading(self.CAUSES(), "hot_idle", "maf", 1.6, missing=("loads_off",)).decided_by

    def test_hits_and_false_alarms_are_what_the_distance_says(self) -> None:
        """Over sizes of a meter error: alarms on sound engines stay rare, hits grow with the distance, as a decision
        between two normals has it.
        """
        causes, chance = self.CAUSES(), np.random.default_rng(0)
        band = band_of(load_rig("R1"), "wot_pull", "maf")
        assert band is not None
        alarms = np.mean(
            [
                weigh_reading(causes, "wot_pull", "maf", float(chance.normal(band.mean, band.deviation))).verdict.kind
                is FAULTY
                for _ in range(200)
            ]
        )
        hits = []
        for distance in (1.0, 3.0, 6.0, 10.0):
            values = chance.normal(band.mean - distance * band.deviation, band.deviation, 60)
            hits.append(
                np.mean(
                    [
                        weigh_reading(causes, "wot_pull", "maf", float(v)).verdict.kind in {SUSPECT, FAULTY}
                        for v in values
                    ]
                )
            )
        assert alarms <= 0.02 and hits == sorted(hits) and hits[0] < 0.45 and hits[1] > 0.6 and hits[-1] == 1.0

    def test_an_unknown_precondition_is_refused(self) -> None:
        with pytest.raises(UnknownName):
            weigh_reading(self.CAUSES(), "hot_idle", "maf", 1.8, missing=("sunny",))


class TestSignals:
    def findings(self, run, *faults: str) -> dict[str, VerdictKind]:
        rows = run(*faults).rows(run().script.span("no_load_2500"))
        return {f.measure: f.kind for f in narrowband_findings(rows["ho2s_b1s1_pin_v"].astype(float), FRAME)}

    def test_a_sound_sensor_passes_reach_speed_and_count(self, run) -> None:
        assert set(self.findings(run).values()) == {GOOD}

    @pytest.mark.parametrize(
        ("fault", "measure"),
        [
            ("ho2s_low_output:gain=0.7", "highest"),
            ("ho2s_slow:tau_s=0.5", "edge"),
            ("ho2s_ref_air_polluted:volts=0.25", "highest"),
        ],
    )
    def test_each_fault_fails_the_measure_it_should(self, run, fault: str, measure: str) -> None:
        assert self.findings(run, fault)[measure] is FAULTY

    def test_a_slow_sensor_swings_less_often(self, run) -> None:
        counts = []
        for faults in ((), ("ho2s_slow:tau_s=0.5",)):
            rows = run(*faults).rows(run().script.span("no_load_2500"))
            counts += [
                f.value for f in narrowband_findings(rows["ho2s_b1s1_v"].astype(float), FRAME) if f.measure == "count"
            ]
        assert counts[1] < 0.75 * counts[0]

    @pytest.mark.parametrize(
        ("volts", "words"),
        [(0.03, "near zero"), (0.45, "bias"), (0.9, "rich"), (2.0, "short"), (-0.2, "reference air")],
    )
    def test_a_flat_line_has_several_meanings(self, volts: float, words: str) -> None:
        found = narrowband_findings(np.full(500, volts), FRAME)
        assert len(found) == 1 and words in found[0].reason

    def test_an_edge_is_timed_between_300_and_600_millivolt(self) -> None:
        # A triangle of 1 V in 0.5 s: 0.3 V take 150 ms.
        wave = np.abs((np.arange(2000) * 0.001) % 1.0 - 0.5) * 2.0
        assert edge_time(wave, 0.001) == pytest.approx(0.15, abs=0.003)

    def test_gaps_are_found_with_their_length(self) -> None:
        signal = np.full(3000, 2.0)
        signal[1000:1015] = 0.0
        found = drop_outs(signal, 0.01, 0.5)
        assert found.kind is FAULTY and found.value == 1 and "150 ms" in found.reason
        assert drop_outs(np.full(3000, 2.0), 0.01, 0.5).kind is GOOD

    def test_a_short_gap_is_caught_by_a_fast_instrument_only(self) -> None:
        assert (
            catches(0.020, 1.0) < 0.05
            and catches(0.020, 30.0) == pytest.approx(0.6)
            and catches(0.020, 10_000.0) == 1.0
        )

    def test_a_channel_that_stands_still_among_moving_ones(self, run) -> None:
        rows = run().rows(run().script.span("wot_pull"))
        assert moves_with(rows["maf"].astype(float), rows["rpm"].astype(float)).kind is GOOD
        assert moves_with(np.full(len(rows), 3.0), rows["rpm"].astype(float)).kind is FAULTY


class TestRelations:
    def found(
        self, rig: str, readings: dict[str, float], condition: str = "koeo", **more: float
    ) -> dict[str, VerdictKind]:
        return {
            v.relation: v.kind
            for v in check_relations(
                load_rig(rig), Seen(readings, condition, more.get("soak_hours"), more.get("station_kpa"))
            )
        }

    def test_the_odd_one_of_three_is_named(self) -> None:
        verdict = check_relations(
            load_rig("R3"), Seen({"map": 101.0, "baro": 101.0, "charge_pressure": 109.0}, "koeo")
        )[0]
        assert verdict.kind is FAULTY and verdict.odd == ("charge_pressure",)

    def test_two_that_disagree_need_a_third_reading(self) -> None:
        verdict = check_relations(load_rig("R2"), Seen({"map": 93.0, "baro": 101.0}, "koeo"))[0]
        assert verdict.kind is SUSPECT and "third reading" in verdict.reason
        assert self.found("R2", {"map": 93.0, "baro": 101.0}, station_kpa=101.1)["pressures at key on"] is FAULTY

    def test_altitude_moves_all_without_a_flag(self) -> None:
        # 1500 m: 101.325·(1 − 2.25577e-5·1500)^5.25588 = 84.6 kPa.
        assert (
            self.found("R3", {"map": 85.0, "baro": 84.0, "charge_pressure": 85.0}, station_kpa=84.6)[
                "pressures at key on"
            ]
            is GOOD
        )

    def test_temperatures_need_their_soak(self) -> None:
        skewed = {"ect": 35.0, "iat": 20.0}
        assert self.found("R1", skewed, soak_hours=1.0)["temperatures after a soak"] is OPEN
        assert self.found("R1", skewed, soak_hours=9.0)["temperatures after a soak"] is SUSPECT
        assert (
            self.found("R4", skewed | {"egt_1": 20.0, "egt_2": 21.0}, soak_hours=9.0)["temperatures after a soak"]
            is FAULTY
        )

    def test_tracks_must_add_or_follow(self) -> None:
        assert self.found("R3", {"tp_volts": 0.5, "tp2_volts": 4.5})["throttle tracks"] is GOOD
        assert self.found("R3", {"tp_volts": 0.9, "tp2_volts": 4.5})["throttle tracks"] is FAULTY
        assert self.found("R3", {"app_volts": 1.5, "app2_volts": 0.75})["pedal tracks"] is GOOD

    def test_airflow_fits_pressure_speed_and_temperature(self) -> None:
        run = simulate(load_rig("R4"), load_script("workshop_day"), [], 0)
        seen = {name: run.statistic("wot_pull", name, "mean") for name in ("maf", "charge_pressure", "rpm", "iat")}
        assert self.found("R4", seen, "wot_pull")["airflow against pressure"] is GOOD
        assert self.found("R4", seen | {"maf": 0.75 * seen["maf"]}, "wot_pull")["airflow against pressure"] is SUSPECT

    def test_no_air_flows_at_standstill(self) -> None:
        assert (
            self.found("R1", {"maf": 0.02})["airflow at standstill"] is GOOD
            and self.found("R1", {"maf": 2.0})["airflow at standstill"] is FAULTY
        )


class TestSignature:
    def test_a_leak_leaves_its_band_where_the_trade_expects_it(self) -> None:
        found = signature(load_rig("R1"), [parse_fault("manifold_vacuum_leak:area_mm2=3")], (Layer.SCAN,))
        sides = {(d.condition, d.channel): d.deviations for d in found if d.stat == "mean"}
        assert sides["hot_idle", "total_trim"] > 5 and sides["hot_idle", "maf"] < -5
        assert ("wot_pull", "total_trim") not in sides

    def test_a_sound_engine_has_none_to_speak_of(self) -> None:
        found = signature(load_rig("R1"), [])
        assert max((abs(d.deviations) for d in found), default=0.0) < 3.5

    def test_the_matrix_shows_what_moves_in_which_condition(self) -> None:
        rows = {row.candidate: row.cells for row in matrix(load_rig("R1"), ("thermostat_stuck_open", "maf_under_read"))}
        assert "ect" in rows["thermostat_stuck_open"]["cruise_80"] and rows["maf_under_read"]["wot_pull"].endswith("↓")
