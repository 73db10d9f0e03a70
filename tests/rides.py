"""Short ways for tests to drive an engine: along the workshop day, or by hand."""

from typing import Literal

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.faults import parse_fault
from leitfaden_core.monitors import trouble_codes
from leitfaden_core.rigs import load_rig
from leitfaden_core.scripts import load_script
from leitfaden_core.scripts.document import Surroundings
from leitfaden_core.simulate import Machine, Run, cached_run
from leitfaden_core.simulate.actions import Action, MovePedal, PutFault, TurnKey

DAY = load_script("workshop_day")


def drive(rig: str, *faults: str, individual: dict[str, float] | None = None) -> Run:
    """A rig with faults along the workshop day."""
    return cached_run(load_rig(rig), DAY, [parse_fault(text) for text in faults], 0, individual)


def mean(run: Run, condition: str, channel: str) -> float:
    """Mean of a channel in a condition."""
    return run.statistic(condition, channel, "mean")


def codes(rig: str, *faults: str) -> list[str]:
    """Codes after the workshop day."""
    return trouble_codes(drive(rig, *faults))


def by_hand(
    rig: str, *faults: str, start: Literal["cold", "hot"] = "hot", celsius: float = 20.0, kpa: float = 101.3
) -> Machine:
    """A machine with the key on and the foot off the pedal."""
    machine = Machine(load_rig(rig), 1, start=start, weather=Surroundings(temp_C=celsius, baro_kPa=kpa))
    for k, fault in enumerate(faults):
        machine.act(PutFault(name=f"fault {k}", fault=parse_fault(fault)))
    machine.act(TurnKey(to="on"))
    machine.act(MovePedal(to=0.0))
    return machine


def after(machine: Machine, seconds: float, *actions: Action) -> NDArray[np.void]:
    """Rows of the next seconds, after some actions."""
    for action in actions:
        machine.act(action)
    return machine.advance(round(100 * seconds))
