"""Questioned keys: asked by their learner, answered by a trainer, laid over the marks and never instead of them."""

from typing import Any

import pytest
from django.test import Client

from practice.models import Attempt
from server_helpers import body, right_answers, work_through


@pytest.fixture
def finished(world: Any) -> Attempt:
    """An attempt of which one judged station went wrong."""
    learner = world.client("learner")
    number = body(learner, "post", f"/api/assignments/{world.assignment.pk}/attempt", {})[1]["id"]
    attempt = Attempt.objects.get(pk=number)
    answers = right_answers(attempt)
    answers[3] = answers[3] | {"verdicts": ["not_decidable"] * len(answers[3]["verdicts"])}
    work_through(learner, attempt, answers)
    assert body(learner, "post", f"/api/attempts/{number}/finish", {})[0] == 200
    return Attempt.objects.get(pk=number)


def debrief(client: Client, attempt: Attempt) -> dict[str, Any]:
    return body(client, "get", f"/api/attempts/{attempt.pk}/debrief")[1]  # type: ignore[no-any-return]


def test_a_granted_question_gives_the_points_and_says_who_overruled_the_key(world: Any, finished: Attempt) -> None:
    learner, trainer = world.client("learner"), world.client("trainer")
    before = debrief(learner, finished)
    path = f"/api/attempts/{finished.pk}/disputes/3"
    status, asked = body(learner, "post", path, {"text": "The idle was not warm yet."})
    assert status == 200 and asked["outcome"] == "open"
    listed = body(trainer, "get", f"/api/lessons/{world.lesson.pk}/disputes")[1]
    assert [(row["text"], row["learner"]) for row in listed] == [("The idle was not warm yet.", "Learner Test")]
    settled = {"outcome": "granted", "answer": "True for this reading."}
    assert body(trainer, "put", f"/api/disputes/{asked['id']}", settled)[1]["outcome"] == "granted"

    after = debrief(learner, finished)
    station = next(row for row in after["stations"] if row["index"] == 3)
    assert station["points"] == 1.0 and station["overruled"] == "Trainer Test: True for this reading."
    assert after["score"] > before["score"]
    kept = next(row for row in Attempt.objects.get(pk=finished.pk).marked or [] if row["index"] == 3)
    assert kept["points"] < 1.0 and "overruled" not in kept
    result = body(trainer, "get", f"/api/lessons/{world.lesson.pk}/results")[1][0]
    assert result["score"] == after["score"]
    assert "granted the points of" in str(body(world.client("lead"), "get", "/api/audit")[1])


def test_a_key_that_stands_keeps_its_points_and_the_answer_is_read(world: Any, finished: Attempt) -> None:
    learner, trainer = world.client("learner"), world.client("trainer")
    before = debrief(learner, finished)["score"]
    asked = body(learner, "post", f"/api/attempts/{finished.pk}/disputes/3", {"text": "Why?"})[1]
    body(trainer, "put", f"/api/disputes/{asked['id']}", {"outcome": "stands", "answer": "Look at the band."})
    after = debrief(learner, finished)
    assert after["score"] == before and after["disputes"][0]["answer"] == "Look at the band."
    status, refused = body(learner, "post", f"/api/attempts/{finished.pk}/disputes/3", {"text": "But!"})
    assert (status, refused["code"]) == (409, "answered")


def test_until_it_is_answered_a_question_can_be_put_in_other_words(world: Any, finished: Attempt) -> None:
    learner, path = world.client("learner"), f"/api/attempts/{finished.pk}/disputes/3"
    body(learner, "post", path, {"text": "First."})
    body(learner, "post", path, {"text": "Better."})
    assert [row["text"] for row in debrief(learner, finished)["disputes"]] == ["Better."]


@pytest.mark.parametrize(("station", "text", "status"), [(0, "Why?", 404), (3, "   ", 422), (99, "Why?", 404)])
def test_what_has_no_key_or_no_words_is_refused(
    world: Any, finished: Attempt, station: int, text: str, status: int
) -> None:
    path = f"/api/attempts/{finished.pk}/disputes/{station}"
    assert body(world.client("learner"), "post", path, {"text": text})[0] == status


def test_nobody_questions_for_another_and_no_other_school_answers(world: Any, finished: Attempt) -> None:
    path = f"/api/attempts/{finished.pk}/disputes/3"
    assert body(world.client("second_learner"), "post", path, {"text": "Why?"})[0] == 404
    assert body(world.client("trainer"), "post", path, {"text": "Why?"})[0] == 403
    asked = body(world.client("learner"), "post", path, {"text": "Why?"})[1]
    settled = {"outcome": "granted", "answer": "So."}
    assert body(world.client("other_trainer"), "put", f"/api/disputes/{asked['id']}", settled)[0] == 404
    assert body(world.client("learner"), "put", f"/api/disputes/{asked['id']}", settled)[0] == 403
