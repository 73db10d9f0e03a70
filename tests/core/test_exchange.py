"""Lessons on the move: the package file and what it refuses, questions in GIFT, worksheet and key."""

import json
import re
from typing import Any

import pytest

from demo import course
from leitfaden_core.errors import BadDocument
from leitfaden_core.lessons import Lesson, parse_lesson, station_key, station_view
from leitfaden_core.lessons.exchange import (
    LARGEST,
    BadPackage,
    key_sheet,
    package_schema,
    packed_lesson,
    questions_of,
    statements_of,
    unpacked,
    worksheet,
)

LESSONS = [parse_lesson(raw) for raw in course.kept()]
LESSON = next(lesson for lesson in LESSONS if "trim-step" in lesson.title)


class TestPackage:
    @pytest.mark.parametrize("lesson", LESSONS[:3], ids=lambda lesson: lesson.title[:2])
    def test_a_lesson_comes_back_as_it_was_and_plays_the_same(self, lesson: Lesson) -> None:
        back = unpacked(packed_lesson(lesson).encode()).lesson
        assert back == lesson
        assert station_view(back, 6, 23) == station_view(lesson, 6, 23)
        assert station_key(back, 6, 23) == station_key(lesson, 6, 23)

    def test_it_says_what_it_is_and_by_which_core(self) -> None:
        raw = json.loads(packed_lesson(LESSON))
        assert raw["format"] == "leitfaden-lesson" and raw["version"] == 1 and raw["core_version"]
        assert set(package_schema()["properties"]) == set(raw)

    @pytest.mark.parametrize(
        ("content", "reason"),
        [
            (b"", "no JSON"),
            (b"PK\x03\x04 a zip", "no JSON"),
            (b"\xff\xfe\x00", "no JSON"),
            (b"[1, 2]", "lesson's package"),
            (b'{"format": "something-else"}', "lesson's package"),
            (b"[" * 100_000, "no JSON"),
            (b" " * (LARGEST + 1), "larger than 12 MB"),
        ],
    )
    def test_what_is_none_is_refused_with_its_reason(self, content: bytes, reason: str) -> None:
        with pytest.raises(BadPackage, match=reason):
            unpacked(content)

    def changed(self, **parts: Any) -> bytes:
        return json.dumps(json.loads(packed_lesson(LESSON)) | parts).encode()

    def test_a_newer_one_says_so(self) -> None:
        with pytest.raises(BadPackage, match="newer Leitfaden"):
            unpacked(self.changed(version=7))

    def test_all_reasons_are_told_at_once(self) -> None:
        lesson = json.loads(packed_lesson(LESSON))["lesson"]
        lesson["stations"][0]["kind"] = "hologram"
        lesson["stations"][1]["count"] = "many"
        lesson["colour"] = "red"
        with pytest.raises(BadPackage) as refused:
            unpacked(self.changed(lesson=lesson))
        told = "\n".join(refused.value.reasons)
        assert "unknown kind 'hologram'" in told and "count: must be a whole number" in told and "colour" in told

    def test_deep_nesting_does_not_exhaust_the_reader(self) -> None:
        deep: Any = "x"
        for _ in range(60):
            deep = {"a": deep}
        with pytest.raises(BadPackage, match="40 levels"):
            unpacked(self.changed(lesson=deep))

    @pytest.mark.parametrize("name", ["../../etc/passwd", "con", "<script>alert(1)</script>"])
    def test_names_that_play_tricks_are_only_names(self, name: str) -> None:
        lesson = json.loads(packed_lesson(LESSON))["lesson"]
        with pytest.raises(BadPackage):
            unpacked(self.changed(lesson=lesson | {"script": name}))


class TestQuestions:
    def test_every_judged_reading_is_a_question_with_its_one_right_choice_and_why(self) -> None:
        text = questions_of(LESSON, 23)
        index = next(k for k, station in enumerate(LESSON.stations) if station.kind == "judge")
        for part in station_key(LESSON, index, 23).model_dump()["parts"]:
            assert f"={part['verdict'].replace('_', ' ')}" in text
        questions = re.findall(r"::Judge these readings \d+::.*?\n\}", text, re.DOTALL)
        assert questions and all(question.count("\n=") == 1 and "####" in question for question in questions)

    def test_signs_of_the_format_are_masked(self) -> None:
        for line in questions_of(LESSON, 23).splitlines():
            if line.startswith("~"):
                assert not re.search(r"(?<!\\)[={}#:]", line[1:]), line

    def test_statements_come_back_as_they_went_out(self) -> None:
        index = next(k for k, station in enumerate(LESSON.stations) if station.kind == "myth")
        parts = station_key(LESSON, index, 23).model_dump()["parts"]
        back = statements_of(questions_of(LESSON, 23))
        assert [(s.text, s.right) for s in back] == [(" ".join(p["text"].split()), p["right"]) for p in parts]
        assert [s.reason for s in back] == [" ".join(p["reason"].split()) for p in parts]

    def test_statements_of_other_writers_are_read(self) -> None:
        text = (
            "// c\n\n::Q1::Zirconia conducts ions when hot.{T}\n\nA 10\\:1 mixture is lean.{FALSE#No, "
            "rich.}\n\nWhat? {=a ~b}"
        )
        assert [(s.text, s.right, s.reason) for s in statements_of(text)] == [
            ("Zirconia conducts ions when hot.", "true", "No reason was given."),
            ("A 10:1 mixture is lean.", "false", "No, rich."),
        ]

    @pytest.mark.parametrize("text", ["", "no question", "What? {=a ~b}", "x" * 300_000])
    def test_a_text_without_statements_gets_a_sentence(self, text: str) -> None:
        with pytest.raises(BadDocument):
            statements_of(text)


class TestPaper:
    def test_worksheet_and_key_are_of_the_same_numbers(self) -> None:
        asked, solved = worksheet(LESSON, 23), key_sheet(LESSON, 23)
        assert [block.title for block in asked.blocks] == [block.title for block in solved.blocks]
        for one, other in zip(asked.blocks, solved.blocks, strict=True):
            if "Judge" in one.title:
                assert [row[:3] for row in one.rows[1:]] == [row[:3] for row in other.rows[1:]]

    def test_the_worksheet_holds_nothing_of_the_key(self) -> None:
        shown = json.dumps([block.rows for block in worksheet(LESSON, 23).blocks])
        for index, station in enumerate(LESSON.stations):
            for part in station_key(LESSON, index, 23).model_dump()["parts"]:
                if station.kind in {"judge", "predict", "conclude", "separate"}:
                    assert part["reason"] not in shown

    def test_other_seeds_have_other_numbers(self) -> None:
        assert worksheet(LESSON, 23) != worksheet(LESSON, 24)
        assert worksheet(LESSON, 23) == worksheet(LESSON, 23)
