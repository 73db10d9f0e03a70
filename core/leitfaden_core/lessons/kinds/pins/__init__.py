"""Pins: which pin of a plug is which? Told by what a meter shows there, key on and running, plug on and off.

Pins stand in another order for every learner, since their numbers differ from maker to maker.
"""

from collections.abc import Iterator, Sequence
from typing import Annotated, Any, Literal

from pydantic import Field

from leitfaden_core.atlas.page import circuit_on, state_labels
from leitfaden_core.chance import chance
from leitfaden_core.errors import LeitfadenError, MissingPart
from leitfaden_core.judge import SchoolRules
from leitfaden_core.lessons.item import Item
from leitfaden_core.lessons.kind import BLANK, FairnessWarning, Mark, Ruling, StationKind, taking_out
from leitfaden_core.lessons.shapes import (
    Answer,
    KeyPart,
    MarkedStation,
    Name,
    Shape,
    StationDocument,
    StationKey,
    StationView,
)
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.scripts import Script
from leitfaden_core.simulate import Run, cached_run
from leitfaden_core.wiring.joints import pins_of_plug
from leitfaden_core.words import say

#: Two pins whose volts differ by no more than this in every state cannot be told apart with a meter. [V]
ALIKE = 0.06
MOST_PINS = 8


class Pins(StationDocument):
    """The plug, by what begins the names of its pins."""

    kind: Literal["pins"] = "pins"
    wire: Annotated[Name, Field(title="wire")]


class Pin(Shape):
    """A pin by the letter that this learner sees, with its volts in each state. [V] against battery minus"""

    letter: str
    volts: list[float]


class Role(Shape):
    """What a pin may be."""

    id: str
    label: str


class PinsView(StationView):
    """States, pins with their volts, and the roles that there are."""

    kind: Literal["pins"] = "pins"
    states: list[str]
    pins: list[Pin]
    roles: list[Role]


class PinsAnswer(Answer):
    """A role for each pin, by its id; None where there is none yet."""

    kind: Literal["pins"] = "pins"
    roles: Annotated[list[Annotated[str, Field(max_length=20)] | None], Field(max_length=MOST_PINS)] = []


class PinsPart(KeyPart, Pin):
    """What a pin is, and which roles are right: its own first, then those of pins that a meter cannot tell from it."""

    right: str
    ids: list[str]
    reason: str


class PinsKey(StationKey):
    """Pin by pin."""

    kind: Literal["pins"] = "pins"
    parts: list[PinsPart] = []


class MarkedPinsPart(PinsPart):
    """A pin with the role that was given."""

    given: str | None = None
    points: float | None = None


class MarkedPins(MarkedStation):
    """Pin by pin, with what was said."""

    kind: Literal["pins"] = "pins"
    parts: list[MarkedPinsPart] = []


