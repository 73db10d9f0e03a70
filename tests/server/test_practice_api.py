"""A learner's way: stations open one after the other, answers are on disk before the next, nothing tells the key too
early.
"""

import json
from typing import Any
from uuid import uuid4

import pytest
from django.test import Client
from django.utils import timezone

from benches.models import Bench
from benches.services import keep_doing
from leitfaden_core.live import doing_of
from leitfaden_core.simulate import FRAME
from practice import puzzles
from practice.models import Assignment, Attempt, Entry, ItemKey
from practice.puzzles.making import made
from server_helpers import answer_station, body, right_answers, work_through
from server_world import open_bench


@pytest.fixture
def learner(world: Any) -> Client:
    return world.client("learner")


def test_the_whole_way_ends_in_a_debrief_with_reasons(world: Any, learner: Client, attempt: Attempt) -> None:
    work_through(learner, attempt, right_answers(attempt))
    assert body(learner, "post", f"/api/attempts/{attempt.pk}/finish", {})[1]["finished"] is True
    for client in (learner, world.client("trainer"), world.client("lead")):
        status, debrief = body(client, "get", f"/api/attempts/{attempt.pk}/debrief")
        assert (status, debrief["score"]) == (200, 100.0)
        assert debrief["cause"] == "Air leak behind the throttle (2 mm²)"
        assert all(part["reason"] for station in debrief["stations"] for part in station["parts"])
        assert "good within ±5 %" in debrief["rules"]


def test_stations_open_in_order(learner: Client, attempt: Attempt) -> None:
    assert body(learner, "get", f"/api/attempts/{attempt.pk}/stations/0")[0] == 200
    for path in ("stations/2", "stations/2/lanes"):
        status, answer = body(learner, "get", f"/api/attempts/{attempt.pk}/{path}")
        assert (status, answer["code"]) == (422, "not_open_yet")
    assert answer_station(learner, attempt, 3, {"verdicts": ["good"] * 6})[1]["code"] == "not_open_yet"
    heads = body(learner, "get", f"/api/attempts/{attempt.pk}")[1]["stations"]
    assert [head["open"] for head in heads] == [True, False, False, False, False]
    assert heads[4]["title"] == ""


def test_leaving_and_coming_back_goes_on_with_the_same_car(world: Any, learner: Client, attempt: Attempt) -> None:
    answers = right_answers(attempt)
    for index in range(3):
        answer_station(learner, attempt, index, answers[index])
    again = world.client("learner")
    assert body(again, "post", f"/api/assignments/{world.assignment.pk}/attempt", {})[1]["id"] == attempt.pk
    status, found = body(again, "get", f"/api/attempts/{attempt.pk}/stations/2")
    assert (status, found["answer"]) == (200, answers[2])
    assert body(again, "get", "/api/assignments")[1][0]["answered"] == 3


def test_every_answer_is_a_row_and_the_last_one_counts(learner: Client, attempt: Attempt) -> None:
    answers = right_answers(attempt)
    work_through(learner, attempt, answers)
    answer_station(learner, attempt, 2, {"reading": "3 %"})
    assert Entry.objects.filter(attempt=attempt, station=2).count() == 2
    body(learner, "post", f"/api/attempts/{attempt.pk}/finish", {})
    debrief = body(learner, "get", f"/api/attempts/{attempt.pk}/debrief")[1]
    measured = debrief["stations"][2]
    assert (measured["points"], measured["parts"][0]["given"]) == (0.0, "3 %")


def test_nothing_that_a_learner_can_fetch_holds_a_key_before_the_end(learner: Client, attempt: Attempt) -> None:
    answers, seen = right_answers(attempt), []
    for index in range(5):
        for path in (f"stations/{index}", f"stations/{index}/lanes", "", "debrief"):
            answer = learner.get(f"/api/attempts/{attempt.pk}/{path}".rstrip("/"))
            seen.append(answer.content.decode())
        if index < 4:
            answer_station(learner, attempt, index, answers[index])
    text = "\n".join(seen)
    for secret in (
        '"verdict":',
        '"explains"',
        "true_cause",
        "from_faulty",
        "area_mm2",
        "manifold_vacuum_leak",
        "band_low",
        '"reason"',
        '"score"',
        '"seed"',
    ):
        assert secret not in text


