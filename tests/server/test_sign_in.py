"""Signing in: pauses that grow, hashes of today, accounts that may not, sessions that can be ended, links that work
once.
"""

from datetime import timedelta
from typing import Any

import pytest
from axes.models import AccessAttempt
from django.contrib.auth.hashers import identify_hasher
from django.test import Client
from django.utils import timezone

from people.models import Change, SignInLink, User
from server_helpers import PASSWORD, body


def attempt(name: str, password: str, address: str = "10.0.0.1") -> tuple[int, Any]:
    answer = Client(REMOTE_ADDR=address).post(
        "/api/session", {"username": name, "password": password}, content_type="application/json"
    )
    return answer.status_code, answer.json()


def age_failures(seconds: float) -> None:
    """Let time pass for what was counted."""
    for row in AccessAttempt.objects.all():
        AccessAttempt.objects.filter(pk=row.pk).update(attempt_time=row.attempt_time - timedelta(seconds=seconds))


class TestPauses:
    def test_the_sixth_wrong_password_waits_and_so_does_the_right_one(self, world: Any) -> None:
        for _ in range(5):
            status, answer = attempt("learner", "wrong")
        assert (status, answer["code"]) == (429, "busy") or status == 401
        status, answer = attempt("learner", PASSWORD)
        assert (status, answer["code"]) == (429, "busy")
        assert "Wait 15 seconds" in answer["message"] and "ask the lead" in answer["message"]

    def test_the_pause_ends_by_itself_and_the_next_one_is_longer(self, world: Any) -> None:
        for _ in range(5):
            attempt("learner", "wrong")
        age_failures(16)
        assert attempt("learner", "wrong")[0] == 401
        for _ in range(4):
            attempt("learner", "wrong")
        assert "Wait 30 seconds" in attempt("learner", PASSWORD)[1]["message"]

    def test_a_right_password_forgets_the_wrong_ones(self, world: Any) -> None:
        for _ in range(4):
            attempt("learner", "wrong")
        assert attempt("learner", PASSWORD)[0] == 200
        for _ in range(4):
            assert attempt("learner", "wrong")[0] == 401
        assert attempt("learner", PASSWORD)[0] == 200

    def test_a_class_behind_one_address_is_not_locked_out_by_a_few_slips(self, world: Any) -> None:
        for k in range(30):
            assert attempt(f"slip-{k}", "wrong")[0] == 401
        assert attempt("learner", PASSWORD)[0] == 200

    def test_an_address_that_tries_many_names_waits(self, world: Any) -> None:
        for k in range(50):
            attempt(f"guess-{k}", "wrong")
        assert attempt("learner", PASSWORD)[0] == 429
        assert attempt("learner", PASSWORD, address="10.0.0.2")[0] == 200


class TestHashes:
    def test_todays_hash_is_argon2id_with_19_mib_and_two_passes(self, settings: Any, db: None) -> None:
        settings.PASSWORD_HASHERS = ["people.sign_in.Argon2id", "django.contrib.auth.hashers.PBKDF2PasswordHasher"]
        user = User.objects.create_user("somebody", password=PASSWORD)
        variety, _version, parameters = (
            user.password.split("$")[1:4] if user.password.startswith("argon2$") else ("", "", "")
        )
        assert variety == "argon2id" and parameters == "m=19456,t=2,p=1"

    def test_an_older_hash_is_replaced_at_the_next_sign_in(self, world: Any, settings: Any) -> None:
        settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.PBKDF2PasswordHasher"]
        user = world.members["learner"].user
        user.set_password(PASSWORD)
        user.save()
        assert user.password.startswith("pbkdf2_sha256$")
        settings.PASSWORD_HASHERS = ["people.sign_in.Argon2id", "django.contrib.auth.hashers.PBKDF2PasswordHasher"]
        assert attempt("learner", PASSWORD)[0] == 200
        user.refresh_from_db()
        assert identify_hasher(user.password).algorithm == "argon2"
        assert attempt("learner", PASSWORD)[0] == 200


