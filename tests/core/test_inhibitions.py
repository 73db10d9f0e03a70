"""A circuit code stands alone: what it has found wrong proves nothing about anything else."""

import numpy as np
import pytest

from circuits_alone import KINDS, OWN
from leitfaden_core.monitors import CODES
from leitfaden_core.monitors.inhibitions import silenced_by
from leitfaden_core.rigs import load_rig, rig_ids
from leitfaden_core.wiring.circuits import CIRCUITS, circuits_of
from rides import codes, drive, mean

pytestmark = pytest.mark.model

WIRES = [(rig, name, kind) for rig in rig_ids() for name in circuits_of(load_rig(rig), "signal") for kind in KINDS]


@pytest.mark.parametrize(("rig", "circuit", "kind"), WIRES[::5])
def test_a_broken_or_shorted_signal_sets_the_codes_of_its_own_circuit_only(rig: str, circuit: str, kind: str) -> None:
    stands_alone(rig, circuit, kind)


def stands_alone(rig: str, circuit: str, kind: str) -> None:
    """All that is set belongs to the circuit, and something is."""
    own = OWN[CIRCUITS[circuit].wire]
    found = set(codes(rig, f"{kind}:circuit={circuit}"))
    assert found and found <= own, (rig, circuit, kind, found)


class TestFrontSensor:
    """Shorted to battery or 5 V: trim -44 %, misfire and P0172 before."""

    @pytest.mark.parametrize("kind", ["signal_short_to_battery", "signal_short_to_5v"])
    def test_shorted_high_it_leaves_the_loop_with_its_own_code(self, kind: str) -> None:
        fault = f"{kind}:circuit=ho2s_b1s1_signal"
        run = drive("R1", fault)
        assert codes("R1", fault) == ["P0132"]
        assert abs(mean(run, "hot_idle", "total_trim")) < 1.0 and mean(run, "hot_idle", "fuel_status") == 8.0
        assert mean(run, "cruise_80", "lambda_true") == pytest.approx(1.0, abs=0.03)

    def test_lying_at_ground_it_accuses_no_fuel(self) -> None:
        assert codes("R1", "signal_short_to_ground:circuit=ho2s_b1s1_signal") == ["P0131"]

    def test_one_that_is_found_slow_does_not_judge_the_catalyst(self) -> None:
        for tau in (0.1, 0.12, 0.125, 0.13, 0.15, 0.3, 0.6):
            found = codes("R1", f"ho2s_slow:tau_s={tau}")
            assert "P0420" not in found, (tau, found)


class TestOthers:
    def test_an_open_charge_sensor_accuses_neither_the_meter_nor_the_boost(self) -> None:
        assert codes("R4", "signal_open:circuit=charge_signal") == ["P0237"]

    def test_a_shorted_exhaust_thermometer_does_not_accuse_the_filter(self) -> None:
        assert codes("R4", "signal_short_to_ground:circuit=egt_2") == ["P2032"]

    def test_a_lean_engine_still_says_so(self) -> None:
        assert "P0171" in codes("R1", "maf_under_read:gain=0.72")

    def test_a_silenced_monitor_has_not_answered(self) -> None:
        from leitfaden_core.monitors import trouble_report

        whole, silenced = (trouble_report([drive("R3", *f)]) for f in ((), ("signal_open:circuit=wideband",)))
        assert whole.readiness["catalyst"] == "complete" and silenced.readiness["catalyst"] == "incomplete"


class TestOwnNumber:
    """R6 means weak power by P0174: before, a dead sensor at lambda 0.88 set it."""

    def test_only_a_sensor_that_was_rich_and_goes_lean_under_load_sets_it(self) -> None:
        assert "P0174" in codes("R6", "fuel_pressure_low:factor=0.9,factor_full=0.3")
        for dead in ("ho2s_stuck:volts=0.1", "ho2s_stuck:volts=0.45", "signal_open:circuit=ho2s_b1s1_signal"):
            assert "P0174" not in codes("R6", dead), dead

    def test_on_a_rig_with_two_banks_it_hangs_on_the_second_ones_sensor(self) -> None:
        assert "P0174" in silenced_by("P0132", load_rig("R6"))
        assert "P0174" not in silenced_by("P0132", load_rig("R5-BANKS"))


class TestSinglePressureSensor:
    """A hose off on R2 stored nothing before."""

    @pytest.mark.parametrize("fault", ["map_hose_leak:fraction=1", "map_stuck:kPa=100", "map_stuck:kPa=50"])
    def test_a_pressure_that_does_not_fall_or_cannot_be_sets_its_code(self, fault: str) -> None:
        assert codes("R2", fault) == ["P0106"]

    def test_a_larger_leak_does_not_clear_the_high_idle(self) -> None:
        for area in (20, 40, 60):
            assert "P0507" in codes("R2", f"manifold_vacuum_leak:area_mm2={area}"), area


def test_the_table_names_known_codes_and_none_silences_itself() -> None:
    rig = load_rig("R4")
    for code in CODES:
        silent = silenced_by(code, rig)
        assert silent <= set(CODES) and code not in silent


def test_no_code_of_a_circuit_is_silenced_but_by_a_common_supply() -> None:
    circuits = set().union(*OWN.values()) - {"P2135", "P2138"}
    rows = {code: silenced_by(code, load_rig("R3")) & circuits for code in CODES}
    assert not any(rows.values()), {code: silent for code, silent in rows.items() if silent}


def test_misfire_names_its_cylinder_where_the_crankshaft_can_tell() -> None:
    for rig, number in (("R1", 1), ("R1", 4), ("R5", 7), ("R3", 2)):
        assert f"P030{number}" in codes(rig, f"dead_cylinder:cause=spark,cylinder={number}")
    # Two cylinders are not enough to compare.
    assert not [c for c in codes("R6", "dead_cylinder:cause=spark,cylinder=1") if c in {"P0301", "P0302"}]
    rough, sound = (
        drive("R1", *f).statistic("hot_idle", "rpm", "std") for f in (("dead_cylinder:cause=spark,cylinder=3",), ())
    )
    assert rough > 2.0 * sound
    assert np.isfinite(rough)
