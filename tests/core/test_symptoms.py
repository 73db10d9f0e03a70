"""What a driver notices: every symptom comes from switching a fault on, and the way back lists all that would cause
it.
"""

import pytest

from leitfaden_core.diagnose import ranked, table
from leitfaden_core.errors import MissingPart, UnknownName
from leitfaden_core.expect import individual_engine
from leitfaden_core.faults import parse_fault
from leitfaden_core.judge import STATES, after_complaint, causes_of, noticed, symptoms
from leitfaden_core.judge.knock import autoignition
from leitfaden_core.rigs import load_rig, rig_ids
from leitfaden_core.scripts import load_script
from leitfaden_core.simulate import Run, cached_run

pytestmark = pytest.mark.model

DAY = load_script("workshop_day")


def told(rig: str, *faults: str) -> set[str]:
    return {
        f"{entry.symptom}:{entry.state}" for entry in noticed(load_rig(rig), [parse_fault(text) for text in faults])
    }


def drive(rig: str, *faults: str) -> Run:
    return cached_run(load_rig(rig), DAY, [parse_fault(text) for text in faults])


class TestFromFaultToSymptom:
    #: What the trade expects of each: fault, what must be noticed, what must not.
    @pytest.mark.parametrize(
        ("rig", "fault", "there", "absent"),
        [
            (
                "R2",
                "map_stuck:kPa=101",
                {"no_start:cold_start", "black_smoke_start:cold_start"},
                {"high_idle:hot_idle"},
            ),
            ("R1", "ect_offset:K=-40", {"high_idle:hot_idle", "thirst:hot_idle"}, {"no_start:cold_start"}),
            (
                "R1",
                "ho2s_stuck:volts=0.1",
                {"thirst:cruise", "black_smoke:full_load", "lamp:hot_idle"},
                {"sluggish:full_load"},
            ),
            (
                "R1",
                "dead_cylinder:cause=spark,cylinder=2",
                {"rough_idle:hot_idle", "sluggish:full_load"},
                {"high_idle:hot_idle"},
            ),
            ("R1", "thermostat_stuck_open:opening_percent=60", {"stays_cold:cruise"}, {"rough_idle:hot_idle"}),
            (
                "R4",
                "egr_stuck_open:opening_percent=50",
                {"reduced_power:full_load", "black_smoke:full_load"},
                {"no_start:cold_start"},
            ),
            ("R5", "base_timing_off:deg=15", {"knock:full_load"}, {"lamp:hot_idle"}),
            ("R2", "iat_offset:K=3", set(), {f"{s.id}:{state}" for s in symptoms for state in s.states}),
        ],
    )
    def test_it_is_noticed_where_the_trade_expects_it(
        self, rig: str, fault: str, there: set[str], absent: set[str]
    ) -> None:
        found = told(rig, fault)
        assert there <= found and not absent & found

    @pytest.mark.parametrize("rig_id", rig_ids())
    @pytest.mark.parametrize("engine", [41, 42, 43])
    def test_a_sound_engine_with_its_own_tolerances_gives_nothing_to_notice(self, rig_id: str, engine: int) -> None:
        rig = load_rig(rig_id)
        assert noticed(rig, [], engine, individual_engine(rig, engine)) == []

    def test_each_finding_has_the_numbers_that_it_rests_on(self) -> None:
        found = noticed(load_rig("R1"), [parse_fault("ect_offset:K=-40")])
        fast = next(entry for entry in found if (entry.symptom, entry.state) == ("high_idle", "hot_idle"))
        assert fast.sound == pytest.approx(720, abs=15) and fast.faulty > fast.sound + 120
        assert all(entry.state in STATES and entry.measure for entry in found)


@pytest.mark.slow
class TestFromSymptomToFault:
    def test_black_smoke_cold_and_no_start_lists_sensors_and_other_causes(self) -> None:
        found = causes_of(load_rig("R2"), ["black_smoke_start:cold_start"])
        ids = {cause.candidate.split(":")[0] for cause in found}
        assert {"map_stuck", "ect_offset", "injector_leaking"} <= ids
        # Nothing is ranked: the order is that of the names.
        assert [cause.label for cause in found] == sorted(cause.label for cause in found)

    def test_more_words_leave_fewer_causes_and_those_really_do_it(self) -> None:
        words = ["black_smoke_start:cold_start", "no_start:cold_start"]
        few, many = causes_of(load_rig("R2"), words), causes_of(load_rig("R2"), words[:1])
        assert {cause.candidate for cause in few} < {cause.candidate for cause in many}
        assert "map_stuck" in {cause.candidate for cause in few}

    def test_what_the_driver_tells_is_evidence_before_any_test(self) -> None:
        causes, words = table(load_rig("R2")), ["black_smoke_start:cold_start", "no_start:cold_start"]
        before = {entry.candidate: entry.probability for entry in ranked(causes, [])}
        after = {entry.candidate: entry.probability for entry in ranked(after_complaint(causes, words), [])}
        bring = {cause.candidate for cause in causes_of(load_rig("R2"), words)}
        assert all(after[name] > before[name] for name in bring)
        assert after["nothing_wrong"] < before["nothing_wrong"]
        assert sum(after.values()) == pytest.approx(1.0)
        # Ten times less likely than one that does: never excluded.
        other = next(name for name in before if name not in bring and name != "nothing_wrong")
        ratio = (after["map_stuck"] / before["map_stuck"]) / (after[other] / before[other])
        assert ratio == pytest.approx(10.0)

    def test_what_nobody_knows_is_one_sentence(self) -> None:
        with pytest.raises(UnknownName, match="known: black_smoke"):
            causes_of(load_rig("R2"), ["smells_odd"])
        with pytest.raises(UnknownName, match="for the symptom thirst"):
            causes_of(load_rig("R2"), ["thirst:crank"])
        with pytest.raises(MissingPart):
            causes_of(load_rig("R2"), [])


class TestKnock:
    def test_earlier_spark_hotter_air_and_more_boost_bring_it_nearer(self) -> None:
        span = DAY.span("wot_pull")

        def peak(rig: str, *faults: str) -> float:
            return float(autoignition(drive(rig, *faults), span).max())

        sound = peak("R5")
        assert (
            peak("R5", "base_timing_off:deg=10") > 1.15 * sound > sound > 1.15 * peak("R5", "base_timing_off:deg=-10")
        )
        # The fuel cut lets the charge stay high for tenths of a second only.
        assert peak("R3", "wastegate_stuck:opening_percent=0") > 1.02 * peak("R3")

    def test_light_load_is_far_from_it(self) -> None:
        run = drive("R1")
        assert autoignition(run, DAY.span("no_load_2500")).max() < 0.3 * autoignition(run, DAY.span("wot_pull")).max()
