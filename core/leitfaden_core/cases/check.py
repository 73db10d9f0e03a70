"""Every assertion of a case catalogue against the simulator."""

from collections.abc import Iterator
from dataclasses import dataclass

from leitfaden_core.cases.document import Ambient, Assertion, Case, Catalogue
from leitfaden_core.channels import channel
from leitfaden_core.errors import LeitfadenError
from leitfaden_core.monitors import trouble_codes
from leitfaden_core.quantities import QUANTITIES, convert
from leitfaden_core.rigs import load_rig
from leitfaden_core.scripts import load_script
from leitfaden_core.simulate import Run, cached_run

SCRIPT = "workshop_day"
DIMENSIONLESS = frozenset({"-", "code"})


@dataclass(frozen=True)
class Outcome:
    """One assertion: whether it holds, what was asserted, what the simulator gave (or why it could not be asked)."""

    passed: bool
    expected: str
    got: str


@dataclass(frozen=True)
class CaseResult:
    """A case with the outcome of each of its assertions."""

    id: str
    engine: str
    title: str
    outcomes: list[Outcome]

    @property
    def passed(self) -> bool:
        """Whether every assertion holds."""
        return all(outcome.passed for outcome in self.outcomes)


def check_cases(catalogue: Catalogue) -> Iterator[CaseResult]:
    """Check case by case, so that a long catalogue shows its progress. What the simulator cannot do counts as failed, with the reason."""
    for case in catalogue.cases:
        yield CaseResult(case.id, case.engine, case.title, _check(case))


def _check(case: Case) -> list[Outcome]:
    try:
        rig, script = load_rig(case.engine), load_script(SCRIPT)
        faulty = cached_run(rig, script, case.faults, 0, _surroundings(case.ambient))
        good = cached_run(rig, script, [], 0, _surroundings(case.ambient))
    except LeitfadenError as error:
        return [Outcome(False, assertion.words(), f"not computed: {error.message}") for assertion in case.signature]
    return [_compare(assertion, faulty, good) for assertion in case.signature]


def _surroundings(ambient: Ambient) -> dict[str, float]:
    return {"ambient_temp": ambient.temp_C + 273.15, "ambient_pressure": ambient.baro_kPa * 1000.0}


def _compare(assertion: Assertion, faulty: Run, good: Run) -> Outcome:
    try:
        if assertion.channel == "dtc":
            return _compare_codes(assertion, faulty)
        value = _value(assertion, faulty, good)
    except LeitfadenError as error:
        return Outcome(False, assertion.words(), f"not computed: {error.message}")
    low, high = float("-inf"), float("inf")
    if isinstance(assertion.value, tuple):
        low, high = assertion.value
    elif isinstance(assertion.value, float):
        low, high = (assertion.value, high) if assertion.relation == ">" else (low, assertion.value)
    # A statistic that is not defined (NaN) fulfils nothing.
    return Outcome(low <= value <= high, assertion.words(), f"{value:.4g}")


def _compare_codes(assertion: Assertion, faulty: Run) -> Outcome:
    found = trouble_codes(faulty)
    wanted = [assertion.value] if isinstance(assertion.value, str) else list(assertion.value)  # type: ignore[arg-type]
    there = bool(found) if wanted == ["any"] else any(code in found for code in wanted)
    return Outcome(there == (assertion.relation == "has"), assertion.words(), ", ".join(found) or "no code")


def _value(assertion: Assertion, faulty: Run, good: Run) -> float:
    def of(run: Run, condition: str) -> float:
        return run.statistic(condition, assertion.channel, assertion.stat)

    quantity = channel(assertion.channel).quantity
    here = of(faulty, assertion.condition)
    if assertion.versus == "good_ratio":
        return here / of(good, assertion.condition)
    if assertion.stat == "freq":
        return here if assertion.versus == "absolute" else here - of(good, assertion.condition)
    if assertion.versus == "absolute":
        return _in_unit(here, quantity, assertion.unit)
    other = of(good, assertion.condition) if assertion.versus == "good" else of(faulty, assertion.versus)
    return _in_unit(here, quantity, assertion.unit) - _in_unit(other, quantity, assertion.unit)


def _in_unit(value: float, quantity: str, unit: str) -> float:
    kept = QUANTITIES[quantity].kept
    return value if unit in DIMENSIONLESS else convert(value, quantity, kept, unit)
