"""Documents of the atlas: prose as people wrote it, checked when it is read.

A second language is a second folder beside ``text/en``; a document that it lacks is taken from the English one.
"""

from functools import lru_cache
from importlib import resources
from importlib.resources.abc import Traversable
from typing import Annotated, Any

import yaml
from pydantic import BaseModel, ConfigDict, Field

from leitfaden_core.errors import UnknownName
from leitfaden_core.faults import FaultSpec
from leitfaden_core.words import language

Words = Annotated[str, Field(min_length=1)]
FALLBACK = "en"


class Document(BaseModel):
    """Strict: a misspelt field is an error."""

    model_config = ConfigDict(extra="forbid", frozen=True)


class Kind(Document):
    """A build of a device."""

    name: Words
    text: Words


class Way(Document):
    """A valid way to test, with what it can miss and the cautions that stand at it."""

    way: Words
    how: Words
    misses: Words
    cautions: tuple[str, ...] = ()


class Page(Document):
    """A page: which rigs have the device (all of ``needs``, none of ``unless``; or named), and what belongs to it by
    id.
    """

    id: Words
    title: Words
    family: Words
    also: tuple[str, ...] = ()
    sensors: tuple[str, ...] = ()
    stations: tuple[str, ...] = ()
    needs: tuple[str, ...] = ()
    unless: tuple[str, ...] = ()
    rigs: tuple[str, ...] = ()
    channels: tuple[str, ...] = ()
    wires: tuple[str, ...] = ()
    parts: tuple[str, ...] = ()
    faults: tuple[str, ...] = ()
    drawings: tuple[str, ...] = ()
    workings: tuple[str, ...] = ()
    summary: Words
    inside: Words
    types: tuple[Kind, ...] = ()
    tests: tuple[Way, ...] = ()


class Myth(Document):
    """A common misconception with the fact that answers it, and ``truth``, which says it without the misconception."""

    id: Words
    pages: tuple[str, ...]
    claim: Words
    fact: Words
    truth: Words


class HandsOption(Document):
    """Hands of a drawing, set so."""

    label: Words
    hands: dict[str, float | str]


class DrawingSwitch(Document):
    """A switch that sets the hands of a drawing."""

    id: Words
    options: tuple[HandsOption, ...] = Field(min_length=2)


class RunOption(Document):
    """An engine with faults in a condition (where it is left out, that of the card)."""

    label: Words
    rig: Words
    faults: tuple[FaultSpec, ...] = ()
    condition: str = ""


class RunSwitch(Document):
    """A switch between engines, faults or conditions, and the displayed values that answer."""

    channels: tuple[str, ...] = Field(min_length=1)
    options: tuple[RunOption, ...] = Field(min_length=2)
    condition: str = ""
    statistic: str = "mean"


class School(Document):
    """A card on which the schools of the trade differ: what they say, the physics, and what changes the outcome."""

    id: Words
    title: Words
    schools: tuple[str, ...] = Field(min_length=1)
    physics: Words
    pages: tuple[str, ...]
    runs: RunSwitch | None = None
    drawing: DrawingSwitch | None = None
    setting: str = ""
    working: str = ""
    bench: str = ""


class Term(Document):
    """A term of the glossary with the everyday words that map to it."""

    term: Words
    full: Words
    means: Words
    page: str = ""
    also: tuple[str, ...] = ()


class Plate(Document):
    """Something that the eye sees: the names of its drawings, which tell nothing; the drawing in words; what follows
    from it, and why; the kinds of fault that look so, with the parameters that they need.
    """

    id: Words
    looks: tuple[str, ...] = Field(min_length=1)
    sight: Words
    means: Words
    why: Words
    of: dict[str, dict[str, str]] = {}


class PlateGroup(Document):
    """Plates that lie side by side, and the kinds of fault at which they do."""

    group: Words
    kinds: tuple[str, ...]
    plates: tuple[Plate, ...] = Field(min_length=2)


def _folder(spoken: str) -> Traversable:
    return resources.files(__package__).joinpath("text", spoken)


@lru_cache
def _read(spoken: str, *names: str) -> tuple[dict[str, Any], ...]:
    """The entries of some documents, in the language spoken or else in English."""
    found: list[dict[str, Any]] = []
    for name in names:
        path = _folder(spoken).joinpath(name)
        path = path if path.is_file() else _folder(FALLBACK).joinpath(name)
        found += yaml.load(path.read_text(encoding="utf-8"), yaml.CSafeLoader)
    return tuple(found)


#: Documents of pages in the order in which the atlas lists them.
FAMILIES = ("oxygen", "airflow", "pressure", "recirculation", "temperature", "position", "fuel")


def pages() -> dict[str, Page]:
    """All pages by id, in the order of the atlas."""
    return _pages(language())


@lru_cache
def _pages(spoken: str) -> dict[str, Page]:
    entries = _read(spoken, *(f"{family}.yaml" for family in FAMILIES))
    return {page.id: page for page in map(Page.model_validate, entries)}


def page_called(name: str) -> Page:
    """A page by its id; UnknownName with all ids otherwise."""
    known = pages()
    if name not in known:
        raise UnknownName("atlas page", name, known)
    return known[name]


def myths() -> dict[str, Myth]:
    """All misconceptions by id."""
    return _myths(language())


@lru_cache
def _myths(spoken: str) -> dict[str, Myth]:
    return {myth.id: myth for myth in map(Myth.model_validate, _read(spoken, "cards/myths.yaml"))}


def schools() -> dict[str, School]:
    """All cards of schools by id."""
    return _schools(language())


@lru_cache
def _schools(spoken: str) -> dict[str, School]:
    return {card.id: card for card in map(School.model_validate, _read(spoken, "cards/schools.yaml"))}


def school_called(name: str) -> School:
    """A card by its id; UnknownName with all ids otherwise."""
    known = schools()
    if name not in known:
        raise UnknownName("card", name, known)
    return known[name]


def plate_groups() -> tuple[PlateGroup, ...]:
    """All plates, group by group."""
    return _plate_groups(language())


@lru_cache
def _plate_groups(spoken: str) -> tuple[PlateGroup, ...]:
    return tuple(map(PlateGroup.model_validate, _read(spoken, "plates.yaml")))


def plate_called(name: str) -> Plate:
    """A plate by its id; UnknownName with all ids otherwise."""
    known = {plate.id: plate for group in plate_groups() for plate in group.plates}
    if name not in known:
        raise UnknownName("plate", name, known)
    return known[name]


def glossary() -> tuple[Term, ...]:
    """All terms."""
    return _glossary(language())


@lru_cache
def _glossary(spoken: str) -> tuple[Term, ...]:
    return tuple(map(Term.model_validate, _read(spoken, "glossary.yaml")))
