"""Inputs that the control unit can check against each other or against their limits: two tracks, reference, rail."""

import numpy as np
import pytest

from leitfaden_core.rigs import load_rig
from rides import codes, drive, mean

pytestmark = pytest.mark.model

#: Idle speed of a warm engine that runs as it should, and what a limping one may have more. [rev/min]
LIMPS_WITHIN = 450.0


class TestPedal:
    """Sensor ground 30 ohm: 4238 rev/min at idle before, and no code; ground open: full pedal."""

    @pytest.mark.parametrize("rig", ["R3", "R4"])
    @pytest.mark.parametrize(
        "fault", ["ground_resistance:circuit=sensor_ground,ohms=30", "signal_open:circuit=sensor_ground"]
    )
    def test_a_ground_that_lifts_both_tracks_ends_in_limp_idle_with_its_code(self, rig: str, fault: str) -> None:
        run = drive(rig, fault)
        assert run.statistic("hot_idle", "rpm", "max") < load_rig(rig).control.idle_target + LIMPS_WITHIN
        assert "P2138" in codes(rig, fault)

    @pytest.mark.parametrize("rig", ["R3", "R4"])
    @pytest.mark.parametrize(
        "fault",
        [
            "signal_open:circuit=app_signal",
            "signal_short_to_ground:circuit=app_signal",
            "signal_short_to_5v:circuit=app_signal",
            "signal_short_to_battery:circuit=app_signal",
            "app_shifted:percent=8",
        ],
    )
    def test_a_track_beyond_its_limits_never_drives_the_engine(self, rig: str, fault: str) -> None:
        rows = drive(rig, fault).lanes
        idling = rows[(rows["running"] > 0.5) & (rows["pedal_true"] < 1.0) & (rows["kmh"] < 1.0)]
        assert idling["pedal_seen"].max() < 0.1

    def test_the_second_track_has_codes_of_its_own(self) -> None:
        assert {"P2122", "P2127"} <= set(codes("R3", "reference_pulled_down:volts=0.8"))


class TestThrottle:
    def test_tracks_are_compared_with_the_reference_that_the_control_unit_can_measure(self) -> None:
        # Pulled down at its own pin it is known, and has its code; lost in the harness it is not, and the tracks
        # disagree.
        assert codes("R3", "reference_pulled_down:volts=4.5") == ["P0642"]
        lost = codes("R3", "series_resistance:circuit=ref_5v,ohms=20")
        assert "P2135" in lost and "P0642" not in lost

    def test_what_the_unit_measures_is_the_reference_before_the_wire(self) -> None:
        rows = drive("R3", "series_resistance:circuit=ref_5v,ohms=20").lanes[500]
        amps = (5.0 - rows["vref_v"]) / 20.3
        assert rows["reference_seen"] == pytest.approx(5.0 - 0.3 * amps, abs=0.005)


class TestRailPressure:
    """Signal lost on R4: 373 Nm against 338 before; shorted to battery 591 MPa on the screen."""

    @pytest.mark.parametrize(
        "fault", ["signal_open:circuit=rail_signal", "signal_short_to_battery:circuit=rail_signal"]
    )
    def test_a_lost_signal_costs_torque_and_shows_what_is_reckoned_with(self, fault: str) -> None:
        lost, sound = drive("R4", fault), drive("R4")
        assert 0.4 < mean(lost, "wot_pull", "torque_true") / mean(sound, "wot_pull", "torque_true") < 0.7
        assert lost.lanes["rail_pressure"][lost.lanes["powered"] > 0.5].max() < 180.0
        assert lost.substituted("wot_pull", "rail_pressure")
        assert len(codes("R4", fault)) == 1

    def test_no_input_reads_beyond_its_converter(self) -> None:
        rows = drive("R4", "signal_short_to_battery:circuit=dpf_dp_signal").lanes
        top = mean(drive("R4", "signal_short_to_5v:circuit=dpf_dp_signal"), "hot_idle", "dpf_dp")
        assert rows["dpf_dp"][rows["powered"] > 0.5].max() == pytest.approx(top, abs=1.0)


class TestPotentiometer:
    def test_with_supply_and_ground_exchanged_it_runs_backwards_and_leaves_the_reference_alone(self) -> None:
        run, sound = drive("R1", "pins_swapped:circuit=tp_signal,pins=supply_and_ground"), drive("R1")
        for condition in ("hot_idle", "wot_pull"):
            assert mean(run, condition, "tp_volts") == pytest.approx(5.0 - mean(sound, condition, "tp_volts"), abs=0.05)
        assert np.abs(run.lanes["vref_v"][:500] - sound.lanes["vref_v"][:500]).max() < 0.01

    def test_electronics_take_the_reference_with_them(self) -> None:
        assert mean(drive("R3", "pins_swapped:circuit=tp_signal,pins=supply_and_ground"), "koeo", "vref_v") < 1.0

    def test_a_wiper_on_the_ground_wire_reads_nothing_where_electronics_read_all(self) -> None:
        assert mean(drive("R1", "pins_swapped:circuit=tp_signal,pins=signal_and_ground"), "koeo", "tp_volts") < 0.1
        assert mean(drive("R2", "pins_swapped:circuit=map_signal,pins=signal_and_ground"), "koeo", "map_volts") > 4.8
