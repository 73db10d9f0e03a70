"""The vehicle under the instruments: what is wrong with it, what has been unplugged, closed off, exchanged or added for
a test.

A test never changes what the control unit has learned before it: a hose is clamped on an engine whose trims still fit
the leak, so the short-term trim shows the step.
"""

from dataclasses import dataclass, field, replace
from functools import cache, lru_cache

from leitfaden_core.engine.air_path import HOLE_COEFFICIENT
from leitfaden_core.faults import FaultSpec, effects_on, left_with_plugs_off
from leitfaden_core.rigs import Rig
from leitfaden_core.scripts import Script, script_with
from leitfaden_core.scripts.document import Segment, Window
from leitfaden_core.simulate import FRAME, UNTOUCHED, Handwork, Run, simulate
from leitfaden_core.simulate.pins import hooks_at, network_at
from leitfaden_core.wiring.circuits import CIRCUITS
from leitfaden_core.wiring.network import Network
from leitfaden_core.words import say


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
class Opening:
    """A hole through which air or smoke can pass. ``side`` is that of the throttle from which smoke reaches it."""

    side: str
    place: str
    area_mm2: float
    opens_at_kpa: float  # excess pressure from which on it is open
    sealed: bool  # it stays shut against the low pressure of smoke


@dataclass(frozen=True)
class Mark:
    """Something that the eye can see: in which group of places, and the words for it (``kind``: without sizes)."""

    group: str
    words: str
    kind: str


BEHIND, BEFORE = "behind the throttle", "before the throttle"
#: Hooks that are open areas -> the side from which smoke reaches them.
_OPEN_AREAS = {"leak_manifold_area": BEHIND, "leak_duct_area": BEFORE, "boost_leak_area": BEFORE}


@dataclass(frozen=True)
class Vehicle:
    """A rig with its faults, in the state in which a technician has put it."""

    rig: Rig
    faults: tuple[FaultSpec, ...] = ()
    seed: int = 0
    individual: tuple[tuple[str, float], ...] = ()
    work: Handwork = UNTOUCHED
    settled: bool = False  # it was driven for days with the handwork done
    added: tuple[FaultSpec, ...] = field(default=())  # what a tool adds: fuel, air

    def acting(self) -> list[FaultSpec]:
        """What acts on the engine now, besides hands."""
        unplugged = [FaultSpec(kind="signal_open", params={"circuit": name}) for name in sorted(self.work.unplugged)]
        return left_with_plugs_off([*self.faults, *self.added], self.work.unplugged, self.rig) + unplugged

    def run(self, condition: str) -> Run:
        """The run in which a condition is read, with the memory that days of driving in the unaltered state have
        left.
        """
        return self.drive(_script_with(condition))

    def drive(self, script: Script) -> Run:
        """A run along a script."""
        return self._drive(script, self.acting())

    def _drive(self, script: Script, acting: list[FaultSpec]) -> Run:
        before = list(self.faults)
        if self.settled:  # what has left with an exchanged part has left for good
            acting, before = ([f for f in faults if self._left_by_parts(f)] for faults in (acting, before))
        work = replace(self.work, unplugged=frozenset()).that_matters(self.rig, tuple(acting))
        return _run(
            self.rig,
            script.model_dump_json(),
            tuple(fault.model_dump_json() for fault in acting),
            tuple(fault.model_dump_json() for fault in before),
            self.seed,
            self.individual,
            work,
            self.settled and work != UNTOUCHED,
        )

    def _left_by_parts(self, fault: FaultSpec) -> bool:
        """Whether a fault has something left on the vehicle beside the parts that were exchanged."""
        return any(effect.part not in self.work.gone for effect in effects_on(fault, self.rig)[2])

    def watched(self, condition: str) -> Run:
        """The same, seconds after a change at the running engine where the condition allows that."""
        return self.drive(WATCHED.get(condition, _script_with(condition)))

    def moment(self, condition: str) -> float:
        """The instant of a condition at which a meter is read: its middle. [s]"""
        return sum(_script_with(condition).span(condition)) / 2.0

    def network(self, condition: str, key_off: bool = False) -> Network:
        """The wiring in the middle of a condition, plugs off where they are."""
        wires = frozenset(CIRCUITS[name].wire for name in self.work.unplugged)
        # A plug that is off is no broken wire: the network takes the plug apart itself.
        left = left_with_plugs_off([*self.faults, *self.added], self.work.unplugged, self.rig)
        return network_at(self._drive(_script_with(condition), left), self.moment(condition), wires, key_off)

    def openings(self) -> list[Opening]:
        """All holes that it has and should not have."""
        found = []
        for fault in self.faults:
            kind, _values, effects = effects_on(fault, self.rig)
            opens = max((e.value for e in effects if e.hook == "boost_leak_opens"), default=0.0) / 1000.0
            for effect in effects:
                if effect.hook in _OPEN_AREAS and effect.part not in self.work.gone:
                    area = effect.value / HOLE_COEFFICIENT * 1e6
                    found.append(
                        Opening(_OPEN_AREAS[effect.hook], effect.hose or effect.part, area, opens, kind.sealed)
                    )
        return found

    def marks(self) -> list[Mark]:
        """All that can be seen on it and means something."""
        kinds = [fault.checked() for fault in self.faults]
        return [Mark(kind.group, say(kind.look, **values), kind.look) for kind, values in kinds if kind.look]

    def hooks(self, condition: str) -> dict[str, float]:
        """Where something acts on the engine in the middle of a condition, with the values there."""
        run = self.run(condition)
        return hooks_at(run, min(int(self.moment(condition) / FRAME), len(run.lanes) - 1))

    def with_plug_off(self, *circuits: str) -> "Vehicle":
        """The same vehicle with these plugs off."""
        return replace(self, work=self.work.plug_off(self.rig, *circuits))

    def with_closed(self, hose: str) -> "Vehicle":
        """The same vehicle with a hose or pipe closed off; its control unit has learned before that."""
        return replace(self, work=self.work.close(self.rig, hose))

    def with_part(self, part: str, brings: FaultSpec | None = None) -> "Vehicle":
        """The same vehicle with another part in the place of this one, adaptations reset and driven in; a known-good
        one, unless it brings a defect.
        """
        return replace(self, work=self.work.fit(self.rig, part, brings), settled=True)

    def with_held(self, actuator: str, share: float = 1.0) -> "Vehicle":
        """The same vehicle with an actuator held by the tool."""
        return replace(self, work=self.work.hold(self.rig, actuator, share))

    def with_added(self, *faults: FaultSpec) -> "Vehicle":
        """The same vehicle with what a tool adds."""
        return replace(self, added=(*self.added, *faults))


@cache
def _script_with(condition: str) -> Script:
    return script_with(condition)


@lru_cache(maxsize=24)
def _run(
    rig: Rig,
    script: str,
    acting: tuple[str, ...],
    before: tuple[str, ...],
    seed: int,
    individual: tuple[tuple[str, float], ...],
    work: Handwork,
    settled: bool,
) -> Run:
    def specs(texts: tuple[str, ...]) -> list[FaultSpec]:
        return [FaultSpec.model_validate_json(text) for text in texts]

    return simulate(
        rig,
        Script.model_validate_json(script),
        specs(acting),
        seed,
        dict(individual),
        learned_with=specs(before),
        work=work,
        settled=settled,
    )
