"""What can be done to a vehicle while it runs, each action a small document; and a script as the actions that it
performs.
"""

from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from leitfaden_core.faults import FaultSpec
from leitfaden_core.scripts import Script
from leitfaden_core.scripts.document import RollerSpeed, Surroundings
from leitfaden_core.simulate.layout import FRAME

#: What somebody calls a fault while it is in the vehicle.
Name = Annotated[str, Field(min_length=1, max_length=40)]
Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]


class _Action(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class TurnKey(_Action):
    """Turn the key."""

    do: Literal["turn_key"] = "turn_key"
    to: Literal["off", "on", "start"]


class MovePedal(_Action):
    """Move the pedal to a share of its travel within some seconds."""

    do: Literal["move_pedal"] = "move_pedal"
    to: Share
    seconds: Annotated[float, Field(ge=0, le=10)] = 0.2


class HoldSpeed(_Action):
    """Let the foot hold an engine speed. [rev/min]"""

    do: Literal["hold_speed"] = "hold_speed"
    rpm: Annotated[float, Field(gt=0, le=8000)]


class HoldLoad(_Action):
    """Let the foot hold a brake torque on the rollers: a share of the rig's rated torque, or that of its steady
    cruise.
    """

    do: Literal["hold_load"] = "hold_load"
    share: Share | Literal["cruise"]


class Snap(_Action):
    """Snap the pedal from rest to full and back."""

    do: Literal["snap"] = "snap"


class Drive(_Action):
    """In gear on the roller bench, whose speed goes from one value to another in some seconds and then stays."""

    do: Literal["drive"] = "drive"
    roller: tuple[RollerSpeed, RollerSpeed]
    gear: Literal["road", "pull", "next"]
    seconds: Annotated[float, Field(gt=0, le=3600)]


class Neutral(_Action):
    """Out of gear."""

    do: Literal["neutral"] = "neutral"


class LapseTime(_Action):
    """Let coolant, oil and learning run faster than the rest; 1: as in life.

    Marked in every record, since it changes what follows.
    """

    do: Literal["lapse_time"] = "lapse_time"
    factor: Annotated[float, Field(ge=1, le=100)]


class Surround(_Action):
    """Other weather, another height above the sea."""

    do: Literal["surround"] = "surround"
    weather: Surroundings


class SwitchConsumers(_Action):
    """Switch lights with the heated window, and air conditioning, on or off."""

    do: Literal["switch_consumers"] = "switch_consumers"
    lights: bool = False
    air_conditioning: bool = False


class ConnectCharger(_Action):
    """Connect a charger to the battery, or take it off."""

    do: Literal["connect_charger"] = "connect_charger"
    on: bool


class MovePlug(_Action):
    """A hand moves a plug, or lets go of it: a contact that is loose opens only meanwhile."""

    do: Literal["move_plug"] = "move_plug"
    place: Annotated[str, Field(max_length=40)] | None


class PutFault(_Action):
    """Put a fault in, under a name."""

    do: Literal["put_fault"] = "put_fault"
    name: Name
    fault: FaultSpec


class SizeFault(_Action):
    """Give a fault that is in another size; when it comes and goes, it goes on doing so in the same rhythm."""

    do: Literal["size_fault"] = "size_fault"
    name: Name
    params: dict[str, float | str]


class TakeFault(_Action):
    """Take a fault out."""

    do: Literal["take_fault"] = "take_fault"
    name: Name


class PullPlug(_Action):
    """Pull the plug of a circuit off at its sensor."""

    do: Literal["pull_plug"] = "pull_plug"
    circuit: Name


class PutPlug(_Action):
    """Put a plug on again."""

    do: Literal["put_plug"] = "put_plug"
    circuit: Name


class CloseHose(_Action):
    """Close a hose or pipe off: nothing flows through it."""

    do: Literal["close_hose"] = "close_hose"
    hose: Name


class OpenHose(_Action):
    """Open a closed hose again."""

    do: Literal["open_hose"] = "open_hose"
    hose: Name


class FitPart(_Action):
    """Exchange a part: its defects leave with it. The other one is known to be good, or brings a defect of its own."""

    do: Literal["fit_part"] = "fit_part"
    part: Annotated[str, Field(min_length=1, max_length=60)]
    brings: FaultSpec | None = None


class PutPartBack(_Action):
    """Put the old part back."""

    do: Literal["put_part_back"] = "put_part_back"
    part: Annotated[str, Field(min_length=1, max_length=60)]


class HoldActuator(_Action):
    """Hold an actuator through the control unit at a share of its way; shut an injector off."""

    do: Literal["hold_actuator"] = "hold_actuator"
    actuator: Name
    share: Share = 1.0


class LetActuatorGo(_Action):
    """Leave an actuator to the control unit again."""

    do: Literal["let_actuator_go"] = "let_actuator_go"
    actuator: Name


class ResetLearned(_Action):
    """Have the control unit forget the trims that it has learned. Codes and readiness stay."""

    do: Literal["reset_learned"] = "reset_learned"


class ClearCodes(_Action):
    """Clear codes with the scan tool: freeze frames and readiness go too, learned trims stay."""

    do: Literal["clear_codes"] = "clear_codes"


class DisconnectBattery(_Action):
    """Take the battery off for some minutes, key off: codes, readiness, learned trims and idle air, clock and radio."""

    do: Literal["disconnect_battery"] = "disconnect_battery"


class PassMonths(_Action):
    """Let months of ordinary use pass, key off: sensors age and foul.

    Marked in every record, since it changes what follows.
    """

    do: Literal["pass_months"] = "pass_months"
    months: Annotated[float, Field(gt=0, le=240)]
    kilometres_a_month: Annotated[float, Field(ge=0, le=10000)] = 1000.0


Action = Annotated[
    TurnKey
    | MovePedal
    | HoldSpeed
    | HoldLoad
    | Snap
    | Drive
    | Neutral
    | LapseTime
    | Surround
    | SwitchConsumers
    | ConnectCharger
    | MovePlug
    | PutFault
    | SizeFault
    | TakeFault
    | PullPlug
    | PutPlug
    | CloseHose
    | OpenHose
    | FitPart
    | PutPartBack
    | HoldActuator
    | LetActuatorGo
    | ResetLearned
    | ClearCodes
    | DisconnectBattery
    | PassMonths,
    Field(discriminator="do"),
]


def script_actions(script: Script) -> Iterator[tuple[list[Action], int]]:
    """What a script does at the start of each of its segments, and for how many frames."""
    for segment in script.segments:
        frames = max(round(segment.seconds / FRAME), 1)
        done: list[Action] = [
            TurnKey(to=segment.key),
            LapseTime(factor=segment.time_lapse),
            MovePlug(place=segment.wiggle),
        ]
        if segment.roller is not None:
            assert segment.gear is not None
            done.append(Drive(roller=segment.roller, gear=segment.gear, seconds=segment.seconds))
        else:
            done.append(Neutral())
        if segment.hold_speed is not None:
            done.append(HoldSpeed(rpm=segment.hold_speed))
        elif segment.hold_load is not None:
            done.append(HoldLoad(share=segment.hold_load))
        elif segment.snap:
            done.append(Snap())
        else:
            done.append(MovePedal(to=segment.pedal or 0.0, seconds=segment.pedal_ramp))
        yield done, frames
