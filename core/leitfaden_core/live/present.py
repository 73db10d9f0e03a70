"""The vehicle on a bench as instruments find it: in the condition that it is in now its own last seconds are read, in
any other a drive with what hands have left, in the air in which it stands.
"""

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.faults import FaultSpec
from leitfaden_core.instruments import Vehicle
from leitfaden_core.live.bench import Bench, Portion
from leitfaden_core.scripts import Script
from leitfaden_core.scripts.document import Segment, Window
from leitfaden_core.simulate import FRAME, Handwork, Machine, Run
from leitfaden_core.simulate.layout import INDIVIDUAL
from leitfaden_core.simulate.pins import network_at
from leitfaden_core.wiring.circuits import CIRCUITS
from leitfaden_core.wiring.network import Network

#: A condition is read on the running engine from so long on. [s]
AFTER = 1.0


@dataclass(frozen=True)
class Untouched:
    """The vehicle as it was when its last seconds were recorded: they tell nothing of one that was touched since."""

    faults: tuple[FaultSpec, ...]
    work: Handwork
    added: tuple[FaultSpec, ...]


@dataclass(frozen=True)
class Present(Vehicle):
    """A vehicle whose last seconds in a condition are known."""

    seconds: Run | None = field(default=None, compare=False)
    condition: str = ""
    as_recorded: Untouched | None = field(default=None, compare=False)

    def run(self, condition: str) -> Run:
        """The last seconds, where they are of this condition and nothing was touched since; else a drive."""
        return self._known(condition) or super().run(condition)

    def moment(self, condition: str) -> float:
        """The instant at which a meter is read: now, or the middle of the condition on a drive. [s]"""
        known = self._known(condition)
        return super().moment(condition) if known is None else (len(known.lanes) - 1) * FRAME

    def network(self, condition: str, key_off: bool = False) -> Network:
        """The wiring at that instant, plugs off where they are."""
        known = self._known(condition)
        if known is None:
            return super().network(condition, key_off)
        wires = frozenset(CIRCUITS[name].wire for name in self.work.unplugged)
        return network_at(known, self.moment(condition), wires, key_off)

    def is_read_now(self, condition: str) -> bool:
        """Whether an instrument finds its last seconds in this condition, and no drive."""
        return self._known(condition) is not None

    def _known(self, condition: str) -> Run | None:
        now = Untouched(self.faults, self.work, self.added)
        return self.seconds if condition == self.condition and now == self.as_recorded else None


def present(bench: Bench) -> Present:
    """The vehicle on a bench, now."""
    quiet = _quiet(bench)
    return _found(bench, bench.machine, None if quiet is None else quiet.rows)


def undisturbed(bench: Bench) -> Present:
    """Its twin, which has the same hands and nothing wrong."""
    quiet = _quiet(bench)
    return _found(bench, bench.twin, None if quiet is None else quiet.twin)


def _quiet(bench: Bench) -> Portion | None:
    """Rows of the named condition that it is in, since hands last did something."""
    spell = bench.spell
    if spell is None:
        return None
    last = bench.journal[-1].frame if bench.journal else 0
    since = max(last - spell.first, 0)
    return Portion(spell.first + since, spell.rows[since:], spell.twin[since:])


def _found(bench: Bench, machine: Machine, rows: NDArray[np.void] | None) -> Present:
    faults = tuple(put.now for put in machine.faults.values())
    seconds, condition = _last_seconds(bench, machine, faults, rows)
    return Present(
        bench.rig,
        faults,
        bench.beginning.seed,
        tuple(sorted(_individual(bench, machine).items())),
        machine.work,
        seconds=seconds,
        condition=condition,
        as_recorded=Untouched(faults, machine.work, ()),
    )


def _individual(bench: Bench, machine: Machine) -> dict[str, float]:
    """What the engine has of its own, with what stands around it now where that is not as ever."""
    own = bench.beginning.individual
    return own | {name: now for name, now in machine.surroundings.items() if now != own.get(name, INDIVIDUAL[name])}


def _stays(fault: FaultSpec) -> bool:
    kind, _values = fault.checked()
    return kind.pulses is None and fault.onset.mode not in {"random", "wiggle"}


def _last_seconds(
    bench: Bench, machine: Machine, faults: tuple[FaultSpec, ...], rows: NDArray[np.void] | None
) -> tuple[Run | None, str]:
    """Those rows as a run, and the condition that they are of; none where they are too few to read by."""
    condition = bench.condition
    # What comes and goes is laid out by the frames of a drive: it is read on one.
    if rows is None or condition is None or not all(map(_stays, faults)):
        return None, ""
    length = len(rows) * FRAME
    if length < AFTER:
        return None, ""
    script = Script(
        schema_version=1,
        id="present",
        name="Now",
        description="The last seconds on the bench",
        start="hot",
        segments=[Segment(label="now", seconds=length, window=Window(condition=condition, span=(0.0, length)))],
    )
    memory = np.array(machine.learned)
    return Run(bench.rig, script, faults, bench.beginning.seed, rows.copy(), memory, machine.work), condition
