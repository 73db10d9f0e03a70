"""What hands can reach on an engine: plugs, hoses, parts, actuators, and the instruments with the places where they
fit.
"""

from collections.abc import Callable
from dataclasses import dataclass, field

from leitfaden_core.faults.hoses import hoses_of
from leitfaden_core.faults.parts import PARTS
from leitfaden_core.instruments import Instrument, instruments
from leitfaden_core.instruments.kinds.oscilloscope import signals_of
from leitfaden_core.instruments.kinds.parts import parts_of
from leitfaden_core.instruments.kinds.scan import menu_of
from leitfaden_core.live.circuit import joints_of
from leitfaden_core.live.way import Way, way_of
from leitfaden_core.rigs import Rig
from leitfaden_core.simulate import actuators_on
from leitfaden_core.wiring.circuits import CIRCUITS, circuits_of
from leitfaden_core.wiring.joints import INSIDE, joint_word
from leitfaden_core.wiring.network import GROUND


def _pins(rig: Rig) -> list[str]:
    """Every joint of the wiring on which a tip can be put."""
    return [GROUND, *(name for name in joints_of(rig) if not name.endswith(INSIDE))]


#: What an instrument is put to where it takes several places, separated so.
_SEVERAL: dict[str, tuple[str, Callable[[Rig], list[str]]]] = {
    "multimeter": ("/", _pins),
    "oscilloscope": (",", signals_of),
    "scan_tool": (",", lambda rig: menu_of(rig, "enhanced")),
}


@dataclass(frozen=True)
class Plug:
    """A circuit whose plug can be pulled, with the sensor on whose knot of the thread it sits; empty: on none. ``plug``
    begins the names of its pins, and is the same for the signal, supply and heater of one sensor.
    """

    circuit: str
    wire: str
    plug: str
    label: str
    sensor: str


@dataclass(frozen=True)
class Fits:
    """An instrument with its places here; ``several`` is what separates them where it takes more than one, ``words``
    what people call those whose name is no word.
    """

    instrument: Instrument
    places: list[str]
    several: str
    words: dict[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class Reach:
    """Everything that hands can reach on an engine."""

    plugs: list[Plug]
    hoses: list[str]
    parts: dict[str, str]  # part -> sensor on the thread, or empty
    actuators: list[str]
    instruments: list[Fits]
    way: Way


def reach_of(rig: Rig) -> Reach:
    """What hands can reach on a rig."""
    knots = {sensor.id: sensor for sensor in rig.sensors}
    plugs = []
    for name in circuits_of(rig, "signal", "supply", "heater", "actuator"):
        circuit = CIRCUITS[name]
        of = next((s for s in (circuit.sensor, circuit.needs) if s in knots), "")
        plugs.append(Plug(name, circuit.wire, circuit.plug, circuit.label, of))
    of_part = {PARTS[name]: name for name in knots if name in PARTS}
    return Reach(
        plugs,
        hoses_of(rig),
        {part: of_part.get(part, "") for part in parts_of(rig)},
        actuators_on(rig),
        [fits for entry in instruments if (fits := _fits(entry, rig)) is not None],
        way_of(rig),
    )


def _fits(entry: Instrument, rig: Rig) -> Fits | None:
    if entry.id in _SEVERAL:
        several, places = _SEVERAL[entry.id]
        here = places(rig)
        return Fits(entry, here, several, {name: joint_word(rig, name) for name in here} if several == "/" else {})
    places_here = entry.places(rig)
    return Fits(entry, places_here, "") if places_here else None
