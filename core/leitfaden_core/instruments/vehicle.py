"""The vehicle under the instruments: what is wrong with it, what has been unplugged, closed off, exchanged or added for
a test.

A test never changes what the control unit has learned before it: a hose is clamped on an engine whose trims still fit
the leak, so the short-term trim shows the step.
"""

from dataclasses import dataclass, field, replace
from functools import cache, lru_cache

from leitfaden_core.errors import UnknownName
from leitfaden_core.faults import FaultSpec, left_with_plugs_off
from leitfaden_core.rigs import Rig
from leitfaden_core.scripts import Script, script_with
from leitfaden_core.scripts.document import Segment, Window
from leitfaden_core.simulate import Run, simulate
from leitfaden_core.simulate.pins import network_at
from leitfaden_core.wiring.circuits import CIRCUITS, circuits_of
from leitfaden_core.wiring.network import Network


def _beside_the_engine(condition: str, **held: float) -> Script:
    """A hot engine that has just been touched: short, so that the learned memory is still what it was."""
    window = Window(condition=condition, span=(6.0, 10.0))
    return Script(
        schema_version=1,
        id=f"beside_{condition}",
        name="Beside the running engine",
        description="A few seconds after a change on a hot engine, before the learned memory follows",
        start="hot",
        segments=[Segment(label="Watch", seconds=10.0, window=window, **held)],
    )


#: What is watched while a hand is on the engine, by condition.
WATCHED = {
    "hot_idle": _beside_the_engine("hot_idle", pedal=0.0),
    "no_load_2500": _beside_the_engine("no_load_2500", hold_speed=2500.0),
}


@dataclass(frozen=True)
class Vehicle:
    """A rig with its faults, in the state in which a technician has put it."""

    rig: Rig
    faults: tuple[FaultSpec, ...] = ()
    seed: int = 0
    individual: tuple[tuple[str, float], ...] = ()
    unplugged: frozenset[str] = frozenset()  # circuits whose plug is off at the sensor
    silenced: frozenset[int] = (
        frozenset()
    )  # faults, by their number, that a clamp or an exchanged part keeps from acting
    added: tuple[FaultSpec, ...] = field(default=())  # what a tool adds: fuel, air, a forced actuator

    def acting(self) -> list[FaultSpec]:
        """What acts on the engine now."""
        unplugged = [FaultSpec(kind="signal_open", params={"circuit": name}) for name in sorted(self.unplugged)]
        there = [fault for k, fault in enumerate(self.faults) if k not in self.silenced] + list(self.added)
        return left_with_plugs_off(there, self.unplugged, self.rig) + unplugged

    def run(self, condition: str) -> Run:
        """The run in which a condition is read, with the memory that days of driving in the unaltered state have left."""
        return self.drive(_script_with(condition))

    def drive(self, script: Script) -> Run:
        """A run along a script."""
        acting, before = self.acting(), list(self.faults)
        return _run(
            self.rig,
            script.model_dump_json(),
            tuple(fault.model_dump_json() for fault in acting),
            tuple(fault.model_dump_json() for fault in before),
            self.seed,
            self.individual,
        )

    def watched(self, condition: str) -> Run:
        """The same, seconds after a change at the running engine where the condition allows that."""
        return self.drive(WATCHED.get(condition, _script_with(condition)))

    def moment(self, condition: str) -> float:
        """The instant of a condition at which a meter is read: its middle. [s]"""
        return sum(_script_with(condition).span(condition)) / 2.0

    def network(self, condition: str, key_off: bool = False) -> Network:
        """The wiring in the middle of a condition, plugs off where they are."""
        wires = frozenset(CIRCUITS[name].wire for name in self.unplugged)
        # A plug that is off is no broken wire: the network takes the plug apart itself.
        left = left_with_plugs_off(list(self.faults), self.unplugged, self.rig)
        gone = {k for k, fault in enumerate(self.faults) if fault not in left}
        plugged = replace(self, unplugged=frozenset(), silenced=self.silenced | gone)
        return network_at(plugged.run(condition), self.moment(condition), wires, key_off)

    def with_plug_off(self, *circuits: str) -> "Vehicle":
        """The same vehicle with these plugs off."""
        known = circuits_of(self.rig, "signal", "supply", "heater", "actuator")
        for name in circuits:
            if name not in known:
                raise UnknownName("circuit", name, known, where=f"on rig {self.rig.id}")
        return replace(self, unplugged=self.unplugged | set(circuits))

    def with_silenced(self, *kinds: str) -> "Vehicle":
        """The same vehicle with all faults of these kinds kept from acting."""
        numbers = {k for k, fault in enumerate(self.faults) if fault.kind in kinds}
        return replace(self, silenced=self.silenced | numbers)

    def with_added(self, *faults: FaultSpec) -> "Vehicle":
        """The same vehicle with what a tool adds."""
        return replace(self, added=(*self.added, *faults))


@cache
def _script_with(condition: str) -> Script:
    return script_with(condition)


@lru_cache(maxsize=16)
def _run(
    rig: Rig,
    script: str,
    acting: tuple[str, ...],
    before: tuple[str, ...],
    seed: int,
    individual: tuple[tuple[str, float], ...],
) -> Run:
    def specs(texts: tuple[str, ...]) -> list[FaultSpec]:
        return [FaultSpec.model_validate_json(text) for text in texts]

    return simulate(
        rig, Script.model_validate_json(script), specs(acting), seed, dict(individual), learned_with=specs(before)
    )
