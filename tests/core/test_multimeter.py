"""What a multimeter and the words around instruments must not get wrong before a class."""

import pytest

from leitfaden_core.cli.commands import main
from leitfaden_core.diagnose import tests_of
from leitfaden_core.faults import fault_kinds, parse_fault
from leitfaden_core.instruments import Observation, Vehicle, instruments, measure
from leitfaden_core.rigs import load_rig, rig_ids

pytestmark = pytest.mark.model

tests_of.__test__ = False  # type: ignore[attr-defined]
METER = instruments.get("multimeter")


def reads(rig: str, place: str, condition: str = "koeo", **options: str) -> Observation:
    """What it shows on a sound rig."""
    return measure(METER, Vehicle(load_rig(rig), (), 1), place, condition, options)


class TestMultimeter:
    @pytest.mark.parametrize("rig", rig_ids())
    def test_with_the_key_off_the_battery_still_has_its_voltage_and_nothing_else(self, rig: str) -> None:
        """It showed 0 V at the battery before."""
        assert 12.0 < reads(rig, "battery plus/battery minus", key="off").shown[0].value < 12.9  # type: ignore[operator]
        assert reads(rig, "reference/battery minus", key="off").shown[0].value == pytest.approx(0.0, abs=0.01)

    def test_ohms_across_a_battery_are_none(self) -> None:
        seen = reads("R1", "battery plus/battery minus", key="off", dial="ohm")
        assert seen.shown[0].text == "not a resistance"

    @pytest.mark.parametrize(
        ("place", "blown"), [("battery plus/battery minus", True), ("iat.signal/iat.ground", False)]
    )
    def test_its_fuse_goes_by_the_current_not_by_the_jack(self, place: str, blown: bool) -> None:
        assert (reads("R1", place, jack="A").shown[0].text == "fuse blown") is blown

    def test_duty_is_seen_on_the_drivers_side_only(self) -> None:
        minus = reads("R3", "wideband.heater minus/battery minus", "hot_idle", dial="duty").shown[0]
        assert minus.value is not None and 5.0 < minus.value < 100.0
        assert reads("R3", "wideband.heater plus/battery minus", "hot_idle", dial="duty").shown[0].value is None

    def test_min_and_max_are_between_the_tips(self) -> None:
        """The black tip counts: against a ground that lies higher, everything reads less."""
        lifted = Vehicle(load_rig("R1"), (parse_fault("ground_resistance:circuit=sensor_ground,ohms=30"),), 1)
        held = {"hold": "min/max"}
        body, ground, turned = (
            measure(METER, lifted, tips, "hot_idle", held).shown
            for tips in ("unit.ect/battery minus", "unit.ect/sensor ground", "sensor ground/unit.ect")
        )
        assert ground[0].value < body[0].value - 0.1  # type: ignore[operator]
        assert turned[1].value == pytest.approx(-ground[0].value, abs=0.002)  # type: ignore[operator]

    def test_continuity_on_a_live_circuit_warns_and_shows_what_it_would(self) -> None:
        live = reads("R1", "engine block/battery minus", dial="continuity")
        assert live.shown[0].text == "beeps" and any("key off" in note.lower() for note in live.notes)
        assert "silent or beeping" in reads("R1", "unit.5v/battery minus", dial="continuity").shown[0].text
        apart = reads("R1", "ect.signal/iat.signal", dial="continuity", key="off").shown[0]
        assert apart.text == "silent"


class TestWords:
    @pytest.mark.parametrize("rig", rig_ids())
    def test_no_test_shows_a_placeholder(self, rig: str) -> None:
        told = [text for test in tests_of(load_rig(rig)) for text in (test.label, *(o.label for o in test.outcomes))]
        assert not [text for text in told if "{" in text or "}" in text]

    def test_a_construction_is_no_cause_and_no_part_to_exchange(self) -> None:
        built = {kind.part for kind in fault_kinds if kind.construction}
        assert built
        assert not built & {test.id.removeprefix("part.") for test in tests_of(load_rig("R2"))}

    def test_every_use_of_an_instrument_says_what_to_mind(self, capsys: pytest.CaptureFixture[str]) -> None:
        assert main(["measure", "R1", "smoke_generator", "behind the throttle"]) == 0
        shown = capsys.readouterr().out
        assert "no ignition source" in shown and shown.count("caution") >= 2

    def test_a_count_of_swings_is_no_voltage(self, capsys: pytest.CaptureFixture[str]) -> None:
        """ "0.700 V for 0.70 Hz" before."""
        assert main(["judge", "R1", "ho2s_b1s1_v:freq=0.70 Hz", "--condition", "hot_idle"]) == 0
        shown = capsys.readouterr().out
        assert "0.70 Hz" in shown and "0.700 V" not in shown

    def test_one_answer_holds_one_measure_of_evidence(self, capsys: pytest.CaptureFixture[str]) -> None:
        assert main(["judge", "R1", "maf=1.4 g/s", "--condition", "hot_idle"]) == 0
        assert capsys.readouterr().out.count("times worse") == 1
