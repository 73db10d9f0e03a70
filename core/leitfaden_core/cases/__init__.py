"""Cases: work orders with a fault behind them and assertions that a physically right simulator must fulfil."""

from leitfaden_core.cases.check import CaseResult, Outcome, check_cases
from leitfaden_core.cases.document import Assertion, Case, Catalogue, parse_cases

__all__ = ["Assertion", "Case", "CaseResult", "Catalogue", "Outcome", "check_cases", "parse_cases"]
