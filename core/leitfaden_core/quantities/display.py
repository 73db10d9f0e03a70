"""Numbers in words: value and unit as a person reads them, with the digits that the display has and the pressure
reference spelled out.
"""

import math
from functools import cache

from leitfaden_core.quantities.units import QUANTITIES, UnitSystem, display_unit


@cache
def digits_of(step: float) -> int:
    """Digits after the point that a display step is worth.

    >>> [digits_of(step) for step in (0.005, 0.01, 0.78, 1.0)]
    [3, 2, 1, 0]
    """
    return max(0, math.ceil(-math.log10(step) - 1e-9))


def shown_number(
    value: float, quantity: str, step: float, system: UnitSystem = UnitSystem.METRIC, more: int = 0
) -> str:
    """A kept value in the person's unit, without the unit, with so many digits more than its display has.

    The minus has a digit's width.

    >>> shown_number(-0.8, "trim", 0.78), shown_number(100.0, "temperature", 1.0, UnitSystem.IMPERIAL)
    ('−0.8', '212')
    """
    unit = display_unit(quantity, system)
    digits = max(0, digits_of(step) + unit.extra_digits)
    text = f"{value * unit.factor + unit.offset:.{digits + more}f}"
    if float(text) == 0.0:
        return text.lstrip("-")
    signed = f"+{text}" if unit.signed and float(text) > 0 else text
    return signed.replace("-", "−")


def unit_words(quantity: str, system: UnitSystem = UnitSystem.METRIC) -> str:
    """The person's unit of a quantity; absolute, gauge and vacuum are named.

    >>> unit_words("pressure_abs", UnitSystem.IMPERIAL)
    'inHg absolute'
    """
    symbol = display_unit(quantity, system).symbol
    return " ".join(filter(None, ("" if symbol == "-" else symbol, QUANTITIES[quantity].reference)))


def shown(value: float, quantity: str, step: float, system: UnitSystem = UnitSystem.METRIC, more: int = 0) -> str:
    """Value and unit, as :func:`shown_number` and :func:`unit_words` have them; of a state what it means.

    >>> shown(1.8372, "mass_flow", 0.01)
    '1.84 g/s'
    >>> shown(2.0, "status", 1.0)
    '2 (closed loop)'
    """
    number = shown_number(value, quantity, step, system, more)
    means = dict(QUANTITIES[quantity].means).get(number)
    return f"{number} ({means})" if means else f"{number} {unit_words(quantity, system)}".rstrip()


def shown_apart(
    value: float, limit: float, quantity: str, step: float, system: UnitSystem = UnitSystem.METRIC
) -> tuple[str, str]:
    """A value and a limit that it is compared with, both with as many digits as it takes to tell them apart, four more
    at most.

    >>> shown_apart(12.568, 12.571, "voltage", 0.01), shown_apart(12.1, 12.571, "voltage", 0.01)
    (('12.568 V', '12.571 V'), ('12.10 V', '12.57 V'))
    """
    for more in range(5):
        here, there = (shown(number, quantity, step, system, more) for number in (value, limit))
        if here != there:
            break
    return here, there


def shown_difference(value: float, quantity: str, system: UnitSystem = UnitSystem.METRIC) -> str:
    """A difference of two values: the unit's offset drops out, and a difference of pressures has no reference.

    >>> shown_difference(10.0, "temperature", UnitSystem.IMPERIAL)
    '18 °F'
    """
    unit = display_unit(quantity, system)
    return f"{value * unit.factor:.2g} {unit.symbol if unit.symbol != '-' else ''}".rstrip()
