"""Cause or victim: what damages what, so that a renewed part does not come back with its cause.

Each link is trade knowledge: the origin, lasting for weeks, leads to the consequence. A consequence that is found asks
for its origins.
"""

from dataclasses import dataclass

from leitfaden_core.faults import fault_kinds


@dataclass(frozen=True)
class Link:
    """An origin and what it leads to. ``how`` is the way from one to the other."""

    origin: str
    consequence: str
    how: str


LINKS = (
    Link("injector_leaking", "ho2s_contaminated", "rich running soots the sensor"),
    Link("fuel_pressure_high", "ho2s_contaminated", "rich running soots the sensor"),
    Link("maf_over_read", "ho2s_contaminated", "rich running soots the sensor"),
    Link("map_hose_leak", "ho2s_contaminated", "rich running soots the sensor"),
    Link("ect_offset", "ho2s_contaminated", "a sensor that reads cold enriches until the tip is black"),
    Link("pcv_torn", "ho2s_contaminated", "oil mist burns and leaves ash on the sensor"),
    Link("ho2s_contaminated", "ho2s_slow", "a covered element answers late"),
    Link("dead_cylinder", "catalyst_worn", "unburnt fuel overheats the catalyst"),
    Link("injector_leaking", "catalyst_worn", "excess fuel overheats the catalyst"),
    Link("catalyst_worn", "exhaust_restricted", "molten or broken substrate blocks the way"),
    Link("pcv_torn", "map_hose_blocked", "oil mist settles in hose and port"),
    Link("air_filter_restricted", "maf_dirty", "a filter that lets dust through soils the element"),
    Link("maf_burnoff_inoperative", "maf_dirty", "a wire that is never glowed clean grows a film"),
    Link("egr_stuck_open", "exhaust_restricted", "soot fills the particle filter"),
    Link("boost_leak", "exhaust_restricted", "soot fills the particle filter"),
    Link("maf_under_read", "egr_stuck_closed", "a valve that is held shut for months seizes in its soot"),
    Link("ho2s_loose", "ho2s_contaminated", "air at the thread lets the trims enrich until everything is black"),
    Link("exhaust_leak_before_sensor", "ho2s_contaminated", "false lean lets the trims enrich"),
)


def origins_of(kind: str) -> list[tuple[str, str]]:
    """What may have led to a fault: label of the origin and the way."""
    return [(fault_kinds.get(link.origin).label, link.how) for link in LINKS if link.consequence == kind]


def consequences_of(kind: str) -> list[tuple[str, str]]:
    """What a fault leads to when it lasts."""
    return [(fault_kinds.get(link.consequence).label, link.how) for link in LINKS if link.origin == kind]
