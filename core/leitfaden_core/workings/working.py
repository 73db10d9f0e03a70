"""What a working is: inputs, steps, slips. A step's formula is written once; what is shown, computed and filled in
comes from that one text.

Digits are carried: rounding happens where a number is shown and never between steps.
"""

import math
import re
from collections.abc import Callable
from dataclasses import dataclass, field

from leitfaden_core.errors import LeitfadenError, MissingPart, OutOfRange, UnknownName
from leitfaden_core.quantities import QUANTITIES, parse_reading
from leitfaden_core.registry import Registry
from leitfaden_core.words import say

Values = dict[str, float]
_FUNCTIONS: dict[str, Callable[..., float]] = {
    "sqrt": math.sqrt,
    "exp": math.exp,
    "ln": math.log,
    "min": min,
    "max": max,
    "abs": abs,
}


@dataclass(frozen=True)
class Input:
    """A number that goes in: symbol in the formulas, quantity (see quantities), allowed range in the kept unit, channel
    that can feed it.
    """

    symbol: str
    label: str
    quantity: str
    low: float
    high: float
    channel: str = ""
    default: float | None = None

    @property
    def unit(self) -> str:
        """Unit in which the formulas want it."""
        return QUANTITIES[self.quantity].kept


@dataclass(frozen=True)
class Step:
    """One line:

    ``symbol = formula`` in a unit, shown with some significant digits. ``slips`` are other formulas that people write
    instead.
    """

    symbol: str
    label: str
    formula: str
    quantity: str
    digits: int = 4
    slips: tuple[tuple[str, str], ...] = ()  # (wrong formula, what went wrong)


@dataclass(frozen=True)
class Working:
    """A calculation of the trade."""

    id: str
    label: str
    why: str
    inputs: tuple[Input, ...]
    steps: tuple[Step, ...]
    preconditions: tuple[str, ...] = ()
    reading: Callable[[Values], str] | None = None  # what the result means, in one sentence
    source: str = ""


@dataclass(frozen=True)
class WorkedStep:
    """A step with its numbers."""

    symbol: str
    label: str
    formula: str
    filled: str
    value: float
    unit: str
    quantity: str
    digits: int
    slips: tuple[tuple[float, str], ...]  # values that typical slips give, and what went wrong

    @property
    def shown(self) -> str:
        """Value with its digits and unit."""
        return f"{significant(self.value, self.digits)} {self.unit if self.unit != '-' else ''}".rstrip()


@dataclass(frozen=True)
class Sheet:
    """A worked calculation: inputs as used, all steps, and what the result means."""

    working: str
    label: str
    inputs: Values
    steps: tuple[WorkedStep, ...]
    preconditions: tuple[str, ...]
    meaning: str
    sources: dict[str, str] = field(default_factory=dict)

    @property
    def result(self) -> WorkedStep:
        """The last step."""
        return self.steps[-1]


workings: Registry[Working] = Registry("working")


def work(working: Working, given: dict[str, float | str], sources: dict[str, str] | None = None) -> Sheet:
    """Work a calculation out.

    Parameters
    ----------
    given : dict
        By the inputs' symbols: numbers in the kept unit, or texts with a unit such as ``"29.5 inHg"``.
    sources : dict, optional
        Where inputs came from, for the sheet.

    Raises
    ------
    MissingPart, UnknownName, OutOfRange
        For an input that is missing, unknown, or outside its range.
    """
    values = checked_inputs(working, given)
    steps, known = [], dict(values)
    for step in working.steps:
        value = evaluated(step.formula, known, working, step)
        slips = tuple(slip_values(step, known, value))
        unit = QUANTITIES[step.quantity].kept
        steps.append(
            WorkedStep(
                step.symbol,
                step.label,
                pretty(step.formula),
                filled(step.formula, known),
                value,
                unit,
                step.quantity,
                step.digits,
                slips,
            )
        )
        known[step.symbol] = value
    meaning = working.reading(known) if working.reading is not None else ""
    return Sheet(working.id, working.label, values, tuple(steps), working.preconditions, meaning, sources or {})


def checked_inputs(working: Working, given: dict[str, float | str]) -> Values:
    """All inputs as numbers in their kept units."""
    known = {entry.symbol: entry for entry in working.inputs}
    for name in given:
        if name not in known:
            raise UnknownName("input", name, known, where=say("of the working {id}", id=working.id))
    values: Values = {}
    for entry in working.inputs:
        if entry.symbol not in given:
            if entry.default is None:
                raise MissingPart(
                    say(
                        "working {id}: {label} ({symbol}) is missing; give it in {unit}",
                        id=working.id,
                        label=entry.label,
                        symbol=entry.symbol,
                        unit=entry.unit,
                    )
                )
            values[entry.symbol] = entry.default
            continue
        told = given[entry.symbol]
        value = parse_reading(told, entry.quantity) if isinstance(told, str) else float(told)
        if not entry.low <= value <= entry.high:
            raise OutOfRange(
                say("working {id}: {label}", id=working.id, label=entry.label), value, entry.low, entry.high, entry.unit
            )
        values[entry.symbol] = value
    return values


def evaluated(formula: str, values: Values, working: Working, step: Step) -> float:
    """Value of a formula. The formulas are this package's own; nothing that a user types is evaluated."""
    try:
        return float(eval(formula, {"__builtins__": {}}, {**_FUNCTIONS, **values}))
    except (ZeroDivisionError, ValueError, OverflowError) as error:
        raise LeitfadenError(
            say("working {id}: {label} cannot be worked out from these numbers", id=working.id, label=step.label)
        ) from error


def slip_values(step: Step, values: Values, right: float) -> list[tuple[float, str]]:
    """What the known slips of a step give with some values, where that is not the right one by chance."""
    found = []
    for formula, wrong in step.slips:
        try:
            value = float(eval(formula, {"__builtins__": {}}, {**_FUNCTIONS, **values}))
        except (ZeroDivisionError, ValueError, OverflowError):
            continue
        # A slip that gives the right number in these numbers is none.
        if abs(value - right) > 1e-6 * max(abs(right), 1e-9):
            found.append((value, wrong))
    return found


_NAME = re.compile(r"[A-Za-z_][A-Za-z_0-9]*")


def pretty(formula: str) -> str:
    """A formula as it is written by hand.

    >>> pretty("p_Pa / (287.05 * T)"), pretty("a ** 2")
    ('p_Pa / (287.05 · T)', 'a^2')
    """
    return formula.replace(" ** ", "^").replace("*", "·")


def filled(formula: str, values: Values) -> str:
    """A formula with its numbers put in.

    >>> filled("p / (287.05 * T)", {"p": 100000.0, "T": 293.15})
    '100000 / (287.05 · 293.15)'
    """

    def number(match: re.Match[str]) -> str:
        value = values.get(match.group(0))
        if value is None:
            return match.group(0)
        text = significant(value, 6)
        return f"({text})" if value < 0 else text

    return pretty(_NAME.sub(number, formula))


def significant(value: float, digits: int) -> str:
    """A number with so many significant digits and no exponent where a person would write none.

    >>> significant(1.18851, 4), significant(107.0, 4), significant(0.000123456, 3), significant(293.15, 6)
    ('1.189', '107.0', '0.000123', '293.15')
    """
    if value == 0 or not math.isfinite(value):
        return "0" if value == 0 else str(value)
    places = digits - 1 - math.floor(math.log10(abs(value)))
    text = f"{value:.{max(places, 0)}f}"
    if digits >= 6 and "." in text:
        text = text.rstrip("0").rstrip(".")
    return text
