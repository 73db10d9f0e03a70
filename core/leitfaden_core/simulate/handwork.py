"""What hands and a tool have done to the vehicle besides driving it: plugs off, hoses closed, parts exchanged,
actuators held.

None of it knows a fault. A closed hose ends whatever flows through it, an exchanged part takes its own defects along, a
held actuator moves unless it is stuck.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

from leitfaden_core.errors import LeitfadenError, UnknownName
from leitfaden_core.faults import Effect, FaultSpec, effects_on
from leitfaden_core.faults.hoses import HOSES, hoses_of
from leitfaden_core.faults.kinds.mechanical import NO_FUEL, NO_SPARK, without_fuel
from leitfaden_core.rigs import Rig
from leitfaden_core.wiring.circuits import circuits_of
from leitfaden_core.words import say


@dataclass(frozen=True)
class Actuator:
    """Something that a tool holds through the control unit. ``held`` gives the effects of holding it at a share of its
    way (0 to 1); an injector is shut off whatever the share.
    """

    name: str
    needs: str  # feature that a rig must have
    held: Callable[[Rig, float], list[Effect]]


ACTUATORS = {
    actuator.name: actuator
    for actuator in (
        Actuator("EGR valve", "egr", lambda rig, share: [Effect("egr_held", "set", share)]),
        Actuator("purge valve", "purge", lambda rig, share: [Effect("purge_held", "set", share)]),
        Actuator("vanes", "vanes", lambda rig, share: [Effect("vanes_held", "set", share)]),
    )
}


def injector_of(cylinder: int) -> str:
    """What the injector of a cylinder, counted from 1, is called among the actuators."""
    return f"injector of cylinder {cylinder}"


def _injectors(rig: Rig) -> dict[str, int]:
    return {injector_of(number): number for number in range(1, rig.engine.cylinders + 1)}


def actuators_on(rig: Rig) -> list[str]:
    """Actuators that a tool can hold on a rig."""
    return [*(a.name for a in ACTUATORS.values() if a.needs in rig.features), *_injectors(rig)]


def held_effects(rig: Rig, name: str, share: float) -> list[Effect]:
    """What holding an actuator does, or UnknownName."""
    if name not in actuators_on(rig):
        raise UnknownName("actuator", name, actuators_on(rig), where=say("on rig {id}", id=rig.id))
    injectors = _injectors(rig)
    if name in injectors:
        return without_fuel(injectors[name], rig)
    return ACTUATORS[name].held(rig, share)


@dataclass(frozen=True)
class Fitted:
    """A part in the place of the old one, and what it brings along itself: nothing, when it is known to be good."""

    part: str
    brings: tuple[Effect, ...] = ()


@dataclass(frozen=True)
class Handwork:
    """Circuits whose plug is off at the sensor, hoses and pipes that are closed, parts that are exchanged, and
    actuators that a tool holds (name, share of the way).
    """

    unplugged: frozenset[str] = frozenset()
    closed: frozenset[str] = frozenset()
    fitted: frozenset[Fitted] = frozenset()
    held: frozenset[tuple[str, float]] = frozenset()

    def plug_off(self, rig: Rig, *circuits: str) -> "Handwork":
        """The same with these plugs off as well."""
        known = circuits_of(rig, "signal", "supply", "heater", "actuator")
        for name in circuits:
            if name not in known:
                raise UnknownName("circuit", name, known, where=say("on rig {id}", id=rig.id))
        return replace(self, unplugged=self.unplugged | set(circuits))

    def plug_on(self, circuit: str) -> "Handwork":
        """The same with this plug on again."""
        if circuit not in self.unplugged:
            raise LeitfadenError(say("the plug of '{circuit}' is on", circuit=circuit))
        return replace(self, unplugged=self.unplugged - {circuit})

    def close(self, rig: Rig, hose: str) -> "Handwork":
        """The same with this hose closed as well."""
        if hose not in hoses_of(rig):
            raise UnknownName("hose", hose, hoses_of(rig), where=say("on rig {id}", id=rig.id))
        return replace(self, closed=self.closed | {hose})

    def open(self, hose: str) -> "Handwork":
        """The same with this hose open again."""
        if hose not in self.closed:
            raise LeitfadenError(say("'{hose}' is open", hose=hose))
        return replace(self, closed=self.closed - {hose})

    def fit(self, rig: Rig, part: str, brings: FaultSpec | None = None) -> "Handwork":
        """The same with another part in the place of this one: a known-good one, or one that brings a defect."""
        own = tuple(effects_on(brings, rig)[2]) if brings is not None else ()
        return replace(self, fitted=frozenset(f for f in self.fitted if f.part != part) | {Fitted(part, own)})

    def put_back(self, part: str) -> "Handwork":
        """The same with the old part back."""
        if part not in self.gone:
            raise LeitfadenError(say("the old part is in: '{part}' was not exchanged", part=part))
        return replace(self, fitted=frozenset(f for f in self.fitted if f.part != part))

    @property
    def gone(self) -> frozenset[str]:
        """The old parts that are out."""
        return frozenset(fitted.part for fitted in self.fitted)

    def hold(self, rig: Rig, actuator: str, share: float) -> "Handwork":
        """The same with this actuator held."""
        held_effects(rig, actuator, share)
        return replace(self, held=self.let_go(actuator, strict=False).held | {(actuator, share)})

    def let_go(self, actuator: str, strict: bool = True) -> "Handwork":
        """The same with this actuator left to the control unit."""
        left = frozenset((name, share) for name, share in self.held if name != actuator)
        if strict and left == self.held:
            raise LeitfadenError(say("the {actuator} is not held", actuator=actuator))
        return replace(self, held=left)

    def that_matters(self, rig: Rig, faults: tuple[FaultSpec, ...]) -> "Handwork":
        """The same without closed hoses and exchanged parts that change nothing on this vehicle."""
        there = [effect for fault in faults for effect in effects_on(fault, rig)[2]]
        return replace(
            self,
            closed=frozenset(h for h in self.closed if HOSES[h].closed or any(e.hose == h for e in there)),
            fitted=frozenset(f for f in self.fitted if f.brings or any(e.part == f.part for e in there)),
        )


#: A vehicle on which nobody has laid a hand.
UNTOUCHED = Handwork()


def acting(rig: Rig, faults: list[FaultSpec], work: Handwork) -> Iterator[tuple[int, Effect]]:
    """All effects on the vehicle in the order in which they act, each with the number of its fault; what is always
    there, such as a closed hose, has the number behind the last fault.

    A held actuator acts first: one that is stuck, or whose wire is broken, does not follow. A cylinder fails once: the
    one whose injector is shut off has no spark to lose.
    """
    always = len(faults)
    found = [(always, effect) for name, share in sorted(work.held) for effect in held_effects(rig, name, share)]
    for k, fault in enumerate(faults):
        found += [
            (k, effect)
            for effect in effects_on(fault, rig)[2]
            if effect.hose not in work.closed and effect.part not in work.gone
        ]
    found += [(always, effect) for new in sorted(work.fitted, key=lambda f: f.part) for effect in new.brings]
    found += [(always, effect) for name in sorted(work.closed) for effect in HOSES[name].closed]
    dry = {effect.cylinder for _k, effect in found if effect.cylinder and effect.hook in NO_FUEL}
    done: set[tuple[str, int]] = set()
    for k, effect in found:
        if effect.cylinder:
            lost_already = effect.hook in NO_SPARK and effect.cylinder in dry
            if lost_already or (effect.hook, effect.cylinder) in done:
                continue
            done.add((effect.hook, effect.cylinder))
        yield k, effect
