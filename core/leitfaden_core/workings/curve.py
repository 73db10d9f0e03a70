"""How a result goes with one of its inputs, the others held: where a person would rather look than calculate."""

from dataclasses import dataclass

from leitfaden_core.errors import LeitfadenError, UnknownName
from leitfaden_core.workings.working import Values, Working, checked_inputs, work

POINTS = 61
#: How far the input is moved from what was given, where it is not zero. [-]
SHARE = 0.5


@dataclass(frozen=True)
class Curve:
    """Values of an input and the result, in the kept units of both."""

    symbol: str
    given: list[float]
    result: list[float]


def curve(working: Working, given: dict[str, float | str], symbol: str) -> Curve:
    """The result over half as much to half as much again of an input, within its range.

    Raises
    ------
    UnknownName
        For an input that the working does not have.
    """
    entry = next((known for known in working.inputs if known.symbol == symbol), None)
    if entry is None:
        raise UnknownName("input", symbol, [known.symbol for known in working.inputs])
    values: Values = checked_inputs(working, given)
    here = values[symbol]
    reach = SHARE * abs(here) or 0.1 * (entry.high - entry.low)
    low, high = max(here - reach, entry.low), min(here + reach, entry.high)
    found = Curve(symbol, [], [])
    for k in range(POINTS):
        value = low + (high - low) * k / (POINTS - 1)
        try:
            result = work(working, {**values, symbol: value}).result.value
        except LeitfadenError:
            continue  # beyond what the formula bears there is no curve
        found.given.append(value)
        found.result.append(result)
    return found
