"""Generators of what users can ask for."""

from hypothesis import strategies as st

from leitfaden_core.errors import LeitfadenError
from leitfaden_core.faults import FaultKind, FaultSpec, effects_on, fault_kinds
from leitfaden_core.rigs import Rig


def _fits(spec: FaultSpec, rig: Rig) -> bool:
    try:
        effects_on(spec, rig)
    except LeitfadenError:
        return False
    return True


@st.composite
def faults(draw: st.DrawFn, rig: Rig) -> FaultSpec:
    """Any fault of the catalogue that the rig can have, at any size within its range."""
    kind: FaultKind = draw(st.sampled_from(list(fault_kinds)))
    params: dict[str, float | str] = {}
    for parameter in kind.parameters:
        if parameter.choices:
            params[parameter.id] = draw(st.sampled_from(parameter.choices))
        elif not parameter.optional:
            params[parameter.id] = round(draw(st.floats(parameter.low, parameter.high)), 4)
    spec = FaultSpec(kind=kind.id, params=params)
    return spec if _fits(spec, rig) else FaultSpec(kind="iat_offset", params={"K": 5.0})


def fault_sets(rig: Rig) -> st.SearchStrategy[list[FaultSpec]]:
    """Up to four faults at once."""
    return st.lists(faults(rig), max_size=4)