def test_the_debrief_waits_for_the_end_but_the_trainer_may_look(world: Any, learner: Client, attempt: Attempt) -> None:
    assert body(learner, "get", f"/api/attempts/{attempt.pk}/debrief")[1]["code"] == "not_finished"
    status, answer = body(world.client("trainer"), "get", f"/api/attempts/{attempt.pk}/debrief")
    assert status == 200 and answer["score"] is None


def test_finishing_needs_all_answers_and_closes_them(learner: Client, attempt: Attempt) -> None:
    assert body(learner, "post", f"/api/attempts/{attempt.pk}/finish", {})[1] == {
        "code": "unanswered",
        "message": "Station 1 has no answer yet.",
    }
    work_through(learner, attempt, right_answers(attempt))
    body(learner, "post", f"/api/attempts/{attempt.pk}/finish", {})
    status, answer = answer_station(learner, attempt, 2, {"reading": "3 %"})
    assert (status, answer["code"]) == (409, "finished")


def test_marks_stay_as_they_were_given(world: Any, learner: Client, attempt: Attempt) -> None:
    work_through(learner, attempt, right_answers(attempt))
    body(learner, "post", f"/api/attempts/{attempt.pk}/finish", {})
    wide = {"number": 1, "values": {"trim_good": 24.0, "trim_investigate": 50.0}, "note": "a generous school"}
    assert body(world.client("lead"), "put", "/api/rules", wide)[0] == 200
    assert body(learner, "get", f"/api/attempts/{attempt.pk}/debrief")[1]["score"] == 100.0


@pytest.mark.parametrize(
    ("index", "answer", "sentence"),
    [
        (2, {"reading": "24"}, "the unit is missing: 24 of what? Possible for fuel trim: %, count"),
        (2, {"reading": ""}, "no reading was given"),
        (2, {"reading": "24 kPa"}, "unknown unit 'kPa' for fuel trim"),
        (3, {"verdicts": ["good"]}, "judge all 6 readings"),
        (4, {"cause": "9"}, "no cause was chosen"),
        (4, {"points": 1}, "answer, points"),
        (4, {"cause": 3}, "answer, cause"),
    ],
)
def test_an_answer_that_cannot_be_marked_is_refused_and_not_stored(
    learner: Client, attempt: Attempt, index: int, answer: dict[str, Any], sentence: str
) -> None:
    good = right_answers(attempt)
    for before in range(index):
        answer_station(learner, attempt, before, good[before])
    status, refused = answer_station(learner, attempt, index, answer)
    assert status == 422 and sentence in refused["message"]
    assert not Entry.objects.filter(attempt=attempt, station=index).exists()


def test_a_lesson_that_is_not_assigned_cannot_be_started(world: Any) -> None:
    status, answer = body(world.client("second_learner"), "post", f"/api/assignments/{world.assignment.pk}/attempt", {})
    assert (status, answer["message"]) == (404, "This lesson is not assigned to you.")


def test_results_tell_missed_faults_and_condemned_good_ones_apart(
    world: Any, learner: Client, attempt: Attempt
) -> None:
    answers = right_answers(attempt)
    right = answers[3]["verdicts"]
    answers[3] = {"verdicts": ["good" if v == "faulty" else "faulty" if v == "good" else v for v in right]}
    work_through(learner, attempt, answers)
    body(learner, "post", f"/api/attempts/{attempt.pk}/finish", {})
    row = body(world.client("trainer"), "get", f"/api/lessons/{world.lesson.pk}/results")[1][0]
    assert (row["missed"], row["condemned"]) == (right.count("faulty"), right.count("good"))
    assert [p["kind"] for p in row["points"]] == ["measure", "judge", "conclude"]


