"""The drive script as a validated document, and the shipped scripts."""

from collections.abc import Collection
from functools import cache
from importlib import resources
from typing import Annotated, Literal

import yaml
from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from leitfaden_core.errors import BadDocument, UnknownName
from leitfaden_core.scripts.conditions import CONDITIONS
from leitfaden_core.validation import first_wrong
from leitfaden_core.words import say

Seconds = Annotated[float, Field(gt=0, le=3600)]
Span = tuple[float, float]
#: Engine speed on the rollers: in 1/min, or as a share of the rig's cruising or rated speed, such as ``0.96 rated`` or
#: ``cruise``, or of the speed that is left of rated speed after the shift from the pulling gear into the next one, such
#: as ``0.9 shifted``.
RollerSpeed = (
    Annotated[float, Field(gt=0, le=9000)] | Annotated[str, Field(pattern=r"^(\d+(\.\d+)? )?(cruise|rated|shifted)$")]
)


class Window(BaseModel):
    """Where in a segment a condition is read, in seconds from the segment's start; a statistic may have a span of its
    own.
    """

    model_config = ConfigDict(extra="forbid", frozen=True)

    condition: str
    span: Span
    max_span: Span | None = None
    min_span: Span | None = None

    @model_validator(mode="after")
    def _is_known(self) -> "Window":
        if self.condition not in CONDITIONS:
            raise ValueError(
                say(
                    "unknown condition '{condition}'; known: {list}",
                    condition=self.condition,
                    list=", ".join(sorted(CONDITIONS)),
                )
            )
        return self


class Segment(BaseModel):
    """A stretch of the script with constant intentions.

    Exactly one of pedal, hold_speed, hold_load and snap says what the foot does.
    """

    model_config = ConfigDict(extra="forbid", frozen=True)

    label: str
    seconds: Seconds
    key: Literal["off", "on", "start"] = "on"
    pedal: Annotated[float, Field(ge=0, le=1)] | None = None
    pedal_ramp: Annotated[float, Field(ge=0, le=10)] = 0.2  # s from the pedal before to this one
    hold_speed: Annotated[float, Field(gt=0, le=8000)] | None = None  # rev/min, in neutral
    #: Brake torque on the roller bench as a share of the rig's rated torque, or that of its steady cruise.
    hold_load: Annotated[float, Field(ge=0, le=1)] | Literal["cruise"] | None = None
    wiggle: Annotated[str, Field(max_length=40)] | None = None  # circuit or place that a hand moves meanwhile
    snap: bool = False
    roller: tuple[RollerSpeed, RollerSpeed] | None = (
        None  # crankshaft speed imposed by the roller bench, from start to end
    )
    gear: Literal["road", "pull", "next"] | None = (
        None  # the usual gear, the one for a full-load pull, or the one above that
    )
    time_lapse: Annotated[float, Field(ge=1, le=100)] = 1.0  # coolant, oil and learning run this much faster
    window: Window | None = None

    @model_validator(mode="after")
    def _one_foot(self) -> "Segment":
        wishes = [self.pedal is not None, self.hold_speed is not None, self.hold_load is not None, self.snap]
        if sum(wishes) > 1:
            raise ValueError(
                say("segment '{label}': give one of pedal, hold_speed, hold_load and snap", label=self.label)
            )
        if (self.roller is None) != (self.gear is None):
            raise ValueError(say("segment '{label}': roller and gear belong together", label=self.label))
        if self.hold_load is not None and self.roller is None:
            raise ValueError(say("segment '{label}': hold_load needs the roller bench", label=self.label))
        if self.window is not None and self.window.span[1] > self.seconds + 1e-9:
            raise ValueError(say("segment '{label}': the window ends after the segment", label=self.label))
        return self


