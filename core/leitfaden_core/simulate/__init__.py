"""A vehicle that is stepped, and running it along a script: actions, compiled step, lanes, summary."""

from leitfaden_core.simulate.handwork import ACTUATORS, UNTOUCHED, Handwork, actuators_on, injector_of
from leitfaden_core.simulate.layout import FRAME
from leitfaden_core.simulate.machine import Machine, Snapshot
from leitfaden_core.simulate.run import (
    Run,
    Statistics,
    cached_run,
    measured,
    simulate,
    steady_statistics,
    warm_up_compiler,
)
from leitfaden_core.simulate.store import kept, prune_store, simulating, stored_statistics

__all__ = [
    "ACTUATORS",
    "FRAME",
    "Handwork",
    "Machine",
    "Run",
    "Snapshot",
    "Statistics",
    "UNTOUCHED",
    "actuators_on",
    "injector_of",
    "cached_run",
    "measured",
    "simulate",
    "simulating",
    "steady_statistics",
    "kept",
    "prune_store",
    "stored_statistics",
    "warm_up_compiler",
]
