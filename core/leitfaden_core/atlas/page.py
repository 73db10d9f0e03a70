"""A page on a rig: where the device sits there, what healthy engines show of it, how it fails, its circuit."""

from collections.abc import Callable
from dataclasses import dataclass

from leitfaden_core.atlas.documents import Page, Plate, plate_groups
from leitfaden_core.expect import has_sheet, load_sheet
from leitfaden_core.faults import FaultSpec, describe_fault, fault_kinds, offered_on
from leitfaden_core.faults.catalogue import FaultKind, Values
from leitfaden_core.faults.parts import part_called
from leitfaden_core.judge.verdict import no_meaning
from leitfaden_core.live.circuit import Wire, wires_at
from leitfaden_core.live.way import way_of
from leitfaden_core.rigs import Rig, load_rig, rig_channels, rig_ids, shown_quantity, variant_ids
from leitfaden_core.scripts import CONDITIONS, Script, script_with
from leitfaden_core.simulate import Run, cached_run
from leitfaden_core.wiring.circuits import CIRCUITS, circuits_of
from leitfaden_core.words import in_language, per_language, say

#: Conditions that a page shows first, as far as the rig has them.
CONDITIONS_FIRST = ("koeo", "crank", "cold_idle", "hot_idle", "no_load_2500", "cruise_80", "wot_pull", "decel_fuel_cut")


@dataclass(frozen=True)
class Place:
    """A knot of the thread at which the device sits, with what is written there."""

    id: str
    term: str
    name: str
    place: str


@dataclass(frozen=True)
class GoodLine:
    """What healthy engines show of a channel in a condition, in the unit of its quantity."""

    channel: str
    condition: str
    low: float
    median: float
    high: float
    quantity: str


@dataclass(frozen=True)
class PlateShown:
    """A plate beside others: its drawing, what it is, and whether it is what the example looks like."""

    look: str
    words: str
    mine: bool


@dataclass(frozen=True)
class FaultLine:
    """A way in which it fails: what is wrong, what the eye sees, how it is proven and mended; the middle size as an
    example; plates, where there is something to be seen.
    """

    kind: str
    label: str
    meaning: str
    look: str
    proof: str
    repair: str
    example: FaultSpec
    words: str
    plates: list[PlateShown]


@dataclass(frozen=True)
class PageOnRig:
    """A page with what is true of it on one rig."""

    places: list[Place]
    order: list[str]
    good: list[GoodLine]
    faults: list[FaultLine]
    wires: list[str]
    has_values: bool


def has_device(page: Page, rig: Rig) -> bool:
    """Whether a rig has what a page is about."""
    if page.rigs:
        return rig.id in page.rigs
    return all(need in rig.features for need in page.needs) and not any(not_ in rig.features for not_ in page.unless)


@per_language()
def page_rigs(page: Page) -> list[str]:
    """Ids of the rigs and variants that have the device."""
    return [name for name in (*rig_ids(), *variant_ids()) if has_device(page, load_rig(name))]


def page_on(page: Page, rig: Rig) -> PageOnRig:
    """A page on a rig that has the device."""
    return PageOnRig(
        _places(page, rig), way_of(rig).order, _good(page, rig), _faults(page, rig), _wires(page, rig), has_sheet(rig)
    )


def _places(page: Page, rig: Rig) -> list[Place]:
    way = way_of(rig)
    sensors = [Place(s.id, s.term, say(s.name), say(s.place)) for s in rig.sensors if s.id in page.sensors]
    stations = [
        Place(s.id, s.label, s.name, say("joins at {at}", at=s.at) if s in way.branches else "")
        for s in (*way.parts, *way.branches)
        if s.id in page.stations
    ]
    return sensors + stations


def _good(page: Page, rig: Rig) -> list[GoodLine]:
    if not has_sheet(rig):
        return []
    bands, known = load_sheet(rig).bands, rig_channels(rig)
    return [
        GoodLine(name, condition, band.low, band.median, band.high, shown_quantity(rig, name))
        for name in page.channels
        if name in known
        for condition in CONDITIONS_FIRST
        if condition in CONDITIONS
        and no_meaning(rig, condition, name) is None
        and (band := bands.get((condition, name, "mean"))) is not None
    ]