class Surroundings(BaseModel):
    """Weather and place of a script that is not driven at the school, and what petrol is sold there."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    temp_C: Annotated[float, Field(ge=-40, le=55)]  # noqa: N815  as in the case catalogue
    baro_kPa: Annotated[float, Field(ge=50, le=110)]  # noqa: N815
    ethanol: Annotated[float, Field(ge=0, le=0.85)] = 0.0  # share by volume of the petrol


class Script(BaseModel):
    """A drive script: segments one after the other, from a cold or a hot engine."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    schema_version: Literal[1]
    id: str
    name: str
    description: str
    start: Literal["cold", "hot"]
    ambient: Surroundings | None = None
    segments: Annotated[list[Segment], Field(min_length=1)]

    @property
    def seconds(self) -> float:
        """Length of the script. [s]"""
        return sum(segment.seconds for segment in self.segments)

    def to_last_window(self, conditions: Collection[str] = ()) -> "Script":
        """The script as far as these conditions, or any, are read in it; the whole, where nothing is."""
        ends = [
            start + max(span[1] for span in (read.span, read.max_span, read.min_span) if span is not None)
            for start, segment in zip(self.starts(), self.segments, strict=True)
            if (read := segment.window) is not None and (not conditions or read.condition in conditions)
        ]
        last = max(ends, default=self.seconds)
        needed = [segment for start, segment in zip(self.starts(), self.segments, strict=True) if start < last]
        return self.model_copy(update={"segments": needed})

    def starts(self) -> list[float]:
        """Start of each segment. [s]"""
        times, now = [], 0.0
        for segment in self.segments:
            times.append(now)
            now += segment.seconds
        return times

    def conditions(self) -> list[str]:
        """Conditions that are read in this script, in order."""
        return [segment.window.condition for segment in self.segments if segment.window is not None]

    def span(self, condition_id: str, stat: str = "mean") -> Span:
        """Start and end of a condition's window for a statistic, in script time. [s]"""
        start = 0.0
        for segment in self.segments:
            window = segment.window
            if window is not None and window.condition == condition_id:
                special = {"max": window.max_span, "min": window.min_span, "std": window.min_span}.get(stat)
                low, high = special or window.span
                return start + low, start + high
            start += segment.seconds
        raise UnknownName("condition", condition_id, self.conditions(), where=say("in script {id}", id=self.id))


def reading_scripts() -> list[Script]:
    """The shipped scripts in which conditions are read, the workshop day first."""
    found = [script for script in map(load_script, script_ids()) if script.conditions()]
    return sorted(found, key=lambda script: (script.id != "workshop_day", script.id))


def script_with(condition_id: str) -> Script:
    """The shipped script in which a condition is read; UnknownName lists the conditions that are."""
    for script in reading_scripts():
        if condition_id in script.conditions():
            return script
    raise UnknownName("condition", condition_id, [name for script in reading_scripts() for name in script.conditions()])


def parse_script(text: str, source: str = "script") -> Script:
    """A script from YAML text; BadDocument names the first wrong field."""
    try:
        return Script.model_validate(yaml.load(text, yaml.CSafeLoader))
    except yaml.YAMLError as error:
        raise BadDocument(
            say("{source} is not readable as YAML: {splitlines}", source=source, splitlines=str(error).splitlines()[0])
        ) from error
    except ValidationError as error:
        place, sentence = first_wrong(error)
        raise BadDocument(f"{source}, {place or 'document'}: {sentence}", place=place or "document") from error


def script_ids() -> list[str]:
    """Ids of the scripts that ship with the product."""
    return sorted(
        path.name.removesuffix(".yaml")
        for path in resources.files(__package__).joinpath("data").iterdir()
        if path.name.endswith(".yaml")
    )


@cache
def load_script(script_id: str) -> Script:
    """A shipped script by its id."""
    if script_id not in script_ids():
        raise UnknownName("script", script_id, script_ids())
    path = resources.files(__package__).joinpath("data", f"{script_id}.yaml")
    return parse_script(path.read_text(encoding="utf-8"), source=say("script {script_id}", script_id=script_id))
