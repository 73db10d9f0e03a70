"""What the words of a lesson say: at the level of its readers, in one system of units, and as the atlas knows it."""

import re
from collections.abc import Iterator
from difflib import SequenceMatcher
from functools import cache
from itertools import groupby

from leitfaden_core.atlas import Myth, myths
from leitfaden_core.lessons.document import Lesson
from leitfaden_core.lessons.kind import FairnessWarning
from leitfaden_core.lessons.kinds import kind_called
from leitfaden_core.words import say

#: Reading index from which on a text is above a level. LIX = words a sentence + percent of words longer than six
#: letters (Björnsson 1968: 30 to 40 is easy, 40 to 50 the press, 50 to 60 technical prose, above that scholarly).
LEVEL_LIMITS = {"start": 40.0, "journeyman": 50.0, "expert": 60.0}
#: Shorter texts have no level.
FEWEST_WORDS = 30
LONG_WORD = 6
#: A sentence says a misconception when it has so many of its words, and fewer of what is true, and is not so many times
#: longer.
AGREES, MUCH_MORE = 0.8, 1.5

#: Units of one quantity in two systems, as they are written behind a number.
_SYSTEMS: dict[str, tuple[str, str]] = {
    "pressure": (r"(?:kPa|hPa|mbar|bar|MPa)", r"(?:psi|inHg|in\.? ?Hg)"),
    "temperature": (r"°C", r"°F"),
    "airflow": (r"(?:g/s|kg/h)", r"lb/min"),
    "speed": (r"km/h", r"mph"),
}


def word_warnings(lesson: Lesson) -> Iterator[FairnessWarning]:
    """Warnings about texts; they need no model."""
    for station in lesson.stations:
        texts = [station.text, *kind_called(station.kind).texts(station)]
        yield from _above_level(station.id, station.title, station.text, lesson.level)
        yield from _contradicted(station.id, station.title, texts)
    yield from _mixed_units(lesson)


def reading_index(text: str) -> float:
    """LIX of a text; nothing for an empty one. [-]

    >>> round(reading_index("The engine runs. It burns petrol."), 1)
    3.0
    """
    words = re.findall(r"[^\W\d_]+", text)
    sentences = [part for part in re.split(r"[.!?:;]\s|\n+", text) if re.search(r"[^\W\d_]", part)]
    if not words:
        return 0.0
    return len(words) / len(sentences) + 100.0 * sum(len(word) > LONG_WORD for word in words) / len(words)


def _above_level(station: str, title: str, text: str, level: str) -> Iterator[FairnessWarning]:
    if not level or len(text.split()) < FEWEST_WORDS:
        return
    index, limit = reading_index(text), LEVEL_LIMITS[level]
    if index > limit:
        told = say(
            (
                "{title}: the text reads at {index:.0f} (LIX); at this level {limit:.0f} is the most. Shorter "
                "sentences, plainer words."
            ),
            title=title,
            index=index,
            limit=limit,
        )
        yield FairnessWarning(station, "above_level", told)


def _contradicted(station: str, title: str, texts: list[str]) -> Iterator[FairnessWarning]:
    """Sentences that say what the atlas knows as a misconception."""
    for sentence in (part for text in texts for part in re.split(r"(?<=[.!?])\s+|\n+", text)):
        words = _words(sentence)
        for myth, claim, truth in _known_myths():
            if (agrees := _agreement(words, claim)) >= AGREES and agrees > _agreement(words, truth):
                told = say(
                    "{title}: '{sentence}' The atlas says: {fact}", title=title, sentence=sentence, fact=myth.fact
                )
                yield FairnessWarning(station, "contradicted", told)
                break


@cache
def _known_myths() -> list[tuple[Myth, list[str], list[str]]]:
    """Every misconception with the words of its claim and of what is true."""
    return [(myth, _words(myth.claim), _words(myth.truth)) for myth in myths().values()]


def _words(text: str) -> list[str]:
    return re.findall(r"\w+", text.lower())


def _agreement(words: list[str], others: list[str]) -> float:
    """Share of the other sentence's words that stand here in the same order; nothing when this one says much more.
    [-]
    """
    if len(words) > MUCH_MORE * len(others) or len(set(words) & set(others)) < AGREES * len(set(others)):
        return 0.0
    matched = SequenceMatcher(None, words, others).get_matching_blocks()
    return sum(block.size for block in matched) / len(others)


def _mixed_units(lesson: Lesson) -> Iterator[FairnessWarning]:
    """A quantity that the texts give in two systems of units."""
    written = [(station.id, station.title, station.text) for station in lesson.stations]
    for quantity, systems in _SYSTEMS.items():
        used = [
            (k, *entry) for entry in written for k, unit in enumerate(systems) if re.search(rf"\d\s?{unit}\b", entry[2])
        ]
        for station, found in groupby(used, key=lambda entry: entry[1]):
            rows = list(found)
            if {row[0] for row in used} == {0, 1} and any(row[0] == 1 for row in rows):
                told = say(
                    "{title}: {quantity} is written in two systems of units in this lesson.",
                    title=rows[0][2],
                    quantity=say(quantity),
                )
                yield FairnessWarning(station, "mixed_units", told)
