"""Marking a learner's steps: a slip is named once and carried forward, a right value in another unit is right, a number
without unit is none.
"""

from dataclasses import dataclass
from enum import StrEnum

from leitfaden_core.errors import LeitfadenError, UnknownName
from leitfaden_core.quantities import half_of_last_digit, parse_reading
from leitfaden_core.words import say
from leitfaden_core.workings.working import (
    Sheet,
    Step,
    Values,
    WorkedStep,
    Working,
    checked_inputs,
    evaluated,
    significant,
    slip_values,
)

#: How far a learner's rounding may be off; what is left out counts neither way.
ROUNDING = 0.006


class StepVerdict(StrEnum):
    """What a step of a learner is."""

    RIGHT = "right"
    CARRIED = "carried"  # right with the learner's own earlier value
    SLIP = "slip"  # a slip that has a name
    WRONG = "wrong"
    UNREADABLE = "unreadable"  # no number, or no unit
    LEFT_OUT = "left_out"


@dataclass(frozen=True)
class MarkedStep:
    """A learner's step: what was given, what is right, verdict, points, and the reason in words."""

    symbol: str
    given: str
    verdict: StepVerdict
    points: float | None
    reason: str


def mark_steps(
    working: Working, sheet: Sheet, answers: dict[str, str], within_percent: float = 0.0
) -> list[MarkedStep]:
    """Mark a learner's steps against a worked sheet.

    Parameters
    ----------
    answers : dict
        By the steps' symbols: texts with unit, such as ``"1.19 kg/m³"``. Steps may be left out, all but the last.
    within_percent : float
        What is so near to the right value, or to what one's own earlier values give, is right too. [%]

    Raises
    ------
    UnknownName
        For a step that the working does not have.
    """
    known = {step.symbol for step in working.steps}
    for name in answers:
        if name not in known:
            raise UnknownName("step", name, known, where=say("of the working {id}", id=working.id))
    own: Values = checked_inputs(working, dict(sheet.inputs))
    marked = []
    for step, worked in zip(working.steps, sheet.steps, strict=True):
        carried, slips = _from_own(working, step, own, worked)
        own[step.symbol] = carried
        text = answers.get(step.symbol, "").strip()
        if not text:
            last = step is working.steps[-1]
            marked.append(MarkedStep(step.symbol, "", StepVerdict.LEFT_OUT, 0.0 if last else None, "Left out."))
            continue
        try:
            value = parse_reading(text, step.quantity)
        except LeitfadenError as error:
            marked.append(MarkedStep(step.symbol, text, StepVerdict.UNREADABLE, 0.0, error.message))
            continue
        marked.append(_judge(worked, text, value, carried, slips, within_percent))
        own[step.symbol] = value
    return marked


def _from_own(
    working: Working, step: Step, own: Values, worked: WorkedStep
) -> tuple[float, tuple[tuple[float, str], ...]]:
    """What a step gives with the learner's own earlier values, and what the known slips give with them. Where nothing
    can be worked out of those (a zero below a fraction), the right value stands in: one bad field does not end the
    marking.
    """
    try:
        carried = evaluated(step.formula, own, working, step)
    except LeitfadenError:
        return worked.value, worked.slips
    return carried, tuple(dict.fromkeys((*worked.slips, *slip_values(step, own, carried))))


def _judge(
    worked: WorkedStep,
    text: str,
    value: float,
    carried: float,
    slips: tuple[tuple[float, str], ...],
    within_percent: float,
) -> MarkedStep:
    unit = worked.unit if worked.unit != "-" else ""
    shown = f"{significant(worked.value, worked.digits)} {unit}".rstrip()
    symbol, exactly = worked.symbol, half_of_last_digit(text, worked.quantity)
    if _same(value, worked.value, exactly) or _within(value, worked.value, within_percent):
        return MarkedStep(symbol, text, StepVerdict.RIGHT, 1.0, say("Right: {shown}.", shown=shown))
    if _same(value, carried, exactly) or _within(value, carried, within_percent):
        reason = say("Worked right with your own earlier value; with the right one it is {shown}.", shown=shown)
        return MarkedStep(symbol, text, StepVerdict.CARRIED, 1.0, reason)
    for slip, wrong in slips:
        if _same(value, slip, exactly):
            reason = say("{wrong} Right is {shown}.", wrong=wrong, shown=shown)
            return MarkedStep(symbol, text, StepVerdict.SLIP, 0.0, reason)
    return MarkedStep(symbol, text, StepVerdict.WRONG, 0.0, say("Right is {shown}.", shown=shown))


def _within(value: float, wanted: float, percent: float) -> bool:
    return abs(value - wanted) <= abs(wanted) * percent / 100.0


def _same(value: float, wanted: float, exactly: float) -> bool:
    """Equal within rounding, or within half of the last digit that the learner wrote, in the learner's own unit (never
    more than a fiftieth).
    """
    return abs(value - wanted) <= max(ROUNDING * abs(wanted), min(exactly, 0.02 * abs(wanted)), 1e-9)
