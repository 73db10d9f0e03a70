"""Marking a learner's steps: a slip is named once and carried forward, a right value in another unit is right, a number
without unit is none.
"""

from dataclasses import dataclass
from enum import StrEnum

from leitfaden_core.errors import LeitfadenError, UnknownName
from leitfaden_core.quantities import parse_reading
from leitfaden_core.words import say
from leitfaden_core.workings.working import Sheet, Values, Working, checked_inputs, evaluated, significant

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


def mark_steps(working: Working, sheet: Sheet, answers: dict[str, str]) -> list[MarkedStep]:
    """Mark a learner's steps against a worked sheet.

    Parameters
    ----------
    answers : dict
        By the steps' symbols: texts with unit, such as ``"1.19 kg/m³"``. Steps may be left out, all but the last.

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
        carried = evaluated(step.formula, own, working, step)
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
        marked.append(_judge(step.symbol, text, value, worked.value, carried, worked.slips, worked.digits, worked.unit))
        own[step.symbol] = value
    return marked


def _judge(
    symbol: str,
    text: str,
    value: float,
    right: float,
    carried: float,
    slips: tuple[tuple[float, str], ...],
    digits: int,
    unit: str,
) -> MarkedStep:
    shown = f"{significant(right, digits)} {unit if unit != '-' else ''}".rstrip()
    if _same(value, right, text):
        return MarkedStep(symbol, text, StepVerdict.RIGHT, 1.0, say("Right: {shown}.", shown=shown))
    if _same(value, carried, text):
        reason = say("Worked right with your own earlier value; with the right one it is {shown}.", shown=shown)
        return MarkedStep(symbol, text, StepVerdict.CARRIED, 1.0, reason)
    for slip, wrong in slips:
        if _same(value, slip, text):
            return MarkedStep(
                symbol, text, StepVerdict.SLIP, 0.0, say("{wrong} Right is {shown}.", wrong=wrong, shown=shown)
            )
    return MarkedStep(symbol, text, StepVerdict.WRONG, 0.0, say("Right is {shown}.", shown=shown))


def _same(value: float, wanted: float, text: str) -> bool:
    """Equal within rounding, or within half of the last digit that the learner wrote (never more than a fiftieth)."""
    number = text.replace(",", ".").split()[0].rstrip("%°CVAKs")
    decimals = len(number.partition(".")[2]) if "." in number else 0
    last_digit = min(0.5 * 10.0**-decimals, 0.02 * abs(wanted)) if decimals else 0.0
    return abs(value - wanted) <= max(ROUNDING * abs(wanted), last_digit, 1e-9)
