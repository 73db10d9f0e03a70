"""Formulas are written as they are computed: every one of them, and with the same brackets."""

import ast
import re

import pytest

from leitfaden_core.workings import Working, curve, tex, work, workings
from leitfaden_core.workings.working import Input

ALL = list(workings)


#: Where the middle of the range of each input makes no sense together.
TOGETHER = {"thermistor_temperature": {"V": 2.0}, "thermistor_fit": {"t1": 20.0, "R1": 2500.0, "t2": 80.0, "R2": 330.0}}


def given(working: Working) -> dict[str, float | str]:
    def some(entry: Input, k: int) -> float:
        return entry.default if entry.default is not None else entry.low + (0.3 + 0.07 * k) * (entry.high - entry.low)

    return {entry.symbol: some(entry, k) for k, entry in enumerate(working.inputs)} | TOGETHER.get(working.id, {})


def read_back(text: str) -> str:
    """A formula in TeX as one that can be computed."""
    for before, after in (
        (r"\\left\|(.*?)\\right\|", r"abs(\1)"),
        (r"\\left\(", "("),
        (r"\\right\)", ")"),
        (r"\\cdot", "*"),
        (r",\\ ", ","),
    ):
        text = re.sub(before, after, text)
    while "\\frac" in text or "\\sqrt" in text or "^{" in text:
        inner = r"\{([^{}]*)\}"
        text, count = re.subn(r"\\frac" + inner + inner, r"((\1)/(\2))", text)
        text, roots = re.subn(r"\\sqrt" + inner, r"(sqrt(\1))", text)
        text, powers = re.subn(r"\^" + inner, r"**(\1)", text)
        assert count + roots + powers, text
    return text.replace("\\", "")


@pytest.mark.parametrize("working", ALL, ids=lambda working: working.id)
def test_what_is_written_with_its_numbers_gives_the_result(working: Working) -> None:
    import math

    known = {"sqrt": math.sqrt, "exp": math.exp, "ln": math.log, "min": min, "max": max, "abs": abs}
    sheet = work(working, given(working))
    values = dict(sheet.inputs)
    for step, worked in zip(working.steps, sheet.steps, strict=True):
        text = read_back(tex(step.formula, values))
        ast.parse(text, mode="eval")
        assert eval(text, {"__builtins__": {}}, known) == pytest.approx(worked.value, rel=2e-4, abs=1e-9), text
        values[step.symbol] = worked.value


@pytest.mark.parametrize("working", ALL, ids=lambda working: working.id)
def test_a_curve_goes_through_the_point_that_was_worked_out(working: Working) -> None:
    told = given(working)
    result = work(working, told).result.value
    for entry in working.inputs:
        found = curve(working, told, entry.symbol)
        value = float(told[entry.symbol])
        assert found.given == sorted(found.given)
        nearest = min(range(len(found.given)), key=lambda k: abs(found.given[k] - value))
        around = found.result[max(nearest - 1, 0) : nearest + 2]
        assert min(around) - 1e-6 * abs(result) - 1e-9 <= result <= max(around) + 1e-6 * abs(result) + 1e-9
