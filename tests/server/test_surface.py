"""What the server promises to everybody: structured errors, the interface as written down, migrations in step with
models, headers.
"""

import json
from io import StringIO
from pathlib import Path
from typing import Any

import pytest
from django.core.management import call_command
from django.test import Client

from api.main import api
from people.models import Membership, School
from practice.models import Attempt
from server_helpers import body

ROOT = Path(__file__).parents[2]


def test_the_kept_interface_document_is_current() -> None:
    now = json.loads(json.dumps(api.get_openapi_schema(), sort_keys=True, default=str))
    kept = json.loads((ROOT / "docs" / "openapi.json").read_text(encoding="utf-8"))
    assert now == kept, "write it anew: manage.py export_openapi docs/openapi.json, then npm run api"


@pytest.mark.django_db
def test_models_and_migrations_agree() -> None:
    out = StringIO()
    call_command("makemigrations", check=True, dry_run=True, stdout=out)
    assert "No changes detected" in out.getvalue()


@pytest.mark.parametrize(
    ("method", "path", "data", "status"),
    [
        ("get", "/api/nowhere", None, 404),
        ("get", "/api/lessons/seven", None, 422),
        ("get", "/api/lessons/0", None, 422),
        ("get", "/api/lessons/99999999999999", None, 422),
        ("get", "/api/lessons/4711", None, 404),
        ("post", "/api/lessons", "no json", 400),
        ("post", "/api/lessons", '{"document": 7}', 422),
        ("put", "/api/session", "{}", 405),
    ],
)
def test_bad_requests_never_end_in_a_crash(world: Any, method: str, path: str, data: Any, status: int) -> None:
    client = world.client("trainer")
    answer = (
        getattr(client, method)(path, data, content_type="application/json") if data else getattr(client, method)(path)
    )
    assert answer.status_code == status
    assert b"Traceback" not in answer.content and b"<html" not in answer.content.lower()
    if status != 405:
        assert answer.json()["code"] and answer.json()["message"]


def test_a_request_that_is_too_large_is_refused(world: Any) -> None:
    answer = world.client("trainer").post(
        "/api/lessons", json.dumps({"document": {"title": "x" * 12_100_000}}), content_type="application/json"
    )
    assert answer.status_code == 413 and answer.json()["code"] == "too_big"


def test_an_unexpected_error_says_so_without_a_traceback(world: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    from lessons import api as library_api

    def broken(*_: Any) -> None:
        raise RuntimeError("a secret detail")

    monkeypatch.setattr(library_api, "_state", broken)
    client = world.client("trainer")
    client.raise_request_exception = False
    answer = client.get("/api/lessons")
    assert answer.status_code == 500
    assert answer.json()["code"] == "unexpected" and "secret" not in answer.content.decode()


def test_pages_carry_a_content_policy_without_inline_scripts(db: None) -> None:
    policy = Client().get("/").headers["Content-Security-Policy"]
    assert "script-src 'self'" in policy and "unsafe-inline" not in policy.split("style-src-attr")[0]


def test_the_demo_is_the_hollerbach_school_and_is_loaded_once(db: None) -> None:
    for _ in range(2):
        call_command("load_demo", stdout=StringIO())
    school = School.objects.get()
    assert school.name.startswith("Hollerbach")
    roles = sorted(Membership.objects.values_list("role", flat=True))
    assert roles == ["lead", "learner", "learner", "learner", "learner", "trainer"]
    finished, half = Attempt.objects.get(finished_at__isnull=False), Attempt.objects.get(finished_at__isnull=True)
    assert finished.marked and half.reached == 3
    client = Client()
    assert body(client, "post", "/api/session", {"username": "brandt", "password": "hollerbach"})[0] == 200
    titles = [row["title"] for row in body(client, "get", "/api/lessons")[1]]
    assert len(titles) >= 11 and "A narrowband sensor in the library bus" in titles
