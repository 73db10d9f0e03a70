"""Lessons: the document, what a learner sees of it, the key that the model computes, and marking with reasons."""

from leitfaden_core.lessons.checks import BUDGET, FairnessWarning, check_lesson, engines_asked_for, publishing_problems
from leitfaden_core.lessons.document import (
    Conclude,
    Explain,
    Judge,
    Lesson,
    Measure,
    ReadingPlace,
    Show,
    Station,
    parse_lesson,
    reading_label,
)
from leitfaden_core.lessons.items import Car, StationKey, StationView, car_for, station_key, station_view
from leitfaden_core.lessons.marking import Answer, Mark, check_answer, mark_answer, mark_by_key, parse_answer

__all__ = [
    "BUDGET",
    "Answer",
    "Car",
    "Conclude",
    "Explain",
    "Judge",
    "Lesson",
    "Mark",
    "Measure",
    "ReadingPlace",
    "Show",
    "Station",
    "StationKey",
    "StationView",
    "FairnessWarning",
    "car_for",
    "check_answer",
    "check_lesson",
    "engines_asked_for",
    "mark_answer",
    "mark_by_key",
    "parse_answer",
    "parse_lesson",
    "publishing_problems",
    "reading_label",
    "station_key",
    "station_view",
]
