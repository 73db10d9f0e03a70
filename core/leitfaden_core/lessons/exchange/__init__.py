"""Lessons on the move: one package file, questions in an open format, worksheet and key for print."""

from leitfaden_core.lessons.exchange.gift import questions_of, statements_of
from leitfaden_core.lessons.exchange.package import (
    LARGEST,
    BadPackage,
    Unpacked,
    package_schema,
    packed_lesson,
    unpacked,
)
from leitfaden_core.lessons.exchange.sheets import Block, Sheet, key_sheet, worksheet
from leitfaden_core.lessons.kinds.myth import OwnStatement

__all__ = [
    "LARGEST",
    "Unpacked",
    "BadPackage",
    "Block",
    "OwnStatement",
    "Sheet",
    "key_sheet",
    "package_schema",
    "packed_lesson",
    "questions_of",
    "statements_of",
    "unpacked",
    "worksheet",
]
