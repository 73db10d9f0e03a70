"""A school of one's own: founded at the shell, people, rules with versions, the trail of what was done."""

from io import StringIO
from typing import Any

import pytest
from django.core.management import call_command
from django.test import Client

from leitfaden_core.judge import RULES, RuleBook
from people.models import AuditEntry, Membership, RulesVersion, School
from server_helpers import PASSWORD, body


class TestFounding:
    def test_an_empty_server_gets_a_school_whose_lead_signs_in_by_the_printed_link(self, db: None) -> None:
        out = StringIO()
        call_command("school", "Elm Street Workshop School", lead="okafor", stdout=out)
        token = out.getvalue().split("/welcome#")[1].split()[0]
        client = Client()
        status, me = body(client, "post", "/api/session/link", {"token": token, "password": "a quite new sentence"})
        assert (status, me["role"], me["school"]) == (200, "lead", "Elm Street Workshop School")
        made = body(
            client, "post", "/api/people", {"people": [{"username": "petrov", "first_name": "Ana", "role": "trainer"}]}
        )[1]
        trainer = Client()
        body(
            trainer,
            "post",
            "/api/session/link",
            {"token": made[0]["path"].split("#")[1], "password": "a quite new sentence"},
        )
        assert body(trainer, "get", "/api/lessons") == (200, [])

    @pytest.mark.parametrize(
        ("name", "lead", "sentence"), [("Test school", "somebody", "already"), ("New", "X y", "no sign-in name")]
    )
    def test_what_cannot_be_is_one_sentence(self, world: Any, name: str, lead: str, sentence: str) -> None:
        said = StringIO()
        with pytest.raises(SystemExit) as ended:
            call_command("school", name, lead=lead, stderr=said)
        assert ended.value.code == 2
        assert said.getvalue().startswith("leitfaden: ") and sentence in said.getvalue()
        assert School.objects.filter(name="New").count() == 0


class TestPeople:
    def test_a_whole_class_is_added_at_once_or_not_at_all(self, world: Any) -> None:
        lead = world.client("lead")
        people = [{"username": f"new-{k}"} for k in range(30)]
        status, answer = body(lead, "post", "/api/people", {"people": [*people, {"username": "learner"}]})
        assert (status, answer["code"]) == (422, "name_taken") and not Membership.objects.filter(
            user__username="new-0"
        ).exists()
        assert len(body(lead, "post", "/api/people", {"people": people})[1]) == 30

    def test_a_closed_account_is_signed_out_and_stays_out_until_it_is_opened(self, world: Any) -> None:
        learner = Client()
        body(learner, "post", "/api/session", {"username": "learner", "password": PASSWORD})
        assert body(world.client("lead"), "patch", "/api/people/learner", {"active": False})[1]["active"] is False
        assert body(learner, "get", "/api/session")[1] is None
        assert body(Client(), "post", "/api/session", {"username": "learner", "password": PASSWORD})[0] == 401
        body(world.client("lead"), "patch", "/api/people/learner", {"active": True})
        assert body(Client(), "post", "/api/session", {"username": "learner", "password": PASSWORD})[0] == 200

    def test_nobody_closes_their_own_account(self, world: Any) -> None:
        assert body(world.client("lead"), "patch", "/api/people/lead", {"active": False})[1]["code"] == "own_account"

    @pytest.mark.parametrize("who", ["other_learner", "nobody"])
    def test_people_of_other_schools_are_not_found(self, world: Any, who: str) -> None:
        assert body(world.client("lead"), "post", f"/api/people/{who}/link", {})[0] == 404


