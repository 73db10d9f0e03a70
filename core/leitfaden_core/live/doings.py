"""What can be done on a bench: everything that can be done to a vehicle, and what takes days there and a moment
here.
"""

from typing import Annotated, Any, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError

from leitfaden_core.errors import BadDocument, LeitfadenError
from leitfaden_core.faults import FaultSpec
from leitfaden_core.simulate import FRAME, Machine, actions
from leitfaden_core.simulate.run import settle_memory
from leitfaden_core.validation import explained
from leitfaden_core.words import say

#: How much faster warmth passes while an engine stands; the factor up to which the step holds (actions.LapseTime).
STANDING_LAPSE = 100.0


class Stand(BaseModel):
    """Let the engine stand with the key off for some hours, as over a night. Marked: no row of that time is
    recorded.
    """

    model_config = ConfigDict(extra="forbid", frozen=True)

    do: Literal["stand"] = "stand"
    hours: Annotated[float, Field(gt=0, le=48)]


class SettleMemory(BaseModel):
    """Let days of driving pass in which the control unit learns what it can learn. Marked: nothing else of those days
    is left.
    """

    model_config = ConfigDict(extra="forbid", frozen=True)

    do: Literal["settle_memory"] = "settle_memory"


class Mark(BaseModel):
    """Mark this instant with words."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    do: Literal["mark"] = "mark"
    words: Annotated[str, Field(min_length=1, max_length=120)]


Doing = Annotated[actions.Action | Stand | SettleMemory | Mark, Field(discriminator="do")]
DOING: TypeAdapter[Any] = TypeAdapter(Doing)

#: What hands do at the key, the pedal and the surroundings: the twin gets it too. Whatever is done to the vehicle
#: itself, to its faults, plugs, hoses and parts, it does not get: it stays undisturbed.
_DRIVING = (
    actions.TurnKey,
    actions.MovePedal,
    actions.HoldSpeed,
    actions.HoldLoad,
    actions.Snap,
    actions.Drive,
    actions.Neutral,
    actions.LapseTime,
    actions.Surround,
    actions.SwitchConsumers,
    actions.ConnectCharger,
    actions.DisconnectBattery,
    actions.ResetLearned,
    actions.PassMonths,
    Stand,
    SettleMemory,
)


def doing_of(raw: object) -> Any:
    """A doing from plain data; BadDocument with one sentence for what is none."""
    try:
        return DOING.validate_python(raw)
    except ValidationError as error:
        first = error.errors()[0]
        if first["type"] == "union_tag_invalid":
            name = raw.get("do") if isinstance(raw, dict) else None
            raise BadDocument(say("nobody knows how to do '{name}' on a bench", name=str(name)[:40])) from None
        place = ".".join(str(part) for part in first["loc"][1:])
        raise BadDocument(f"{place}: {explained(first)}" if place else explained(first)) from None


def reaches_twin(doing: Any) -> bool:
    """Whether the undisturbed twin gets it too."""
    return isinstance(doing, _DRIVING)


def perform(doing: Any, machine: Machine, individual: dict[str, float]) -> None:
    """Do something to a machine; LeitfadenError when it cannot be done, and then nothing has changed.

    ``individual``: the numbers in which this engine differs from its rig.
    """
    if isinstance(doing, Mark):
        return
    if isinstance(doing, Stand):
        _stand(machine, doing.hours)
    elif isinstance(doing, SettleMemory):
        faults: list[FaultSpec] = [put.now for put in machine.faults.values()]
        learned = settle_memory(machine.rig, faults, machine.seed, individual, machine.work)
        machine.state["mix"]["ltft"] = learned
    else:
        machine.act(doing)


def _stand(machine: Machine, hours: float) -> None:
    if machine.hands.key:
        raise LeitfadenError("an engine is left standing with the key off: turn the key off first")
    before = machine.hands.time_lapse
    machine.act(actions.MovePedal(to=0.0, seconds=0.0))
    machine.act(actions.Neutral())
    # It runs down in its own time; then warmth passes faster.
    machine.advance(round(5.0 / FRAME))
    machine.act(actions.LapseTime(factor=STANDING_LAPSE))
    machine.advance(int(np.ceil(hours * 3600.0 / STANDING_LAPSE / FRAME)))
    machine.act(actions.LapseTime(factor=before))
