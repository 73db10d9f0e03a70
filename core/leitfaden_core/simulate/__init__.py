"""Running a rig along a script: plan, compiled step, lanes, summary."""

from leitfaden_core.simulate.plan import Plan, make_plan
from leitfaden_core.simulate.run import Run, cached_run, simulate, steady_statistics, warm_up_compiler

__all__ = ["Plan", "Run", "cached_run", "make_plan", "simulate", "steady_statistics", "warm_up_compiler"]
