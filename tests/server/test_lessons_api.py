"""Lessons: drafts that keep what was typed, versions that never change, previews, the bench."""

import copy
from typing import Any

import pytest

from lessons.models import LessonVersion
from server_helpers import body


def test_a_changed_draft_is_stored_with_the_next_revision(world: Any) -> None:
    client, path = world.client("trainer"), f"/api/lessons/{world.lesson.pk}"
    changed = world.document | {"title": "Renamed"}
    status, answer = body(client, "put", f"{path}/draft", {"revision": 1, "document": changed})
    assert (status, answer["revision"], answer["draft"]["title"], answer["changed_since_version"]) == (
        200,
        2,
        "Renamed",
        True,
    )
    assert body(client, "get", path)[1]["draft"]["title"] == "Renamed"


def test_two_editors_do_not_overwrite_each_other(world: Any) -> None:
    path = f"/api/lessons/{world.lesson.pk}/draft"
    body(world.client("lead"), "put", path, {"revision": 1, "document": world.document | {"title": "By the lead"}})
    status, answer = body(
        world.client("trainer"), "put", path, {"revision": 1, "document": world.document | {"title": "By the trainer"}}
    )
    assert (status, answer["code"]) == (409, "conflict")
    assert "Lead Test has changed this lesson meanwhile" in answer["message"]


@pytest.mark.parametrize(
    ("part", "sentence"),
    [
        ({"faults": [{"kind": "gremlin", "params": {}}]}, "unknown fault kind 'gremlin'; known:"),
        (
            {"faults": [{"kind": "manifold_vacuum_leak", "params": {"area_mm2": 900}}]},
            "opening is 900 mm²; allowed is 0.1 to 200 mm²",
        ),
        ({"stations": "none"}, "lesson, stations"),
        ({"title": ""}, "lesson, title"),
    ],
)
def test_a_wrong_document_is_refused_and_the_stored_draft_stays(
    world: Any, part: dict[str, Any], sentence: str
) -> None:
    client = world.client("trainer")
    for method, path, data in (
        ("put", f"/api/lessons/{world.lesson.pk}/draft", {"revision": 1}),
        ("post", "/api/preview/station", {"station": 0}),
        ("post", "/api/preview/check", {}),
        ("post", "/api/preview/difficulty", {"station": 0}),
        ("post", "/api/lessons", {}),
    ):
        status, answer = body(client, method, path, data | {"document": world.document | part})
        assert status == 422 and sentence in answer["message"], path
    assert body(client, "get", f"/api/lessons/{world.lesson.pk}")[1]["draft"] == world.document


def test_publishing_makes_a_version_that_later_drafts_do_not_touch(world: Any) -> None:
    client, path = world.client("trainer"), f"/api/lessons/{world.lesson.pk}"
    body(client, "put", f"{path}/draft", {"revision": 1, "document": world.document | {"title": "Second"}})
    status, answer = body(client, "post", f"{path}/publish", {"learners": ["learner", "second_learner"]})
    assert (status, answer) == (200, {"number": 2, "title": "Second", "assigned": 2})
    body(client, "put", f"{path}/draft", {"revision": 2, "document": world.document | {"title": "Third"}})
    assert [v.document["title"] for v in LessonVersion.objects.order_by("number")] == [
        world.document["title"],
        "Second",
    ]


def test_a_version_cannot_be_saved_again(world: Any) -> None:
    with pytest.raises(ValueError, match="never changes"):
        world.lesson.versions.first().save()


def test_publishing_without_a_change_and_to_strangers_is_refused(world: Any) -> None:
    client, path = world.client("trainer"), f"/api/lessons/{world.lesson.pk}"
    assert body(client, "post", f"{path}/publish", {"learners": []})[1]["code"] == "nothing_changed"
    for name in ("other_learner", "lead", "ghost"):
        status, answer = body(client, "post", f"{path}/assign", {"learners": [name]})
        assert (status, answer["code"]) == (422, "unknown_learner")
        assert name in answer["message"]


