"""Causes that can be defended: what explains all readings and what nothing explains, the order of work, and only causes
that this engine can have.
"""

import numpy as np
import pytest

from leitfaden_core.diagnose import (
    Taken,
    candidates,
    minutes_now,
    ranked,
    repaired,
    ruled_out,
    standing,
    table,
    take,
    test_of,
    tests_of,
    unexplained,
    until_nothing_is_left,
    way_of_a_technician,
    with_pairs,
)
from leitfaden_core.instruments import Vehicle
from leitfaden_core.rigs import load_rig, rig_ids
from vehicles import car as seeded_car

pytestmark = pytest.mark.model

test_of.__test__ = tests_of.__test__ = False  # type: ignore[attr-defined]


def car(rig: str, *faults: str) -> Vehicle:
    """A vehicle with faults, of other chance than the table's."""
    return seeded_car(rig, *faults, seed=3)


class TestFit:
    def test_a_sound_vehicle_and_true_causes_are_explained(self) -> None:
        causes = table(load_rig("R2"))
        names = ["codes", "scan.hot_idle.air", "scan.hot_idle.trims", "scan.cruise_80.air", "scan.koeo.pressures"]
        for fault, cause in (("", "nothing_wrong"), ("pressure_offset:sensor=map,kPa=-8", "pressure_offset:map")):
            vehicle = car("R2", *([fault] if fault else []))
            assert not unexplained(causes, [take(vehicle, name) for name in names], cause)

    def test_readings_of_two_faults_are_explained_by_neither_and_the_answer_says_what_is_left(self) -> None:
        causes = table(load_rig("R1"))
        both = car("R1", "fuel_pressure_low:factor=0.6,factor_full=0.6", "thermostat_stuck_open:opening_percent=100")
        names = ["codes", "scan.hot_idle.trims", "scan.cruise_80.temperatures", "gauge.fuel_gauge", "gauge.thermometer"]
        taken = [take(both, name) for name in names]
        assert not standing(causes, taken).proven
        left = unexplained(causes, taken, ranked(causes, taken)[0].candidate)
        assert left and left[0].away > 5.5
        pair = ranked(with_pairs(causes, ["fuel_pressure_low", "thermostat_stuck_open"], workers=1), taken)[0]
        assert set(pair.candidate.split("+")) == {"fuel_pressure_low", "thermostat_stuck_open"}

    def test_a_size_between_two_simulated_ones_is_simulated_before_it_explains_anything(self) -> None:
        """A sensor stuck just below the switching voltage is no polluted reference air (interpolation said so
        before).
        """
        causes = table(load_rig("R1"))
        stuck = car("R1", "ho2s_stuck:volts=0.44")
        names = ["codes", "scan.hot_idle.trims", "scan.hot_idle.oxygen", "scan.no_load_2500.oxygen", "gauge.gas"]
        taken = [take(stuck, name) for name in names]
        assert not standing(causes, [*taken, take(stuck, "part.front oxygen sensor")], "ho2s_ref_air_polluted").proven

    def test_ruled_out_names_what_separates_from_the_leading_cause(self) -> None:
        causes = table(load_rig("R1"))
        vehicle = car("R1", "fuel_pressure_low:factor=0.6,factor_full=0.6")
        taken = [
            take(vehicle, name) for name in ("codes", "scan.hot_idle.trims", "gauge.fuel_gauge", "scan.hot_idle.air")
        ]
        leading = ranked(causes, taken)[0]
        assert leading.candidate == "fuel_pressure_low"
        by = dict(ruled_out(causes, taken))
        assert (
            by["Airflow meter reads too low"].startswith("Fuel") or "fuel" in by["Airflow meter reads too low"].lower()
        )


