"""Items are frozen: a learner's numbers, key and marks stay what they were, whatever becomes of the model."""

from typing import Any

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext

from leitfaden_core.errors import LeitfadenError
from practice import items
from practice.models import Assignment, Attempt, ItemKey, ItemLanes, ItemView
from server_helpers import body, right_answers, work_through


@pytest.fixture
def no_model(monkeypatch: pytest.MonkeyPatch) -> Any:
    """After calling it, whoever asks the model fails."""

    def switch_off() -> None:
        def fail(*_: Any, **__: Any) -> Any:
            raise AssertionError("the model was asked")

        for name in (
            "leitfaden_core.lessons.item.cached_run",
            "practice.items.station_view",
            "practice.items.station_key",
        ):
            monkeypatch.setattr(name, fail)

    return switch_off


def test_coming_back_shows_the_same_without_asking_the_model(world: Any, attempt: Attempt, no_model: Any) -> None:
    path = f"/api/attempts/{attempt.pk}/stations/0"
    first = body(world.client("learner"), "get", path)
    no_model()
    assert body(world.client("learner"), "get", path) == first


def test_finishing_cannot_fail_on_the_model_and_marks_come_from_the_frozen_key(
    world: Any, attempt: Attempt, no_model: Any
) -> None:
    work_through(world.client("learner"), attempt, right_answers(attempt))
    no_model()
    assert body(world.client("learner"), "post", f"/api/attempts/{attempt.pk}/finish", {})[1]["finished"] is True
    assert body(world.client("trainer"), "get", f"/api/attempts/{attempt.pk}/debrief")[1]["score"] == 100.0


def test_learners_requests_never_read_a_key_before_the_end(world: Any, attempt: Attempt) -> None:
    answers = right_answers(attempt)
    learner = world.client("learner")
    with CaptureQueriesContext(
        connection,
    ) as queries:
        for station, answer in enumerate(answers):
            for part in ("", "/lanes"):
                body(learner, "get", f"/api/attempts/{attempt.pk}/stations/{station}{part}")
            body(learner, "post", f"/api/attempts/{attempt.pk}/stations/{station}/answer", {"answer": answer})
        body(learner, "get", f"/api/attempts/{attempt.pk}")
        body(learner, "get", "/api/assignments")
    assert len(queries) > 50
    assert not any("practice_itemkey" in query["sql"] for query in queries.captured_queries)


def test_an_appeal_sees_what_the_learner_saw_with_the_answer_that_counts(world: Any, attempt: Attempt) -> None:
    answers = right_answers(attempt)
    seen = [body(world.client("learner"), "get", f"/api/attempts/{attempt.pk}/stations/0")[1]["station"]]
    work_through(world.client("learner"), attempt, answers)
    lanes = body(world.client("learner"), "get", f"/api/attempts/{attempt.pk}/stations/1/lanes")[1]
    assert body(world.client("learner"), "get", f"/api/attempts/{attempt.pk}/seen/0")[1]["code"] == "not_finished"
    body(world.client("learner"), "post", f"/api/attempts/{attempt.pk}/finish", {})
    for who in ("learner", "trainer", "lead"):
        assert body(world.client(who), "get", f"/api/attempts/{attempt.pk}/seen/0")[1]["station"] == seen[0]
        assert body(world.client(who), "get", f"/api/attempts/{attempt.pk}/seen/1/lanes")[1] == lanes
        assert body(world.client(who), "get", f"/api/attempts/{attempt.pk}/seen/2")[1]["answer"] == answers[2]


def test_preparing_twice_keeps_the_first(world: Any, attempt: Attempt) -> None:
    items.prepare_station(world.assignment.pk, 1)
    before = ItemView.objects.get(assignment=world.assignment, station=1)
    items.prepare_station(world.assignment.pk, 1)
    assert ItemView.objects.get(assignment=world.assignment, station=1).prepared_at == before.prepared_at
    assert ItemLanes.objects.filter(assignment=world.assignment).count() == 1


def test_two_learners_get_other_numbers_and_the_same_seed_the_same(world: Any) -> None:
    version = world.lesson.versions.first()
    views = []
    for name, seed in (("second_learner", 8), ("other_learner", 8), ("other_trainer", 9)):
        given = Assignment.objects.create(version=version, learner=world.members[name].user, seed=seed)
        items.prepare_station(given.pk, 3)
        views.append(ItemView.objects.get(assignment=given).view)
    assert views[0] == views[1] != views[2]


def test_a_station_that_fails_after_all_is_passed_and_not_marked(
    world: Any, attempt: Attempt, monkeypatch: pytest.MonkeyPatch
) -> None:
    answers = right_answers(attempt)
    ItemView.objects.filter(assignment=world.assignment, station=3).delete()
    ItemKey.objects.filter(assignment=world.assignment, station=3).delete()

    def fail(*_: Any) -> Any:
        raise LeitfadenError("the crankshaft is missing")

    monkeypatch.setattr(items, "station_view", fail)
    work_through(world.client("learner"), attempt, answers[:3])
    view = body(world.client("learner"), "get", f"/api/attempts/{attempt.pk}/stations/3")[1]["station"]
    assert "does not count" in view["problem"] and "crankshaft" not in str(view)
    for station, answer in ((3, {"seen": True}), (4, answers[4])):
        body(
            world.client("learner"), "post", f"/api/attempts/{attempt.pk}/stations/{station}/answer", {"answer": answer}
        )
    assert body(world.client("learner"), "post", f"/api/attempts/{attempt.pk}/finish", {})[0] == 200
    debrief = body(world.client("trainer"), "get", f"/api/attempts/{attempt.pk}/debrief")[1]
    assert (debrief["stations"][3]["points"], debrief["score"]) == (None, 100.0)


def test_units_chosen_later_word_the_marks_but_change_no_point(world: Any, attempt: Attempt) -> None:
    work_through(world.client("learner"), attempt, right_answers(attempt))
    body(world.client("learner"), "patch", "/api/session", {"units": "imperial"})
    body(world.client("learner"), "post", f"/api/attempts/{attempt.pk}/finish", {})
    assert body(world.client("learner"), "get", f"/api/attempts/{attempt.pk}/debrief")[1]["score"] == 100.0
