"""The package file: one JSON document with a whole lesson, pictures inside, that plays the same on another
installation.

Its shape is published as a JSON schema (docs/lesson-package.schema.json). Numbers are not in it: the other installation
computes them; ``core_version`` tells by which core they were computed here.
"""

import base64
import json
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError

from leitfaden_core import __version__
from leitfaden_core.errors import LeitfadenError
from leitfaden_core.lessons.document import Lesson
from leitfaden_core.lessons.kinds import KINDS
from leitfaden_core.lessons.pictures import BadPicture, Cleaned, cleaned
from leitfaden_core.lessons.shapes import Document
from leitfaden_core.validation import explained
from leitfaden_core.words import say

FORMAT, VERSION = "leitfaden-lesson", 1
#: Characters of a package, levels of its nesting, and reasons that are told. A long lesson has some 30 kB and eight
#: levels; pictures add a few hundred kB each.
LARGEST, DEEPEST, REASONS = 12_000_000, 40, 12
#: Own pictures of one lesson.
MOST_PICTURES = 40


class BadPackage(LeitfadenError):
    """A file that is no lesson's package, with every reason that was found."""

    code = "bad_package"

    def __init__(self, reasons: list[str]) -> None:
        super().__init__(say("This file is not taken: {reason}", reason=reasons[0]))
        self.reasons = reasons


class Package(Document):
    """A lesson with the versions that say who can read it, and its pictures: id -> WebP in base64."""

    format: Literal["leitfaden-lesson"]
    version: Annotated[int, Field(ge=1, le=VERSION)]
    core_version: Annotated[str, Field(max_length=20)]
    lesson: Lesson
    pictures: Annotated[dict[str, str], Field(max_length=MOST_PICTURES)] = {}


@dataclass(frozen=True)
class Unpacked:
    """A lesson out of a package, with its pictures, cleaned as those that people bring."""

    lesson: Lesson
    pictures: list[Cleaned]


def package_schema() -> dict[str, Any]:
    """The JSON schema of a package."""
    return Package.model_json_schema() | {"title": "Leitfaden lesson package", "$schema": _DIALECT}


_DIALECT = "https://json-schema.org/draft/2020-12/schema"


def packed_lesson(lesson: Lesson, pictures: Mapping[str, bytes] | None = None) -> str:
    """A lesson as the text of a package; ``pictures``: contents by id."""
    inside = {name: base64.b64encode(content).decode() for name, content in (pictures or {}).items()}
    made = Package(format="leitfaden-lesson", version=VERSION, core_version=__version__, lesson=lesson, pictures=inside)
    return json.dumps(made.model_dump(mode="json"), ensure_ascii=False, indent=1)


def unpacked(content: bytes) -> Unpacked:
    """The lesson and the pictures in a package; BadPackage with all reasons against it."""
    if len(content) > LARGEST:
        raise BadPackage([say("it is larger than {megabytes:g} MB", megabytes=LARGEST / 1e6)])
    try:
        raw = json.loads(content.decode("utf-8-sig"))
    except (UnicodeDecodeError, ValueError, RecursionError):
        raise BadPackage([say("it is no JSON text")]) from None
    if not isinstance(raw, dict) or raw.get("format") != FORMAT:
        raise BadPackage([say("it does not say that it is a lesson's package")])
    version = raw.get("version")
    if isinstance(version, int) and version > VERSION:
        raise BadPackage(
            [
                say(
                    "it was made by a newer Leitfaden (package version {version}); this one reads {own}",
                    version=version,
                    own=VERSION,
                )
            ]
        )
    if _depth(raw) > DEEPEST:
        raise BadPackage([say("it is nested more than {deepest} levels deep", deepest=DEEPEST)])
    try:
        package = Package.model_validate(raw)
    except ValidationError as error:
        raise BadPackage(_reasons(error)) from error
    return _with_pictures(package)


def _with_pictures(package: Package) -> Unpacked:
    """The lesson with its pictures made anew from what was in the package: nothing in a file is taken as it comes. A
    picture that is made anew has another id.
    """
    made: dict[str, Cleaned] = {}
    reasons = []
    for name in package.lesson.pictures():
        try:
            made[name] = cleaned(base64.b64decode(package.pictures.get(name, ""), validate=True))
        except (ValueError, BadPicture) as error:
            why = error.message if isinstance(error, BadPicture) else say("it is not written in base64")
            reasons.append(say("picture {name}: {why}", name=name[:12], why=why))
    if reasons:
        raise BadPackage(reasons[:REASONS])
    text = package.lesson.model_dump_json()
    for name, picture in made.items():
        text = text.replace(name, picture.id)
    return Unpacked(Lesson.model_validate_json(text), list(made.values()))


def _reasons(error: ValidationError) -> list[str]:
    told = []
    for entry in error.errors():
        place = ".".join(str(part) for part in entry["loc"] if part not in KINDS)
        told.append(f"{place or 'lesson'}: {explained(entry)}"[:400])
    more = len(told) - REASONS
    return told[:REASONS] + ([say("and {more} more", more=more)] if more > 0 else [])


def _depth(data: Any) -> int:
    """Levels of nesting, without recursion: a hostile file must not exhaust the stack."""
    deepest, waiting = 0, [(data, 1)]
    while waiting:
        entry, level = waiting.pop()
        deepest = max(deepest, level)
        if level > DEEPEST:
            return level
        inner = entry.values() if isinstance(entry, dict) else entry if isinstance(entry, list) else ()
        waiting += [(part, level + 1) for part in inner]
    return deepest
