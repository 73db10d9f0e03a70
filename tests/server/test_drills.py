"""Drills through the server: who sees which, one open item, answered once, figures for the right people."""

from itertools import pairwise
from typing import Any

import pytest

from drills.models import Standing, Trial
from server_helpers import body


@pytest.fixture
def drill(world: Any) -> int:
    made = body(world.client("trainer"), "post", "/api/drills", {"title": "Meters", "kinds": ["maf_under_read"]})
    assert made[0] == 200, made
    return int(made[1]["id"])


def said_right(trial: int) -> str:
    return str(Trial.objects.get(pk=trial).key["right"])


def take(client: Any, drill: int, right: bool = True, confidence: int = 75) -> dict[str, Any]:
    """One item, answered right or not."""
    item = body(client, "post", f"/api/drills/{drill}/next", {})[1]
    other = {"sound": "faulty", "faulty": "sound", "first": "second", "second": "first"}
    said = said_right(item["id"]) if right else other[said_right(item["id"])]
    status, told = body(client, "post", f"/api/drills/items/{item['id']}", {"said": said, "confidence": confidence})
    assert status == 200 and told["right"] is right
    return told  # type: ignore[no-any-return]


def test_a_lesson_becomes_a_drill_with_one_call(world: Any) -> None:
    made = body(world.client("trainer"), "post", "/api/drills", {"lesson": world.lesson.pk})[1]
    assert made["title"] == world.document["title"] and len(made["kinds"]) >= 2 and "Library bus" in made["engines"]
    seen = body(world.client("learner"), "get", "/api/drills")[1]
    assert [row["title"] for row in seen] == [world.document["title"]]
    assert body(world.client("other_learner"), "get", "/api/drills")[1] == []


def test_an_item_waits_until_it_is_answered_and_is_answered_once(world: Any, drill: int) -> None:
    learner = world.client("learner")
    first, again = (body(learner, "post", f"/api/drills/{drill}/next", {})[1] for _ in range(2))
    assert first == again and first["number"] == 1
    path = f"/api/drills/items/{first['id']}"
    wrong_form = "sound" if first["item"]["form"] == "pair" else "first"
    assert body(learner, "post", path, {"said": wrong_form, "confidence": 75})[0] == 422
    assert body(learner, "post", path, {"said": said_right(first["id"]), "confidence": 60})[0] == 422
    assert body(world.client("second_learner"), "post", path, {"said": "sound", "confidence": 75})[0] == 404
    assert body(learner, "post", path, {"said": said_right(first["id"]), "confidence": 75})[0] == 200
    status, refused = body(learner, "post", path, {"said": said_right(first["id"]), "confidence": 75})
    assert (status, refused["code"]) == (409, "answered")
    second = body(learner, "post", f"/api/drills/{drill}/next", {})[1]
    assert second["id"] != first["id"] and second["number"] == 2


def test_what_is_found_comes_smaller_and_later_and_what_is_missed_larger_and_sooner(world: Any, drill: int) -> None:
    good, bad = world.client("learner"), world.client("second_learner")
    for _ in range(40):  # sound engines move nothing: three faulty ones in a row may take a while
        take(good, drill, right=True, confidence=95)
        if Standing.objects.get(learner__username="learner").staircase.get("share", 1.0) < 1.0:
            break
    for _ in range(40):
        take(bad, drill, right=False)
        if Standing.objects.get(learner__username="second_learner").staircase.get("share", 1.0) > 1.0:
            break
    one, other = (
        Standing.objects.get(learner__username=name, kind="maf_under_read") for name in ("learner", "second_learner")
    )
    assert one.staircase["share"] < 1.0 < other.staircase["share"]
    assert one.due_at is not None and other.due_at is not None and one.due_at > other.due_at


def test_the_next_item_is_on_another_engine(world: Any, drill: int) -> None:
    learner = world.client("learner")
    engines = []
    for _ in range(4):
        engines.append(body(learner, "post", f"/api/drills/{drill}/next", {})[1]["item"]["engine"])
        take(learner, drill)
    assert all(one != following for one, following in pairwise(engines))


def test_figures_are_ones_own_for_a_learner_and_everybodys_for_a_trainer(world: Any, drill: int) -> None:
    learner = world.client("learner")
    for _ in range(3):
        take(learner, drill)
    take(world.client("second_learner"), drill, right=False)
    mine = body(learner, "get", f"/api/drills/{drill}/figures")[1]
    assert len(mine) == 1 and mine[0]["hits"] == mine[0]["faulty"] and mine[0]["false_alarms"] == 0
    assert mine[0]["pairs"] + mine[0]["faulty"] + mine[0]["sound"] == 3
    everybody = body(world.client("trainer"), "get", f"/api/drills/{drill}/figures")[1]
    assert {row["learner"] for row in everybody} == {"Learner Test", "Second_Learner Test"}


def test_a_learner_makes_a_drill_that_nobody_else_sees_and_no_lesson_is_told(world: Any) -> None:
    learner = world.client("learner")
    status, refused = body(learner, "post", "/api/drills", {"lesson": world.lesson.pk})
    assert status == 422 and "trainer" in refused["message"]
    made = body(learner, "post", "/api/drills", {"kinds": ["ect_offset"]})[1]
    assert made["own"] is True
    assert body(world.client("second_learner"), "get", "/api/drills")[1] == []
    assert body(world.client("second_learner"), "post", f"/api/drills/{made['id']}/next", {})[0] == 404
    assert body(learner, "delete", f"/api/drills/{made['id']}")[1] == []


def test_a_learner_does_not_delete_the_schools_drill(world: Any, drill: int) -> None:
    assert body(world.client("learner"), "delete", f"/api/drills/{drill}")[0] == 422
    assert body(world.client("trainer"), "delete", f"/api/drills/{drill}")[1] == []


@pytest.mark.parametrize("wish", [{}, {"kinds": ["gremlin"]}, {"lesson": 999}])
def test_a_drill_of_nothing_gets_a_sentence(world: Any, wish: dict[str, Any]) -> None:
    status, refused = body(world.client("trainer"), "post", "/api/drills", wish)
    assert status in {404, 422} and refused["message"]