class PinsKind(StationKind[Pins]):
    """Which pin is which?"""

    id = "pins"
    document = Pins
    view_shape = PinsView
    answer_shape = PinsAnswer
    key_shape = PinsKey
    marked_shape = MarkedPins

    def work(self, station: Pins) -> float:
        return 3.0

    def cautions(self, station: Pins) -> tuple[str, ...]:
        return ("short_while_probing", "piercing")

    def view(self, item: Item[Pins]) -> PinsView:
        pins = _pins(item)
        mixed = chance(item.seed, "roles", item.station.id).permutation(len(pins))
        labels = role_words()
        roles = [list(pins)[int(k)] for k in mixed]
        return PinsView(
            **self.heading(item),
            states=list(state_labels().values()),
            pins=[Pin(letter=_letter(k), volts=volts) for k, volts in enumerate(pins.values())],
            roles=[Role(id=role, label=labels[role]) for role in roles],
        )

    def key(self, item: Item[Pins], rules: SchoolRules | None, units: UnitSystem) -> Sequence[PinsPart]:
        pins, labels = _pins(item), role_words()
        parts = []
        for k, (role, volts) in enumerate(pins.items()):
            alike = [other for other, theirs in pins.items() if other != role and _alike(volts, theirs)]
            reason = _why(role)
            if alike:
                others = ", ".join(labels[other] for other in alike)
                reason = say("{why} With a meter alone it cannot be told from: {others}.", why=reason, others=others)
            ids = [role, *alike]
            parts.append(PinsPart(letter=_letter(k), volts=volts, right=labels[role], ids=ids, reason=reason))
        return parts

    def warnings(self, item: Item[Pins]) -> Iterator[FairnessWarning]:
        parts = self.key(item, None, UnitSystem.METRIC)
        if parts and all(len(part.ids) == len(parts) for part in parts):
            text = say("{title}: a meter shows the same at every pin.", title=item.station.title)
            yield FairnessWarning(item.station.id, "too_alike", text, (taking_out(),))

    def rulings(self, part: PinsPart, parts: Sequence[PinsPart]) -> list[Ruling]:
        labels = role_words()
        own, there = part.ids[0], {other.ids[0] for other in parts}
        others = [role for role in labels if role in there.difference(part.ids)]
        words = {role: say("also right: {role}", role=labels[role]) for role in others}
        changes = {role: {"ids": [*part.ids, role]} for role in words}
        return [Ruling(own, part.right, words, changes=changes)]

    def require(self, view: PinsView, answer: PinsAnswer) -> None:
        if len(answer.roles) != len(view.pins) or any(role is None for role in answer.roles):
            raise MissingPart(say("a pin has no role yet; give each pin one"))

    def mark(self, parts: list[dict[str, Any]], answer: PinsAnswer, units: UnitSystem) -> Mark:
        given = [*answer.roles, *[None] * (len(parts) - len(answer.roles))]
        labels = role_words()
        marked = [
            part | {"given": labels.get(role or "", role), "points": float(role in part["ids"])}
            for part, role in zip(parts, given, strict=False)
        ]
        return Mark(sum(part["points"] for part in marked) / len(marked), marked)

    def right_answer(self, parts: list[dict[str, Any]]) -> PinsAnswer:
        return PinsAnswer(roles=[part["ids"][0] for part in parts])

    def printed(self, view: Any, parts: Any, units: UnitSystem) -> list[list[str]]:
        rows = [[say("Pin"), *view["states"], say("What it is")]]
        for k, pin in enumerate(view["pins"]):
            told = parts[k]["right"] if parts else BLANK
            rows.append([pin["letter"], *(f"{volts:.2f} V" for volts in pin["volts"]), told])
        return rows


def role_words() -> dict[str, str]:
    """What a pin may be, in words."""
    return {
        "supply": say("supply"),
        "signal": say("signal"),
        "pump": say("pump current"),
        "sensing": say("sensing cell"),
        "return": say("signal return"),
        "ground": say("ground"),
        "power ground": say("power ground"),
        "heater plus": say("heater, from the switched plus"),
        "heater minus": say("heater, switched to ground by the control unit"),
    }


def _why(role: str) -> str:
    """What gives a role away."""
    return {
        "supply": say("Steady, with the plug on and off."),
        "signal": say("Moves with what is sensed; with the plug off the control unit's bias stands there, or nothing."),
        "pump": say("Held by the control unit; it carries the pump current."),
        "sensing": say("Held near 0.45 V above the return by the control unit."),
        "return": say("The control unit's own reference for the signal."),
        "ground": say("Near nothing, with the plug on and off."),
        "power ground": say("Near nothing, with the plug on and off; it carries the heater's current."),
        "heater plus": say("Battery voltage as soon as the key is on."),
        "heater minus": say("Pulled down while the control unit heats; with the plug off nothing pulls it up."),
    }[role]


def _letter(k: int) -> str:
    return "ABCDEFGH"[k]


def _alike(one: list[float], other: list[float]) -> bool:
    return all(abs(mine - theirs) <= ALIKE for mine, theirs in zip(one, other, strict=True))


def _pins(item: Item[Pins]) -> dict[str, list[float]]:
    """The roles of a plug's pins in the learner's order, each with its volts in every state."""
    wire, found = item.station.wire, dict[str, list[float]]()

    def driven(script: Script) -> Run:
        return cached_run(item.rig, script, list(item.faults), item.car_seed, item.individual or None)

    for state in circuit_on(item.rig, wire, driven):
        for line in state.wires:
            volts = {joint.name: joint.volts for joint in line.joints}
            for pin in pins_of_plug(wire, volts):
                found.setdefault(pin.removeprefix(f"{wire}."), []).append(round(volts[pin], 2) + 0.0)
    if len(found) < 2:
        raise LeitfadenError(say("no plug with several pins is known at '{wire}' on this engine", wire=wire))
    names = list(found)
    return {names[int(k)]: found[names[int(k)]] for k in chance(item.seed, "pins", wire).permutation(len(names))}
