"""Two variants with other sensors, and instruments that find what was missed: leaks by place and regime, wideband on a
diesel, tracer gas, pins by number, codes of two digits.
"""

import numpy as np
import pytest

from leitfaden_core.errors import UnknownName
from leitfaden_core.faults import parse_fault
from leitfaden_core.instruments import Observation, Vehicle, instruments, measure
from leitfaden_core.rigs import load_rig
from leitfaden_core.simulate import cached_run
from rides import DAY, codes, drive, mean

pytestmark = pytest.mark.model


class TestLeaksByPlaceAndRegime:
    """N095: on a metered turbocharged petrol engine the place and the pressure there decide the sign."""

    def trims(self, rig: str, fault: str) -> tuple[float, float, float]:
        run = drive(rig, fault)
        wot = mean(run, "wot_pull", "lambda_true") / mean(drive(rig), "wot_pull", "lambda_true")
        return mean(run, "hot_idle", "total_trim"), mean(run, "cruise_80", "total_trim"), wot

    def test_behind_the_throttle_lean_at_idle_and_rich_in_boost(self) -> None:
        idle, cruise, boost = self.trims("R3-MAF", "manifold_vacuum_leak:area_mm2=3")
        assert idle > 10.0 > cruise
        assert boost < 0.999

    def test_between_compressor_and_throttle_little_at_idle_and_rich_in_boost(self) -> None:
        idle, _cruise, boost = self.trims("R3-MAF", "boost_leak:area_mm2=40")
        assert abs(idle) < 3.0
        assert boost < 0.97 or mean(drive("R3-MAF", "boost_leak:area_mm2=40"), "wot_pull", "total_trim") < -8.0

    def test_before_the_compressor_lean_throughout(self) -> None:
        run = drive("R3-MAF", "air_leak_before_throttle:area_mm2=300")
        assert all(mean(run, where, "total_trim") > 8.0 for where in ("hot_idle", "cruise_80"))
        assert mean(run, "wot_pull", "lambda_true") > mean(drive("R3-MAF"), "wot_pull", "lambda_true") - 0.02

    def test_on_its_speed_density_sister_the_mixture_holds_and_boost_falls_short(self) -> None:
        leak = "boost_leak:area_mm2=300"
        bad, sound = drive("R3", leak), drive("R3")
        assert mean(bad, "wot_pull", "charge_pressure") < mean(sound, "wot_pull", "charge_pressure") - 2.0
        assert mean(bad, "cruise_80", "total_trim") == pytest.approx(mean(sound, "cruise_80", "total_trim"), abs=3.0)

    def test_the_sound_engine_has_nothing_to_say(self) -> None:
        assert codes("R3-MAF") == []
        for where in ("hot_idle", "cruise_80"):
            flow = mean(drive("R3-MAF"), where, "maf")
            assert flow == pytest.approx(mean(drive("R3-MAF"), where, "maf_true"), rel=0.03)


class TestWidebandOnADiesel:
    """N029: lambda from about 1.3 at full load to far above 4 at idle is ordinary work there."""

    def test_lambda_lies_far_above_one_and_is_good(self) -> None:
        run = drive("R4-WIDE")
        assert 4.0 < mean(run, "hot_idle", "lambda_wideband") < 8.0
        assert 1.6 < mean(run, "cruise_80", "lambda_wideband") < 3.0
        assert 1.15 < mean(run, "wot_pull", "lambda_wideband") < 1.5
        assert codes("R4-WIDE") == []

    def test_it_says_what_fuel_and_fresh_air_say(self) -> None:
        """Second way of knowing: air over fuel from the meter and the commanded mass, no recirculation at full load."""
        rig, run = load_rig("R4-WIDE"), drive("R4-WIDE")
        strokes = mean(run, "wot_pull", "rpm") / 60.0 * rig.engine.cylinders / 2.0
        fuel = mean(run, "wot_pull", "fuel_mass") * 1e-6 * strokes
        by_mass = mean(run, "wot_pull", "maf") / 1000.0 / fuel / rig.engine.afr_stoich
        assert mean(run, "wot_pull", "lambda_wideband") == pytest.approx(by_mass, rel=0.04)

    def test_a_restricted_meter_shows_there_what_no_trim_could(self) -> None:
        bad, sound = drive("R4-WIDE", "maf_under_read:gain=0.8"), drive("R4-WIDE")
        # Less believed air: less recirculation at part load, so more fresh air for the same fuel.
        assert mean(bad, "cruise_80", "lambda_wideband") > 1.08 * mean(sound, "cruise_80", "lambda_wideband")


METER = instruments.get("multimeter")


