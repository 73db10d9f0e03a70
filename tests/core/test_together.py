"""Kept readings looked at together."""

from typing import Any

import pytest

from leitfaden_core.channels import CHANNELS
from leitfaden_core.diagnose import VICTIMS
from leitfaden_core.judge import RULES, RelationRules, VerdictKind
from leitfaden_core.live import KeptReading, judge_together
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.rigs import load_rig

pytestmark = pytest.mark.model
R1, R3 = load_rig("R1"), load_rig("R3")


def on_list(channel_id: str, value: float, condition: str = "koeo", **more: Any) -> KeptReading:
    return KeptReading(
        instrument="scan_tool",
        place=channel_id,
        condition=condition,
        what=channel_id,
        label=CHANNELS[channel_id].label,
        value=value,
        **more,
    )


class TestTogether:
    """Readings that must agree, and what would tell most after them."""

    def test_a_pressure_that_the_station_contradicts_is_the_odd_one(self) -> None:
        found = judge_together(R3, [on_list("map", 93.0), on_list("charge_pressure", 101.0)]).relations
        assert [entry.verdict.kind for entry in found if "pressures" in entry.verdict.relation] == [VerdictKind.FAULTY]
        (agreeing,) = [entry.verdict for entry in found if "pressures" in entry.verdict.relation]
        assert agreeing.odd == ("map",)

    def test_only_readings_of_one_condition_are_held_against_each_other_and_the_last_one_counts(self) -> None:
        apart = judge_together(R3, [on_list("ect", 20.0, stood_h=12.0), on_list("iat", 60.0, "hot_idle", stood_h=0.0)])
        assert apart.relations == ()
        again = [
            on_list("ect", 80.0, stood_h=12.0),
            on_list("iat", 20.0, stood_h=12.0),
            on_list("ect", 21.0, stood_h=12.0),
        ]
        (verdict,) = [entry.verdict for entry in judge_together(R3, again).relations]
        assert verdict.kind is VerdictKind.GOOD

    def test_temperatures_of_an_engine_that_has_just_run_decide_nothing(self) -> None:
        both = [on_list("ect", 88.0, stood_h=0.2), on_list("iat", 25.0, stood_h=0.2)]
        (verdict,) = [entry.verdict for entry in judge_together(R1, both).relations]
        assert verdict.kind is VerdictKind.NOT_DECIDABLE

    def test_values_and_limits_are_told_in_the_persons_units(self) -> None:
        both = [on_list("ect", 20.0, stood_h=12.0), on_list("iat", 27.0, stood_h=12.0)]
        (found,) = judge_together(R1, both, units=UnitSystem.IMPERIAL).relations
        assert "ECT 68.0 °F" in found.verdict.reason and "limit 9.0 °F" in found.verdict.reason

    def test_the_schools_limits_hold(self) -> None:
        both = [on_list("ect", 20.0, stood_h=12.0), on_list("iat", 27.0, stood_h=12.0)]
        wide = RelationRules(temperatures_k=10.0)
        assert [r.verdict.kind for r in judge_together(R1, both).relations] == [VerdictKind.SUSPECT]
        assert [r.verdict.kind for r in judge_together(R1, both, wide).relations] == [VerdictKind.GOOD]

    def test_what_would_tell_most_follows_what_was_read(self) -> None:
        """A manifold pressure that the others contradict asks for the pump at that sensor; a lean trim for the air."""
        odd = [on_list("map", 88.0), on_list("charge_pressure", 101.0), on_list("baro", 101.0)]
        assert "pump.map" in {test.test for test in judge_together(R3, odd).tests}
        lean = {test.test for test in judge_together(R1, [on_list("total_trim", 18.0, "hot_idle")]).tests}
        assert "scan.hot_idle.air" in lean and not any(name.startswith("pump.") for name in lean)

    def test_a_list_that_was_read_in_full_is_not_proposed_again(self) -> None:
        every = [on_list(name, CHANNELS[name].step, "koeo", stood_h=12.0) for name in ("ect", "iat")]
        assert "scan.koeo.temperatures" not in {test.test for test in judge_together(R1, every).tests}

    def test_a_spoilt_part_among_the_causes_is_spoken_of_as_the_school_counts_victims(self) -> None:
        """Too little air told at full load and somewhat too little at idle: a dirty meter, whose air filter let dirt
        by.
        """
        dirty = [on_list("maf", 47.4, "wot_pull"), on_list("total_trim", 7.5, "hot_idle")]
        assert "counts 50 of 100" in judge_together(R1, dirty).advice
        (rule,) = (rule for rule in RULES if rule.id == "victims")
        assert rule.usual == 100.0 * VICTIMS
        assert "counts 20 of 100" in judge_together(R1, dirty, victims=0.2).advice
        assert (
            judge_together(R1, [on_list("maf", 65.0, "wot_pull"), on_list("total_trim", 0.5, "hot_idle")]).advice == ""
        )

    def test_what_no_list_has_asks_for_no_test(self) -> None:
        needle = KeptReading(
            instrument="vacuum_gauge",
            place="manifold",
            condition="hot_idle",
            what="vacuum_gauge",
            label="vacuum gauge",
            value=55.0,
        )
        assert judge_together(R1, [needle]).tests == ()
