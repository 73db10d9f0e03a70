"""The catalogue of faults: what can be wrong, how large, when, how it is repaired and what to mind."""

from leitfaden_core.faults import kinds  # noqa: F401  importing the package registers all kinds
from leitfaden_core.faults.catalogue import Effect, FaultKind, Parameter, fault_kinds
from leitfaden_core.faults.spec import (
    ONSETS,
    FaultSpec,
    Onset,
    describe_fault,
    describe_size,
    effects_on,
    left_with_plugs_off,
    offered_on,
    parse_fault,
)

__all__ = [
    "ONSETS",
    "Effect",
    "FaultKind",
    "FaultSpec",
    "Onset",
    "Parameter",
    "describe_fault",
    "describe_size",
    "effects_on",
    "fault_kinds",
    "left_with_plugs_off",
    "offered_on",
    "parse_fault",
]
