"""Errors of the core: each carries a code and its parts, and says on one line what is wrong and what would be right."""

from collections.abc import Iterable
from difflib import get_close_matches

from leitfaden_core.words import in_language, say

#: So many known names are listed in a sentence; of more, those that look like what was typed.
LISTED = 12


class LeitfadenError(ValueError):
    """Something that a user asked for cannot be done; the text is meant for that user."""

    code = "invalid"

    def __init__(self, message: str, **parts: object) -> None:
        # What was said with its numbers stays; what stands as plain text is translated here.
        self.message: str = in_language(message)
        super().__init__(self.message)
        self.parts = parts

    def __reduce__(self) -> tuple[type["LeitfadenError"], tuple[str]]:
        """From a worker process only the sentence comes back."""
        return LeitfadenError, (self.message,)


class UnknownName(LeitfadenError):
    """A name that is in no catalogue; the known ones are listed, or of many those that are spelled alike."""

    code = "unknown_name"

    def __init__(self, what: str, name: str, known: Iterable[str], where: str = "") -> None:
        names = sorted(known)
        place = f" {where}" if where else ""
        alike = get_close_matches(name, names, 4) if len(names) > LISTED else []
        sentence = (
            "unknown {what} '{name}'{place}; spelled alike: {list} ({count} are known)"
            if alike
            else "unknown {what} '{name}'{place}; known: {list}"
        )
        super().__init__(
            say(sentence, what=what, name=name, place=place, list=", ".join(alike or names), count=len(names)),
            what=what,
            name=name,
            known=names,
        )


class OutOfRange(LeitfadenError):
    """A number outside the range that its parameter allows."""

    code = "out_of_range"

    def __init__(self, what: str, value: float, low: float, high: float, unit: str) -> None:
        super().__init__(
            say(
                "{what} is {value:g} {unit}; allowed is {low:g} to {high:g} {unit}",
                what=what,
                value=value,
                unit=unit,
                low=low,
                high=high,
            ),
            what=what,
            value=value,
            low=low,
            high=high,
            unit=unit,
        )


class MissingPart(LeitfadenError):
    """A required parameter, unit or field that was not given."""

    code = "missing"


class BadDocument(LeitfadenError):
    """A rig, script or lesson document that contradicts itself or its schema."""

    code = "bad_document"
