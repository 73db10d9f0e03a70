"""Signing in and one's own settings."""

from typing import Any

from django.test import Client

from server_helpers import PASSWORD, body


def test_right_name_and_password_sign_in(world: Any) -> None:
    client = Client()
    status, me = body(client, "post", "/api/session", {"username": " trainer ", "password": PASSWORD})
    assert (status, me["role"], me["school"], me["units"]) == (200, "trainer", "Test school", "metric")
    assert body(client, "get", "/api/session")[1]["name"] == "Trainer Test"


def test_a_wrong_password_gets_a_sentence_that_does_not_say_which_part_was_wrong(world: Any) -> None:
    answers = [
        body(Client(), "post", "/api/session", {"username": name, "password": "wrong"})
        for name in ("trainer", "nobody-of-that-name")
    ]
    assert answers[0] == answers[1]
    assert answers[0] == (
        401,
        {"code": "wrong_password", "message": "Wrong name or password. Check both; the name is kept."},
    )


def test_nobody_is_null(world: Any) -> None:
    assert body(Client(), "get", "/api/session") == (200, None)


def test_signing_out_ends_the_session(world: Any) -> None:
    client = world.client("trainer")
    body(client, "delete", "/api/session")
    assert body(client, "get", "/api/session")[1] is None
    assert body(client, "get", "/api/lessons")[0] == 401


def test_units_are_kept_with_the_person(world: Any) -> None:
    client = world.client("learner")
    assert body(client, "patch", "/api/session", {"units": "imperial"})[1]["units"] == "imperial"
    assert body(world.client("learner"), "get", "/api/session")[1]["units"] == "imperial"


def test_unknown_units_are_refused(world: Any) -> None:
    status, answer = body(world.client("learner"), "patch", "/api/session", {"units": "furlongs"})
    assert status == 422 and answer["code"] == "bad_request" and "units" in answer["message"]


def test_an_account_without_a_school_gets_no_session_and_is_told_what_to_do(world: Any) -> None:
    world.members["learner"].delete()
    client = Client()
    status, answer = body(client, "post", "/api/session", {"username": "learner", "password": PASSWORD})
    assert (status, answer["code"]) == (403, "not_allowed") and "ask the lead" in answer["message"]
    assert "sessionid" not in client.cookies
    assert body(client, "get", "/api/session") == (200, None)


def test_a_change_without_the_csrf_token_is_refused(world: Any) -> None:
    client = Client(enforce_csrf_checks=True)
    client.force_login(world.members["trainer"].user)
    assert client.patch("/api/session", {"units": "imperial"}, content_type="application/json").status_code == 403