def test_a_puzzle_of_the_first_minute_tells_one_reading_and_nothing_of_the_others(world: Any) -> None:
    for number in range(1, puzzles.COUNT + 1):
        asked = body(Client(), "get", f"/api/puzzles/{number}")[1]
        assert all(len(r["trace"]) > 100 for r in asked["readings"])
        assert "verdict" not in json.dumps(asked) and "reason" not in json.dumps(asked)
        told = [
            body(Client(), "post", f"/api/puzzles/{number}/answer", {"reading": reading["id"]})[1]
            for reading in asked["readings"]
        ]
        assert [answer["right"] for answer in told].count(True) == 1
        assert len({(answer["id"], answer["verdict"], answer["reason"]) for answer in told}) == 1
        assert told[0]["verdict"] in ("faulty", "suspect")
    for number in (0, puzzles.COUNT + 1):
        assert body(Client(), "get", f"/api/puzzles/{number}")[0] == 422


def test_the_puzzles_engine_is_none_that_a_lesson_could_have(world: Any) -> None:
    name = body(Client(), "get", "/api/puzzles/1")[1]["rig"]
    rigs = body(world.client("trainer"), "get", "/api/catalogue")[1]["rigs"]
    assert name not in {rig["name"] for rig in rigs}


@pytest.mark.slow
def test_the_puzzles_are_what_the_model_says() -> None:
    assert made() == json.loads(puzzles.KEPT.read_text(encoding="utf-8"))


LOOKS = (
    ("get", "/api/rigs/R1/values?condition=hot_idle", None),
    ("get", "/api/rigs/R1/values/table", None),
    ("get", "/api/rigs/R1/service-values", None),
    ("post", "/api/signatures", {"rig": "R1", "faults": [{"kind": "maf_under_read", "params": {"gain": 0.8}}]}),
    ("get", "/api/rigs/R1/steps", None),
    ("post", "/api/drills/1/next", {}),
    ("get", "/api/workings/air_density/feed?rig=R1&condition=hot_idle", None),
    (
        "post",
        "/api/rigs/R1/judged",
        {"instrument": "scan_tool", "place": "DLC", "what": "x", "label": "x", "condition": "hot_idle"},
    ),
    (
        "post",
        "/api/rigs/R1/judged-together",
        {
            "readings": [
                {
                    "instrument": "scan_tool",
                    "place": "maf",
                    "what": "maf",
                    "label": "MAF",
                    "condition": "koeo",
                    "value": 0.1,
                }
            ]
        },
    ),
)


class TestAClosedBook:
    """While a learner works on such a lesson, sound values and verdicts are closed for them, and for nobody else."""

    @pytest.fixture
    def closed(self, world: Any) -> Any:
        assert body(world.client("lead"), "patch", "/api/school", {"learners_bench": True})[0] == 200
        version = world.assignment.version
        version.document = version.document | {"closed_book": True}
        type(version).objects.filter(pk=version.pk).update(document=version.document)
        return world

    def good_of(self, client: Client) -> list[Any]:
        return body(client, "get", "/api/atlas/pages/hot_film_meter?rig=R1")[1]["good"]

    def test_is_open_before_and_after_and_closed_between(self, closed: Any, learner: Client) -> None:
        assert body(learner, *LOOKS[0])[0] == 200 and self.good_of(learner)
        number = body(learner, "post", f"/api/assignments/{closed.assignment.pk}/attempt", {})[1]
        assert number["closed_book"] is True
        for look in LOOKS:
            status, refused = body(learner, *look)
            assert (status, refused["code"]) == (403, "not_allowed") and closed.document["title"] in refused["message"]
        assert self.good_of(learner) == []
        attempt = Attempt.objects.get(pk=number["id"])
        work_through(learner, attempt, right_answers(attempt))
        body(learner, "post", f"/api/attempts/{attempt.pk}/finish", {})
        assert body(learner, *LOOKS[0])[0] == 200 and self.good_of(learner)

    def test_closes_it_for_nobody_else(self, closed: Any, learner: Client) -> None:
        body(learner, "post", f"/api/assignments/{closed.assignment.pk}/attempt", {})
        for other in ("second_learner", "trainer", "lead"):
            assert body(closed.client(other), *LOOKS[0])[0] == 200

    def test_an_open_book_stays_open(self, world: Any, learner: Client, attempt: Attempt) -> None:
        body(world.client("lead"), "patch", "/api/school", {"learners_bench": True})
        assert body(learner, "get", f"/api/attempts/{attempt.pk}")[1]["closed_book"] is False
        assert body(learner, *LOOKS[0])[0] == 200


