"""The case catalogue as a document.

Only what the simulator needs is read; words for people (complaint, tests, repair) pass unread.
"""

from typing import Annotated, Any, Literal

import yaml
from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from leitfaden_core.errors import BadDocument
from leitfaden_core.faults import FaultSpec
from leitfaden_core.validation import explained
from leitfaden_core.words import say

Stat = Literal["mean", "min", "max", "std", "freq"]
Relation = Literal[">", "<", "between", "has", "has_not"]


class _Part(BaseModel):
    model_config = ConfigDict(extra="ignore", frozen=True)


class Ambient(_Part):
    """Surroundings of a case."""

    temp_C: Annotated[float, Field(ge=-40, le=55)] = 20.0  # noqa: N815  the catalogue names it so
    baro_kPa: Annotated[float, Field(ge=50, le=110)] = 101.3  # noqa: N815


class Assertion(BaseModel):
    """One assertion: a statistic of a channel in a condition stands in a relation to a value.

    ``versus`` says what is compared: the value itself, its difference to the healthy run (``good``), its ratio to it
    (``good_ratio``), or its difference to another condition of the same run.
    """

    model_config = ConfigDict(extra="forbid", frozen=True)

    condition: str
    channel: str
    stat: Stat = "mean"
    relation: Relation
    value: float | tuple[float, float] | list[str] | str
    unit: str
    versus: str = "absolute"

    @model_validator(mode="after")
    def _fits(self) -> "Assertion":
        if self.relation == "between" and not isinstance(self.value, tuple):
            raise ValueError("relation 'between' needs a value [low, high]")
        if self.relation in {">", "<"} and not isinstance(self.value, float):
            raise ValueError(say("relation '{relation}' needs one number as value", relation=self.relation))
        if (self.relation in {"has", "has_not"}) != (self.channel == "dtc"):
            raise ValueError("relations 'has' and 'has_not' belong to channel 'dtc', and only to it")
        return self

    def words(self) -> str:
        """What is asserted, on one line."""
        value = (
            say("{value:g} to {value_2:g}", value=self.value[0], value_2=self.value[1])
            if isinstance(self.value, tuple)
            else self.value
        )
        against = "" if self.versus == "absolute" else say(" against {versus}", versus=self.versus)
        return f"{self.condition} {self.channel} {self.stat}{against} {self.relation} {value} {self.unit}".rstrip(" -")


class Case(_Part):
    """One case: engine, faults, surroundings, assertions."""

    id: Annotated[str, Field(min_length=1, max_length=40)]
    title: str = ""
    engine: str
    ambient: Ambient = Ambient()
    faults: list[FaultSpec] = []
    signature: list[Assertion]


class Catalogue(_Part):
    """All cases of a file."""

    cases: Annotated[list[Case], Field(min_length=1)]


def parse_cases(text: str, source: str = "case catalogue") -> Catalogue:
    """A catalogue from YAML text; BadDocument names the case and the place that is wrong, and what is wrong with it."""
    try:
        data = yaml.load(text, yaml.CSafeLoader)
    except yaml.YAMLError as error:
        raise BadDocument(
            say("{source} is not readable as YAML: {splitlines}", source=source, splitlines=str(error).splitlines()[0])
        ) from error
    try:
        return Catalogue.model_validate(data)
    except ValidationError as error:
        first = error.errors()[0]
        raise BadDocument(f"{source}, {_place(data, first['loc'])}: {explained(first)}") from error


def _place(data: Any, loc: tuple[int | str, ...]) -> str:
    """The place of an error with the case's own id instead of its number."""
    if len(loc) > 1 and loc[0] == "cases" and isinstance(data, dict):
        case = data["cases"][loc[1]]
        name = (
            case.get("id", say("case {loc}", loc=loc[1])) if isinstance(case, dict) else say("case {loc}", loc=loc[1])
        )
        return ".".join([say("case {name}", name=name), *(str(part) for part in loc[2:])])
    return ".".join(str(part) for part in loc) or "document"
