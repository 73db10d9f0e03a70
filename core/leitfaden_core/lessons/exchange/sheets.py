"""Worksheet and key of a lesson for one seed, as blocks of text: whoever prints them need not know kinds of
stations.
"""

import re
from dataclasses import dataclass, field
from typing import Any

from leitfaden_core.lessons.document import Lesson
from leitfaden_core.lessons.kinds import kind_called
from leitfaden_core.lessons.marking import station_key, station_view
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.words import say


@dataclass(frozen=True)
class Block:
    """A station: its title, a text, and rows of cells; the first row is their heading."""

    title: str
    text: str = ""
    rows: list[list[str]] = field(default_factory=list)


@dataclass(frozen=True)
class Sheet:
    """A printed sheet: heading, lines under it, blocks."""

    title: str
    lines: list[str]
    blocks: list[Block]


def worksheet(lesson: Lesson, seed: int, units: UnitSystem = UnitSystem.METRIC) -> Sheet:
    """What a learner with this seed is asked, with room for answers; nothing of the key."""
    return _sheet(lesson, seed, units, with_key=False)


def key_sheet(lesson: Lesson, seed: int, units: UnitSystem = UnitSystem.METRIC) -> Sheet:
    """The same questions with their answers and reasons."""
    return _sheet(lesson, seed, units, with_key=True)


def _sheet(lesson: Lesson, seed: int, units: UnitSystem, *, with_key: bool) -> Sheet:
    blocks = []
    for index, station in enumerate(lesson.stations):
        view = station_view(lesson, index, seed).model_dump()
        parts = station_key(lesson, index, seed, None, units).model_dump()["parts"] if with_key else []
        rows = kind_called(station.kind).printed(view, parts, units)
        minutes = say(" ({minutes} min)", minutes=station.minutes) if station.minutes else ""
        words = " ".join([_words(station.text), *_overruled(parts, rows)]).strip()
        blocks.append(Block(f"{index + 1}. {station.title}{minutes}", words, rows))
    title = say("Key: {title}", title=lesson.title) if with_key else lesson.title
    return Sheet(title, [lesson.goal, *lesson.cautions], blocks)


def _overruled(parts: list[dict[str, Any]], rows: list[list[str]]) -> list[str]:
    """What a trainer says over the model, where the rows do not tell it."""
    told = " ".join(cell for row in rows for cell in row)
    return list(
        dict.fromkeys(part["overruled"] for part in parts if part["overruled"] and part["overruled"] not in told)
    )


def _words(text: str) -> str:
    """A text without its marks of emphasis; formulas stay as they are written."""
    return re.sub(r"\*{1,2}(\S.*?)\*{1,2}", r"\1", text).strip()
