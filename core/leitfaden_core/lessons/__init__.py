"""Lessons: the document, what a learner sees of it, the key that the model computes, and marking with reasons.

A kind of station is a folder in ``kinds``; nothing else knows one by name.
"""

from leitfaden_core.lessons.aims import Aim, aims, page_for
from leitfaden_core.lessons.branching import left_out
from leitfaden_core.lessons.checks import (
    BUDGET,
    check_lesson,
    check_words,
    engines_asked_for,
    minutes_needed,
    publishing_problems,
    remedied,
)
from leitfaden_core.lessons.compare import FieldChange, PartChange, compare
from leitfaden_core.lessons.difficulty import Difficulty, difficulty
from leitfaden_core.lessons.document import LEVELS, Lesson, parse_lesson
from leitfaden_core.lessons.from_drive import lesson_from
from leitfaden_core.lessons.item import Car, Item
from leitfaden_core.lessons.kind import Consequence, FairnessWarning, LaneWish, Mark, Remedy
from leitfaden_core.lessons.kinds import KINDS, AnyAnswer, Key, Marked, Station, View
from leitfaden_core.lessons.marking import (
    consequence,
    kept_view,
    mark_answer,
    mark_by_key,
    parse_answer,
    require_answer,
    right_answer,
    station_engine,
    station_key,
    station_lanes,
    station_rulings,
    station_view,
    weaknesses,
    with_steps,
)
from leitfaden_core.lessons.proposal import Proposal, Wish, propose
from leitfaden_core.lessons.shapes import ReadingPlace, StationReading

__all__ = [
    "BUDGET",
    "KINDS",
    "LEVELS",
    "Proposal",
    "Remedy",
    "Wish",
    "aims",
    "page_for",
    "propose",
    "Aim",
    "AnyAnswer",
    "Car",
    "Consequence",
    "consequence",
    "FairnessWarning",
    "FieldChange",
    "PartChange",
    "Item",
    "Key",
    "LaneWish",
    "Lesson",
    "Mark",
    "Marked",
    "ReadingPlace",
    "Station",
    "StationReading",
    "View",
    "check_lesson",
    "check_words",
    "Difficulty",
    "difficulty",
    "compare",
    "engines_asked_for",
    "kept_view",
    "left_out",
    "lesson_from",
    "minutes_needed",
    "remedied",
    "mark_answer",
    "mark_by_key",
    "parse_answer",
    "parse_lesson",
    "publishing_problems",
    "require_answer",
    "right_answer",
    "station_engine",
    "station_key",
    "station_lanes",
    "station_rulings",
    "station_view",
    "weaknesses",
    "with_steps",
]
