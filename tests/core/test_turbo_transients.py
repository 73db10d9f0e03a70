"""What a turbocharger does within seconds: fuel cut by overboost, throttle shut, engine spun up without load."""

import numpy as np
import pytest
from numpy.typing import NDArray

from leitfaden_core.simulate.actions import Drive, MovePedal
from rides import after, by_hand

pytestmark = pytest.mark.model

CLIMB = Drive(roller=("1.3 cruise", "1.3 cruise"), gear="road", seconds=1)


def pulled(rig: str, *faults: str, seconds: float = 12.0) -> NDArray[np.void]:
    machine = by_hand(rig, *faults)
    after(machine, 5)
    return after(machine, seconds, CLIMB, MovePedal(to=1.0, seconds=0.1))


def test_after_an_overboost_cut_charge_has_collapsed_within_a_second() -> None:
    """From 243 to 316 kPa over 3.5 s before."""
    for rig, fault in (("R3", "wastegate_stuck:opening_percent=0"), ("R4", "vgt_stuck:position_percent=100")):
        rows = pulled(rig, fault)
        cut = int(np.argmax(rows["fuel_cut"] > 0.5))
        assert cut > 0
        following = rows["charge_true"][cut : cut + 50]
        assert following.argmax() < 30 and following[-1] < 0.95 * rows["charge_true"][cut]
        # The gas follows within cycles, the pipe's wall over seconds.
        assert rows["egt_1_true"][cut + 30] < 0.65 * rows["egt_1_true"][cut]


def test_an_engine_that_spins_up_freely_builds_little_charge() -> None:
    """173 kPa before."""
    machine = by_hand("R3")
    after(machine, 5)
    rows = after(machine, 1.5, MovePedal(to=1.0, seconds=0.1))
    assert rows["rpm"].max() > 5000 and rows["charge_true"].max() < 145.0


def lifted(*faults: str) -> NDArray[np.void]:
    machine = by_hand("R3", *faults)
    after(machine, 5)
    after(machine, 8, CLIMB, MovePedal(to=1.0, seconds=0.1))
    return after(machine, 1.5, MovePedal(to=0.0, seconds=0.05))


def test_a_recirculation_valve_that_stays_shut_lets_the_compressor_flutter() -> None:
    sound, shut = lifted(), lifted("recirculation_valve_stuck_closed")

    def reversals(rows: NDArray[np.void]) -> int:
        return int(np.count_nonzero(np.diff(np.sign(rows["maf_meter_true"].astype(float)))))

    assert reversals(shut) > 2 * reversals(sound) and reversals(shut) > 10
    # Nothing lets the pressure go but the flutter itself.
    assert shut["charge_true"][50] > sound["charge_true"][50] + 20.0


def test_no_sound_engine_surges_in_a_pull() -> None:
    for rig in ("R3", "R4"):
        rows = pulled(rig)
        assert (rows["maf_meter_true"][200:] > 0.0).all()