def shown(rig: str, fault: str, instrument: str, place: str, condition: str = "hot_idle") -> Observation:
    """What an instrument shows on a rig with a fault, or with none."""
    vehicle = Vehicle(load_rig(rig), (parse_fault(fault),) if fault else (), 3)
    return measure(instruments.get(instrument), vehicle, place, condition)


class TestTracerGas:
    @pytest.mark.parametrize("rig", ["R1", "R2"])
    @pytest.mark.parametrize("area", [3, 6])
    def test_it_reacts_however_the_engine_knows_its_air(self, rig: str, area: int) -> None:
        """On R2, whose trims hardly feel a leak, it stayed silent before: yet the gas takes the place of oxygen."""
        there = shown(rig, f"manifold_vacuum_leak:area_mm2={area}", "tracer_gas", "small vacuum hoses")
        assert there.shown[0].text == "reacts"
        assert there.shown[0].value < -1.5

    def test_a_tight_joint_does_not_react(self) -> None:
        for fault in ("", "maf_under_read:gain=0.8", "exhaust_leak_before_sensor:area_mm2=20"):
            assert shown("R1", fault, "tracer_gas", "small vacuum hoses").shown[0].text == "no reaction"


class TestPinsByNumber:
    def test_the_order_differs_from_vehicle_to_vehicle_and_each_number_is_one_pin(self) -> None:
        """N112: whoever assumes that the middle pin is the signal fails on some."""
        middle = set()
        for seed in range(12):
            vehicle = Vehicle(load_rig("R2"), (), seed)
            volts = [
                round(measure(METER, vehicle, f"map.{k}/battery minus", "koeo").shown[0].value, 1) for k in (1, 2, 3)
            ]
            named = [
                round(measure(METER, vehicle, f"map.{name}/battery minus", "koeo").shown[0].value, 1)
                for name in ("supply", "signal", "ground")
            ]
            assert sorted(volts) == sorted(named)
            middle.add(named.index(volts[1]))
        assert len(middle) > 1

    def test_a_number_that_the_plug_does_not_have_is_named(self) -> None:
        with pytest.raises(UnknownName, match=r"map\.9"):
            measure(METER, Vehicle(load_rig("R2"), (), 1), "map.9/battery minus", "koeo")


def test_a_control_unit_from_before_the_standard_gives_two_digits() -> None:
    told = shown("R5", "signal_open:circuit=ect", "codes", "control unit").shown
    assert told
    for entry in told:
        word, number = entry.label.split()
        assert word == "code"
        assert 10 < int(number) < 100
    assert shown("R1", "signal_open:circuit=ect", "codes", "control unit").shown[0].label.startswith("P0")


def test_the_scope_shows_each_cylinders_part_in_the_crankshafts_speed() -> None:
    """Relative compression and power balance in one trace: a dead cylinder digs a hole once per cycle."""
    dead = shown("R1", "dead_cylinder:cause=spark,cylinder=3", "oscilloscope", "crank speed")
    sound = shown("R1", "", "oscilloscope", "crank speed")
    swings = [float(np.ptp(seen.traces[0].values)) for seen in (dead, sound)]
    assert swings[0] > 2.0 * swings[1]
    assert dead.shown[0].quantity == "speed"


def test_the_tailpipe_knows_what_misfire_has_done_to_the_catalyst() -> None:
    """The analyser reckoned with the surface of a new catalyst while misfire was melting it."""
    run = cached_run(load_rig("R1"), DAY, [parse_fault("dead_cylinder:cause=spark,cylinder=2")], 0, None)
    left = run.lanes["catalyst_true"].astype(float)
    assert left[0] == pytest.approx(100.0)
    assert np.nanmin(left) < 99.9
    assert (np.diff(left) <= 1e-6).all()


def test_the_rail_is_set_for_the_fuel_that_the_smoke_limit_leaves() -> None:
    """A meter that reads low cuts the fuel of full load; the pump need not press for more than is injected."""
    bad, sound = drive("R4", "maf_under_read:gain=0.6"), drive("R4")
    assert mean(bad, "wot_pull", "fuel_mass") < 0.85 * mean(sound, "wot_pull", "fuel_mass")
    assert mean(bad, "wot_pull", "rail_pressure") < mean(sound, "wot_pull", "rail_pressure") - 5.0


def test_a_gap_in_the_coolant_signal_is_shown_and_hardly_moves_the_mixture() -> None:
    """The display fell silent over gaps before; now it shows needles down to the end of its scale, and the engine
    runs on.
    """
    bad = drive("R1", "connector_intermittent:circuit=ect,rate_per_min=20,gap_ms=300")
    needles = bad.lanes["ect"][DAY_HOT]
    assert np.nanmin(needles) < -30.0
    assert bad.lanes["running"][DAY_HOT].min() > 0.5


DAY_HOT = slice(*(round(100 * t) for t in DAY.span("hot_idle")))
