"""Monitors of systems, a room for each: importing them registers the monitors."""

from leitfaden_core.monitors.systems import (
    air,
    boost,
    catalyst,
    cooling,
    diesel,
    idle,
    misfire,
    mixture,
    oxygen,
    recirculation,
)

__all__ = ["air", "boost", "catalyst", "cooling", "diesel", "idle", "misfire", "mixture", "oxygen", "recirculation"]
