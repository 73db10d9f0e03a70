"""Branches: who gets which stations, by their results on the way."""

from typing import Any

import pytest

from leitfaden_core.lessons import Lesson, check_words, left_out, parse_lesson, station_view
from leitfaden_core.lessons.branching import decides


def thread(*branches: dict[str, Any] | None) -> Lesson:
    """Stations s0, s1, ... that each judge one reading, with their branches."""
    stations = [
        {
            "kind": "judge",
            "id": f"s{k}",
            "title": f"Station {k}",
            "pool": [{"condition": "hot_idle", "channel": "maf"}],
            "count": 1,
            "given_if": branch,
        }
        for k, branch in enumerate(branches)
    ]
    return parse_lesson({"title": "t", "rig": "R1", "stations": stations})


LOW = {"station": "s0", "result": "below", "percent": 60}
HIGH = LOW | {"result": "reached"}


@pytest.mark.parametrize(
    ("points", "out"), [(0.0, [2]), (0.59, [2]), (0.6, [1]), (1.0, [1])], ids=["none", "just below", "just", "all"]
)
def test_one_of_two_ways_is_taken_by_the_result(points: float, out: list[int]) -> None:
    assert left_out(thread(None, LOW, HIGH, None), {0: points}) == out


def test_two_of_three_reach_sixty_seven_percent_of_nothing_but_sixty_six() -> None:
    two_of_three = {0: 2.0 / 3.0}
    assert left_out(thread(None, HIGH | {"percent": 66}), two_of_three) == []
    assert left_out(thread(None, HIGH | {"percent": 67}), two_of_three) == [1]


def test_before_the_result_is_there_nothing_is_left_out() -> None:
    assert left_out(thread(None, LOW, HIGH), {}) == [] == left_out(thread(None, LOW, HIGH), {0: None})


def test_what_hangs_on_a_station_that_is_left_out_is_left_out() -> None:
    lesson = thread(None, LOW, LOW | {"station": "s1"}, None)
    assert left_out(lesson, {0: 1.0}) == [1, 2]
    assert left_out(lesson, {0: 0.0, 1: 1.0}) == [2] and left_out(lesson, {0: 0.0, 1: 0.0}) == []


def test_a_learner_is_told_where_an_answer_is_final() -> None:
    lesson = thread(None, LOW, None)
    assert [decides(lesson, k) for k in range(3)] == [True, False, False]
    assert [station_view(lesson, k, 5).final for k in range(3)] == [True, False, False]


def test_a_branch_on_a_later_station_or_none_is_warned_of_and_leaves_everybody_in() -> None:
    for branch, ways in ((LOW | {"station": "s1"}, 2), (LOW | {"station": "gone"}, 1)):
        lesson = thread(branch, None)
        [warning] = [w for w in check_words(lesson) if w.code == "branch_on_nothing"]
        assert len(warning.remedies) == ways and left_out(lesson, {1: 1.0}) == []


def test_a_branch_on_a_station_without_points_is_warned_of() -> None:
    raw = thread(None, LOW).model_dump(mode="json")
    raw["stations"][0] = {"kind": "show", "id": "s0", "title": "Look", "channels": ["maf"]}
    [warning] = [w for w in check_words(parse_lesson(raw)) if w.code == "branch_on_nothing"]
    assert warning.remedies[0].station == {"given_if": None}
