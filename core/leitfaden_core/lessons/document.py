"""The lesson document: a thread of stations, versioned and validated. It holds no number that the model can compute."""

from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError, model_validator

from leitfaden_core.chance import chance
from leitfaden_core.errors import BadDocument
from leitfaden_core.faults import FaultSpec, describe_fault, effects_on
from leitfaden_core.lessons.item import Item, Setting
from leitfaden_core.lessons.kinds import KINDS, Station, kind_called
from leitfaden_core.lessons.shapes import Document, Name, Vehicle
from leitfaden_core.rigs import Rig, load_rig, rig_channels
from leitfaden_core.scripts import Script, load_script, script_ids
from leitfaden_core.validation import first_wrong
from leitfaden_core.words import inside, say

SCHEMA_VERSION = 1
#: For whom a lesson is meant.
Level = Literal["start", "journeyman", "expert"]
LEVELS: tuple[Level, ...] = ("start", "journeyman", "expert")


class Lesson(Document):
    """A lesson: one car with its faults, one script, a thread of stations. A station may name a vehicle of its own.

    ``or_else``: other faults that the car may have instead; a learner's seed decides, seed 0 has ``faults``.
    ``drives``: scripts that the lesson brings with it, as from a bench; they are named as the shipped ones are.
    ``level``: for whom it is written; empty where nobody has said.
    ``closed_book``: values of sound engines and verdicts are closed for learners while they work on it.
    """

    schema_version: Annotated[
        int, Field(ge=SCHEMA_VERSION, le=SCHEMA_VERSION, title="version of the document's form")
    ] = SCHEMA_VERSION
    title: Annotated[str, Field(min_length=1, max_length=160, title="title")]
    goal: Annotated[str, Field(max_length=2_000, title="goal")] = ""
    level: Annotated[Level | Literal[""], Field(title="level")] = ""
    closed_book: Annotated[bool, Field(title="closed book")] = False
    rig: Annotated[Name, Field(title="engine")] = "R1"
    script: Annotated[Name, Field(title="drive script")] = "workshop_day"
    drives: Annotated[list[Script], Field(max_length=6, title="drives")] = []
    faults: Annotated[list[FaultSpec], Field(max_length=4, title="what is wrong")] = []
    or_else: Annotated[
        list[Annotated[list[FaultSpec], Field(max_length=4)]], Field(max_length=4, title="or else wrong")
    ] = []
    cautions: Annotated[list[Annotated[str, Field(max_length=400)]], Field(max_length=20, title="cautions")] = []
    stations: Annotated[list[Station], Field(min_length=1, max_length=40, title="stations")]

    @property
    def engine(self) -> Rig:
        """The rig of its car."""
        return load_rig(self.rig)

    def engines(self) -> list[Rig]:
        """All rigs that its stations need, each once."""
        named = dict.fromkeys(station.vehicle.rig or self.rig for station in self.stations)
        return [load_rig(name) for name in named]

    def pictures(self) -> list[str]:
        """Ids of all own pictures that its stations show, each once."""
        shown = (picture for station in self.stations for picture in kind_called(station.kind).pictures(station))
        return list(dict.fromkeys(picture.id for picture in shown))

    def causes(self) -> list[list[FaultSpec]]:
        """What may be wrong with the car, one way for each learner."""
        return [self.faults, *self.or_else]

    def faults_of(self, seed: int) -> list[FaultSpec]:
        """What is wrong with the car of the learner with this seed."""
        ways = self.causes()
        return ways[int(chance(seed, "cause").integers(len(ways)))] if seed else ways[0]

    def setting(self, station: Station, seed: int = 0) -> Setting:
        """What runs at a station for a learner: its own vehicle as far as it names one, else the lesson's."""
        own = station.vehicle
        return Setting(
            load_rig(own.rig or self.rig),
            self.drive(own.script or self.script),
            tuple(self.faults_of(seed) if own.faults is None else own.faults),
            own.individual,
        )

    def drive(self, name: str) -> Script:
        """A script by its name: one of the lesson's own, or a shipped one."""
        return next((script for script in self.drives if script.id == name), None) or load_script(name)

    def own_vehicle(self, station: Station, seed: int = 0) -> str:
        """The engine of a station and what is wrong with it, in words; empty where it is the lesson's."""
        if station.vehicle == Vehicle():
            return ""
        setting = self.setting(station, seed)
        wrong = ", ".join(describe_fault(fault) for fault in setting.faults) or "Nothing was wrong"
        return say(
            "{engine}, {drive}: {wrong}", engine=setting.rig.name, drive=inside(setting.script.name), wrong=wrong
        )

    def item(self, index: int, seed: int) -> Item[Any]:
        """A station for the learner with this seed."""
        station, shown = self.stations[index], set[str]()
        for before in self.stations[:index] if self.closed_book else []:
            shown.update(kind_called(before.kind).shows_sound(before, self.setting(before).faults))
        return Item(index, station, self.setting(station, seed), seed, frozenset(shown))

    @model_validator(mode="after")
    def _hangs_together(self) -> "Lesson":
        for fault in (fault for way in self.causes() for fault in way):
            effects_on(fault, self.engine)
        self._names_its_drives()
        ids = [station.id for station in self.stations]
        if len(set(ids)) < len(ids):
            raise ValueError("two stations have the same id")
        for station in self.stations:
            self._fits(station)
        return self

    def _names_its_drives(self) -> None:
        names = [script.id for script in self.drives]
        for name in names:
            if names.count(name) > 1 or name in script_ids():
                raise ValueError(say("two drives have the name '{name}'", name=name))
        self.drive(self.script)

    def _fits(self, station: Station) -> None:
        """Its faults, channels and conditions exist on its engine and along its script."""
        setting, kind = self.setting(station), kind_called(station.kind)
        for fault in (*setting.faults, *kind.causes(station)):
            effects_on(fault, setting.rig)
        for name in kind.channels(station):
            if name not in rig_channels(setting.rig):
                raise ValueError(
                    say(
                        "station '{title}': rig {id} has no channel '{name}'",
                        title=station.title,
                        id=setting.rig.id,
                        name=name,
                    )
                )
        for place in kind.places(station):
            if place.condition not in setting.script.conditions():
                raise ValueError(
                    say(
                        "station '{title}': condition '{condition}' does not occur in script {id}",
                        title=station.title,
                        condition=place.condition,
                        id=setting.script.id,
                    )
                )


def parse_lesson(data: Any) -> Lesson:
    """A lesson from plain data; BadDocument says in one sentence which place is wrong and what would be right."""
    try:
        return Lesson.model_validate(data)
    except ValidationError as error:
        place, sentence = first_wrong(error, KINDS)
        raise BadDocument(
            say("lesson, {place}: {sentence}", place=place or "document", sentence=sentence), place=place
        ) from error
