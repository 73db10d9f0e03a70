"""Running a rig along a script: plan, compiled step, lanes, summary."""

from leitfaden_core.simulate.layout import FRAME
from leitfaden_core.simulate.plan import Plan, make_plan
from leitfaden_core.simulate.run import SWITCHING, Run, cached_run, simulate, steady_statistics, warm_up_compiler
from leitfaden_core.simulate.store import Statistics, kept, prune_store, stored_statistics

__all__ = [
    "FRAME",
    "SWITCHING",
    "Plan",
    "Run",
    "Statistics",
    "cached_run",
    "make_plan",
    "simulate",
    "steady_statistics",
    "kept",
    "prune_store",
    "stored_statistics",
    "warm_up_compiler",
]