class TestDemoAccounts:
    def test_they_do_not_sign_in_where_others_can_reach_the_server(self, world: Any, settings: Any) -> None:
        user = world.members["learner"].user
        user.is_demo = True
        user.save()
        assert attempt("learner", PASSWORD)[0] == 200
        settings.BEYOND_LOOPBACK = True
        status, answer = attempt("learner", PASSWORD)
        assert (status, answer["code"]) == (403, "demo_account")

    def test_one_with_a_password_of_its_own_is_an_account_like_any_other(self, world: Any, settings: Any) -> None:
        user = world.members["learner"].user
        user.is_demo = True
        user.save()
        client = world.client("learner")
        assert body(client, "post", "/api/session/password", {"old": PASSWORD, "new": "a quite new sentence"})[0] == 200
        settings.BEYOND_LOOPBACK = True
        assert attempt("learner", "a quite new sentence")[0] == 200


class TestPasswords:
    @pytest.mark.parametrize(
        ("new", "reason"),
        [
            ("short", "too short"),
            ("password123", "too common"),
            ("9157203846", "entirely numeric"),
            ("learner-test", "too similar"),
        ],
    )
    def test_a_weak_one_is_refused_with_its_reason(self, world: Any, new: str, reason: str) -> None:
        status, answer = body(world.client("learner"), "post", "/api/session/password", {"old": PASSWORD, "new": new})
        assert (status, answer["code"]) == (422, "weak_password") and reason in answer["message"]
        assert attempt("learner", PASSWORD)[0] == 200

    def test_the_present_one_is_asked_for(self, world: Any) -> None:
        assert (
            body(world.client("learner"), "post", "/api/session/password", {"old": "x", "new": "a quite new sentence"})[
                1
            ]["code"]
            == "wrong_password"
        )

    def test_a_change_ends_all_other_sessions_and_keeps_this_one(self, world: Any) -> None:
        here, there = Client(), Client()
        for client in (here, there):
            body(client, "post", "/api/session", {"username": "learner", "password": PASSWORD})
        assert body(here, "post", "/api/session/password", {"old": PASSWORD, "new": "a quite new sentence"})[0] == 200
        assert body(here, "get", "/api/session")[1]["username"] == "learner"
        assert body(there, "get", "/api/session")[1] is None


class TestSessions:
    def test_the_list_tells_where_one_is_signed_in_and_the_others_can_be_ended(self, world: Any) -> None:
        here, there = Client(), Client(REMOTE_ADDR="10.0.0.9")
        for client in (here, there):
            body(client, "post", "/api/session", {"username": "learner", "password": PASSWORD})
        rows = body(here, "get", "/api/sessions")[1]
        assert [row["here"] for row in rows].count(True) == 1 and {row["address"] for row in rows} == {
            "127.0.0.1",
            "10.0.0.9",
        }
        assert body(here, "delete", "/api/sessions")[1] == {"done": True, "count": 1}
        assert body(there, "get", "/api/session")[1] is None
        assert len(body(here, "get", "/api/sessions")[1]) == 1


class TestLinks:
    def make(self, world: Any) -> str:
        status, link = body(world.client("lead"), "post", "/api/people/learner/link", {})
        assert status == 200
        return link["path"].split("#")[1]  # type: ignore[no-any-return]

    def test_a_link_works_once_and_signs_in(self, world: Any) -> None:
        token, client = self.make(world), Client()
        status, me = body(client, "post", "/api/session/link", {"token": token, "password": "a quite new sentence"})
        assert (status, me["username"]) == (200, "learner")
        assert attempt("learner", "a quite new sentence")[0] == 200
        assert body(Client(), "post", "/api/session/link", {"token": token, "password": "another sentence"})[0] == 404

    def test_a_refused_password_leaves_the_link_as_it_was(self, world: Any) -> None:
        token = self.make(world)
        assert (
            body(Client(), "post", "/api/session/link", {"token": token, "password": "short"})[1]["code"]
            == "weak_password"
        )
        assert (
            body(Client(), "post", "/api/session/link", {"token": token, "password": "a quite new sentence"})[0] == 200
        )

    def test_an_old_and_a_replaced_link_are_worth_nothing(self, world: Any) -> None:
        first, second = self.make(world), self.make(world)
        assert (
            body(Client(), "post", "/api/session/link", {"token": first, "password": "a quite new sentence"})[0] == 404
        )
        SignInLink.objects.update(expires_at=timezone.now() - timedelta(minutes=1))
        assert (
            body(Client(), "post", "/api/session/link", {"token": second, "password": "a quite new sentence"})[0] == 404
        )

    def test_the_secret_is_kept_nowhere(self, world: Any) -> None:
        token = self.make(world)
        assert not SignInLink.objects.filter(token_hash=token).exists()
        assert token not in str(list(Change.objects.values_list("answer", flat=True)))
