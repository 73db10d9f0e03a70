"""The sample course: lessons over all families and engines, each as sound as what its maker would be warned of."""

import pytest

from demo import course
from leitfaden_core.lessons import Lesson, aims, check_lesson, check_words, parse_lesson

LESSONS = [parse_lesson(raw) for raw in course.kept()]
#: The four families of sensors, by the families of aims.
FAMILIES = {
    "oxygen": {"oxygen_narrowband", "oxygen_wideband"},
    "airflow": {"airflow", "trims"},
    "pressure": {"pressure", "differential_egr"},
    "temperature": {"temperature"},
}


def test_it_goes_over_all_four_families_and_all_six_engines() -> None:
    taught = {aims()[entry["aim"]].family for entry in course.plan()}
    assert len(LESSONS) >= 10 and {lesson.rig for lesson in LESSONS} == {"R1", "R2", "R3", "R4", "R5", "R6"}
    assert all(taught & family for family in FAMILIES.values())


def test_no_lesson_comes_before_those_that_it_builds_on() -> None:
    order = [entry["aim"] for entry in course.plan()]
    for k, name in enumerate(order):
        assert not set(aims()[name].after) & set(order[k + 1 :])


@pytest.mark.parametrize("lesson", LESSONS, ids=lambda lesson: lesson.title[:2])
def test_each_has_stations_in_the_order_of_the_work_and_its_minutes(lesson: Lesson) -> None:
    kinds = [station.kind for station in lesson.stations]
    assert len(kinds) >= 8 and kinds[0] == "explain" and kinds[-1] == "reflect"
    assert kinds.index("judge") < kinds.index("conclude")
    assert sum(station.minutes for station in lesson.stations) >= 25
    assert check_words(lesson) == []


@pytest.mark.slow
@pytest.mark.parametrize("lesson", LESSONS, ids=lambda lesson: lesson.title[:2])
def test_none_warns(lesson: Lesson) -> None:
    assert check_lesson(lesson) == []
