"""A school with one person per role, another school, and the demo lesson."""

from dataclasses import dataclass
from pathlib import Path
from typing import Any

import pytest
import yaml
from django.test import Client

from leitfaden_core.lessons import parse_lesson
from lessons.models import Lesson
from lessons.services import create_lesson, publish_lesson
from people.models import Membership, Role, School, User
from practice.models import Assignment, Attempt
from server_helpers import PASSWORD, body


@dataclass
class World:
    """Everybody and everything that the tests need."""

    members: dict[str, Membership]
    lesson: Lesson
    assignment: Assignment
    document: dict[str, Any]

    def client(self, name: str | None) -> Client:
        """A browser of that person; None: of nobody."""
        client = Client()
        if name is not None:
            client.force_login(self.members[name].user)
        return client


def person(school: School, name: str, role: str) -> Membership:
    user = User.objects.create_user(name, password=PASSWORD, first_name=name.title(), last_name="Test")
    return Membership.objects.create(user=user, school=school, role=role)


@pytest.fixture(autouse=True)
def quick(settings: Any) -> None:
    """Hashing a password is slow on purpose; here it is only in the way.

    What workers do is done in the request itself. Each browser of these tests has middleware of its own, which need not
    look through the built pages.
    """
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
    settings.JOBS_INLINE = True
    settings.WHITENOISE_AUTOREFRESH = True


@pytest.fixture
def world(db: None) -> World:
    school, other = School.objects.create(name="Test school"), School.objects.create(name="Other school")
    members = {role: person(school, role, role) for role in Role.values}
    members |= {f"other_{role}": person(other, f"other_{role}", role) for role in Role.values}
    members["second_learner"] = person(school, "second_learner", Role.LEARNER)
    raw = yaml.load(
        (Path(__file__).parents[1] / "server" / "demo" / "lesson.yaml").read_text(encoding="utf-8"), yaml.CSafeLoader
    )
    document = parse_lesson(raw).model_dump(mode="json")
    lesson = create_lesson(member=members["trainer"], document=document)
    version = publish_lesson(member=members["trainer"], lesson_id=lesson.pk)
    # Always the same car, so that the simulator remembers it from test to test.
    assignment = Assignment.objects.create(version=version, learner=members["learner"].user, seed=3)
    return World(members, lesson, assignment, document)


@pytest.fixture
def attempt(world: World) -> Attempt:
    """The learner has started the assigned lesson."""
    status, started = body(world.client("learner"), "post", f"/api/assignments/{world.assignment.pk}/attempt", {})
    assert status == 200
    return Attempt.objects.get(pk=started["id"])


def open_bench(world: World) -> None:
    """Let the school's learners use the bench and what stands behind the same switch."""
    school = world.members[Role.LEARNER].school
    school.learners_bench = True
    school.save()
