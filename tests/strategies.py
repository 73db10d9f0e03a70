"""Generators of what users can ask for."""

import itertools
from functools import cache

from hypothesis import assume
from hypothesis import strategies as st

from leitfaden_core.errors import LeitfadenError
from leitfaden_core.faults import ONSETS, FaultSpec, Onset, effects_on, fault_kinds, offered_on
from leitfaden_core.rigs import Rig, load_rig

Choices = dict[str, float | str]


@cache
def _possible(rig_id: str) -> list[tuple[str, Choices]]:
    """Every kind of fault that the rig can have, with each combination of its choices that exists there."""
    rig, found = load_rig(rig_id), []
    for kind_id, choices in offered_on(rig).items():
        for picked in itertools.product(*choices.values()):
            chosen: Choices = dict(zip(choices, picked, strict=True))
            if _exists(FaultSpec(kind=kind_id, params=chosen), rig):
                found.append((kind_id, chosen))
    return found


def _exists(spec: FaultSpec, rig: Rig) -> bool:
    try:
        effects_on(spec, rig)
    except LeitfadenError:
        return False
    return True


@st.composite
def onsets(draw: st.DrawFn) -> Onset:
    """Any way of being there, with any numbers within their ranges."""
    mode = draw(st.sampled_from(list(ONSETS.values())))
    # Stretches of hundredths of a second are drawn one by one, which would take the time of all other examples.
    return Onset.model_validate(
        {"mode": mode.id}
        | {n.id: round(draw(st.floats(max(n.low, 0.1) if n.unit == "s" else n.low, n.high)), 2) for n in mode.numbers}
    )


@st.composite
def faults(draw: st.DrawFn, rig: Rig) -> FaultSpec:
    """Any fault of the catalogue that the rig can have, at any size within its range, there in any way."""
    kind_id, chosen = draw(st.sampled_from(_possible(rig.id)))
    params = dict(chosen)
    for parameter in fault_kinds.get(kind_id).parameters:
        if not parameter.choices and not parameter.optional:
            allowed = parameter.range_for(params)
            params[parameter.id] = round(draw(st.floats(allowed.low, allowed.high)), 4)
    spec = FaultSpec(kind=kind_id, params=params, onset=draw(onsets()))
    # Some sizes depend on the engine: there is no third cylinder of two.
    assume(_exists(spec, rig))
    return spec


def fault_sets(rig: Rig) -> st.SearchStrategy[list[FaultSpec]]:
    """Up to four faults at once."""
    return st.lists(faults(rig), max_size=4)
