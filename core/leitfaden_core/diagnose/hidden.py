"""A vehicle with an unknown fault, drawn by a seed: an individual healthy engine, and one cause by its prior at a size within its range."""

import numpy as np

from leitfaden_core.diagnose.candidates import candidates
from leitfaden_core.expect import individual_engine
from leitfaden_core.faults import FaultSpec, fault_kinds
from leitfaden_core.instruments.vehicle import Vehicle
from leitfaden_core.rigs import load_rig


def hidden_vehicle(rig_id: str, seed: int, cause: str | None = None) -> Vehicle:
    """The vehicle of a seed; a cause may be named, then only its size and the engine are drawn."""
    rig, chance = load_rig(rig_id), np.random.default_rng([seed, 4711])
    known = candidates(rig_id)
    shares = np.array([c.prior for c in known])
    picked = int(chance.choice(len(known), p=shares / shares.sum()))
    chosen = known[picked] if cause is None else next(c for c in known if c.id == cause)
    faults = (_between(chosen.ways[int(chance.integers(len(chosen.ways)))], chance),) if chosen.ways else ()
    individual = tuple(sorted(individual_engine(rig, 50_000 + seed).items()))
    return Vehicle(rig, faults, seed, individual)


def _between(sizes: tuple[FaultSpec, ...], chance: np.random.Generator) -> FaultSpec:
    """A size between two neighbouring steps, rounded to three digits."""
    if len(sizes) < 2:
        return sizes[0]
    k = int(chance.integers(len(sizes) - 1))
    share = float(chance.random())
    one, two = sizes[k].params, sizes[k + 1].params
    kind = fault_kinds.get(sizes[0].kind)
    mixed: dict[str, float | str] = {}
    for parameter in kind.parameters:
        if parameter.id not in one:
            continue
        low, high = one[parameter.id], two[parameter.id]
        if isinstance(low, str) or isinstance(high, str):
            mixed[parameter.id] = low
        else:
            value = low + share * (high - low)
            # Cylinders are counted.
            mixed[parameter.id] = float(round(value)) if parameter.id in {"cylinder", "cylinders"} else float(f"{value:.3g}")
    return FaultSpec(kind=kind.id, params=mixed)
