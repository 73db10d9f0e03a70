"""What a step of the physics keeps whatever its length: the delay of a lag, and the mass of air."""

import numpy as np
import pytest

from leitfaden_core.constants import R_AIR
from leitfaden_core.rigs import rig_ids
from leitfaden_core.simulate.lag import covered
from leitfaden_core.simulate.layout import HOOK, HOOKS, STEP
from leitfaden_core.simulate.parts.air import breathe
from rides import by_hand

pytestmark = pytest.mark.model


def followed(lag: float, goal: np.ndarray) -> np.ndarray:
    """What a first-order lag makes of a goal, step by step."""
    share, at, found = covered(lag), 0.0, []
    for value in goal:
        at += share * (value - at)
        found.append(at)
    return np.array(found)


@pytest.mark.parametrize("lag", [0.0, 0.0005, 0.002, 0.006, 0.04, 0.4])
def test_what_moves_evenly_is_followed_with_a_delay_of_exactly_the_lag(lag: float) -> None:
    time = np.arange(1, round((12.0 * lag + 0.1) / STEP)) * STEP
    delay = time - followed(lag, time)
    assert delay[-1] == pytest.approx(lag, rel=1e-3, abs=1e-12)


@pytest.mark.parametrize("lag", [0.006, 0.04, 0.4])
def test_after_a_jump_what_is_left_falls_as_the_exponential(lag: float) -> None:
    """The closed form exp(-t/lag), to the first order of the step."""
    steps = round(lag / STEP)
    left = 1.0 - followed(lag, np.ones(steps))[-1]
    assert left == pytest.approx(np.exp(-1.0), rel=0.6 * STEP / lag)


def test_no_lag_is_too_short_for_the_step() -> None:
    goal = np.tile([1.0, 0.0], 50)
    assert np.array_equal(followed(0.0, goal), goal)
    assert np.all((followed(1e-4, goal) >= 0.0) & (followed(1e-4, goal) <= 1.0))


@pytest.mark.parametrize("rig", rig_ids())
@pytest.mark.parametrize("plate", [0.0, 0.15, 0.6])
def test_within_every_step_the_air_that_comes_and_does_not_go_is_stored(rig: str, plate: float) -> None:
    """(in − out)·dt = Δp·V/(R·T) of duct and manifold together, with the flows that the others see: to rounding, not
    only in the mean of a drive.
    """
    machine = by_hand(rig, start="hot")
    machine.advance(200)
    state, p, hooks = machine.state[0], machine.params[0], np.zeros(1, dtype=HOOK)
    for name, value in HOOKS.items():
        hooks[name] = value
    air = state["air"]
    air["plate"], air["purge_opening"] = plate, 0.0
    for _ in range(25):
        before = float(air["p_duct"]), float(air["p_manifold"])
        breathe(p, state["crank"], air, state["gas"], state["turbo"], state["warm"], hooks[0])
        stored = (float(air["p_duct"]) - before[0]) * p["duct_volume"] / (R_AIR * float(air["temp_duct"]))
        stored += (float(air["p_manifold"]) - before[1]) * p["manifold_volume"] / (R_AIR * float(air["temp_charge"]))
        balance = (float(air["meter_flow"]) + float(air["egr_flow"]) - float(air["charge_flow"])) * STEP
        assert balance == pytest.approx(stored, rel=1e-6, abs=1e-12)
