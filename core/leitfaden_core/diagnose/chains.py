"""Cause or victim: what damages what, so that a renewed part does not come back with its cause.

What a fault leads to stands at the fault; a consequence that is found asks for its origins.
"""

from leitfaden_core.faults import fault_kinds


def origins_of(kind: str) -> list[tuple[str, str]]:
    """What may have led to a fault: label of the origin and the way."""
    return [(origin.label, leads.how) for origin in fault_kinds for leads in origin.leads_to if leads.to == kind]


def may_lead(origin: str, to: str) -> bool:
    """Whether a kind of fault damages what another is, when it lasts."""
    return any(leads.to == to for leads in fault_kinds.get(origin).leads_to)


def consequences_of(kind: str) -> list[tuple[str, str]]:
    """What a fault leads to when it lasts."""
    return [(fault_kinds.get(leads.to).label, leads.how) for leads in fault_kinds.get(kind).leads_to]
