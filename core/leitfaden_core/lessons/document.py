"""The lesson document: a thread of stations, versioned and validated. It holds no number that the model can compute."""

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError, field_validator, model_validator

from leitfaden_core.channels import CHANNELS, Layer, channel
from leitfaden_core.errors import BadDocument
from leitfaden_core.faults import FaultSpec, effects_on
from leitfaden_core.rigs import Rig, load_rig, rig_channels
from leitfaden_core.scripts import condition, load_script
from leitfaden_core.validation import explained

SCHEMA_VERSION = 1
Stat = Literal["mean", "min", "max", "freq"]
STAT_WORDS = {"mean": "mean", "min": "lowest", "max": "highest", "freq": "swings per second"}


#: A name out of a catalogue.
Name = Annotated[str, Field(max_length=60)]


class Document(BaseModel):
    """Unknown fields are refused, so that a typing slip cannot pass unseen; a number is finite and a number, not a text
    like one.
    """

    model_config = ConfigDict(extra="forbid", strict=True, allow_inf_nan=False)


class ReadingPlace(Document):
    """Where a value is read: condition, channel, and which statistic over the condition."""

    condition: Name
    channel: Name
    stat: Stat = "mean"

    @model_validator(mode="after")
    def _is_known(self) -> "ReadingPlace":
        condition(self.condition)
        entry = channel(self.channel)
        if self.stat == "freq" and entry.family != "oxygen":
            raise ValueError(f"'{entry.label}' does not switch; only oxygen sensors have swings per second")
        return self


class _Station(Document):
    id: Annotated[str, Field(pattern=r"^[a-z0-9-]{1,40}$")]
    title: Annotated[str, Field(min_length=1, max_length=120)]
    text: Annotated[str, Field(max_length=20_000)] = ""


class Explain(_Station):
    """Text with formulas, and a drawing that can be explored."""

    kind: Literal["explain"] = "explain"
    drawing: Literal["none", "narrowband"] = "none"


class Show(_Station):
    """Lanes: good against faulty along the script."""

    kind: Literal["show"] = "show"
    channels: Annotated[list[Name], Field(min_length=1, max_length=8)]
    show_good: bool = True
    focus: Name | None = None

    @model_validator(mode="after")
    def _is_known(self) -> "Show":
        for name in self.channels:
            channel(name)
        if self.focus is not None:
            condition(self.focus)
        return self


class Measure(_Station):
    """Read a value at a condition, with its unit."""

    kind: Literal["measure"] = "measure"
    reading: ReadingPlace
    tolerance_percent: Annotated[float, Field(ge=0.5, le=50)] = 5.0
    faulty: bool = True


class Judge(_Station):
    """A set of readings, drawn from a pool by the learner's seed; a verdict for each."""

    kind: Literal["judge"] = "judge"
    pool: Annotated[list[ReadingPlace], Field(min_length=1, max_length=60)]
    count: Annotated[int, Field(ge=1, le=12)] = 5


class Conclude(_Station):
    """Which of the offered causes explains all readings? An empty ``fault`` is «nothing is wrong»."""

    kind: Literal["conclude"] = "conclude"
    readings: Annotated[list[ReadingPlace], Field(min_length=1, max_length=12)]
    causes: Annotated[list[FaultSpec | None], Field(min_length=2, max_length=8)]

    @field_validator("causes")
    @classmethod
    def _are_faults(cls, causes: list[FaultSpec | None]) -> list[FaultSpec | None]:
        for cause in causes:
            if cause is not None:
                cause.checked()
        return causes


Station = Annotated[Explain | Show | Measure | Judge | Conclude, Field(discriminator="kind")]


class Lesson(Document):
    """A lesson: one car with its faults, one script, a thread of stations."""

    schema_version: Annotated[int, Field(ge=SCHEMA_VERSION, le=SCHEMA_VERSION)] = SCHEMA_VERSION
    title: Annotated[str, Field(min_length=1, max_length=160)]
    goal: Annotated[str, Field(max_length=2_000)] = ""
    rig: Name = "R1"
    script: Name = "workshop_day"
    faults: Annotated[list[FaultSpec], Field(max_length=4)] = []
    cautions: Annotated[list[Annotated[str, Field(max_length=400)]], Field(max_length=20)] = []
    stations: Annotated[list[Station], Field(min_length=1, max_length=40)]

    @property
    def engine(self) -> Rig:
        """The rig of its car."""
        return load_rig(self.rig)

    @model_validator(mode="after")
    def _hangs_together(self) -> "Lesson":
        rig = self.engine
        script = load_script(self.script)
        for fault in self.faults:
            effects_on(fault, rig)
        ids = [station.id for station in self.stations]
        if len(set(ids)) < len(ids):
            raise ValueError("two stations have the same id")
        for station in self.stations:
            if isinstance(station, Conclude):
                for cause in station.causes:
                    if cause is not None:
                        effects_on(cause, rig)
            shown = station.channels if isinstance(station, Show) else [place.channel for place in _places(station)]
            for name in shown:
                if name not in rig_channels(rig):
                    raise ValueError(f"station '{station.title}': rig {rig.id} has no channel '{name}'")
            for place in _places(station):
                if place.condition not in script.conditions():
                    raise ValueError(
                        f"station '{station.title}': condition '{place.condition}' does not occur in script {script.id}"
                    )
        return self


def _places(station: Any) -> list[ReadingPlace]:
    if isinstance(station, Measure):
        return [station.reading]
    if isinstance(station, Judge):
        return station.pool
    return station.readings if isinstance(station, Conclude) else []


def parse_lesson(data: Any) -> Lesson:
    """A lesson from plain data; BadDocument says in one sentence which place is wrong and what would be right."""
    try:
        return Lesson.model_validate(data)
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(
            str(part) for part in first["loc"] if part not in {"explain", "show", "measure", "judge", "conclude"}
        )
        raise BadDocument(f"lesson, {place or 'document'}: {explained(first)}", place=place) from error


def reading_label(place: ReadingPlace) -> str:
    """A reading place in words, such as «MAF at hot idle, mean»."""
    entry = CHANNELS[place.channel]
    layer = {Layer.TRUTH: "true value", Layer.PIN: "at the pin", Layer.SCAN: "scan value"}[entry.layer]
    return f"{entry.label}, {layer}, {STAT_WORDS[place.stat]}"
