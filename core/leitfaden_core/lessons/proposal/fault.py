"""Which fault a proposed lesson is about, and what it shows."""

from leitfaden_core.atlas import Page, page_on
from leitfaden_core.channels import Layer
from leitfaden_core.errors import LeitfadenError, MissingPart, UnknownName
from leitfaden_core.faults import FaultSpec, effects_on, fault_kinds
from leitfaden_core.judge import Departure, signature
from leitfaden_core.rigs import Rig
from leitfaden_core.scripts import load_script
from leitfaden_core.words import say

SCRIPT = "workshop_day"
#: Standard deviations of healthy engines from which on a reading tells the fault plainly, and below which it stays.
TELLS, STAYS = 4.0, 0.4


def chosen_fault(page: Page, rig: Rig, asked: str, step: int) -> tuple[FaultSpec, list[Departure]]:
    """The fault at the size of the level, and what it shows; the one asked for, else the first that shows plainly."""
    lines = page_on(page, rig).faults
    known = [line.kind for line in lines]
    if asked and asked not in known:
        raise UnknownName("fault of this device", asked, known)
    found: list[tuple[int, FaultSpec, list[Departure]]] = []
    for line in lines:
        if asked and line.kind != asked:
            continue
        sized = _sized(line.example, rig, step)
        seen = seen_on(rig, sized)
        plain = len({d.channel for d in seen if abs(d.deviations) >= TELLS})
        if plain >= 2:
            return sized, seen
        found.append((plain, sized, seen))
    best = max(found, key=lambda entry: entry[0], default=None)
    if best is None or not best[2]:
        raise MissingPart(say("no fault of this device can be seen on {rig} at that level", rig=rig.name))
    return best[1], best[2]


def _sized(example: FaultSpec, rig: Rig, step: int) -> FaultSpec:
    """An example at its small, medium or large size, as far as the engine can have it so."""
    kind, params = fault_kinds.get(example.kind), dict(example.params)
    for parameter in kind.parameters:
        if not parameter.choices and parameter.id in params and parameter.neutral is not None:
            params[parameter.id] = parameter.range_for(params).steps[step]
    sized = example.model_copy(update={"params": params})
    try:
        effects_on(sized, rig)
    except LeitfadenError:
        return example
    return sized


def seen_on(rig: Rig, fault: FaultSpec) -> list[Departure]:
    """What leaves its band on the displays along the lesson's drive, means only, the farthest first."""
    met = load_script(SCRIPT).conditions()
    return [d for d in signature(rig, [fault], (Layer.SCAN,)) if d.stat == "mean" and d.condition in met]
