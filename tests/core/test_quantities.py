"""Units: known values, round trips, and the refusal to mix absolute, gauge and vacuum.

Factors: NIST SP 811 (2008), appendix B.
"""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from leitfaden_core.errors import LeitfadenError, MissingPart, UnknownName
from leitfaden_core.quantities import (
    QUANTITIES,
    UnitSystem,
    convert,
    gauge_from_absolute,
    parse_reading,
    shown,
    vacuum_from_absolute,
)


@pytest.mark.parametrize(
    ("value", "quantity", "unit_from", "unit_to", "expected"),
    [
        (10.0, "vacuum", "inHg", "kPa", 33.86),
        (7.0, "pressure_gauge", "psi", "kPa", 48.26),
        (1013.0, "pressure_abs", "mbar", "kPa", 101.3),
        (68.0, "vacuum", "kPa", "inHg", 20.08),
        (212.0, "temperature", "°F", "°C", 100.0),
        (-40.0, "temperature", "°C", "°F", -40.0),
        (1.0, "mass_flow", "g/s", "kg/h", 3.6),
        (0.0, "trim", "%", "count", 128.0),
        (140.0, "trim", "count", "%", 9.375),
        (96.0, "trim", "count", "%", -25.0),
    ],
)
def test_known_conversions(value: float, quantity: str, unit_from: str, unit_to: str, expected: float) -> None:
    assert convert(value, quantity, unit_from, unit_to) == pytest.approx(expected, rel=5e-4)


@given(st.sampled_from(sorted(QUANTITIES)), st.floats(-1e4, 1e4), st.data())
def test_there_and_back_gives_the_same_value(quantity: str, value: float, data: st.DataObject) -> None:
    unit = data.draw(st.sampled_from(QUANTITIES[quantity].units)).symbol
    there = convert(value, quantity, QUANTITIES[quantity].kept, unit)
    assert convert(there, quantity, unit, QUANTITIES[quantity].kept) == pytest.approx(value, rel=1e-9, abs=1e-9)


@pytest.mark.parametrize("quantity", QUANTITIES.values(), ids=lambda q: q.id)
def test_both_unit_systems_show_the_same_amount(quantity) -> None:
    """What the one shows, read in its unit and shown by the other, is what the other shows at once."""
    for kept in (-7.0, 0.0, 41.5):
        metric, imperial = (
            convert(kept, quantity.id, quantity.kept, unit) for unit in (quantity.metric, quantity.imperial)
        )
        assert convert(metric, quantity.id, quantity.metric, quantity.imperial) == pytest.approx(
            imperial, rel=1e-9, abs=1e-9
        )


def test_vacuum_and_gauge_need_the_barometer() -> None:
    assert vacuum_from_absolute(32.0, 100.0) == 68.0
    assert gauge_from_absolute(150.0, 100.0) == 50.0
    assert not {unit.symbol for unit in QUANTITIES["pressure_abs"].units} & {"kPa vacuum", "kPa gauge"}


@pytest.mark.parametrize(
    ("text", "quantity", "expected"),
    [
        ("1.9 g/s", "mass_flow", 1.9),
        ("1,9 g/s", "mass_flow", 1.9),
        ("+24 %", "trim", 24.0),
        ("159 count", "trim", 24.2),
        ("0.45 V", "voltage", 0.45),
        ("450mV", "voltage", 0.45),
    ],
)
def test_a_reading_is_understood_in_any_unit_of_its_quantity(text: str, quantity: str, expected: float) -> None:
    assert parse_reading(text, quantity) == pytest.approx(expected, rel=1e-3)


def test_a_reading_without_its_unit_is_refused_with_the_possible_ones() -> None:
    with pytest.raises(MissingPart, match=r"the unit is missing: 24 of what\? Possible for fuel trim: %, count"):
        parse_reading("24", "trim")


def test_a_foreign_unit_and_a_word_are_refused() -> None:
    with pytest.raises(UnknownName, match="unknown unit 'kPa' for mass flow; known: g/s"):
        parse_reading("2 kPa", "mass_flow")
    with pytest.raises(LeitfadenError, match="write a number and its unit"):
        parse_reading("about two", "mass_flow")


@pytest.mark.parametrize(
    ("value", "quantity", "step", "system", "expected"),
    [
        (29.37, "pressure_abs", 1.0, UnitSystem.METRIC, "29 kPa absolute"),
        (101.3, "pressure_abs", 1.0, UnitSystem.IMPERIAL, "30 inHg absolute"),
        (24.18, "trim", 0.78, UnitSystem.METRIC, "+24.2 %"),
        (-0.004, "trim", 0.78, UnitSystem.METRIC, "0.0 %"),
        (-6.0, "temperature", 1.0, UnitSystem.METRIC, "−6 °C"),
        (0.998, "lambda", 0.001, UnitSystem.METRIC, "0.998"),
    ],
)
def test_values_in_words_carry_digits_sign_and_reference(
    value: float, quantity: str, step: float, system: UnitSystem, expected: str
) -> None:
    assert shown(value, quantity, step, system) == expected