def test_the_list_tells_how_far_each_lesson_is(world: Any) -> None:
    row = body(world.client("lead"), "get", "/api/lessons")[1][0]
    assert (row["title"], row["version"], row["changed_since_version"], row["assigned"], row["finished"]) == (
        world.document["title"],
        1,
        False,
        1,
        0,
    )
    assert body(world.client("other_lead"), "get", "/api/lessons")[1] == []


def test_the_preview_shows_what_the_learner_sees_and_the_key_apart(world: Any) -> None:
    client, ask = world.client("trainer"), {"document": world.document, "station": 3, "seed": 5}
    found = body(client, "post", "/api/preview/station", ask)[1]
    view, key = found["station"], found["key"]["parts"]
    assert len(view["readings"]) == len(key) == 6
    assert [r["value"] for r in view["readings"]] == [part["value"] for part in key]
    assert "verdict" not in view["readings"][0] and key[0]["verdict"]


def test_a_station_that_is_not_there_is_said(world: Any) -> None:
    status, answer = body(
        world.client("trainer"), "post", "/api/preview/station", {"document": world.document, "station": 9}
    )
    assert (status, answer["message"]) == (404, "The lesson has 5 stations; there is no station 10.")


def test_lanes_of_good_and_faulty_differ_and_share_their_time(world: Any) -> None:
    drawn = body(world.client("trainer"), "post", "/api/preview/station", {"document": world.document, "station": 1})[
        1
    ]["lanes"]
    lane = drawn["lanes"]["total_trim"]
    assert len(lane["run"]) == len(lane["good"]) == len(drawn["time"])
    assert lane["run"] != lane["good"]
    hidden = copy.deepcopy(world.document)
    hidden["stations"][1]["show_good"] = False
    alone = body(world.client("trainer"), "post", "/api/preview/station", {"document": hidden, "station": 1})[1][
        "lanes"
    ]
    assert alone["lanes"]["total_trim"]["good"] is None and alone["bands"] == []


def test_the_bench_answers_a_fault_with_lanes_readings_and_verdicts(world: Any) -> None:
    fault = {"kind": "manifold_vacuum_leak", "params": {"area_mm2": 2.0}}
    found = body(
        world.client("trainer"),
        "post",
        "/api/bench/run",
        {"faults": [fault], "channels": ["maf", "total_trim", "lambda_true"]},
    )[1]
    readings = {(r["condition"], r["channel"]): r for r in found["readings"]}
    assert readings["hot_idle", "total_trim"]["verdict"] == "faulty"
    assert readings["hot_idle", "total_trim"]["good"] < 5 < 15 < readings["hot_idle", "total_trim"]["value"]
    assert readings["wot_pull", "total_trim"]["verdict"] == "not_decidable"
    assert readings["decel_fuel_cut", "lambda_true"]["value"] is None
    assert {w["condition"] for w in found["windows"]} >= {"koeo", "hot_idle", "wot_pull"}


def test_the_bench_leaves_the_sound_engines_lanes_away_for_who_has_them_and_says_all_else_alike(world: Any) -> None:
    fault = {"kind": "manifold_vacuum_leak", "params": {"area_mm2": 2.0}}
    client, ask = world.client("trainer"), {"faults": [fault], "channels": ["maf", "total_trim"]}
    whole = body(client, "post", "/api/bench/run", ask)[1]
    own = body(client, "post", "/api/bench/run", ask | {"good": False})[1]
    assert all(lane.pop("good") for lane in whole["lanes"].values())
    assert [lane.pop("good") for lane in own["lanes"].values()] == [None, None]
    assert own == whole


@pytest.mark.parametrize(
    ("ask", "sentence"),
    [
        ({"channels": ["boost"]}, "unknown channel 'boost'"),
        ({"channels": []}, "channels"),
        ({"channels": ["maf"], "rig": "R9"}, "unknown rig 'R9'"),
        ({"channels": ["maf"], "faults": [{"kind": "x"}]}, "unknown fault kind 'x'"),
        (
            {"channels": ["maf"], "faults": [{"kind": "maf_under_read", "params": {"gain": 7}}]},
            "allowed is 0.3 to 0.99",
        ),
        ({"channels": ["maf"], "seed": -3}, "seed"),
        ({"channels": ["maf"], "seed": "many"}, "seed"),
    ],
)
def test_a_wrong_bench_request_gets_one_sentence(world: Any, ask: dict[str, Any], sentence: str) -> None:
    status, answer = body(world.client("trainer"), "post", "/api/bench/run", ask)
    assert status == 422 and sentence in answer["message"]


