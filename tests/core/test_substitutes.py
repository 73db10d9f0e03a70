"""Where nothing is measured nothing is shown, or what is shown is marked as the control unit's own making."""

import numpy as np
import pytest

from leitfaden_core.channels import CHANNELS, Layer
from leitfaden_core.judge import VerdictKind, judge_reading
from leitfaden_core.rigs import load_rig, rig_channels, rig_ids
from leitfaden_core.sensors.wideband import LEAN_MA, lambda_from_current, pump_current
from leitfaden_core.simulate.actions import TurnKey
from rides import after, by_hand, drive, mean

pytestmark = pytest.mark.model


@pytest.mark.parametrize("rig", rig_ids())
def test_a_control_unit_without_supply_tells_nothing(rig: str) -> None:
    last = drive(rig).lanes[-1]
    for name in rig_channels(load_rig(rig)):
        if CHANNELS[name].layer is Layer.SCAN:
            assert np.isnan(last[name]), name
    assert np.isfinite(last["ect_true"])


class TestLostPressure:
    """R2 unplugged: 5 kPa on the screen, and stalled by the snap."""

    @pytest.mark.parametrize("rig", ["R2", "R3", "R6"])
    def test_the_engine_goes_on_by_throttle_and_speed(self, rig: str) -> None:
        lost, sound = drive(rig, "signal_open:circuit=map_signal"), drive(rig)
        for condition in ("hot_idle", "no_load_2500", "snap_throttle", "cruise_80", "wot_pull"):
            assert mean(lost, condition, "rpm") == pytest.approx(mean(sound, condition, "rpm"), rel=0.06), condition
            if condition != "snap_throttle":  # there the plate itself is on its way
                inside = mean(lost, condition, "map_true")
                assert mean(lost, condition, "map") == pytest.approx(inside, rel=0.06), condition
            assert lost.substituted(condition, "map") and not sound.substituted(condition, "map")

    def test_a_substitute_decides_nothing(self) -> None:
        lost = drive("R2", "signal_open:circuit=map_signal")
        verdict = judge_reading(lost.rig, "hot_idle", "map", mean(lost, "hot_idle", "map"), substitute=True)
        assert verdict.kind is VerdictKind.NOT_DECIDABLE and "own making" in verdict.reason
        assert judge_reading(lost.rig, "hot_idle", "map", mean(drive("R2"), "hot_idle", "map")).kind is VerdictKind.GOOD

    @pytest.mark.parametrize(("circuit", "channel"), [("ect", "ect"), ("iat", "iat")])
    def test_substitutes_of_thermistors_are_marked(self, circuit: str, channel: str) -> None:
        assert drive("R1", f"signal_open:circuit={circuit}").substituted("hot_idle", channel)

    def test_a_short_gap_of_the_coolant_signal_stalls_nobody(self) -> None:
        run = drive("R1", "connector_intermittent:circuit=ect,gap_ms=400,rate_per_min=10")
        assert run.statistic("hot_idle", "rpm", "min") > 600.0
        # The display shows the needles; the mixture follows no faster than coolant can change.
        assert run.statistic("hot_idle", "ect", "min") < -30.0
        assert run.statistic("hot_idle", "lambda_true", "min") > 0.8


def test_a_meter_without_supply_shows_nothing_and_is_not_replaced_on_the_screen() -> None:
    run = drive("R1", "signal_open:circuit=maf_supply")
    assert mean(run, "hot_idle", "maf") == 0.0
    assert mean(run, "hot_idle", "rpm") == pytest.approx(720.0, abs=30.0)


@pytest.mark.parametrize("rig", rig_ids())
def test_no_gas_is_colder_than_the_air(rig: str) -> None:
    rows = drive(rig).lanes
    assert min(float(rows[name].min()) for name in ("egt_1_true", "egt_2_true")) > 19.5


class TestWideband:
    def test_cold_or_dead_it_has_no_value(self) -> None:
        for run, condition in ((drive("R3"), "koeo"), (drive("R3", "signal_open:circuit=wideband"), "hot_idle")):
            assert np.isnan(mean(run, condition, "lambda_wideband"))
        value = mean(drive("R3", "signal_open:circuit=wideband"), "hot_idle", "lambda_wideband")
        verdict = judge_reading(load_rig("R3"), "hot_idle", "lambda_wideband", value)
        assert verdict.kind is VerdictKind.NOT_DECIDABLE and "no value" in verdict.reason

    def test_warm_with_air_in_the_pipe_it_stands_at_the_lean_end(self) -> None:
        machine = by_hand("R3")
        after(machine, 2)
        after(machine, 2, TurnKey(to="off"))
        rows = after(machine, 90, TurnKey(to="on"))
        assert rows["lambda_wideband"][-1] == pytest.approx(1.99997)
        assert rows["pump_current"][-1] == pytest.approx(2.55, abs=0.05)

    @pytest.mark.parametrize("delta", [0.001, -0.001, 0.06, -0.06])
    def test_a_shifted_curve_leaves_air_air_and_moves_the_current_with_the_gas(self, delta: float) -> None:
        moved, sound = drive("R3", f"wideband_shifted:delta_lambda={delta}"), drive("R3")
        assert mean(moved, "decel_fuel_cut", "pump_current") == pytest.approx(
            mean(sound, "decel_fuel_cut", "pump_current"), abs=0.01
        )
        # The loop holds what is shown; the gas is off by the shift.
        assert mean(sound, "cruise_80", "lambda_true") - mean(moved, "cruise_80", "lambda_true") == pytest.approx(
            delta, abs=0.012
        )

    #: Pump current over lambda of wide-range sensors of this kind, as their data sheets give it. [mA]
    @pytest.mark.parametrize(
        ("lam", "milliamps"),
        [(0.70, -1.82), (0.80, -1.11), (0.90, -0.50), (1.18, 0.33), (1.43, 0.67), (1.70, 0.94), (2.42, 1.38)],
    )
    def test_the_current_lies_near_published_curves_on_both_sides(self, lam: float, milliamps: float) -> None:
        assert pump_current.py_func(1.0 / lam) == pytest.approx(milliamps, rel=0.13)
        assert lambda_from_current.py_func(pump_current.py_func(1.0 / lam)) == pytest.approx(lam, rel=1e-9)

    def test_rich_gas_gives_more_than_its_oxygen_demand_by_the_diffusion_of_hydrogen(self) -> None:
        slope = -pump_current.py_func(1.1) / (0.195 * 0.1)
        # Roots of the molar masses: 4 for hydrogen, 1.07 for carbon monoxide, at a quarter of hydrogen.
        assert slope / LEAN_MA == pytest.approx(0.26 * (32 / 2) ** 0.5 + 0.74 * (32 / 28) ** 0.5, rel=0.01)
