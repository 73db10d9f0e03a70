"""A change that is sent twice is done once, whatever happened to the first answer."""

import threading
import uuid
from typing import Any

import pytest
from django.db import connection
from django.test import Client

from lessons.models import Lesson, LessonVersion
from people.models import Change
from practice.models import Attempt, Entry
from server_helpers import body


def start(world: Any, client: Client) -> int:
    return int(body(client, "post", f"/api/assignments/{world.assignment.pk}/attempt", {})[1]["id"])


def test_a_repeated_answer_is_stored_once_and_gets_the_first_acknowledgement(world: Any) -> None:
    client, change = world.client("learner"), str(uuid.uuid4())
    path = f"/api/attempts/{start(world, client)}/stations/0/answer"
    first = body(client, "post", path, {"answer": {"seen": True}}, change=change)
    assert (
        first
        == body(client, "post", path, {"answer": {"seen": True}}, change=change)
        == (200, {"stored": True, "next": 1})
    )
    assert Entry.objects.count() == 1


def test_a_draft_whose_acknowledgement_was_lost_is_not_refused_in_its_authors_own_name(world: Any) -> None:
    client, change, path = world.client("trainer"), str(uuid.uuid4()), f"/api/lessons/{world.lesson.pk}/draft"
    sent = {"revision": 1, "document": world.document | {"title": "Renamed"}}
    first = body(client, "put", path, sent, change=change)
    again = body(client, "put", path, sent, change=change)
    assert first[0] == again[0] == 200 and again[1]["revision"] == 2
    assert Lesson.objects.get(pk=world.lesson.pk).revision == 2


def test_a_repeated_publication_makes_one_version(world: Any) -> None:
    client, change, path = world.client("trainer"), str(uuid.uuid4()), f"/api/lessons/{world.lesson.pk}"
    body(client, "put", f"{path}/draft", {"revision": 1, "document": world.document | {"title": "Second"}})
    answers = [body(client, "post", f"{path}/publish", {"learners": ["learner"]}, change=change) for _ in range(2)]
    assert answers[0] == answers[1] == (200, {"number": 2, "title": "Second", "assigned": 1})
    assert LessonVersion.objects.count() == 2


def test_a_refused_change_leaves_its_id_free(world: Any) -> None:
    client, change, path = world.client("trainer"), str(uuid.uuid4()), f"/api/lessons/{world.lesson.pk}/draft"
    assert body(client, "put", path, {"revision": 1, "document": {}}, change=change)[0] == 422
    assert body(client, "put", path, {"revision": 1, "document": world.document}, change=change)[0] == 200


def test_an_id_belongs_to_one_person_and_one_kind_of_change(world: Any) -> None:
    change, path = str(uuid.uuid4()), f"/api/lessons/{world.lesson.pk}"
    body(world.client("trainer"), "put", f"{path}/draft", {"revision": 1, "document": world.document}, change=change)
    for who, method, data in (("lead", "put", {"revision": 2, "document": world.document}),):
        assert body(world.client(who), method, f"{path}/draft", data, change=change)[1]["code"] == "change_id_taken"
    assert (
        body(world.client("trainer"), "post", "/api/lessons", {"document": world.document}, change=change)[1]["code"]
        == "change_id_taken"
    )


@pytest.mark.parametrize("change", ["", "one", "00000000-0000"])
def test_a_change_without_an_id_is_refused(world: Any, change: str) -> None:
    answer = world.client("trainer").post(
        "/api/lessons", {"document": world.document}, content_type="application/json", headers={"X-Change-Id": change}
    )
    assert (answer.status_code, answer.json()["code"]) == (422, "no_change_id")
    assert Lesson.objects.count() == 1


@pytest.mark.django_db(transaction=True)
def test_two_that_arrive_in_the_same_moment_store_one_answer(world: Any) -> None:
    attempt = start(world, world.client("learner"))
    body(world.client("learner"), "get", f"/api/attempts/{attempt}/stations/0")
    change, answers, gate = str(uuid.uuid4()), [], threading.Barrier(6)

    def send() -> None:
        client = world.client("learner")
        gate.wait()
        answers.append(
            body(
                client, "post", f"/api/attempts/{attempt}/stations/0/answer", {"answer": {"seen": True}}, change=change
            )
        )
        connection.close()

    threads = [threading.Thread(target=send) for _ in range(6)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert answers == [(200, {"stored": True, "next": 1})] * 6
    assert Entry.objects.count() == 1 and Change.objects.filter(pk=change).count() == 1
    assert Attempt.objects.get(pk=attempt).reached == 1