def test_the_bench_words_its_reasons_in_the_persons_units(world: Any) -> None:
    client = world.client("trainer")
    body(client, "patch", "/api/session", {"units": "imperial"})
    found = body(client, "post", "/api/bench/run", {"channels": ["ect"]})[1]
    idle = next(r for r in found["readings"] if r["condition"] == "hot_idle")
    assert "°F" in idle["reason"]


def test_learners_get_names_but_no_list_of_faults(world: Any) -> None:
    assert len(body(world.client("trainer"), "get", "/api/catalogue")[1]["faults"]) > 15
    learner = body(world.client("learner"), "get", "/api/catalogue")[1]
    assert learner["faults"] == [] and learner["onsets"] == [] and len(learner["channels"]) > 30
    assert all(rig["faults"] == {} for rig in learner["rigs"])


def test_the_list_of_aims_tells_what_learners_can_do_and_on_which_engines(world: Any) -> None:
    found = body(world.client("trainer"), "get", "/api/aims")[1]
    assert len(found) >= 60
    meter = next(aim for aim in found if aim["id"] == "maf-flat-error")
    assert meter["level"] == "journeyman" and meter["minutes"] == 50 and meter["can"].startswith("recognise")
    assert {"id": "R1", "ready": True} in [{"id": rig["id"], "ready": rig["ready"]} for rig in meter["rigs"]]


def test_an_aim_becomes_a_whole_lesson_that_can_be_kept_and_published(world: Any) -> None:
    client = world.client("trainer")
    wish = {"page": "ect", "rig": "R1", "level": "start", "minutes": 45}
    status, proposed = body(client, "post", "/api/lessons/propose", wish)
    assert status == 200 and len(proposed["document"]["stations"]) >= 8
    assert abs(proposed["minutes"] - 45) <= 5 and len(proposed["reasons"]) == 2
    kept = body(client, "post", "/api/lessons", {"document": proposed["document"]})[1]
    assert kept["draft"]["stations"][0]["minutes"] > 0
    for wrong in ({"page": "flux"}, {"rig": "R4x"}, {"level": "master"}, {"minutes": 2}, {"fault": "boost_leak"}):
        status, problem = body(client, "post", "/api/lessons/propose", wish | wrong)
        assert status in {404, 422} and problem["message"]


def test_a_warning_comes_with_changes_that_answer_it_and_the_words_are_read_too(world: Any) -> None:
    judge = next(station for station in world.document["stations"] if station["kind"] == "judge")
    said = "Two to three percent of oxygen in the exhaust is rich."
    stations = [judge | {"pool": judge["pool"][:2], "count": 6, "text": said}]
    status, answer = body(
        world.client("trainer"), "post", "/api/preview/check", {"document": world.document | {"stations": stations}}
    )
    assert status == 200
    found = {warning["code"]: warning for warning in answer["warnings"]}
    assert found["small_pool"]["remedies"][0]["station"] == {"count": 2}
    assert "clearly lean" in found["contradicted"]["text"]


def test_the_size_of_a_fault_is_a_dial_and_three_draws_are_shown(world: Any) -> None:
    at = next(k for k, station in enumerate(world.document["stations"]) if station["kind"] == "judge")
    status, answer = body(
        world.client("trainer"), "post", "/api/preview/difficulty", {"document": world.document, "station": at}
    )
    assert status == 200
    assert len(answer["draws"]) == 3
    assert any(size["share"] == 1.0 for size in answer["dial"])
    larger = answer["dial"][-1]["remedy"]
    changed = world.document | larger["lesson"]
    assert changed["faults"][0]["kind"] == world.document["faults"][0]["kind"]
    assert changed["faults"] != world.document["faults"]
