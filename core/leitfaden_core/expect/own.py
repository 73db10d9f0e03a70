"""A trainer's own expected values: they take the place of computed bands, name their source, and stay marked."""

from typing import Annotated

import yaml
from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from leitfaden_core.channels import channel
from leitfaden_core.errors import BadDocument, LeitfadenError
from leitfaden_core.quantities import parse_reading
from leitfaden_core.scripts import condition as condition_of
from leitfaden_core.validation import explained
from leitfaden_core.words import say

#: What nothing on an engine lies beyond, by quantity, in the kept unit: a slip with a unit shows here.
PHYSICAL = {
    "pressure_abs": (0.0, 400.0),
    "pressure_gauge": (-110.0, 1000.0),
    "temperature": (-60.0, 1200.0),
    "voltage": (-1.0, 100.0),
    "mass_flow": (0.0, 1000.0),
    "speed": (0.0, 12_000.0),
    "lambda": (0.0, 20.0),
    "trim": (-100.0, 100.0),
    "percent": (-100.0, 200.0),
}


class OwnValue(BaseModel):
    """An own band of a channel's mean in a condition, as it is written:

    ``low`` and ``high`` with unit, and where they come from.
    """

    model_config = ConfigDict(extra="forbid", frozen=True)

    condition: str
    channel: str
    from_: Annotated[str, Field(alias="from")]
    to: str
    source: Annotated[str, Field(min_length=3, max_length=200)]

    @model_validator(mode="after")
    def _fits(self) -> "OwnValue":
        try:
            condition_of(self.condition)
            low, high = PHYSICAL.get(channel(self.channel).quantity, (-1e6, 1e6))
            if not low <= self.low <= high or not low <= self.high <= high:
                raise ValueError(
                    say(
                        "{from_} to {to} is beyond what that can be: look at number and unit",
                        from_=self.from_,
                        to=self.to,
                    )
                )
            if self.low > self.high:
                raise ValueError(say("from {what} lies above to {to}", what=self.from_, to=self.to))
        except LeitfadenError as error:
            raise ValueError(error.message) from error
        return self

    @property
    def low(self) -> float:
        """Lower end, in the channel's kept unit."""
        return parse_reading(self.from_, channel(self.channel).quantity)

    @property
    def high(self) -> float:
        """Upper end, in the channel's kept unit."""
        return parse_reading(self.to, channel(self.channel).quantity)


def parse_own(text: str, source: str = "own values") -> dict[tuple[str, str], OwnValue]:
    """Own values from YAML text, a list of entries, by condition and channel;

    BadDocument names the entry that is wrong.
    """
    try:
        told = yaml.safe_load(text)
    except yaml.YAMLError as error:
        raise BadDocument(
            say("{source} is not readable as YAML: {splitlines}", source=source, splitlines=str(error).splitlines()[0])
        ) from error
    if not isinstance(told, list):
        raise BadDocument(
            say("{source} must be a list of entries with condition, channel, from, to and source", source=source)
        )
    found = {}
    for k, entry in enumerate(told):
        try:
            value = OwnValue.model_validate(entry)
        except ValidationError as error:
            first = error.errors()[0]
            place = "".join(f", {part}" for part in first["loc"])
            raise BadDocument(
                say(
                    "{source}, entry {k}{place}: {explained}",
                    source=source,
                    k=k + 1,
                    place=place,
                    explained=explained(first),
                )
            ) from error
        found[value.condition, value.channel] = value
    return found
