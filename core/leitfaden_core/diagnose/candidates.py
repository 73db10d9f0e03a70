"""What could be wrong: every fault of a rig with its choices, at several sizes, with a prior weight from workshop experience and history."""

import itertools
from dataclasses import dataclass, replace
from functools import cache

from leitfaden_core.errors import LeitfadenError
from leitfaden_core.faults import FaultSpec, describe_fault, effects_on, fault_kinds, offered_on
from leitfaden_core.rigs import Rig, load_rig

#: Share of vehicles in the bay in which nothing is wrong that the complaint is about.
NOTHING_WRONG = 0.05
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
    """A cause: kind with its choices, and the sizes at which it is simulated, one where nothing is to be sized. ``prior`` sums to 1 over all.

    ``corners`` are sizes off the way from small to large, of causes with two numbers: a large hole with little vapour, few cylinders badly.
    """

    id: str
    label: str
    kind: str
    sizes: tuple[FaultSpec, ...]
    prior: float
    corners: tuple[FaultSpec, ...] = ()
    parts: tuple["Candidate", ...] = ()  # of a pair of faults: its two causes


@cache
def candidates(rig_id: str, history: tuple[str, ...] = ()) -> tuple[Candidate, ...]:
    """All single causes of a rig and "nothing wrong", with priors."""
    rig = load_rig(rig_id)
    found: list[Candidate] = []
    for kind_id, choices in offered_on(rig).items():
        kind = fault_kinds.get(kind_id)
        # An optional choice with one answer on this rig is no choice.
        asked = {name: known for name, known in choices.items() if len(known) > 1 or not _optional(kind_id, name)}
        combinations = list(itertools.product(*asked.values()))
        weight = kind.prior / len(combinations)
        for word in history:
            weight *= HISTORY[word].get(kind.group, 1.0)
        for picked in combinations:
            chosen = dict(zip(asked, picked, strict=True))
            sizes = _possible(rig, sized(rig, kind_id, chosen))
            name = ":".join([kind_id, *(str(value) for value in picked)])
            found.append(Candidate(name, _label(sizes[0], chosen), kind_id, sizes, weight, _possible(rig, cornered(kind_id, chosen))))
    total = sum(entry.prior for entry in found)
    sound = Candidate("nothing_wrong", "Nothing is wrong", "", (), NOTHING_WRONG)
    share = 1.0 - NOTHING_WRONG
    return (sound, *(replace(entry, prior=share * entry.prior / total) for entry in found))


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


def _label(spec: FaultSpec, chosen: dict[str, str]) -> str:
    kind = fault_kinds.get(spec.kind)
    return f"{kind.label} ({', '.join(str(value).replace('_', ' ') for value in chosen.values())})" if chosen else kind.label


def sized(rig: Rig, kind_id: str, chosen: dict[str, str]) -> list[FaultSpec]:
    """A kind with its choices at its severity steps: small, medium, large; one entry where nothing is to be sized."""
    kind = fault_kinds.get(kind_id)
    numbers = [p for p in kind.parameters if not p.choices and not p.optional and p.id != "cylinder"]
    params: dict[str, float | str] = dict(chosen)
    if kind_id == "wrong_part":
        return [FaultSpec(kind=kind_id, params={**params, "gain": gain}) for gain in (0.8, 1.25)]
    if kind_id == "dead_cylinder":
        return [FaultSpec(kind=kind_id, params={**params, "cylinder": float(k + 1)}) for k in range(rig.engine.cylinders)]
    if not numbers:
        return [FaultSpec(kind=kind_id, params=params)]
    ladder = [p.range_for(params).steps for p in numbers]
    steps = range(max(len(steps) for steps in ladder))
    return [
        FaultSpec(kind=kind_id, params=params | {p.id: given[min(k, len(given) - 1)] for p, given in zip(numbers, ladder, strict=True)})
        for k in steps
    ]


def cornered(kind_id: str, chosen: dict[str, str]) -> list[FaultSpec]:
    """Sizes with one number small and the other large, of a kind with two numbers that matter each for itself."""
    kind = fault_kinds.get(kind_id)
    numbers = [p for p in kind.parameters if not p.choices and not p.optional]
    if len(numbers) != 2 or kind_id == "connector_intermittent":
        return []
    (a, b), params = numbers, dict[str, float | str](chosen)
    ends = [(a.steps[0], b.steps[-1]), (a.steps[-1], b.steps[0])]
    return [FaultSpec(kind=kind_id, params=params | {a.id: one, b.id: two}) for one, two in ends]


def candidate_of(rig_id: str, fault: FaultSpec) -> Candidate:
    """The candidate that a fault is an example of."""
    for entry in candidates(rig_id):
        if entry.kind == fault.kind and entry.sizes:
            sample = entry.sizes[0].params
            if all(fault.params.get(name, value) == value for name, value in sample.items() if isinstance(value, str)):
                return entry
    raise ValueError(f"no candidate for {describe_fault(fault)} on rig {rig_id}")