class TestOrderOfWork:
    def cost(self, name: str, *before: str) -> float:
        conditions = {test.id: test.condition for test in tests_of(load_rig("R1"))}
        return minutes_now(test_of(load_rig("R1"), name), list(before), conditions)

    def test_a_nights_soak_is_not_three_minutes(self) -> None:
        assert self.cost("scan.koeo.temperatures") < 5.0
        assert self.cost("scan.koeo.temperatures", "codes", "scan.hot_idle.trims") > 200.0
        assert self.cost("scan.cold_idle.start", "scan.hot_idle.air") > 200.0

    def test_an_engine_is_warmed_up_once_and_one_trip_serves_two_readings(self) -> None:
        assert self.cost("scan.hot_idle.air") > self.cost("scan.hot_idle.air", "scan.hot_idle.trims")
        road = self.cost("scan.cruise_80.air", "scan.hot_idle.trims")
        assert self.cost("scan.wot_pull.air", "scan.hot_idle.trims", "scan.cruise_80.air") < road / 2.0

    def test_a_catalyst_is_no_air_duct(self) -> None:
        assert self.cost("part.catalyst") > 10.0 * self.cost("part.air duct")

    def test_the_way_is_led_by_evidence_and_ends_in_a_proof(self) -> None:
        causes = table(load_rig("R1"))
        for fault, cause in (
            ("fuel_pressure_low:factor=0.6,factor_full=0.6", "fuel_pressure_low"),
            ("signal_open:circuit=maf_signal", "signal_open:maf_signal"),
        ):
            vehicle = car("R1", fault)
            way = way_of_a_technician(causes, lambda name, car=vehicle: take(car, name))
            assert way.proven and way.end.candidate == cause, (fault, way)
            assert way.minutes < 90.0

    def test_after_a_proven_repair_the_rest_is_looked_at(self) -> None:
        causes = table(load_rig("R1"))
        both = car("R1", "signal_open:circuit=iat", "fuel_pressure_low:factor=0.6,factor_full=0.6")
        ways = until_nothing_is_left(causes, both)
        seen = {name for way in ways for name in way.end.candidate.split("+")}
        assert {"signal_open:iat", "fuel_pressure_low"} <= seen, [(w.tests, w.end) for w in ways]

    def test_a_repair_mends_its_cause_and_nothing_else(self) -> None:
        both = car("R1", "signal_open:circuit=iat", "fuel_pressure_low:factor=0.6,factor_full=0.6")
        cause = next(c for c in candidates(load_rig("R1")) if c.id == "signal_open:iat")
        assert [fault.kind for fault in repaired(both, cause).faults] == ["fuel_pressure_low"]


def test_causes_are_those_that_an_engine_can_have() -> None:
    found = {rig: {c.id for c in candidates(load_rig(rig))} for rig in rig_ids()}
    assert "dead_cylinder:spark" not in found["R4"] and "dead_cylinder:fuel" in found["R4"]
    assert not {"brake_servo_leak", "purge_stuck_open"} & found["R6"]
    assert not any(
        name.startswith(("iat_moved", "iat_shielded", "iat_table")) for names in found.values() for name in names
    )


@pytest.mark.parametrize("rig", ["R1", "R2", "R3", "R5", "R6"])
def test_spark_and_injector_of_a_dead_cylinder_are_told_apart_by_a_test(rig: str) -> None:
    """Without spark its fuel leaves unburnt: hydrocarbons in the gas."""
    causes = table(load_rig(rig), only=("dead_cylinder:spark", "dead_cylinder:fuel"))
    part = causes.slices["gauge.gas"]
    spark, fuel = (
        causes.points[causes.owner == next(k for k, c in enumerate(causes.candidates) if c.id == name)][:, part]
        for name in ("dead_cylinder:spark", "dead_cylinder:fuel")
    )
    assert (np.abs(spark[:, None] - fuel[None]) / causes.spread[part]).max(axis=2).min() > 5.0


def test_a_reading_that_no_vehicle_shows_leaves_every_cause_unproven() -> None:
    """Nonsense evidence must not end in a proof of whatever fits it least badly."""
    causes = table(load_rig("R1"))
    test = test_of(causes.rig, "scan.hot_idle.air")
    nonsense = Taken(test.id, tuple(50.0 * outcome.spread + k for k, outcome in enumerate(test.outcomes)))
    sound = [take(car("R1"), name) for name in ("codes", "scan.hot_idle.trims", "scan.cruise_80.air")]
    assert not standing(causes, [*sound, nonsense]).proven
