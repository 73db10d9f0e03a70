"""Marking of workings as a class would appeal against it: digits, units as written, slips after slips."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from leitfaden_core.quantities import QUANTITIES, half_of_last_digit, parse_reading
from leitfaden_core.workings import StepVerdict, mark_steps, work, workings

pytestmark = pytest.mark.lessons

AIR = workings.get("volumetric_efficiency")
AIR_SHEET = work(AIR, {"maf": 107.0, "rpm": 6000.0, "t": 20.0, "p": 100.0, "L": 2.0})
TRIMS = workings.get("total_trim")
TRIMS_SHEET = work(TRIMS, {"ST": 10.0, "LT": 20.0})


def verdict(working, sheet, **answers: str) -> dict[str, StepVerdict]:
    """Verdicts by step."""
    return {step.symbol: step.verdict for step in mark_steps(working, sheet, answers)}


@pytest.mark.parametrize(
    ("text", "quantity", "value"),
    [
        ("970 hPa", "pressure_abs", 97.0),
        ("97 000 Pa", "pascal", 97000.0),
        ("97\u202f000 Pa", "pascal", 97000.0),
        ("970 hPa", "pascal", 97000.0),
        ("1.19 kg/m^3", "density", 1.19),
        ("6 mm^2", "area", 6.0),
        ("1800 mg/s", "mass_flow", 1.8),
        ("\u22126.5 %", "trim", -6.5),
        ("134.4 count", "trim_count", 5.0),
        ("168,96", "count", 168.96),
        ("1600 cm^3", "displacement", 1.6),
    ],
)
def test_numbers_and_units_as_people_write_them(text: str, quantity: str, value: float) -> None:
    assert parse_reading(text, quantity) == pytest.approx(value)


@given(st.integers(1, 10**7))
def test_thousands_parted_by_a_space_are_the_same_number(number: int) -> None:
    parted = f"{number:,}".replace(",", " ")
    assert parse_reading(f"{parted} Pa", "pascal") == number


@given(st.sampled_from([q for q in QUANTITIES if QUANTITIES[q].kept != "-"]), st.integers(0, 4))
def test_as_exactly_as_it_was_written_in_whatever_unit(quantity: str, digits: int) -> None:
    for unit in QUANTITIES[quantity].units:
        written = f"{1.0:.{digits}f} {unit.symbol}"
        further = f"{1.0 + 0.5 * 10.0**-digits:.{digits + 1}f} {unit.symbol}"
        room = half_of_last_digit(written, quantity)
        assert room == pytest.approx(abs(parse_reading(further, quantity) - parse_reading(written, quantity)), rel=1e-6)


class TestDigits:
    def test_half_of_the_last_digit_counts_in_the_learners_unit(self) -> None:
        """428 kg/h is 118.9 g/s; written with that digit it may be up to 0.5 kg/h off, and no more than a fiftieth."""
        full = next(step.value for step in AIR_SHEET.steps if step.symbol == "full")
        whole = round(full * 3.6)
        assert verdict(AIR, AIR_SHEET, full=f"{whole} kg/h", VE="1 %")["full"] is StepVerdict.RIGHT
        assert verdict(AIR, AIR_SHEET, full=f"{whole * 1.03:.0f} kg/h", VE="1 %")["full"] is StepVerdict.WRONG

    def test_a_whole_number_is_as_exact_as_whole_numbers_are(self) -> None:
        value = AIR_SHEET.steps[-1].value
        assert verdict(AIR, AIR_SHEET, VE=f"{round(value)} %")["VE"] is StepVerdict.RIGHT


class TestSlips:
    def test_the_simple_sum_of_trims_is_named(self) -> None:
        marked = {s.symbol: s for s in mark_steps(TRIMS, TRIMS_SHEET, {"total": "30 %", "count": "169 count"})}
        assert marked["total"].verdict is StepVerdict.SLIP and "simple sum" in marked["total"].reason

    def test_a_slip_is_named_after_an_earlier_error_too(self) -> None:
        """With a wrong total of 30 % the count slip gives 158: it was called wrong without a word before."""
        marked = {s.symbol: s for s in mark_steps(TRIMS, TRIMS_SHEET, {"total": "30 %", "count": "158 count"})}
        assert marked["count"].verdict is StepVerdict.SLIP and "0.78" in marked["count"].reason

    def test_own_values_that_lead_nowhere_do_not_end_the_marking(self) -> None:
        """A zero where the next step divides."""
        error = workings.get("error_from_trim")
        sheet = work(error, {"trim": 25.0})
        marked = {s.symbol: s for s in mark_steps(error, sheet, {"factor": "0", "e": "-20 %"})}
        assert marked["factor"].verdict is StepVerdict.WRONG
        assert marked["e"].verdict is StepVerdict.RIGHT

    def test_a_field_that_cannot_be_read_spoils_no_other(self) -> None:
        found = verdict(TRIMS, TRIMS_SHEET, factor="about one", total="32 %", count="168.96")
        assert found["factor"] is StepVerdict.UNREADABLE
        assert found["total"] is found["count"] is StepVerdict.RIGHT
