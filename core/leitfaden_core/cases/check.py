"""Every assertion of a case catalogue against the simulator."""

from collections.abc import Iterator
from dataclasses import dataclass

from leitfaden_core.cases.document import Ambient, Assertion, Case, Catalogue
from leitfaden_core.channels import channel
from leitfaden_core.errors import LeitfadenError, UnknownName
from leitfaden_core.faults import effects_on
from leitfaden_core.monitors import trouble_codes
from leitfaden_core.quantities import QUANTITIES, convert
from leitfaden_core.rigs import Rig, load_rig, rig_channels
from leitfaden_core.scripts import script_with
from leitfaden_core.simulate import Run, cached_run
from leitfaden_core.words import say

#: A condition of each drive in which codes are set: the workshop day, and the restart after it.
CODE_CONDITIONS = ("hot_idle", "hot_soak_restart")
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
    """Check case by case, so that a long catalogue shows its progress.

    What the simulator cannot do counts as failed, with the reason.
    """
    for case in catalogue.cases:
        yield CaseResult(case.id, case.engine, case.title, _check(case))


def _check(case: Case) -> list[Outcome]:
    try:
        rig = load_rig(case.engine)
        for fault in case.faults:
            effects_on(fault, rig)
    except LeitfadenError as error:
        return [
            Outcome(False, assertion.words(), say("not computed: {message}", message=error.message))
            for assertion in case.signature
        ]
    return [_compare(assertion, _Pair(rig, case)) for assertion in case.signature]


@dataclass(frozen=True)
class _Pair:
    """The runs of a case, faulty and healthy, in whichever script a condition is read."""

    rig: Rig
    case: Case

    def faulty(self, condition: str) -> Run:
        return cached_run(self.rig, script_with(condition), self.case.faults, 0, _surroundings(self.case.ambient))

    def good(self, condition: str) -> Run:
        return cached_run(self.rig, script_with(condition), [], 0, _surroundings(self.case.ambient))


def _surroundings(ambient: Ambient) -> dict[str, float]:
    return {"ambient_temp": ambient.temp_C + 273.15, "ambient_pressure": ambient.baro_kPa * 1000.0}


def _compare(assertion: Assertion, runs: _Pair) -> Outcome:
    try:
        if assertion.channel == "dtc":
            return _compare_codes(assertion, runs)
        value = _value(assertion, runs)
    except LeitfadenError as error:
        return Outcome(False, assertion.words(), say("not computed: {message}", message=error.message))
    low, high = float("-inf"), float("inf")
    if isinstance(assertion.value, tuple):
        low, high = assertion.value
    elif isinstance(assertion.value, float):
        low, high = (assertion.value, high) if assertion.relation == ">" else (low, assertion.value)
    # A statistic that is not defined (NaN) fulfils nothing, and more than a bound is not the bound.
    holds = low < value < high if assertion.relation in {">", "<"} else low <= value <= high
    return Outcome(holds, assertion.words(), f"{value:.4g}")


def _compare_codes(assertion: Assertion, runs: _Pair) -> Outcome:
    found = sorted({name for condition in CODE_CONDITIONS for name in trouble_codes(runs.faulty(condition))})
    wanted = [assertion.value] if isinstance(assertion.value, str) else list(assertion.value)  # type: ignore[arg-type]
    there = bool(found) if wanted == ["any"] else any(code in found for code in wanted)
    return Outcome(there == (assertion.relation == "has"), assertion.words(), ", ".join(found) or "no code")


def _value(assertion: Assertion, runs: _Pair) -> float:
    name, stat, condition = assertion.channel, assertion.stat, assertion.condition
    if name not in rig_channels(runs.rig):
        raise UnknownName("channel", name, rig_channels(runs.rig), where=say("on rig {id}", id=runs.rig.id))
    quantity = channel(name).quantity
    here = runs.faulty(condition).statistic(condition, name, stat)
    sound = runs.good(condition).statistic(condition, name, stat)
    if assertion.versus == "good_ratio":
        return here / sound
    if assertion.versus == "absolute":
        return here if stat == "freq" else _in_unit(here, quantity, assertion.unit)
    other = (
        sound if assertion.versus == "good" else runs.faulty(assertion.versus).statistic(assertion.versus, name, stat)
    )
    if stat == "freq":
        return here - other
    return _in_unit(here, quantity, assertion.unit) - _in_unit(other, quantity, assertion.unit)


def _in_unit(value: float, quantity: str, unit: str) -> float:
    kept = QUANTITIES[quantity].kept
    return value if unit in DIMENSIONLESS else convert(value, quantity, kept, unit)
