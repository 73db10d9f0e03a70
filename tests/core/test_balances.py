"""What is conserved over whole drives: charge of the battery, energy of the fuel. (Air and oxygen have their own
tests.)
"""

import numpy as np
import pytest

from leitfaden_core.engine.battery import CAPACITY, CHARGE_KEPT, USUAL_CHARGE
from leitfaden_core.engine.heat import OIL_SHARE, coolant_share
from leitfaden_core.rigs import load_rig, rig_ids
from leitfaden_core.simulate import Machine
from leitfaden_core.simulate.actions import Drive, HoldLoad, TurnKey
from leitfaden_core.simulate.layout import FRAME
from rides import after, by_hand, drive

pytestmark = pytest.mark.model


@pytest.mark.parametrize("rig", rig_ids())
@pytest.mark.parametrize("fault", ["", "charging_lost:minutes=30"])
def test_the_charge_that_leaves_the_battery_is_the_current_over_time(rig: str, fault: str) -> None:
    """Key on, a start, a drive, key off: it was full again in an instant before."""
    machine = by_hand(rig, *([fault] if fault else []), start="cold")
    wires = machine.state["wires"]
    before, kept = float(wires["battery_charge"][0]), 0.0
    for key, seconds in (("on", 20), ("start", 2), ("on", 30), ("off", 5)):
        machine.act(TurnKey(to=key))
        for _ in range(100 * seconds):
            machine.advance(1)
            amps = float(wires["battery_amps"][0])
            full = amps < 0.0 and float(wires["battery_charge"][0]) >= USUAL_CHARGE
            kept += 0.0 if full else amps * (CHARGE_KEPT if amps < 0.0 else 1.0) * FRAME / 3600.0
    assert before - float(wires["battery_charge"][0]) == pytest.approx(kept / CAPACITY, abs=2e-6)
    assert kept > 0.0


def test_a_start_is_made_good_in_minutes_not_at_once() -> None:
    machine = by_hand("R1", start="cold")
    after(machine, 60)
    after(machine, 2, TurnKey(to="start"))
    machine.act(TurnKey(to="on"))
    after(machine, 5)
    low = float(machine.state["wires"]["battery_charge"][0])
    after(machine, 60)
    later = float(machine.state["wires"]["battery_charge"][0])
    assert low < later < USUAL_CHARGE


def energy(machine: Machine) -> dict[str, float]:
    """Where the fuel's energy goes at present, as shares of it. [-]"""
    state, p = machine.state[0], machine.params[0]
    fuel, burnt = float(state["fuel"]["fuel_flow"]), float(state["crank"]["burn"])
    gas = fuel + float(state["air"]["charge_flow"]) - float(state["air"]["egr_flow"])
    all_of_it = fuel * float(p["lower_heating_value"])
    return {
        "brake": float(state["crank"]["torque"]) * float(state["crank"]["speed"]) / all_of_it,
        "exhaust": gas * 1150.0 * (float(state["gas"]["temp_behind"]) - float(p["ambient_temp"])) / all_of_it,
        "coolant": burnt / fuel * coolant_share.py_func(burnt * p["afr_stoich"] / p["full_flow"]),  # type: ignore[attr-defined]
        "oil": burnt / fuel * OIL_SHARE,
        "unburnt": 1.0 - burnt / fuel,
    }


@pytest.mark.parametrize("rig", rig_ids())
def test_no_engine_gives_more_energy_than_its_fuel_holds(rig: str) -> None:
    """First law, with the shares that Heywood 1988 (table 12.1) gives for full load: brake 25 to 38 %, coolant 16 to
    26 % (diesel to 35 %), exhaust 22 to 45 %. Pumping and friction end as heat in coolant and oil.
    """
    numbers = load_rig(rig)
    machine = by_hand(rig)
    after(machine, 10)
    idle = energy(machine)
    assert 0.5 < sum(idle.values()) <= 1.0
    speed = 0.85 * numbers.engine.rated_speed
    after(machine, 40, Drive(roller=(speed, speed), gear="road", seconds=60), HoldLoad(share=0.95))
    full = energy(machine)
    assert 0.8 < sum(full.values()) <= 1.02, full
    assert 0.2 < full["brake"] < 0.42
    assert 0.15 < full["coolant"] < 0.35
    assert 0.2 < full["exhaust"] < 0.45
    assert full["brake"] > idle["brake"]
    assert np.isfinite(list(full.values())).all()


@pytest.mark.parametrize("rig", ["R1", "R2", "R3"])
def test_once_fuel_is_cut_the_shaft_gains_no_more_than_the_charge_that_burns(rig: str) -> None:
    """Out of gear the work left is that of charges drawn in before, full torque over three quarters of a turn."""
    own = load_rig(rig).engine
    rows = drive(rig).lanes
    speed = rows["rpm_true"].astype(float) * np.pi / 30.0
    cut = rows["fuel_cut"] > 0.5
    begins = 1 + np.flatnonzero(cut[1:] & ~cut[:-1] & (rows["in_gear"][1:] < 0.5))
    assert begins.size
    left = own.rated_torque * 0.75 * 2.0 * np.pi
    for k in begins:
        gained = 0.5 * own.inertia * (speed[k - 1 : k + 30].max() ** 2 - speed[k - 1] ** 2)
        assert gained < left, f"{gained:.0f} J at {k / 100:g} s"