class TestGiving:
    """How a version is given: closed, the debrief held, with somebody else's numbers; causes that differ."""

    def give(self, world: Any, **how: Any) -> Assignment:
        path = f"/api/lessons/{world.lesson.pk}/assign"
        assert body(world.client("trainer"), "post", path, {"learners": ["second_learner"], **how})[0] == 200
        return Assignment.objects.get(learner__username="second_learner")

    def test_who_was_ill_gets_the_numbers_of_another(self, world: Any) -> None:
        assert self.give(world, numbers_of="learner").seed == world.assignment.seed

    def test_numbers_of_somebody_without_them_are_refused_and_nothing_is_given(self, world: Any) -> None:
        path = f"/api/lessons/{world.lesson.pk}/assign"
        wish = {"learners": ["second_learner"], "numbers_of": "trainer"}
        status, answer = body(world.client("trainer"), "post", path, wish)
        assert status in (403, 409, 422) and "no numbers to repeat" in answer["message"]
        assert not Assignment.objects.filter(learner__username="second_learner").exists()

    def test_an_assignment_may_be_closed_though_its_lesson_is_open(self, world: Any) -> None:
        open_bench(world)
        given = self.give(world, closed_book=True)
        client = world.client("second_learner")
        look = ("get", "/api/rigs/R1/values?condition=hot_idle")
        assert body(client, *look)[0] == 200
        started = body(client, "post", f"/api/assignments/{given.pk}/attempt", {})[1]
        assert started["closed_book"] is True
        assert body(client, *look)[0] == 403

    def test_a_held_debrief_opens_for_all_when_the_trainer_says_so(self, world: Any) -> None:
        given = self.give(world, debrief_held=True)
        client = world.client("second_learner")
        started = body(client, "post", f"/api/assignments/{given.pk}/attempt", {})[1]
        Attempt.objects.filter(pk=started["id"]).update(finished_at=timezone.now())
        debrief = f"/api/attempts/{started['id']}/debrief"
        for path in (debrief, f"/api/attempts/{started['id']}/seen/0"):
            status, answer = body(client, "get", path)
            assert status == 422 and "opens the debrief for all" in answer["message"]
        assert body(world.client("trainer"), "get", debrief)[0] == 200  # trainers prepare it
        assert body(client, "get", "/api/assignments")[1][0]["debrief_held"] is True
        opened = body(world.client("trainer"), "post", f"/api/lessons/{world.lesson.pk}/debriefs", {})[1]
        assert opened == {"opened": 1}
        assert body(client, "get", debrief)[0] == 200


