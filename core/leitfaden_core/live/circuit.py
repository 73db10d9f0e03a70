"""The circuit of a sensor: the joints of each of its wires in their order, with the volts that the network solves at an
instant, of a bench or of a run.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.errors import LeitfadenError, UnknownName
from leitfaden_core.faults import FaultSpec
from leitfaden_core.live.bench import Bench
from leitfaden_core.rigs import Rig
from leitfaden_core.scripts import Script
from leitfaden_core.scripts.document import Segment
from leitfaden_core.simulate import FRAME, Run
from leitfaden_core.simulate.handwork import UNTOUCHED, Handwork
from leitfaden_core.simulate.machine import Machine
from leitfaden_core.simulate.pins import network_at
from leitfaden_core.wiring.circuits import CIRCUITS, circuits_of
from leitfaden_core.wiring.joints import joint_word
from leitfaden_core.words import say

#: Role of a wire -> its joints from the source on; {w} is what hangs on it.
_WIRES: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("supply", ("unit.5v", "reference", "{w}.supply")),
    ("supply", ("battery plus", "switched plus", "{w}.supply")),
    ("signal", ("{w}.output", "{w}.signal", "unit.{w}")),
    ("signal", ("{w}.cell", "{w}.signal", "unit.{w}")),
    ("signal", ("{w}.signal", "unit.{w}")),
    ("pump", ("{w}.pump", "unit.{w} pump")),
    ("sensing", ("{w}.sensing", "unit.{w} sensing")),
    ("return", ("{w}.return", "unit.{w} return")),
    ("ground", ("{w}.ground", "sensor ground", "unit.ground")),
    ("ground", ("{w}.power ground", "engine block")),
    ("heater", ("switched plus", "{w}.heater plus", "{w}.heater minus", "unit.power ground")),
)


@dataclass(frozen=True)
class Joint:
    """A point of a wire, with what people call it. [V] against battery minus."""

    name: str
    volts: float
    label: str


@dataclass(frozen=True)
class Wire:
    """A wire by its role, joint after joint."""

    role: str
    joints: list[Joint]


def circuit_of(bench: Bench, wire: str) -> list[Wire]:
    """The wires of what hangs on a wire of a bench, such as ``map`` or ``front``, now.

    Raises
    ------
    UnknownName
        When the engine has no such wire.
    LeitfadenError
        Before anything was.
    """
    known_wire(bench.rig, wire)
    moment = bench.moment
    if moment is None:
        raise LeitfadenError(say("this engine has not run yet"))
    faults = tuple(put.now for put in bench.machine.faults.values())
    run = run_of_instant(bench.rig, moment.rows[-2:].copy(), faults, bench.beginning.seed, bench.machine.work)
    off = frozenset(CIRCUITS[name].wire for name in bench.machine.work.unplugged)
    return wires_at(run, (len(run.lanes) - 1) * FRAME, wire, off)


def run_of_instant(
    rig: Rig, rows: NDArray[np.void], faults: tuple[FaultSpec, ...], seed: int, work: Handwork = UNTOUCHED
) -> Run:
    """Rows of an engine as a run of their own, at whose end its circuit is solved."""
    script = Script(
        schema_version=1,
        id="now",
        name="Now",
        description="This instant",
        start="hot",
        segments=[Segment(label="now", seconds=max(len(rows), 1) * FRAME)],
    )
    return Run(rig, script, faults, seed, rows, np.zeros(0), work)


def joints_of(rig: Rig) -> list[str]:
    """Every joint of the wiring of a sound engine: the same whatever it does, so that an instant of it is enough."""
    return network_at(run_of_instant(rig, Machine(rig).advance(1), (), 0), 0.0).nodes()


def known_wire(rig: Rig, wire: str) -> None:
    """UnknownName when a rig has no such wire."""
    known = {CIRCUITS[name].plug for name in circuits_of(rig)}
    if wire not in known:
        raise UnknownName("wire", wire, known)


def wires_at(run: Run, seconds: float, wire: str, off: frozenset[str] = frozenset()) -> list[Wire]:
    """The wires of what hangs on a wire at an instant of a run, some plugs off at their sensors."""
    known_wire(run.rig, wire)
    volts = network_at(run, seconds, off).solve()
    on_reference = any(CIRCUITS[name].on_reference for name in circuits_of(run.rig) if CIRCUITS[name].wire == wire)
    found: dict[str, Wire] = {}
    for role, template in _WIRES:
        names = [name.format(w=wire) for name in template]
        if role in found or any(name not in volts for name in names):
            continue
        if role == "supply" and on_reference != ("reference" in names):
            continue
        found[role] = Wire(
            role, [Joint(name, round(volts[name], 3) + 0.0, joint_word(run.rig, name)) for name in names]
        )
    return list(found.values())
