"""One search over everything: devices, faults, codes, conditions, calculations, channels, terms, cards.

Words are matched by their beginnings, over titles, everyday names and texts; a misspelt word is taken for the nearest
known one.
"""

import difflib
import re
from dataclasses import dataclass
from functools import lru_cache

from leitfaden_core.atlas.documents import glossary, myths, pages, schools
from leitfaden_core.atlas.page import page_rigs
from leitfaden_core.channels import CHANNELS
from leitfaden_core.explore import drawings
from leitfaden_core.faults import fault_kinds
from leitfaden_core.monitors.codes import CODES
from leitfaden_core.rigs import load_rig, rig_ids, variant_ids
from leitfaden_core.scripts import CONDITIONS
from leitfaden_core.words import in_language, language
from leitfaden_core.workings import workings

#: What a hit weighs by where it stands, and by what kind of entry it is.
TITLE, ALSO, TEXT = 6.0, 4.0, 1.0
KINDS = (
    "device",
    "term",
    "fault",
    "code",
    "condition",
    "calculation",
    "channel",
    "drawing",
    "myth",
    "school",
    "engine",
)
_FIRST = {kind: 0.3 * (len(KINDS) - k) / len(KINDS) for k, kind in enumerate(KINDS)}
_WORD = re.compile(r"[\w']+")


@dataclass(frozen=True)
class Found:
    """An entry that was found: its kind and id, title, what it is, and the page that tells more (empty: none)."""

    kind: str
    id: str
    title: str
    text: str
    page: str = ""


@dataclass(frozen=True)
class _Entry:
    found: Found
    title: frozenset[str]
    also: frozenset[str]
    text: frozenset[str]


def _words(text: str) -> frozenset[str]:
    return frozenset(word.lower() for word in _WORD.findall(text.replace("_", " ")))


def _entry(kind: str, name: str, title: str, text: str, also: tuple[str, ...] = (), page: str = "") -> _Entry:
    return _Entry(Found(kind, name, title, text, page), _words(title), _words(" ".join((*also, name))), _words(text))


@lru_cache
def _entries(spoken: str) -> tuple[_Entry, ...]:
    del spoken  # texts differ by it
    at_fault = {name: page.id for page in reversed(pages().values()) for name in page.faults}
    at_channel = {name: page.id for page in reversed(pages().values()) for name in page.channels}
    at_drawing = {name: page.id for page in reversed(pages().values()) for name in page.drawings}
    found = [_entry("device", p.id, p.title, p.summary, p.also, p.id) for p in pages().values() if page_rigs(p)]
    found += [_entry("term", t.term, t.term, f"{t.full}. {t.means}", (t.full, *t.also), t.page) for t in glossary()]
    for kind in fault_kinds:
        label, meaning = in_language([kind.label, kind.meaning])
        found.append(_entry("fault", kind.id, label, meaning, (kind.look,), at_fault.get(kind.id, "")))
    found += [_entry("code", c.id, c.id, in_language(c.meaning)) for c in CODES.values()]
    for c in CONDITIONS.values():
        label, meaning = in_language([c.label, c.meaning])
        found.append(_entry("condition", c.id, label, meaning))
    for w in workings:
        label, why = in_language([w.label, w.why])
        found.append(_entry("calculation", w.id, label, why))
    for channel in CHANNELS.values():
        label, meaning = in_language([channel.label, channel.meaning])
        found.append(_entry("channel", channel.id, label, meaning, (), at_channel.get(channel.id, "")))
    for d in drawings:
        label, shows = in_language([d.label, d.shows])
        found.append(_entry("drawing", d.id, label, shows, (), at_drawing.get(d.id, "")))
    found += [_entry("myth", m.id, m.claim, m.fact, (), m.pages[0]) for m in myths().values()]
    found += [_entry("school", s.id, s.title, s.physics, s.schools, s.pages[0]) for s in schools().values()]
    for name in (*rig_ids(), *variant_ids()):
        rig = load_rig(name)
        found.append(_entry("engine", rig.id, rig.name, rig.description, (rig.id,)))
    return tuple(found)


@lru_cache
def _known_words(spoken: str) -> tuple[str, ...]:
    return tuple(sorted(set().union(*(e.title | e.also | e.text for e in _entries(spoken)))))


def search(text: str, most: int = 24) -> list[Found]:
    """The entries in which every word of a text occurs, best first."""
    wanted = _words(text)
    if not wanted:
        return []
    # An abbreviation stands for its words too.
    meant = [_words(term.full) for term in glossary() if _words(term.term) == wanted]
    return _hits([wanted, *meant], most) or _hits([frozenset(map(_nearest, wanted))], most)


def _hits(meant: list[frozenset[str]], most: int) -> list[Found]:
    """The entries with every word of one of some ways to say it, best first."""
    entries = _entries(language())
    scored = [(max(_score(entry, words) for words in meant), -k) for k, entry in enumerate(entries)]
    return [entries[-k].found for score, k in sorted(scored, reverse=True)[:most] if score > 0.0]


def _score(entry: _Entry, wanted: frozenset[str]) -> float:
    total = 0.0
    for word in wanted:
        best = max(
            (
                weight * _fit(word, words)
                for weight, words in ((TITLE, entry.title), (ALSO, entry.also), (TEXT, entry.text))
            ),
            default=0.0,
        )
        if best <= 0.0:
            return 0.0
        total += best
    # Of two titles with the word the shorter one says less else.
    return total + _FIRST[entry.found.kind] + 0.5 / max(len(entry.title), 1)


def _fit(word: str, words: frozenset[str]) -> float:
    if word in words:
        return 1.0
    return 0.6 if len(word) > 1 and any(known.startswith(word) for known in words) else 0.0


def _nearest(word: str) -> str:
    near = difflib.get_close_matches(word, _known_words(language()), 1, 0.7)
    return near[0] if near else word
