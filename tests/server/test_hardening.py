"""What the server promises to browsers, proxies and logs."""

import json
import logging
import os
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest
from django.db import OperationalError
from django.test import Client

from server_helpers import PASSWORD, body

ROOT = Path(__file__).parents[2]
HTTPS = {
    "LEITFADEN_HTTPS": "1",
    "LEITFADEN_HOSTS": "school.example",
    "LEITFADEN_SECRET": "only-in-this-test-0123456789-abcdefghijklmnopqrstuvwxyz",
}


def in_https_mode(code: str) -> str:
    """What a piece of code prints in a process that runs behind a proxy with TLS."""
    run = [sys.executable, "-c", f"import django; django.setup()\n{code}"]
    environment = os.environ | HTTPS | {"DJANGO_SETTINGS_MODULE": "config.settings"}
    return subprocess.run(run, env=environment, capture_output=True, text=True, check=True).stdout


def test_the_check_for_deployment_has_nothing_to_say() -> None:
    run = [sys.executable, str(ROOT / "server" / "manage.py"), "check", "--deploy", "--fail-level", "WARNING"]
    said = subprocess.run(run, env=os.environ | HTTPS, capture_output=True, text=True, check=False)
    assert said.returncode == 0, said.stderr


def test_behind_a_proxy_with_tls_cookies_are_secure_and_plain_http_is_led_to_https() -> None:
    said = json.loads(
        in_https_mode(
            """
import json
from django.test import Client
plain = Client().get("/", headers={"host": "school.example"})
tls = Client().get("/", headers={"host": "school.example", "x-forwarded-proto": "https"})
other = Client().get("/", headers={"host": "evil.example", "x-forwarded-proto": "https"})
print(json.dumps([plain.status_code, plain.headers["Location"], tls.headers["Strict-Transport-Security"],
                  tls.cookies["csrftoken"]["secure"], other.status_code]))
"""
        )
    )
    assert said == [301, "https://school.example/", "max-age=31536000; includeSubDomains; preload", True, 400]


def test_without_a_secret_from_the_environment_there_is_none_to_guess() -> None:
    code = "from django.conf import settings; print(settings.SECRET_KEY)"
    run = [sys.executable, "-c", f"import django; django.setup()\n{code}"]
    bare = {name: value for name, value in os.environ.items() if name != "LEITFADEN_SECRET"} | {
        "DJANGO_SETTINGS_MODULE": "config.settings"
    }
    secrets = {subprocess.run(run, env=bare, capture_output=True, text=True, check=True).stdout for _ in range(2)}
    assert len(secrets) == 2 and all(len(secret) > 50 for secret in secrets)


def test_every_page_says_what_it_may_do_and_the_api_is_kept_by_no_cache(world: Any) -> None:
    for path in ("/", "/api/session"):
        headers = Client().get(path).headers
        assert "camera=()" in headers["Permissions-Policy"] and headers["X-Frame-Options"] == "DENY"
        assert (
            "script-src 'self'" in headers["Content-Security-Policy"] and headers["X-Content-Type-Options"] == "nosniff"
        )
    assert Client().get("/api/session").headers["Cache-Control"] == "no-store"


@pytest.mark.parametrize("path", ["/static/.stamp", "/static/../dist.stamp", "/dist.stamp"])
def test_the_stamp_of_the_build_is_not_served(world: Any, path: str) -> None:
    answer = Client().get(path)
    content = b"".join(answer.streaming_content) if answer.streaming else answer.content  # type: ignore[attr-defined]
    assert answer.status_code == 404 or b"<html" in content.lower()
    assert not (ROOT / "web" / "dist" / ".stamp").exists()


def test_names_answers_and_passwords_stay_out_of_the_logs(world: Any, caplog: pytest.LogCaptureFixture) -> None:
    caplog.set_level(logging.DEBUG, logger="leitfaden")
    client = world.client("learner")
    client.raise_request_exception = False
    Client().post(
        "/api/session", {"username": "learner", "password": "my-wrong-secret"}, content_type="application/json"
    )
    body(Client(), "post", "/api/session", {"username": "learner", "password": PASSWORD})
    attempt = body(client, "post", f"/api/assignments/{world.assignment.pk}/attempt", {})[1]["id"]
    body(client, "post", f"/api/attempts/{attempt}/stations/0/answer", {"answer": {"reading": "4711 kPa"}})
    text = caplog.text
    for private in ("my-wrong-secret", PASSWORD, "4711", "Learner Test", "'learner'"):
        assert private not in text


@pytest.mark.parametrize(
    ("error", "code"),
    [
        ("server closed the connection unexpectedly", "no_database"),
        ("couldn't get a connection after 6.00 sec", "no_database"),
        ("could not extend file: No space left on device", "no_space"),
    ],
)
def test_a_database_that_is_away_or_full_is_a_sentence_and_a_time_to_come_back(
    world: Any, monkeypatch: pytest.MonkeyPatch, error: str, code: str
) -> None:
    def fail(*_: Any, **__: Any) -> Any:
        raise OperationalError(error)

    client = world.client("trainer")
    client.raise_request_exception = False
    monkeypatch.setattr("lessons.services.create_lesson", fail)
    answer = client.post(
        "/api/lessons",
        {"document": world.document},
        content_type="application/json",
        headers={"X-Change-Id": "7a3cd1a2-8f4e-4a53-9a0f-3f7a7f5b6c10"},
    )
    assert (answer.status_code, answer.json()["code"], answer.headers["Retry-After"]) == (503, code, "3")
    assert "Nothing that was acknowledged is lost" in answer.json()["message"]


def test_a_database_that_is_lost_under_the_sessions_is_a_sentence_too(
    world: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    def fail(*_: Any, **__: Any) -> Any:
        raise OperationalError("connection refused")

    client = world.client("trainer")
    client.raise_request_exception = False
    monkeypatch.setattr("django.contrib.sessions.backends.db.SessionStore.load", fail)
    answer = client.get("/api/lessons")
    assert (answer.status_code, answer.json()["code"]) == (503, "no_database")


def test_health_needs_no_database(monkeypatch: pytest.MonkeyPatch) -> None:
    assert Client().get("/api/health").json() == {"answers": True}
