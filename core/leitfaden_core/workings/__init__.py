"""Calculations of the trade as sheets of steps: formula, numbers put in, result, unit, typical slips; and their marking
step by step.
"""

from leitfaden_core.workings import kinds  # noqa: F401  importing the package registers all kinds
from leitfaden_core.workings.curve import Curve, curve
from leitfaden_core.workings.feed import from_recording, from_run
from leitfaden_core.workings.marking import MarkedStep, StepVerdict, mark_steps
from leitfaden_core.workings.typeset import symbol_tex, tex
from leitfaden_core.workings.working import Input, Sheet, Step, WorkedStep, Working, work, workings

__all__ = [
    "Curve",
    "Input",
    "MarkedStep",
    "Sheet",
    "Step",
    "StepVerdict",
    "WorkedStep",
    "Working",
    "curve",
    "from_recording",
    "from_run",
    "mark_steps",
    "symbol_tex",
    "tex",
    "work",
    "workings",
]