class TestBranches:
    """Two ways through one lesson, by the result at an earlier station."""

    @pytest.fixture
    def attempt(self, world: Any) -> Attempt:
        document = json.loads(json.dumps(world.document))
        branch = {"station": document["stations"][2]["id"], "percent": 60}
        document["stations"][3]["given_if"] = branch | {"result": "below"}
        document["stations"][4]["given_if"] = branch | {"result": "reached"}
        version = world.assignment.version
        type(version).objects.filter(pk=version.pk).update(document=document)
        status, started = body(world.client("learner"), "post", f"/api/assignments/{world.assignment.pk}/attempt", {})
        assert status == 200
        return Attempt.objects.get(pk=started["id"])

    def reach(self, learner: Client, attempt: Attempt, reading: str) -> int | None:
        """The station that comes after the one on which others hang."""
        for index in (0, 1):
            assert body(learner, "get", f"/api/attempts/{attempt.pk}/stations/{index}")[0] == 200
            assert answer_station(learner, attempt, index, {"seen": True})[0] == 200
        view = body(learner, "get", f"/api/attempts/{attempt.pk}/stations/2")[1]["station"]
        assert view["final"] is True
        status, stored = answer_station(learner, attempt, 2, {"reading": reading})
        assert status == 200
        return stored["next"]

    def test_who_reads_wrong_gets_the_one_station_and_who_reads_right_the_other(
        self, learner: Client, attempt: Attempt
    ) -> None:
        assert self.reach(learner, attempt, "70 %") == 3
        heads = body(learner, "get", f"/api/attempts/{attempt.pk}")[1]["stations"]
        assert [head["left_out"] for head in heads] == [False, False, False, False, True] and heads[4]["title"] == ""
        status, refused = body(learner, "get", f"/api/attempts/{attempt.pk}/stations/4")
        assert status == 404 and "way" in refused["message"]
        body(learner, "get", f"/api/attempts/{attempt.pk}/stations/3")
        assert answer_station(learner, attempt, 3, right_answers(attempt)[3])[1]["next"] is None
        assert body(learner, "post", f"/api/attempts/{attempt.pk}/finish", {})[1]["finished"] is True
        stations = body(learner, "get", f"/api/attempts/{attempt.pk}/debrief")[1]["stations"]
        assert [station["left_out"] for station in stations] == [False, False, False, False, True]
        assert stations[4]["points"] is None

    def test_the_right_reading_leads_past_the_help(self, learner: Client, attempt: Attempt) -> None:
        assert self.reach(learner, attempt, right_answers(attempt)[2]["reading"]) == 4

    def test_the_answer_on_which_others_hang_cannot_be_tried_again(self, learner: Client, attempt: Attempt) -> None:
        self.reach(learner, attempt, "70 %")
        status, refused = answer_station(learner, attempt, 2, {"reading": "1 %"})
        assert (status, refused["code"]) == (409, "final")
        assert Entry.objects.filter(attempt=attempt, station=2).count() == 1


class TestHandwork:
    """A piece of handwork is done step by step: what comes of a choice is told at once, and the choice stays."""

    @pytest.fixture
    def attempt(self, world: Any) -> Attempt:
        document = json.loads(json.dumps(world.document))
        document["stations"][0] = {"kind": "procedure", "id": "work", "title": "Work", "piece": "seized_sensor"}
        version = world.assignment.version
        type(version).objects.filter(pk=version.pk).update(document=document)
        body(world.client("learner"), "post", f"/api/assignments/{world.assignment.pk}/attempt", {})
        return Attempt.objects.get(assignment=world.assignment)

    def step(self, client: Client, attempt: Attempt, name: str, choice: str, index: int = 0) -> tuple[int, Any]:
        path = f"/api/attempts/{attempt.pk}/stations/{index}/steps"
        return body(client, "post", path, {"name": name, "choice": choice})

    def stages(self, attempt: Attempt) -> list[dict[str, Any]]:
        return list(ItemKey.objects.get(assignment=attempt.assignment, station=0).parts["metric"])

    def test_the_consequence_is_told_and_the_choice_stays(self, learner: Client, attempt: Attempt) -> None:
        station = body(learner, "get", f"/api/attempts/{attempt.pk}/stations/0")[1]
        assert station["steps"] == []
        first, second = self.stages(attempt)[:2]
        chosen, other = first["choices"][:2]
        told = self.step(learner, attempt, first["id"], chosen["id"])[1]
        assert told == {key: chosen[key] for key in ("comes", "hurts")} | {"name": "1", "choice": chosen["id"]}
        assert self.step(learner, attempt, first["id"], other["id"])[1] == told
        again = body(learner, "get", f"/api/attempts/{attempt.pk}/stations/0")[1]
        assert again["steps"] == [told]
        assert second["choices"][0]["comes"] not in json.dumps(again), "what was not done tells nothing"

    def test_an_answer_cannot_say_otherwise(self, learner: Client, attempt: Attempt) -> None:
        body(learner, "get", f"/api/attempts/{attempt.pk}/stations/0")
        stages = self.stages(attempt)
        worst = [min(stage["choices"], key=lambda choice: choice["worth"])["id"] for stage in stages]
        best = {stage["id"]: max(stage["choices"], key=lambda c: c["worth"])["id"] for stage in stages}
        self.step(learner, attempt, "1", worst[0])
        answer_station(learner, attempt, 0, {"heeded": True, "done": best})
        kept = Entry.objects.get(attempt=attempt, station=0).answer["done"]
        assert kept == best | {"1": worst[0]}

    @pytest.mark.parametrize(
        ("name", "choice", "index", "sentence"),
        [
            ("2", "0", 0, "no choice yet"),
            ("9", "0", 0, "unknown stage"),
            ("1", "9", 0, "unknown choice"),
            ("1", "0", 1, "opens when"),
        ],
    )
    def test_what_cannot_be_done_now_is_one_sentence(
        self, learner: Client, attempt: Attempt, name: str, choice: str, index: int, sentence: str
    ) -> None:
        body(learner, "get", f"/api/attempts/{attempt.pk}/stations/0")
        status, refused = self.step(learner, attempt, name, choice, index)
        assert status == 422 and sentence in refused["message"]

    def test_other_stations_have_no_steps(self, learner: Client, attempt: Attempt) -> None:
        body(learner, "get", f"/api/attempts/{attempt.pk}/stations/0")
        stages = self.stages(attempt)
        best = {stage["id"]: max(stage["choices"], key=lambda c: c["worth"])["id"] for stage in stages}
        answer_station(learner, attempt, 0, {"heeded": True, "done": best})
        body(learner, "get", f"/api/attempts/{attempt.pk}/stations/1")
        status, refused = self.step(learner, attempt, "1", "0", 1)
        assert status == 422 and "step by step" in refused["message"]


