"""The course of the sample data: lessons that were proposed for aims, kept as documents."""

from functools import cache
from pathlib import Path
from typing import Any

import yaml

from leitfaden_core.lessons import Wish, aims, propose

HERE = Path(__file__).parent
KEPT = HERE / "course"


def plan() -> list[dict[str, str]]:
    """Aim and engine of each lesson, in the order of the course."""
    found: list[dict[str, str]] = yaml.load((HERE / "course.yaml").read_text(encoding="utf-8"), yaml.CSafeLoader)
    return found


def made(number: int, entry: dict[str, str]) -> dict[str, Any]:
    """The lesson for an entry, proposed now."""
    aim = aims()[entry["aim"]]
    lesson = propose(Wish("", entry["rig"], level=aim.level, minutes=aim.minutes, aim=aim.id)).lesson
    titled = lesson.model_copy(update={"title": f"{number:02d} · {lesson.title}"})
    return titled.model_dump(mode="json", exclude_none=True)


def path_of(number: int, entry: dict[str, str]) -> Path:
    """Where its document is kept."""
    return KEPT / f"{number:02d}-{entry['aim']}.yaml"


@cache
def kept() -> list[dict[str, Any]]:
    """All lessons of the course, as they are kept."""
    return [
        yaml.load(path_of(number, entry).read_text(encoding="utf-8"), yaml.CSafeLoader)
        for number, entry in enumerate(plan(), 1)
    ]
