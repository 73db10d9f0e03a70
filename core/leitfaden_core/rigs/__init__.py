"""Rigs: an engine with its sensors, wiring and control unit as a validated document."""

from leitfaden_core.rigs.document import (
    Rig,
    base_of,
    is_shipped,
    load_rig,
    parse_rig,
    rig_channels,
    rig_ids,
    shown_quantity,
    variant_ids,
)
from leitfaden_core.rigs.sections import SensorPlace

__all__ = [
    "Rig",
    "SensorPlace",
    "is_shipped",
    "base_of",
    "load_rig",
    "parse_rig",
    "rig_channels",
    "rig_ids",
    "shown_quantity",
    "variant_ids",
]
