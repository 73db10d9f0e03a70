"""A first lesson out of what was driven on a bench: its drive, its faults, and one station that shows them."""

from leitfaden_core.errors import LeitfadenError
from leitfaden_core.lessons.document import Lesson, parse_lesson
from leitfaden_core.live import Driven
from leitfaden_core.words import say


def lesson_from(driven: Driven, rig: str, channels: list[str]) -> Lesson:
    """The lesson; LeitfadenError (BadDocument for a channel that is none) when nothing in the drive can be read."""
    found = driven.script.conditions()
    if not found:
        raise LeitfadenError(
            say(
                "no named condition holds for a few seconds in this stretch, so a lesson could read nothing "
                "there: choose a calmer one"
            )
        )
    shown = {
        "id": "s1",
        "kind": "show",
        "title": say("What was seen on the bench"),
        "channels": channels[:8],
        "focus": found[0],
    }
    return parse_lesson(
        {
            "title": driven.script.name,
            "rig": rig,
            "script": driven.script.id,
            "drives": [driven.script.model_dump(mode="json")],
            "faults": [fault.model_dump(mode="json") for fault in driven.faults],
            "stations": [shown],
        }
    )
