"""What keeps an engine from boiling, and what it does after the key is off."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from leitfaden_core.engine.heat import BOILS, circulation, fan_power, thermostat
from leitfaden_core.monitors import OnBoardDiagnosis
from leitfaden_core.rigs import load_rig, rig_ids
from leitfaden_core.simulate.actions import Drive, HoldLoad, HoldSpeed, LapseTime, MovePedal, Neutral, TurnKey
from rides import after, by_hand, codes, drive, mean

pytestmark = pytest.mark.model

#: Coolant at which no sound engine arrives while it runs. [°C]
HOTTEST = 105.0


def hard_ride(rig: str, *faults: str, celsius: float = 20.0) -> tuple[float, float, np.ndarray]:
    """Hottest coolant over a hill and ten minutes of full load, coolant at key-off after a cruise, and the coolant of
    the half hour that follows. [°C]
    """
    machine = by_hand(rig, *faults, celsius=celsius)
    climb = Drive(roller=("1.3 cruise", "1.3 cruise"), gear="road", seconds=1)
    fast = Drive(roller=("1.8 cruise", "1.8 cruise"), gear="road", seconds=1)
    easy = Drive(roller=("cruise", "cruise"), gear="road", seconds=1)
    hill = after(machine, 30, LapseTime(factor=20), climb, HoldLoad(share=0.79))
    full = after(machine, 30, fast, MovePedal(to=1.0))
    after(machine, 15, easy, HoldLoad(share="cruise"))
    after(machine, 5, LapseTime(factor=1), Neutral(), MovePedal(to=0.0))
    off = after(machine, 90, LapseTime(factor=20), TurnKey(to="off"))["ect_true"]
    return float(max(hill["ect_true"].max(), full["ect_true"].max())), float(off[0]), off


@pytest.mark.parametrize("celsius", [20.0, 38.0])
@pytest.mark.parametrize("rig", rig_ids())
def test_a_sound_engine_stays_below_boiling_rises_after_shutdown_and_cools_slowly(rig: str, celsius: float) -> None:
    hottest, at_key_off, off = hard_ride(rig, celsius=celsius)
    assert hottest < HOTTEST
    # Before: 29 K lost in four minutes. Now the metal gives its heat on first, then a kelvin or two a minute.
    assert at_key_off < off.max() < at_key_off + 12.0
    four_minutes = off[: 4 * 300]
    # An air-cooled engine has no water to hold its heat.
    assert four_minutes[-1] > at_key_off - (5.0 if "water_cooled" in load_rig(rig).features else 10.0)
    assert off[-1] < off.max() - 5.0


@pytest.mark.parametrize("rig", ["R1", "R4"])
def test_held_at_1500_it_stays_where_its_fan_holds_it(rig: str) -> None:
    rows = after(by_hand(rig), 40, LapseTime(factor=20), HoldSpeed(rpm=1500))
    assert rows["ect_true"].max() < load_rig(rig).thermal.thermostat_opens - 273.15 + 10.0


class TestFaults:
    def test_a_thermostat_that_hardly_opens_boils_under_load_and_sets_its_code(self) -> None:
        hottest, _at, _off = hard_ride("R1", "thermostat_stuck_closed:opening_percent=4")
        assert hottest > 115.0
        machine = by_hand("R1", "thermostat_stuck_closed:opening_percent=4")
        diagnosis = OnBoardDiagnosis(machine.rig)
        machine.follow(diagnosis)
        after(
            machine,
            40,
            LapseTime(factor=20),
            Drive(roller=("1.3 cruise", "1.3 cruise"), gear="road", seconds=1),
            HoldLoad(share=0.79),
        )
        assert "P0217" in [entry.code for entry in diagnosis.report().codes]

    def test_stuck_open_it_stays_cold_on_the_road(self) -> None:
        assert codes("R1", "thermostat_stuck_open:opening_percent=100") == ["P0128"]
        assert mean(drive("R1", "thermostat_stuck_open:opening_percent=100"), "cruise_80", "ect_true") < 75.0

    def test_a_dead_fan_shows_in_the_yard_and_not_on_the_road(self) -> None:
        yard = after(by_hand("R1", "fan_weak:works_percent=0"), 60, LapseTime(factor=20), HoldSpeed(rpm=2500))
        assert yard["ect_true"].max() > 110.0
        assert hard_ride("R1", "fan_weak:works_percent=0")[0] < HOTTEST

    def test_low_coolant_boils_under_load(self) -> None:
        assert (
            hard_ride("R1", "coolant_low:lost_percent=60")[0]
            > 115.0
            > hard_ride("R1", "coolant_low:lost_percent=20")[0]
        )


@given(st.floats(250.0, 400.0), st.floats(0.0, 1.0), st.floats(0.0, 1.0))
def test_a_thermostat_opens_with_warmth_between_its_stops(temp: float, least: float, most: float) -> None:
    here, warmer = (thermostat.py_func(t, 361.0, least, most) for t in (temp, temp + 3.0))
    assert min(least, most) <= here <= warmer <= max(least, most, 0.02)


def test_pump_and_fan_follow_their_laws() -> None:
    assert circulation.py_func(0.0, 0.0) < 0.1 < 0.8 < circulation.py_func(0.13, 0.0)
    assert circulation.py_func(0.5, 0.6) < 0.1 * circulation.py_func(0.5, 0.0)
    assert [fan_power.py_func(361.0 + k, 361.0, 1.0) for k in (0.0, 6.0, 9.0, 12.0)] == pytest.approx(
        [0.0, 0.0, 0.5, 1.0]
    )
    assert fan_power.py_func(380.0, 361.0, 0.2) == pytest.approx(0.2)


def test_what_boils_stays_near_the_boiling_point() -> None:
    assert hard_ride("R2", "coolant_low:lost_percent=60")[0] < BOILS - 273.15 + 25.0
