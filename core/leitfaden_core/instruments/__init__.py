"""Instruments: each is applied at a place, in a state of the engine, and gives what it would show there, with its
error, cost and consequences.
"""

from leitfaden_core.instruments import kinds  # noqa: F401  importing the package registers all kinds
from leitfaden_core.instruments.instrument import (
    Instrument,
    Observation,
    Option,
    Shown,
    Trace,
    Use,
    instruments,
    measure,
)
from leitfaden_core.instruments.vehicle import Vehicle

__all__ = ["Instrument", "Observation", "Option", "Shown", "Trace", "Use", "Vehicle", "instruments", "measure"]
