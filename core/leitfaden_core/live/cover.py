"""A bench that keeps its secret: whoever works on it sees what a person at the vehicle sees, and touches what they
may.
"""

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from leitfaden_core.channels import Layer, channel
from leitfaden_core.instruments import instruments
from leitfaden_core.words import inside, say

#: What hands may be let to, besides key, pedal, weather and waiting, which always stand free.
Hand = Literal["plugs", "hoses", "parts", "actuators", "memory"]
HANDS: dict[Hand, frozenset[str]] = {
    "plugs": frozenset({"pull_plug", "put_plug", "move_plug"}),
    "hoses": frozenset({"close_hose", "open_hose"}),
    "parts": frozenset({"fit_part", "put_part_back"}),
    "actuators": frozenset({"hold_actuator", "let_actuator_go"}),
    "memory": frozenset({"clear_codes", "reset_learned", "disconnect_battery"}),
}
#: On a covered engine nobody puts a fault in or takes one out, trainers neither.
_SECRET = frozenset({"put_fault", "size_fault", "take_fault"})


class Cover(BaseModel):
    """What may be touched on an engine that keeps its secret. ``instruments``: their ids."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    hands: Annotated[tuple[Hand, ...], Field(max_length=len(HANDS))] = ()
    instruments: Annotated[tuple[str, ...], Field(max_length=30)] = ()

    def refuses(self, raw: Any) -> str:
        """Why a doing, as plain data, is not for this bench; empty when it is."""
        doing = raw.get("do") if isinstance(raw, dict) else None
        if doing in _SECRET or (isinstance(raw, dict) and raw.get("brings") is not None):
            return say("What is wrong with this engine is not changed: it is to be found.")
        closed = (name for name, doings in HANDS.items() if doing in doings and name not in self.hands)
        return "" if next(closed, None) is None else say("That is not to be touched at this station.")

    def refuses_instrument(self, name: str) -> str:
        """Why an instrument is not for this bench; empty when it is."""
        if name in self.instruments:
            return ""
        lying = ", ".join(inside(instruments.get(known).label) for known in self.instruments)
        return say("At this station there is: {list}.", list=lying or say("no instrument"))


def to_be_seen(channels: list[str]) -> list[str]:
    """Of these channels, what a scan tool shows: neither truths nor pins."""
    return [name for name in channels if channel(name).layer is Layer.SCAN]
