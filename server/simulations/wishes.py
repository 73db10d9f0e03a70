"""What of a person decides how an answer reads: their school's limits and their units."""

from typing import Any

from leitfaden_core.judge import OxygenLimits, RuleBook, SchoolRules
from leitfaden_core.quantities import UnitSystem
from people.models import Membership


def as_asked_by(member: Membership) -> dict[str, Any]:
    """The part of a wish that is the person's."""
    return {"rules": member.school.rules.values, "units": member.user.units}


def rules_and_units(wish: Any) -> tuple[SchoolRules, UnitSystem]:
    """That part, for whoever computes."""
    return RuleBook.model_validate(wish["rules"]).of_trims(), UnitSystem(wish["units"])


def oxygen_limits(wish: Any) -> OxygenLimits:
    """The school's limits on a narrowband's signal, for whoever judges lanes."""
    return RuleBook.model_validate(wish["rules"]).of_oxygen()
