"""A vehicle that is stepped, and running it along a script: actions, compiled step, lanes, summary."""

from leitfaden_core.simulate.layout import FRAME
from leitfaden_core.simulate.machine import Machine, Snapshot
from leitfaden_core.simulate.run import SWITCHING, Run, cached_run, simulate, steady_statistics, warm_up_compiler
from leitfaden_core.simulate.store import Statistics, kept, prune_store, stored_statistics

__all__ = [
    "FRAME",
    "SWITCHING",
    "Machine",
    "Run",
    "Snapshot",
    "Statistics",
    "cached_run",
    "simulate",
    "steady_statistics",
    "kept",
    "prune_store",
    "stored_statistics",
    "warm_up_compiler",
]
