"""Lists of a big school cost as many queries as those of a small one."""

from typing import Any

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext

from lessons.services import create_lesson, publish_lesson
from people.models import Role
from practice.models import Assignment
from server_helpers import body
from server_world import person


def grow(world: Any) -> None:
    """Three more of everything that stands in a list."""
    trainer = world.members["trainer"]
    for k in range(3):
        learner = person(trainer.school, f"more_{k}", Role.LEARNER)
        lesson = create_lesson(member=trainer, document=world.document | {"title": f"More {k}"})
        version = publish_lesson(member=trainer, lesson_id=lesson.pk)
        Assignment.objects.create(version=version, learner=world.members["learner"].user, seed=3)
        Assignment.objects.create(version=world.assignment.version, learner=learner.user, seed=3)


@pytest.mark.parametrize(
    ("who", "path"),
    [
        ("trainer", "/api/lessons"),
        ("trainer", "/api/learners"),
        ("trainer", "/api/lessons/{lesson}/results"),
        ("learner", "/api/assignments"),
        ("lead", "/api/people"),
        ("lead", "/api/audit"),
    ],
)
def test_a_list_asks_the_database_as_often_however_long_it_is(world: Any, who: str, path: str) -> None:
    path = path.format(lesson=world.lesson.pk)

    def asked() -> tuple[int, int]:
        client = world.client(who)
        with CaptureQueriesContext(connection) as queries:
            rows = body(client, "get", path)[1]
        return len(queries), len(rows)

    asked()
    few, short = asked()
    grow(world)
    many, long = asked()
    assert many == few
    assert long > short
