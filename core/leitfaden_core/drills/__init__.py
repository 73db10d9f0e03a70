"""Drills: many short items that mix sound and faulty engines, at the size that the learner just finds."""

from leitfaden_core.drills.deck import Entry, from_kinds, from_lesson
from leitfaden_core.drills.detection import CONFIDENCES, Detection, Trial, detection
from leitfaden_core.drills.item import FORMS, Ask, DrillItem, DrillKey, DrillView, cost_in_words, make_item, price_of
from leitfaden_core.drills.staircase import Staircase

__all__ = [
    "CONFIDENCES",
    "FORMS",
    "Ask",
    "Detection",
    "DrillItem",
    "DrillKey",
    "DrillView",
    "Entry",
    "Staircase",
    "Trial",
    "cost_in_words",
    "detection",
    "from_kinds",
    "from_lesson",
    "make_item",
    "price_of",
]
