"""What could be wrong: every fault of a rig with its choices, at several sizes, with a prior weight from workshop
experience and history.
"""

import itertools
from dataclasses import dataclass, replace

from leitfaden_core.diagnose.chains import origins_of
from leitfaden_core.errors import LeitfadenError
from leitfaden_core.faults import FaultSpec, describe_fault, effects_on, fault_kinds, offered_on
from leitfaden_core.faults.catalogue import FaultKind, Range
from leitfaden_core.rigs import Rig
from leitfaden_core.words import per_language, say

#: Share of vehicles in the bay in which nothing is wrong that the complaint is about.
NOTHING_WRONG = 0.05
#: Of the parts that another fault usually spoils (a sooted sensor, a worn catalyst, an oily hose), the share that are
#: victims of one which is still there: half, as the catalogue's priors are meant; a school sets its own. A choice
#: between schools, no count. [-]
VICTIMS = 0.5
#: What history says: word -> factor on the groups of faults that it makes more likely. Rules of thumb.
HISTORY: dict[str, dict[str, float]] = {
    "parts already fitted": {"wrong_part": 4.0, "circuit": 2.0},
    "after work on the engine": {"circuit": 2.5, "air_path": 2.5, "pressure_sensor": 1.5},
    "after a hot drive": {"temperature": 2.0, "circuit": 1.5},
    "little maintenance": {"airflow_meter": 2.0, "fuel": 2.0, "air_path": 1.5},
    "since refuelling": {"fuel": 5.0},
    "comes and goes": {"circuit": 4.0},
}


@dataclass(frozen=True)
class Candidate:
    """A cause: kind with its choices, and the sizes at which it is simulated. ``prior`` sums to 1 over all.

    ``ways`` are rows of sizes that lie on one way from small to large: between two of a row readings may be
    interpolated. A shift has one way up and one down; a cause with two numbers has a diagonal, and each corner (a large
    hole with little vapour) stands alone.
    """

    id: str
    label: str
    kind: str
    ways: tuple[tuple[FaultSpec, ...], ...]
    prior: float
    parts: tuple["Candidate", ...] = ()  # of a pair of faults: its two causes

    @property
    def sizes(self) -> tuple[FaultSpec, ...]:
        """All simulated sizes."""
        return tuple(spec for way in self.ways for spec in way)


@per_language()
def candidates(rig: Rig, history: tuple[str, ...] = (), victims: float = VICTIMS) -> tuple[Candidate, ...]:
    """All single causes of a rig and "nothing wrong", with priors.

    ``victims``: share of spoilt parts that are no cause by themselves. [-]
    """
    found: list[Candidate] = []
    for kind_id, choices in offered_on(rig).items():
        kind = fault_kinds.get(kind_id)
        if kind.construction or not _looked_for(kind, rig):
            continue
        # An optional choice with one answer on this rig is no choice.
        asked = {name: known for name, known in choices.items() if len(known) > 1 or not _optional(kind_id, name)}
        combinations = list(itertools.product(*asked.values()))
        weight = kind.prior / len(combinations)
        for word in history:
            weight *= HISTORY[word].get(kind.group, 1.0)
        if origins_of(kind_id):
            weight *= (1.0 - victims) / (1.0 - VICTIMS)
        for picked in combinations:
            chosen = dict(zip(asked, picked, strict=True))
            ways = tuple(way for way in (_possible(rig, way) for way in ways_of(rig, kind_id, chosen)) if way)
            name = ":".join([kind_id, *(str(value) for value in picked)])
            found.append(Candidate(name, kind.named(chosen), kind_id, ways, weight))
    total = sum(entry.prior for entry in found)
    sound = Candidate("nothing_wrong", "Nothing is wrong", "", (), NOTHING_WRONG)
    share = 1.0 - NOTHING_WRONG
    return (sound, *(replace(entry, prior=share * entry.prior / total) for entry in found))


def _looked_for(kind: FaultKind, rig: Rig) -> bool:
    """Whether a kind is a cause that this engine can have, and that would disturb something there."""
    return kind.usual_with in {"", *rig.features} and kind.unusual_with not in rig.features


def _possible(rig: Rig, specs: list[FaultSpec]) -> tuple[FaultSpec, ...]:
    """Those that this rig can have: three cylinders have no fourth injector."""

    def fits(spec: FaultSpec) -> bool:
        try:
            effects_on(spec, rig)
        except LeitfadenError:
            return False
        return True

    return tuple(spec for spec in specs if fits(spec))


def _optional(kind_id: str, parameter: str) -> bool:
    return next(p.optional for p in fault_kinds.get(kind_id).parameters if p.id == parameter)


def ways_of(rig: Rig, kind_id: str, chosen: dict[str, str]) -> list[list[FaultSpec]]:
    """Sizes of a kind with its choices, as rows that lie on one way each."""
    kind = fault_kinds.get(kind_id)
    params: dict[str, float | str] = dict(chosen)

    def spec(**numbers: float) -> FaultSpec:
        return FaultSpec(kind=kind_id, params=params | numbers)

    if kind.ways is not None:
        return [[FaultSpec(kind=kind_id, params=params | sizes) for sizes in way] for way in kind.ways(params, rig)]
    numbers = [p for p in kind.parameters if not p.choices and not p.optional]
    if not numbers:
        return [[spec()]]
    if len(numbers) == 1:
        (only,) = numbers
        steps = _both_sides(only.range_for(params))
        sides = ([v for v in steps if v < 0], [v for v in steps if v >= 0])
        return [[spec(**{only.id: value}) for value in sorted(side, key=abs)] for side in sides if side]
    diagonal = [spec(**{p.id: p.steps[k] for p in numbers}) for k in range(len(numbers[0].steps))]
    a, b = numbers[0], numbers[1]
    if len(numbers) > 2:
        return [diagonal]
    return [diagonal, [spec(**{a.id: a.steps[0], b.id: b.steps[-1]})], [spec(**{a.id: a.steps[-1], b.id: b.steps[0]})]]


def _both_sides(allowed: Range) -> list[float]:
    """Severity steps, mirrored to the other sign where a shift may go both ways and the steps name only one."""
    steps = list(allowed.steps)
    if allowed.low < 0 < allowed.high and len({value > 0 for value in steps}) == 1:
        steps += [-value for value in steps if allowed.low <= -value <= allowed.high]
    return steps


def candidate_of(rig: Rig, fault: FaultSpec) -> Candidate:
    """The candidate that a fault is an example of."""
    for entry in candidates(rig):
        if entry.kind == fault.kind and entry.sizes:
            sample = entry.sizes[0].params
            if all(fault.params.get(name, value) == value for name, value in sample.items() if isinstance(value, str)):
                return entry
    raise ValueError(
        say("no candidate for {describe_fault} on rig {id}", describe_fault=describe_fault(fault), id=rig.id)
    )
