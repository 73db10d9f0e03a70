"""Shared by the server's tests."""

import uuid
from typing import Any

from django.test import Client

from leitfaden_core.lessons import right_answer
from practice import items
from practice.models import Attempt, ItemKey

PASSWORD = "a-long-enough-password"


def body(client: Client, method: str, path: str, data: Any = None, change: str | None = None) -> tuple[int, Any]:
    """Status and JSON of a call (of a file, its text). A change carries an id of its own, or the given one."""
    given = {} if method == "get" else {"headers": {"X-Change-Id": change or str(uuid.uuid4())}}
    if data is not None:
        given |= {"data": data, "content_type": "application/json"}
    answer = getattr(client, method)(path, **given)
    is_json = answer.headers["Content-Type"].startswith("application/json")
    return answer.status_code, answer.json() if is_json else answer.content.decode(errors="replace")


def right_answers(attempt: Attempt) -> list[dict[str, Any]]:
    """Right answers to all stations of an attempt, by its frozen keys."""
    for station in range(len(attempt.assignment.version.document["stations"])):
        items.prepare_station(attempt.assignment_id, station)
    keys = ItemKey.objects.filter(assignment=attempt.assignment_id).order_by("station")
    return [right_answer(key.kind, key.parts["metric"]) for key in keys]


def answer_station(client: Client, attempt: Attempt, index: int, answer: dict[str, Any]) -> tuple[int, Any]:
    """Give an answer as its learner does."""
    return body(client, "post", f"/api/attempts/{attempt.pk}/stations/{index}/answer", {"answer": answer})


def work_through(client: Client, attempt: Attempt, answers: list[dict[str, Any]]) -> None:
    """Give these answers from the first station on; each must be stored."""
    for index, answer in enumerate(answers):
        status, told = answer_station(client, attempt, index, answer)
        assert status == 200, f"station {index + 1}, {answer}: {told}"