class TestRules:
    def test_every_limit_has_its_range_and_its_reason(self, world: Any) -> None:
        found = body(world.client("trainer"), "get", "/api/rules")[1]
        assert {rule["id"] for rule in found["rules"]} == set(RuleBook.model_fields) - {"own"}
        for rule in found["rules"]:
            assert rule["low"] <= rule["usual"] <= rule["high"] and len(rule["why"]) > 30 and rule["unit"]

    def test_a_change_is_a_new_version_and_the_old_one_stays(self, world: Any) -> None:
        lead = world.client("lead")
        values = body(lead, "get", "/api/rules")[1]["versions"][0]["values"]
        status, made = body(
            lead, "put", "/api/rules", {"number": 1, "values": values | {"trim_good": 3.0}, "note": "after a course"}
        )
        assert (status, made["number"], made["values"]["trim_good"]) == (200, 2, 3.0)
        versions = body(lead, "get", "/api/rules")[1]["versions"]
        assert [(v["number"], v["values"]["trim_good"]) for v in versions] == [(2, 3.0), (1, 5.0)]

    @pytest.mark.parametrize(
        ("values", "sentence"),
        [
            ({"trim_good": 12.0}, "must be smaller"),
            ({"trim_good": 0.0}, "allowed is 0.5 to 25 %"),
            ({"pressures_kpa": 300.0}, "allowed is 0.5 to 15 kPa"),
            ({"gremlins": 1.0}, "gremlins"),
            ({}, "Nothing has changed"),
        ],
    )
    def test_what_makes_no_sense_is_refused(self, world: Any, values: dict[str, float], sentence: str) -> None:
        status, answer = body(world.client("lead"), "put", "/api/rules", {"number": 1, "values": values})
        assert status == 422 and sentence in answer["message"]
        assert RulesVersion.objects.filter(school=world.members["lead"].school).count() == 1

    def test_two_leads_do_not_overwrite_each_other(self, world: Any) -> None:
        lead = world.client("lead")
        body(lead, "put", "/api/rules", {"number": 1, "values": {"trim_good": 4.0}})
        assert body(lead, "put", "/api/rules", {"number": 1, "values": {"trim_good": 3.0}})[0] == 409

    def test_a_verdict_on_the_bench_uses_and_prints_the_limits_in_force(self, world: Any) -> None:
        ask = {"channels": ["total_trim"], "faults": [{"kind": "manifold_vacuum_leak", "params": {"area_mm2": 2.0}}]}

        def reason() -> str:
            found = body(world.client("trainer"), "post", "/api/bench/run", ask)[1]["readings"]
            return next(row["reason"] for row in found if row["condition"] == "hot_idle")  # type: ignore[no-any-return]

        assert "good within ±5 %, investigate beyond ±10 %" in reason()
        body(
            world.client("lead"),
            "put",
            "/api/rules",
            {"number": 1, "values": {"trim_good": 4.0, "trim_investigate": 40.0}},
        )
        assert "good within ±4 %, investigate beyond ±40 %" in reason()

    def test_each_limit_reaches_the_judgement_that_uses_it(self) -> None:
        book = RuleBook(**{rule.id: (rule.low + rule.usual) / 2.0 for rule in RULES})
        used = [
            *vars(book.of_trims()).values(),
            *vars(book.of_relations()).values(),
            *vars(book.of_oxygen()).values(),
            book.victims,  # see test_together
        ]
        assert all(any(value == pytest.approx(getattr(book, rule.id)) for value in used) for rule in RULES)


class TestTrail:
    def test_it_names_who_published_and_who_got_it(self, world: Any) -> None:
        client = world.client("trainer")
        body(
            client,
            "put",
            f"/api/lessons/{world.lesson.pk}/draft",
            {"revision": 1, "document": world.document | {"title": "Second"}},
        )
        assert body(client, "post", f"/api/lessons/{world.lesson.pk}/publish", {"learners": ["learner"]})[0] == 200
        rows = body(world.client("lead"), "get", "/api/audit")[1]
        assert [(row["action"], row["what"]) for row in rows[:2]] == [
            ("assigned", "Second, version 2, to learner"),
            ("published", "Second, version 2"),
        ]
        assert rows[0]["who"] == "Trainer Test (trainer, trainer)"

    def test_signing_in_links_and_rules_leave_their_line(self, world: Any) -> None:
        body(Client(), "post", "/api/session", {"username": "lead", "password": PASSWORD})
        lead = world.client("lead")
        body(lead, "post", "/api/people/learner/link", {})
        body(lead, "put", "/api/rules", {"number": 1, "values": {"trim_good": 4.0}})
        actions = [row["action"] for row in body(lead, "get", "/api/audit")[1]]
        assert actions[:3] == ["changed_rules", "made_link", "signed_in"]

    def test_a_school_sees_only_its_own_and_pages_go_back(self, world: Any) -> None:
        school = world.members["lead"].school
        for k in range(130):
            AuditEntry.objects.create(school=school, who="x", action="signed_in", what=str(k))
        first = body(world.client("lead"), "get", "/api/audit")[1]
        second = body(world.client("lead"), "get", f"/api/audit?before={first[-1]['id']}")[1]
        assert len(first) == 100 and first[-1]["id"] > second[0]["id"]
        assert not any(row["who"] == "x" for row in body(world.client("other_lead"), "get", "/api/audit")[1])

    def test_a_line_cannot_be_changed(self, world: Any) -> None:
        entry = AuditEntry.objects.create(school=world.members["lead"].school, who="x", action="signed_in", what="")
        entry.who = "y"
        with pytest.raises(ValueError, match="never changes"):
            entry.save()
