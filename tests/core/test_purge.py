"""Canister purge in both fuelling schools, its valve's wire, and what a stuck valve shows."""

from importlib import resources

import pytest

from leitfaden_core.errors import BadDocument
from leitfaden_core.faults import parse_fault
from leitfaden_core.monitors import trouble_codes
from leitfaden_core.rigs import load_rig, parse_rig
from leitfaden_core.scripts import load_script
from leitfaden_core.simulate import Run, cached_run

pytestmark = pytest.mark.model

DAY = load_script("workshop_day")


def drive(rig: str, *faults: str) -> Run:
    return cached_run(load_rig(rig), DAY, [parse_fault(text) for text in faults])


def mean(run: Run, condition: str, channel: str) -> float:
    return run.statistic(condition, channel, "mean")


@pytest.mark.parametrize("rig_id", ["R1", "R2", "R3"])
class TestSound:
    def test_it_purges_warm_off_idle_in_closed_loop_only(self, rig_id: str) -> None:
        run = drive(rig_id)
        assert mean(run, "cruise_80", "purge_duty") > 10.0 and mean(run, "cruise_80", "purge_true") > 0.01
        for condition in ("cold_idle", "hot_idle", "wot_pull"):
            assert mean(run, condition, "purge_true") == 0.0

    def test_its_vapour_does_not_show_in_the_trims(self, rig_id: str) -> None:
        without = drive(rig_id, "purge_stuck_closed")
        assert abs(mean(drive(rig_id), "cruise_80", "total_trim") - mean(without, "cruise_80", "total_trim")) < 3.0

    def test_a_valve_that_stays_shut_sets_no_code(self, rig_id: str) -> None:
        run = drive(rig_id, "purge_stuck_closed")
        assert mean(run, "cruise_80", "purge_duty") > 10.0 and mean(run, "cruise_80", "purge_true") == 0.0
        assert trouble_codes(run) == []

    def test_a_broken_wire_sets_its_circuit_code_and_shuts_the_valve(self, rig_id: str) -> None:
        run = drive(rig_id, "signal_open:circuit=purge_valve")
        assert "P0443" in trouble_codes(run) and mean(run, "cruise_80", "purge_true") == 0.0

    def test_a_grounded_wire_opens_the_valve_at_idle(self, rig_id: str) -> None:
        assert mean(drive(rig_id, "signal_short_to_ground:circuit=purge_valve"), "hot_idle", "purge_true") > 0.05


class TestStuckOpen:
    def test_vapour_makes_rich_and_an_empty_canister_leans_a_metered_engine(self) -> None:
        rich, empty = (f"purge_stuck_open:area_mm2=3,fuel_fraction={share}" for share in (0.15, 0.0))
        assert mean(drive("R1", rich), "hot_idle", "total_trim") < -12.0
        assert mean(drive("R1", empty), "hot_idle", "total_trim") > 12.0
        # Pressure counts the air that a meter misses.
        assert abs(mean(drive("R2", empty), "hot_idle", "total_trim")) < 5.0

    def test_it_fades_with_airflow(self) -> None:
        run = drive("R1", "purge_stuck_open:area_mm2=3,fuel_fraction=0.15")
        assert abs(mean(run, "cruise_80", "total_trim")) < 0.4 * abs(mean(run, "hot_idle", "total_trim"))


@pytest.mark.parametrize(
    ("rig_id", "section", "sentence"),
    [
        (
            "R6",
            "purge: {purge_area: 1.0e-6, purge_vapour: 0.06}",
            "section purge needs closed-loop mixture control and an idle of its own",
        ),
        (
            "R4",
            "secondary_air: {pump_volume: 9.0e-5, pump_until: 313}",
            "section secondary_air needs closed-loop mixture control",
        ),
    ],
)
def test_a_section_needs_what_it_works_with(rig_id: str, section: str, sentence: str) -> None:
    text = resources.files("leitfaden_core.rigs").joinpath("data", f"{rig_id}.yaml").read_text(encoding="utf-8")
    with pytest.raises(BadDocument, match=sentence):
        parse_rig(f"{text}\n{section}\n")
