"""Calculations over the interface: from what is typed, and from what an engine shows."""

from typing import Any

import pytest

from leitfaden_core.workings import workings
from server_helpers import body
from server_world import World

GIVEN = {"maf": "70 g/s", "rpm": "5200 rpm", "t": "20 °C", "p": "101.3 kPa", "L": "1.6 L"}


def worked(world: World, name: str, given: dict[str, str], who: str = "learner", **more: Any) -> tuple[int, Any]:
    return body(world.client(who), "post", f"/api/workings/{name}", {"given": given} | more)


def test_all_calculations_are_offered_with_their_inputs(world: World) -> None:
    status, told = body(world.client("learner"), "get", "/api/workings")
    assert status == 200
    assert {entry["id"] for entry in told} == {working.id for working in workings}
    assert all(entry["inputs"] and entry["why"] for entry in told)


def test_each_step_stands_with_formula_numbers_result_and_slips(world: World) -> None:
    status, sheet = worked(world, "volumetric_efficiency", GIVEN)
    assert status == 200
    assert sheet["used"]["rpm"] == "5200 1/min"
    last = sheet["steps"][-1]
    # 70 / (5200 / 120 * 1.6 * 1.2038) = 83.9 % by hand, with the density of air at 20 °C and 101.3 kPa
    assert last["shown"] == "83.9 %"
    assert "\\frac{100 \\cdot 70}" in last["numbers"]
    assert any("Upside down" in slip["words"] for slip in last["slips"])
    assert sheet["meaning"]


def test_the_curve_is_that_of_the_asked_input(world: World) -> None:
    status, sheet = worked(world, "volumetric_efficiency", GIVEN, over="rpm")
    drawn = sheet["curve"]
    assert status == 200 and drawn["symbol"] == "rpm" and drawn["unit"] == "1/min"
    assert drawn["result"] == sorted(drawn["result"], reverse=True)


def test_units_of_another_set_are_told_beside(world: World) -> None:
    user = world.members["learner"].user
    user.units = "imperial"
    user.save()
    _status, sheet = worked(world, "three_rulers", {"p_abs": "31 kPa", "p": "29.92 inHg"})
    assert sheet["steps"][0]["in_units"].endswith("inHg")


@pytest.mark.parametrize(
    ("given", "sentence"),
    [
        ({}, "is missing"),
        (GIVEN | {"maf": "70"}, "unit"),
        (GIVEN | {"maf": "70 bananas"}, "bananas"),
        (GIVEN | {"rpm": "900000 rpm"}, "1/min"),
        (GIVEN | {"x": "1"}, "unknown input"),
    ],
)
def test_a_number_that_cannot_be_gets_a_sentence(world: World, given: dict[str, str], sentence: str) -> None:
    status, problem = worked(world, "volumetric_efficiency", given)
    assert status == 422 and sentence in problem["message"], problem


def test_an_engine_gives_its_own_numbers_and_says_where_they_come_from(world: World) -> None:
    path = "/api/workings/volumetric_efficiency/feed?rig=R1&condition=wot_pull"
    status, fed = body(world.client("trainer"), "get", path)
    assert status == 200 and set(fed["given"]) == set(GIVEN)
    assert "highest speed before the lift" in fed["sources"]["maf"] and fed["sources"]["L"] == "Library bus"
    status, sheet = worked(world, "volumetric_efficiency", fed["given"])
    assert status == 200 and 70.0 < float(sheet["steps"][-1]["shown"].split()[0]) < 95.0


@pytest.mark.parametrize(
    "path",
    [
        "no_such/feed?rig=R1&condition=hot_idle",
        "air_density/feed?rig=R9&condition=hot_idle",
        "air_density/feed?rig=R1&condition=asleep",
    ],
)
def test_what_nobody_knows_is_told(world: World, path: str) -> None:
    status, problem = body(world.client("trainer"), "get", f"/api/workings/{path}")
    assert status in {404, 422} and problem["message"]
