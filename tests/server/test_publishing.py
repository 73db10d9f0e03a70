"""Publishing computes every station for several learners first, and refuses station by station with the reason."""

from typing import Any

import pytest

from leitfaden_core.lessons import BUDGET, engines_asked_for, parse_lesson
from lessons.models import LessonVersion
from server_helpers import body


def publish(world: Any, change: dict[str, Any]) -> tuple[int, Any]:
    client, path = world.client("trainer"), f"/api/lessons/{world.lesson.pk}"
    status, answer = body(client, "put", f"{path}/draft", {"revision": 1, "document": world.document | change})
    assert status == 200, answer
    return body(client, "post", f"{path}/publish", {"learners": []})


def measure(name: str, condition: str, channel: str, stat: str = "mean") -> dict[str, Any]:
    return {
        "kind": "measure",
        "id": name,
        "title": name,
        "reading": {"condition": condition, "channel": channel, "stat": stat},
    }


def test_each_undefined_reading_is_named_at_its_station(world: Any) -> None:
    judge = {"kind": "judge", "id": "pool", "title": "A pool", "count": 1}
    stations = [
        measure("sound", "hot_idle", "maf"),
        measure("cut", "decel_fuel_cut", "lambda_true"),
        judge
        | {
            "pool": [
                {"condition": "hot_idle", "channel": "maf"},
                {"condition": "decel_fuel_cut", "channel": "lambda_true"},
            ]
        },
    ]
    status, answer = publish(world, {"stations": stations})
    assert (status, answer["code"]) == (422, "unpublishable")
    assert [problem["station"] for problem in answer["problems"]] == ["cut", "pool"]
    assert "is not defined at" in answer["problems"][0]["text"] and "cut: " in answer["problems"][0]["text"]
    assert LessonVersion.objects.count() == 1


def test_a_script_for_the_models_own_use_is_refused(world: Any) -> None:
    status, answer = publish(
        world, {"script": "settle_memory", "stations": [{"kind": "explain", "id": "a", "title": "a"}]}
    )
    assert status == 422 and "choose one of workshop_day" in answer["problems"][0]["text"]


def test_a_lesson_that_asks_for_too_many_engines_is_bounded_and_says_so(world: Any) -> None:
    conclude = next(station for station in world.document["stations"] if station["kind"] == "conclude")
    leak = {"kind": "manifold_vacuum_leak"}
    stations = [
        conclude | {"id": f"c-{n}", "causes": [leak | {"params": {"area_mm2": 1.0 + n + k / 10}} for k in range(8)]}
        for n in range(40)
    ]
    assert engines_asked_for(parse_lesson(world.document | {"stations": stations})) > BUDGET
    status, answer = publish(world, {"stations": stations})
    assert status == 422 and f"{BUDGET} is the limit" in answer["problems"][0]["text"]
    checked = body(
        world.client("trainer"), "post", "/api/preview/check", {"document": world.document | {"stations": stations}}
    )[1]
    assert "were not checked" in checked["warnings"][0]["text"]


def test_a_cause_that_this_engine_cannot_have_is_refused_by_name(world: Any) -> None:
    conclude = next(station for station in world.document["stations"] if station["kind"] == "conclude")
    causes = [{"kind": "wastegate_stuck", "params": {"opening_percent": 50.0}}, None]
    status, answer = body(
        world.client("trainer"),
        "put",
        f"/api/lessons/{world.lesson.pk}/draft",
        {"revision": 1, "document": world.document | {"stations": [conclude | {"causes": causes}]}},
    )
    assert status == 422 and "does not exist on rig R1" in answer["message"]


def test_the_demo_lesson_is_publishable(world: Any) -> None:
    assert publish(world, {"title": "Again"})[0] == 200


@pytest.mark.parametrize("path", ["/api/preview/station", "/api/bench/run"])
def test_an_engine_without_a_value_sheet_gets_one_in_the_background_and_says_so(
    world: Any, path: str, settings: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    settings.JOBS_INLINE = False
    monkeypatch.setattr("simulations.sheets.has_sheet", lambda rig_id: False)
    ask = {
        "/api/preview/station": {"document": world.document | {"rig": "R1-HZ"}, "station": 0},
        "/api/bench/run": {"rig": "R1-HZ", "channels": ["maf"]},
    }[path]
    status, answer = body(world.client("trainer"), "post", path, ask)
    assert (status, answer["code"]) == (202, "computing")
