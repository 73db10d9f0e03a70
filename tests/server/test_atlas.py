"""The atlas, its drawings and cards, the glossary and the search over the API."""

from typing import Any

import pytest

from leitfaden_core.explore import drawings, showing
from server_helpers import body
from server_world import World, open_bench


def ask(world: World, path: str, who: str = "learner", data: Any = None) -> tuple[int, Any]:
    return body(world.client(who), "get" if data is None else "post", path, data)


def test_the_index_tells_which_engines_have_what(world: World) -> None:
    status, index = ask(world, "/api/atlas")
    by_id = {page["id"]: page for page in index["pages"]}
    assert status == 200 and by_id["wideband"]["rigs"] == ["R3", "R3-MAF", "R4-WIDE"]
    assert {drawing["id"] for drawing in index["drawings"]} == set(drawings.ids())


def test_a_page_is_that_of_the_engine_asked_for_or_of_one_that_has_it(world: World) -> None:
    assert ask(world, "/api/atlas/pages/map_sensor?rig=R6")[1]["rig"] == "R6"
    assert ask(world, "/api/atlas/pages/map_sensor?rig=R1")[1]["rig"] == "R2"
    status, page = ask(world, "/api/atlas/pages/map_sensor")
    assert (
        status == 200 and page["tests"][1]["cautions"] and "{" not in str([fault["look"] for fault in page["faults"]])
    )


def test_good_values_follow_the_schools_switch_for_learners(world: World) -> None:
    assert ask(world, "/api/atlas/pages/iat", "trainer")[1]["good"]
    assert ask(world, "/api/atlas/pages/iat")[1]["good"] == []
    open_bench(world)
    assert ask(world, "/api/atlas/pages/iat")[1]["good"]


@pytest.mark.parametrize("name", ["divider", "both_oxygen"])
def test_a_drawing_shows_what_the_core_computes(world: World, name: str) -> None:
    drawing = drawings.get(name)
    hands = dict(drawing.poses[1].hands)
    status, shown = ask(world, f"/api/atlas/drawings/{name}", data={"hands": hands})
    assert status == 200 and shown["numbers"] == showing(drawing, hands).numbers
    assert ask(world, f"/api/atlas/drawings/{name}")[1]["poses"][1]["hands"] == hands


@pytest.mark.parametrize(
    ("path", "data"),
    [
        ("/api/atlas/pages/flux", None),
        ("/api/atlas/pages/iat?rig=R77", None),
        ("/api/atlas/drawings/flux", {"hands": {}}),
        ("/api/atlas/drawings/divider", {"hands": {"celsius": 9000}}),
        ("/api/atlas/drawings/divider", {"hands": {"plug": "loose"}}),
        ("/api/atlas/drawings/divider", {"hands": {"celsius": "hot"}}),
        ("/api/atlas/drawings/divider", {"hands": {f"h{k}": k for k in range(40)}}),
        ("/api/atlas/circuits/flux?rig=R1", None),
        ("/api/atlas/schools/s02x", None),
        ("/api/atlas/schools/s22", None),
        ("/api/search", None),
        (f"/api/search?words={'x' * 200}", None),
    ],
)
def test_what_cannot_be_gets_a_sentence(world: World, path: str, data: Any) -> None:
    status, problem = ask(world, path, data=data)
    assert status in {404, 422} and problem["message"]


def test_a_cards_switch_is_answered_by_the_engines(world: World) -> None:
    status, told = ask(world, "/api/atlas/schools/s53")
    rows = {(row["option"], row["channel"]): row["value"] for row in told["rows"]}
    assert status == 200 and rows["hot idle", "map"] < 0.4 * rows["hot idle", "charge_pressure"]
    assert rows["full load", "map"] == pytest.approx(rows["full load", "charge_pressure"], rel=0.03)


def test_a_circuit_has_its_four_states(world: World) -> None:
    status, states = ask(world, "/api/atlas/circuits/ect?rig=R2")
    assert status == 200 and [state["id"] for state in states] == ["key_on", "key_on_off", "running", "running_off"]


def test_the_search_and_the_glossary_answer_everybody(world: World) -> None:
    status, found = ask(world, "/api/search?words=heat%20soak")
    assert status == 200 and found[0]["title"] == "Heat soak"
    assert any("block learn" in term["also"] for term in ask(world, "/api/glossary")[1])
