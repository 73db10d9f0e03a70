"""Sending hostile requests through the whole server and watching what becomes of them."""

import time
import uuid
from dataclasses import dataclass, field
from typing import Any

from django.test import Client

from hostile import Hostile
from lessons.models import Lesson

#: No request, refused or not, may take as long as one that hangs; how quick they are is for ``./leitfaden bench``,
#: since
#: a machine with other work may take ten times as long. [s]
HANGS = 60.0


@dataclass
class Report:
    """What became of the requests."""

    sent: int = 0
    accepted: int = 0
    hung: list[str] = field(default_factory=list)
    broken: list[str] = field(default_factory=list)


def send_hostile(world: Any, attempt: int, requests: int, seed: int) -> Report:
    """Send requests as lead and learner; what the server took is then opened as its page would."""
    hostile, report = Hostile(seed), Report()
    lead, learner = world.client("lead"), world.client("learner")
    for client in (lead, learner):
        client.raise_request_exception = False
    for _ in range(requests):
        lesson = Lesson.objects.get(pk=world.lesson.pk)
        method, path, data = hostile.request(lesson.pk, attempt, lesson.revision)
        status, answer = _timed(report, learner if "/attempts/" in path else lead, method, path, data)
        report.sent += 1
        if status == 200:
            report.accepted += 1
            _open_again(report, lead, method, path, answer)
    return report


def _timed(report: Report, client: Client, method: str, path: str, data: Any = None) -> tuple[int, Any]:
    start = time.perf_counter()
    given: dict[str, Any] = {} if data is None else {"data": data, "content_type": "application/json"}
    answer = getattr(client, method)(path, headers={"X-Change-Id": str(uuid.uuid4())}, **given)
    taken = time.perf_counter() - start
    shown = f"{method} {path} {str(data)[:2000]}"
    if taken > HANGS:
        report.hung.append(f"{taken:.1f} s: {shown}")
    try:
        content = answer.json()
    except ValueError:
        content = None
        report.broken.append(f"no JSON: {shown}")
    if answer.status_code >= 500:
        report.broken.append(f"{answer.status_code}: {shown}: {answer.content[:300]!r}")
    return answer.status_code, content


def _open_again(report: Report, client: Client, method: str, path: str, answer: Any) -> None:
    """What was accepted must be shown by every view of it; a refusal in a sentence is an answer too, a crash is not."""
    if "lessons" not in path or "publish" in path or not isinstance(answer, dict):
        return
    status, lesson = _timed(report, client, "get", f"/api/lessons/{answer['id']}")
    if status != 200:
        report.broken.append(f"accepted but not shown: {path} {str(answer)[:500]}")
        return
    for station in range(len(lesson["draft"]["stations"])):
        _timed(report, client, "post", "/api/preview/station", {"document": lesson["draft"], "station": station})
    _timed(report, client, "get", "/api/lessons")


def call_case(client: Client, case: Any) -> tuple[int, Any]:
    """A case that was drawn from the API's own document, through the test client."""
    client.raise_request_exception = False
    if case.operation.method.lower() == "delete":
        client = Client()
    body = (
        case.body if case.method.lower() != "get" and not isinstance(case.body, type(schemathesis_missing())) else None
    )
    given: dict[str, Any] = {} if body is None else {"data": body, "content_type": "application/json"}
    query = {name: value for name, value in (case.query or {}).items() if value is not None}
    path = case.formatted_path
    answer = getattr(client, case.method.lower())(
        path, headers={"X-Change-Id": str(uuid.uuid4())}, query_params=query, **given
    )
    return answer.status_code, answer.json() if answer.content else None


def schemathesis_missing() -> Any:
    """What schemathesis puts where a request has no body."""
    from schemathesis.core import NOT_SET

    return NOT_SET
