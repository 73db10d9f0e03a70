"""Checks of a lesson: said before the lesson, not after it, each with what would answer it."""

from leitfaden_core.lessons.checks.fairness import BUDGET, check_lesson, engines_asked_for
from leitfaden_core.lessons.checks.remedies import remedied
from leitfaden_core.lessons.checks.thread import minutes_needed, thread_warnings
from leitfaden_core.lessons.checks.trial import publishing_problems
from leitfaden_core.lessons.checks.words import reading_index, word_warnings
from leitfaden_core.lessons.document import Lesson
from leitfaden_core.lessons.kind import FairnessWarning

__all__ = [
    "BUDGET",
    "check_lesson",
    "check_words",
    "engines_asked_for",
    "minutes_needed",
    "publishing_problems",
    "reading_index",
    "remedied",
]


def check_words(lesson: Lesson) -> list[FairnessWarning]:
    """Warnings that need no model: about texts, time, cautions, and stations that answer others."""
    return [*word_warnings(lesson), *thread_warnings(lesson)]