class TestRunningEngine:
    """A live station gives its learner an engine that keeps its secret, the same one until they want it anew."""

    @pytest.fixture
    def attempt(self, world: Any) -> Attempt:
        document = json.loads(json.dumps(world.document))
        document["stations"][0] = {"kind": "live", "id": "live", "title": "Run it", "channels": ["rpm"], "words": 1}
        version = world.assignment.version
        type(version).objects.filter(pk=version.pk).update(document=document)
        body(world.client("learner"), "post", f"/api/assignments/{world.assignment.pk}/attempt", {})
        return Attempt.objects.get(assignment=world.assignment)

    def bench(self, client: Client, attempt: Attempt, index: int = 0, anew: bool = False) -> tuple[int, Any]:
        return body(client, "post", f"/api/attempts/{attempt.pk}/stations/{index}/bench", {"anew": anew})

    def test_it_stays_the_same_until_it_is_put_up_anew(self, learner: Client, attempt: Attempt) -> None:
        first, again = self.bench(learner, attempt)[1], self.bench(learner, attempt)[1]
        assert first["id"] == again["id"] and first["name"] == "Run it"
        fresh = self.bench(learner, attempt, anew=True)[1]
        assert fresh["id"] != first["id"] and not Bench.objects.filter(pk=first["id"]).exists()
        [fault] = Bench.objects.get(pk=fresh["id"]).beginning["faults"]
        assert fault["kind"] == "manifold_vacuum_leak" and "faults" not in fresh

    def test_the_trainer_sees_afterwards_what_was_done_on_it(
        self, world: Any, learner: Client, attempt: Attempt
    ) -> None:
        bench = self.bench(learner, attempt)[1]["id"]
        for number, doing in enumerate([{"do": "turn_key", "to": "on"}, {"do": "close_hose", "hose": "breather"}]):
            keep_doing(bench, number, 100 * (1 + number), uuid4(), doing_of(doing))
        body(learner, "get", f"/api/attempts/{attempt.pk}/stations/0")
        answer_station(learner, attempt, 0, {"noticed": "it hunts"})
        seen = body(world.client("trainer"), "get", f"/api/attempts/{attempt.pk}/seen/0")[1]
        assert [act["words"] for act in seen["done"]] == ["key on", "clamped: breather"]
        assert [act["seconds"] for act in seen["done"]] == [100 * FRAME, 200 * FRAME]

    def test_other_stations_and_other_people_have_none(self, world: Any, learner: Client, attempt: Attempt) -> None:
        body(learner, "get", f"/api/attempts/{attempt.pk}/stations/0")
        answer_station(learner, attempt, 0, {"noticed": "it hunts"})
        assert self.bench(learner, attempt, 1)[0] == 404
        assert self.bench(learner, attempt, 3)[1]["code"] == "not_open_yet"
        assert self.bench(world.client("second_learner"), attempt)[0] == 404
