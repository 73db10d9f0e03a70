"""Misfire as the crankshaft tells it: strokes that are missing beside their neighbours, on the road too."""

import inspect
import re

import numpy as np
import pytest

from leitfaden_core.engine.torque import burn_quality
from leitfaden_core.faults import parse_fault
from leitfaden_core.rigs import load_rig, rig_ids
from leitfaden_core.scripts import CONDITIONS
from leitfaden_core.simulate.actions import Drive, HoldLoad, HoldSpeed, MovePedal, PutFault
from leitfaden_core.simulate.parts import crank
from rides import DAY, after, by_hand, codes, drive, mean

pytestmark = pytest.mark.model


@pytest.mark.parametrize(("rig", "cylinders"), [("R1", 4), ("R2", 4), ("R5", 8), ("R3", 3), ("R6", 2)])
@pytest.mark.parametrize("condition", ["hot_idle", "cruise_80"])
def test_one_dead_cylinder_is_its_share_of_missing_strokes(rig: str, cylinders: int, condition: str) -> None:
    dead = drive(rig, "dead_cylinder:cause=spark,cylinder=2")
    assert mean(dead, condition, "misfire") == pytest.approx(1.0 / cylinders, abs=0.02)


@pytest.mark.parametrize("rig", ["R1", "R2", "R3"])
def test_its_number_is_told_on_the_road_too(rig: str) -> None:
    """The rollers held the shaft stiffly before: in gear no cylinder could be told, and P0300 stood beside P0302."""
    dead = drive(rig, "dead_cylinder:cause=spark,cylinder=2")
    assert mean(dead, "cruise_80", "weak_cylinder") == 2.0
    assert "P0302" in codes(rig, "dead_cylinder:cause=spark,cylinder=2")
    assert "P0300" not in codes(rig, "dead_cylinder:cause=spark,cylinder=2")


@pytest.mark.parametrize("rig", rig_ids())
def test_a_sound_engine_misses_none_when_it_runs_steadily(rig: str) -> None:
    sound = drive(rig)
    steady = [name for name in DAY.conditions() if CONDITIONS[name].steady and CONDITIONS[name].running]
    told = {name: mean(sound, name, "misfire") for name in steady}
    assert all(np.isnan(share) or share < 0.01 for share in told.values()), told


def at_the_lean_limit(factor: float, seconds: float) -> np.ndarray:
    """Rows of an engine held at 1800 1/min whose fuel pressure has just fallen to a share of the right one."""
    machine = by_hand("R1")
    after(machine, 5, HoldSpeed(rpm=1800.0))
    fault = parse_fault(f"fuel_pressure_low:factor={factor},factor_full={factor}")
    return after(machine, seconds, PutFault(name="weak pump", fault=fault))


@pytest.mark.parametrize("factor", [0.255, 0.25, 0.24])
def test_a_mixture_at_the_lean_limit_misses_now_and_then_in_all_cylinders(factor: float) -> None:
    """Chance decides over each charge; the crankshaft counts about the share that does not burn, and blames nobody."""
    rows = at_the_lean_limit(factor, 30)[1500:]
    burns = np.mean([burn_quality.py_func(1.0 / lam, 363.0) for lam in rows["lambda_true"]])  # type: ignore[attr-defined]
    assert rows["misfire"].mean() == pytest.approx(1.0 - burns, abs=0.08)
    assert rows["misfire"].mean() > 0.02
    assert (rows["weak_cylinder"] == 0).mean() > 0.9


def test_the_same_chance_gives_the_same_misses() -> None:
    assert np.array_equal(at_the_lean_limit(0.25, 8)["rpm"], at_the_lean_limit(0.25, 8)["rpm"])


def test_what_is_counted_is_worked_out_of_speed_and_believed_air() -> None:
    """The measuring part of the model touches neither what is wrong nor what truly burns."""
    told = inspect.getsource(crank.end_segment.py_func).split("# Whether the next charge")[0]
    assert not re.findall(r"\b(h\.|live|quality|burn|crank\.torque)", told.split('"""')[2])


def test_the_drive_line_holds_the_rollers_speed_and_carries_the_load() -> None:
    """Twisted to balance, the spring carries the whole torque without slip (Hooke)."""
    machine = by_hand("R1")
    after(machine, 3)
    rows = after(machine, 12, Drive(roller=(2200.0, 2200.0), gear="road", seconds=12), HoldLoad(share=0.3))
    last = rows[-300:]
    assert last["rpm"].mean() == pytest.approx(2200.0, abs=3.0)
    assert last["torque_true"].mean() == pytest.approx(0.3 * load_rig("R1").engine.rated_torque, rel=0.05)


def test_a_stab_of_the_pedal_makes_the_car_shuffle_and_it_dies_away() -> None:
    """A drive line of some hertz, damped: the swing after a step fades within a second (Kiencke and Nielsen 2005)."""
    machine = by_hand("R1")
    after(machine, 3)
    after(machine, 6, Drive(roller=(2200.0, 2200.0), gear="road", seconds=60), HoldLoad(share=0.1))
    rows = after(machine, 3, MovePedal(to=0.8, seconds=0.05))
    speed = rows["rpm"].astype(float) - 2200.0
    assert np.abs(speed[:60]).max() > 15.0
    assert np.abs(speed[200:]).max() < 5.0
