"""A vehicle with an unknown fault, drawn by a seed: an individual healthy engine, and one cause by its prior at a size
within its range.
"""

import numpy as np

from leitfaden_core.chance import chance
from leitfaden_core.diagnose.candidates import candidates
from leitfaden_core.expect import individual_engine
from leitfaden_core.faults import FaultSpec, fault_kinds
from leitfaden_core.instruments.vehicle import Vehicle
from leitfaden_core.rigs import Rig


def hidden_vehicle(rig: Rig, seed: int, cause: str | None = None) -> Vehicle:
    """The vehicle of a seed; a cause may be named, then only its size and the engine are drawn."""
    drawn = chance(seed, 4711)
    known = candidates(rig)
    shares = np.array([c.prior for c in known])
    picked = int(drawn.choice(len(known), p=shares / shares.sum()))
    chosen = known[picked] if cause is None else next(c for c in known if c.id == cause)
    faults = (_between(chosen.ways[int(drawn.integers(len(chosen.ways)))], drawn),) if chosen.ways else ()
    individual = tuple(sorted(individual_engine(rig, 50_000 + seed).items()))
    return Vehicle(rig, faults, seed, individual)


def _between(sizes: tuple[FaultSpec, ...], drawn: np.random.Generator) -> FaultSpec:
    """A size between two neighbouring steps, rounded to three digits."""
    if len(sizes) < 2:
        return sizes[0]
    k = int(drawn.integers(len(sizes) - 1))
    share = float(drawn.random())
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
            mixed[parameter.id] = (
                float(round(value)) if parameter.neutral is None and parameter.unit == "-" else float(f"{value:.3g}")
            )
    return FaultSpec(kind=kind.id, params=mixed)
