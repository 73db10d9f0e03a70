"""Good against faulty: order of what is seen, smallest sizes, trim steps, places of a leak."""

import pytest

from leitfaden_core.diagnose.candidates import candidate_of
from leitfaden_core.errors import MissingPart
from leitfaden_core.expect import load_sheet
from leitfaden_core.faults import FaultSpec, fault_kinds
from leitfaden_core.judge import Column, by_sight, leak_places, signature, smallest_sizes, trim_steps
from leitfaden_core.rigs import load_rig
from leitfaden_core.scripts import script_with
from leitfaden_core.simulate import stored_statistics

pytestmark = pytest.mark.lessons

LEAK = FaultSpec(kind="manifold_vacuum_leak", params={"area_mm2": 2.0})


def shown(columns: list[Column], label: str, channel: str) -> dict[str, float | None]:
    column = next(entry for entry in columns if entry.label == label)
    return {cell.condition: cell.value for cell in column.cells if cell.channel == channel}


def test_what_a_technician_can_see_comes_first_and_each_value_once() -> None:
    found = by_sight(signature(load_rig("R1"), [LEAK]))
    order = [departure.layer for departure in found]
    assert order == sorted(order, key=["scan", "pin", "truth"].index) and set(order) == {"scan", "pin", "truth"}
    assert len({(d.condition, d.channel) for d in found}) == len(found)
    first = [d for d in found if d.layer == "scan"]
    assert [abs(d.deviations) for d in first] == sorted((abs(d.deviations) for d in first), reverse=True)


class TestSmallestSize:
    def test_a_leak_is_told_at_idle_far_sooner_than_at_load(self) -> None:
        told = {entry.condition: entry for entry in smallest_sizes(load_rig("R1"), LEAK)}
        idle, cruise = told["hot_idle"], told["cruise_80"]
        assert idle.share is not None and (cruise.share is None or idle.share < cruise.share)

    @pytest.mark.parametrize(
        ("rig", "fault"), [("R1", LEAK), ("R1", FaultSpec(kind="maf_under_read", params={"gain": 0.85}))]
    )
    def test_the_size_named_can_be_told_and_half_of_it_cannot(self, rig: str, fault: FaultSpec) -> None:
        """The size is simulated anew: what the interpolation promised is there, and half of it is not."""
        known = load_rig(rig)
        told = next(entry for entry in smallest_sizes(known, fault) if entry.condition == "hot_idle")
        assert told.share is not None
        band = load_sheet(known).bands["hot_idle", told.channel, "mean"]

        def away(share: float) -> float:
            largest = candidate_of(known, fault).ways[0][-1]
            size = FaultSpec(kind=fault.kind, params=fault_kinds.get(fault.kind).sized(dict(largest.params), share))
            value = stored_statistics(known, script_with("hot_idle"), [[size]])[0]["hot_idle"][told.channel]["mean"]
            return abs(band.away(value))

        assert away(told.share) == pytest.approx(3.0, abs=0.8)
        assert away(0.5 * told.share) < 2.5

    def test_a_fault_without_a_size_has_none(self) -> None:
        assert smallest_sizes(load_rig("R3"), FaultSpec(kind="recirculation_valve_stuck_closed", params={})) == []


class TestTrimSteps:
    def test_a_leak_falls_with_the_air_and_a_meter_or_a_weak_supply_does_not(self) -> None:
        columns = trim_steps(load_rig("R1"))
        leak, meter, supply = (
            shown(columns, label, "total_trim")
            for label in ("leak behind the throttle", "meter reads low", "fuel supply weak")
        )
        assert leak["hot_idle"] > 3.0 * leak["no_load_2500"] > 3.0 * 0.5  # type: ignore[operator]
        for steady in (meter, supply):
            assert steady["hot_idle"] == pytest.approx(steady["cruise_80"], abs=2.0)

    def test_a_meter_error_asks_for_its_own_trim(self) -> None:
        """trim = 1/(1 + e) - 1 with e = -15 %."""
        trim = shown(trim_steps(load_rig("R1")), "meter reads low", "total_trim")["no_load_2500"]
        sound = shown(trim_steps(load_rig("R1")), "sound", "total_trim")["no_load_2500"]
        assert trim - sound == pytest.approx(100.0 * (1.0 / 0.85 - 1.0), abs=0.7)  # type: ignore[operator]

    def test_a_speed_density_engine_has_its_pressure_sensor_instead_of_a_meter(self) -> None:
        labels = [column.label for column in trim_steps(load_rig("R2"))]
        assert "pressure sensor reads low" in labels and "meter reads low" not in labels
        leak = shown(trim_steps(load_rig("R2")), "leak behind the throttle", "total_trim")
        assert all(abs(value) < 3.0 for value in leak.values() if value is not None)

    def test_open_loop_has_no_trim_and_a_larger_fault_a_larger_one(self) -> None:
        assert shown(trim_steps(load_rig("R1")), "sound", "total_trim")["wot_pull"] is None
        small, large = (
            shown(trim_steps(load_rig("R1"), size), "meter reads low", "total_trim")["hot_idle"] for size in (0, 2)
        )
        assert large > small + 5.0  # type: ignore[operator]

    def test_a_diesel_has_no_trims(self) -> None:
        with pytest.raises(MissingPart, match="no trims"):
            trim_steps(load_rig("R4"))


class TestLeakPlaces:
    def test_on_a_metered_turbo_the_sign_turns_with_the_pressure(self) -> None:
        columns = leak_places(load_rig("R3-MAF"))
        charge = shown(columns, "compressor to throttle", "total_trim")
        behind = shown(columns, "behind the throttle", "total_trim")
        assert abs(charge["hot_idle"]) < 3.0 and charge["load_step"] < -10.0  # type: ignore[operator,arg-type]
        assert behind["hot_idle"] > 15.0 and behind["load_step"] < 2.0  # type: ignore[operator]

    def test_without_a_meter_trims_stay(self) -> None:
        for column in leak_places(load_rig("R3")):
            trims = [c.value for c in column.cells if c.channel == "total_trim" and c.condition != "load_step"]
            assert all(value is None or abs(value) < 4.0 for value in trims), column.label

    def test_a_plain_engine_has_no_such_table(self) -> None:
        with pytest.raises(MissingPart, match="turbocharger"):
            leak_places(load_rig("R1"))
