"""Questions in GIFT, an open text format for questions: out of a lesson's keys, and statements back in.

GIFT is chosen over QTI 3 because a trainer can read and mend it in any editor, and because what it holds is what can be
asked without the engine: choices, true or false, numbers. What needs lanes or an instrument stays in the package file.
"""

import re

from leitfaden_core.errors import BadDocument
from leitfaden_core.lessons.document import Lesson
from leitfaden_core.lessons.kind import Question
from leitfaden_core.lessons.kinds import kind_called
from leitfaden_core.lessons.kinds.myth import OwnStatement
from leitfaden_core.lessons.marking import station_key, station_view
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.words import say

#: Statements that are taken from one file, and its characters.
MOST, LARGEST = 20, 200_000
_SPECIAL = re.compile(r"([~=#{}:\\])")


def questions_of(lesson: Lesson, seed: int, units: UnitSystem = UnitSystem.METRIC) -> str:
    """The questions of a lesson for one seed that can be asked on paper, in GIFT, keys included."""
    found = [f"// {lesson.title}", f"$CATEGORY: {_plain(lesson.title)}"]
    for index, station in enumerate(lesson.stations):
        view = station_view(lesson, index, seed).model_dump()
        parts = station_key(lesson, index, seed, None, units).model_dump()["parts"]
        asked = kind_called(station.kind).questions(view, parts, units)
        found += [_question(f"{station.title} {k}", question) for k, question in enumerate(asked, 1)]
    return "\n\n".join(found) + "\n"


def _question(name: str, question: Question) -> str:
    return f"::{_escaped(_plain(name))}::{_escaped(question.text)} {{{_answers(question)}}}"


def _answers(question: Question) -> str:
    """One right choice, or several that share the points."""
    feedback = _escaped(question.reason)
    if question.statement:
        right = next(text for text, right in question.options if right)
        return f"{right.upper()}#{feedback}"
    rights = sum(right for _text, right in question.options)
    share = "=" if rights == 1 else f"~%{100.0 / max(rights, 1):.5g}%"
    lines = [f"{share if right else '~'}{_escaped(text)}" for text, right in question.options]
    return "\n" + "\n".join([*lines, *([f"####{feedback}"] if feedback else [])]) + "\n"


def _plain(text: str) -> str:
    return " ".join(text.replace("$", "").split())


def _escaped(text: str) -> str:
    return _SPECIAL.sub(r"\\\1", " ".join(text.split()))


# Statements back in.

_STATEMENT = re.compile(
    r"(?:::(?P<name>(?:\\.|[^:\\])*)::)?(?P<text>(?:\\.|[^{}\\])*)\{\s*(?P<right>TRUE|FALSE|T|F)\s*(?P<reason>#(?:\\.|[^{}\\])*)?\}",
    re.DOTALL,
)


def statements_of(text: str) -> list[OwnStatement]:
    """The true-or-false questions of a GIFT text as statements with their feedback; other questions are left out.

    Raises
    ------
    BadDocument
        When there is none, or too many.
    """
    if len(text) > LARGEST:
        raise BadDocument(say("the text is longer than {most} characters", most=LARGEST))
    lines = [line for line in text.splitlines() if not line.strip().startswith(("//", "$CATEGORY"))]
    found = []
    for block in re.split(r"\n\s*\n", "\n".join(lines)):
        match = _STATEMENT.search(block.strip())
        if match is None:
            continue
        said, reason = _unescaped(match["text"]), _unescaped((match["reason"] or "").strip("# \n"))
        if said:
            right = "true" if match["right"].startswith("T") else "false"
            found.append({"text": said[:600], "right": right, "reason": (reason or say("No reason was given."))[:1200]})
    if not found:
        raise BadDocument(say("there is no question of the kind true or false in it"))
    if len(found) > MOST:
        raise BadDocument(
            say("there are {count} statements in it; a station takes {most}", count=len(found), most=MOST)
        )
    return [OwnStatement.model_validate(entry) for entry in found]


def _unescaped(text: str) -> str:
    return " ".join(re.sub(r"\\(.)", r"\1", text).split())
