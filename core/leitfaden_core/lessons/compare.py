"""What has changed between two versions of a lesson, station by station and field by field."""

from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Any, Literal

import yaml

from leitfaden_core.faults import FaultSpec, describe_fault
from leitfaden_core.lessons.document import Lesson
from leitfaden_core.lessons.shapes import Document, ReadingPlace, reading_label
from leitfaden_core.scripts import condition
from leitfaden_core.words import say

What = Literal["added", "removed", "moved", "changed"]
#: Characters of a value that are told.
SHOWN = 600


@dataclass(frozen=True)
class FieldChange:
    """A field, what it is called, and its value before and after, as text."""

    field: str
    called: str
    before: str
    after: str


@dataclass(frozen=True)
class PartChange:
    """A station (``station``: its id; empty: the lesson as a whole) and what has become of it."""

    station: str
    title: str
    kind: str
    what: What
    fields: list[FieldChange] = field(default_factory=list)


def compare(before: Lesson, after: Lesson) -> list[PartChange]:
    """The changes from one version to another: the lesson as a whole first, then the stations in the order of
    ``after``, then those that are gone.
    """
    old, new = before.model_dump(mode="json"), after.model_dump(mode="json")
    found: list[PartChange] = []
    heading = _changed(_without(old, "stations"), _without(new, "stations"), [Lesson])
    if heading:
        found.append(PartChange("", after.title, "", "changed", heading))
    were = {station["id"]: station for station in old["stations"]}
    are = {station["id"]: station for station in new["stations"]}
    documents: dict[str, list[type[Document]]] = {}
    for written in (*after.stations, *before.stations):
        documents.setdefault(written.id, []).append(type(written))
    kept = [name for name in were if name in are]
    moved = _moved(kept, [name for name in are if name in were])
    for name, station in are.items():
        told = (name, station["title"], station["kind"])
        if name not in were:
            found.append(PartChange(*told, "added"))
            continue
        fields = _changed(were[name], station, documents[name])
        if fields:
            found.append(PartChange(*told, "changed", fields))
        elif name in moved:
            found.append(PartChange(*told, "moved"))
    gone = [were[name] for name in were if name not in are]
    return found + [PartChange(station["id"], station["title"], station["kind"], "removed") for station in gone]


def _without(data: dict[str, Any], name: str) -> dict[str, Any]:
    return {key: value for key, value in data.items() if key != name}


def field_name(documents: Iterable[type[Document]], field: str) -> str:
    """What a field is called: the title that the first of these documents, or what it is made of, gives it.
    Empty where none does.
    """
    for model in (model for document in documents for model in document.__mro__ if issubclass(model, Document)):
        found = model.model_fields.get(field)
        if found is not None and found.title:
            return say(found.title)
    return ""


def _changed(old: dict[str, Any], new: dict[str, Any], documents: list[type[Document]]) -> list[FieldChange]:
    return [
        FieldChange(name, field_name(documents, name), _text(old.get(name)), _text(new.get(name)))
        for name in dict.fromkeys([*old, *new])
        if old.get(name) != new.get(name)
    ]


def _text(value: Any) -> str:
    if value is None or value in ("", [], {}):
        return ""
    if isinstance(value, bool):
        return say("yes") if value else say("no")
    if isinstance(value, float):
        return f"{value:.10g}"  # 12, as somebody has typed it, instead of 12.0
    told = [_told(part) for part in value] if isinstance(value, list) else [None]
    if isinstance(value, str):
        text = value
    elif None not in told:
        text = "\n".join(filter(None, told))
    else:
        text = yaml.safe_dump(value, allow_unicode=True, sort_keys=False).strip().removesuffix("\n...")
    return text if len(text) <= SHOWN else text[: SHOWN - 1] + "…"


def _told(value: Any) -> str | None:
    """A fault, some that act together, or a reading, in words; None for what has none."""
    if isinstance(value, list):
        told = [_told(part) for part in value]
        return None if None in told else say(" and ").join(filter(None, told))
    if not isinstance(value, dict):
        return None
    if {"kind", "params"} <= value.keys():
        return describe_fault(FaultSpec.model_validate(value))
    if value.keys() == ReadingPlace.model_fields.keys():
        place = ReadingPlace.model_validate(value)
        return f"{condition(place.condition).label}: {reading_label(place)}"
    return None


def _moved(old: list[str], new: list[str]) -> set[str]:
    """Those that do not stand in the longest common order: the fewest that somebody can have moved."""
    best: list[list[str]] = [[] for _ in range(len(new) + 1)]
    for name in old:
        row = [list(entry) for entry in best]
        for k, other in enumerate(new):
            if name == other and len(best[k]) + 1 > len(row[k + 1]):
                row[k + 1] = [*best[k], name]
            elif len(row[k]) > len(row[k + 1]):
                row[k + 1] = row[k]
        best = row
    return set(old) - set(best[-1])