@per_language()
def _faults(page: Page, rig: Rig) -> list[FaultLine]:
    offered = offered_on(rig)
    found = []
    for name in page.faults:
        if name not in offered:
            continue
        kind = fault_kinds.get(name)
        example = _example(page, rig, kind, offered[name])
        if example is None:
            continue
        words = ("label", "meaning", "look", "proof", "repair")
        told = in_language({word: getattr(kind, word) for word in words})
        told["look"] = told["look"].format(**example.params)
        found.append(
            FaultLine(kind=name, example=example, words=describe_fault(example), plates=_plates(example), **told)
        )
    return found


def _plates(example: FaultSpec) -> list[PlateShown]:
    """The group of plates that belongs to a fault."""
    group = next((group for group in plate_groups() if example.kind in group.kinds), None)
    return [
        PlateShown(plate.looks[0], f"{plate.sight}: {plate.means}", _looks_so(plate, example))
        for plate in (group.plates if group else ())
    ]


def _looks_so(plate: Plate, fault: FaultSpec) -> bool:
    needed = plate.of.get(fault.kind)
    return needed is not None and all(fault.params.get(name) == value for name, value in needed.items())


def _example(page: Page, rig: Rig, kind: FaultKind, offered: dict[str, list[str]]) -> FaultSpec | None:
    """A kind in its middle size, at the place that a page is about; None for a part of another device."""
    values: Values = {}
    for parameter in kind.parameters:
        known = offered.get(parameter.id, [])
        mine = [choice for choice in known if _is_at(choice, page, rig)]
        if parameter.optional and parameter.id not in kind.suggested:
            continue
        if parameter.id == "part" and not mine:
            return None
        values[parameter.id] = (mine or known)[0] if mine or known else parameter.default_for(values)
    return FaultSpec(kind=kind.id, params=values)


def _is_at(choice: str, page: Page, rig: Rig) -> bool:
    """Whether a choice of a fault names what a page is about: a circuit, or a sensor or part by any of its names."""
    circuits = {name for name in circuits_of(rig) if CIRCUITS[name].wire in page.wires}
    return choice in circuits or part_called(choice) in map(part_called, (*page.wires, *page.sensors, *page.parts))


def _wires(page: Page, rig: Rig) -> list[str]:
    there = {CIRCUITS[name].plug for name in circuits_of(rig)}
    return [wire for wire in page.wires if wire in there]


@dataclass(frozen=True)
class CircuitState:
    """The wires of a device in a state, as a meter finds them."""

    id: str
    label: str
    plug_off: bool
    wires: list[Wire]


#: Id, condition whose middle is taken, plug off.
_STATES = (
    ("key_on", "koeo", False),
    ("key_on_off", "koeo", True),
    ("running", "hot_idle", False),
    ("running_off", "hot_idle", True),
)


def state_labels() -> dict[str, str]:
    """The states in which a circuit is measured, by their ids."""
    return {
        "key_on": say("key on, plug on"),
        "key_on_off": say("key on, plug off"),
        "running": say("hot idle, plug on"),
        "running_off": say("hot idle, plug off"),
    }


def circuit_on(rig: Rig, wire: str, driven: Callable[[Script], Run] | None = None) -> list[CircuitState]:
    """What a meter shows at the joints of a device's wires: key on and running, plug on and off; on a sound engine, or
    on the one that is ``driven`` along a script.

    With the plug off the instant is the same: what the engine would do in the seconds after is a matter of the bench.
    """
    found = []
    labels = state_labels()
    for name, condition, off in _STATES:
        script = script_with(condition)
        run = driven(script) if driven else cached_run(rig, script, [], 0)
        plugs = frozenset(CIRCUITS[name].wire for name in circuits_of(rig) if CIRCUITS[name].plug == wire)
        instant = sum(script.span(condition)) / 2.0
        wires = wires_at(run, instant, wire, plugs if off else frozenset())
        found.append(CircuitState(name, labels[name], off, wires))
    return found
