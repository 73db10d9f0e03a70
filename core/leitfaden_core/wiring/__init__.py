"""Wiring: what reaches the pin when wires, plugs and supplies are not what they should be."""

from leitfaden_core.wiring.node import (
    CIRCUIT_GROUNDED,
    CIRCUIT_OPEN,
    CIRCUIT_REVERSED,
    CIRCUIT_SHORT_5V,
    CIRCUIT_SHORT_BATTERY,
    CIRCUIT_SOUND,
    CIRCUIT_SWAPPED,
    pin_voltage,
    rails,
)

__all__ = [
    "CIRCUIT_GROUNDED",
    "CIRCUIT_OPEN",
    "CIRCUIT_REVERSED",
    "CIRCUIT_SHORT_5V",
    "CIRCUIT_SHORT_BATTERY",
    "CIRCUIT_SOUND",
    "CIRCUIT_SWAPPED",
    "pin_voltage",
    "rails",
]
