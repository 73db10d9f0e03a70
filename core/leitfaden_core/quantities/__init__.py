"""Quantities and units: what a number means, in which unit it is kept, and in which it may be shown."""

from leitfaden_core.quantities.display import digits_of, shown, shown_apart, shown_difference, shown_number, unit_words
from leitfaden_core.quantities.pressure import (
    absolute_from_gauge,
    absolute_from_vacuum,
    gauge_from_absolute,
    vacuum_from_absolute,
)
from leitfaden_core.quantities.units import (
    QUANTITIES,
    Quantity,
    Unit,
    UnitSystem,
    convert,
    display_unit,
    half_of_last_digit,
    parse_reading,
)

__all__ = [
    "digits_of",
    "QUANTITIES",
    "Quantity",
    "Unit",
    "UnitSystem",
    "absolute_from_gauge",
    "absolute_from_vacuum",
    "convert",
    "display_unit",
    "gauge_from_absolute",
    "half_of_last_digit",
    "parse_reading",
    "shown",
    "shown_apart",
    "shown_difference",
    "shown_number",
    "unit_words",
    "vacuum_from_absolute",
]
