"""Good against faulty over the API: as the core says it, refused in words, closed to learners whose bench is closed."""

from typing import Any

import pytest

from leitfaden_core.faults import FaultSpec
from leitfaden_core.judge import by_sight, signature
from leitfaden_core.rigs import load_rig
from server_helpers import body
from server_world import World, open_bench

LEAK = {"kind": "manifold_vacuum_leak", "params": {"area_mm2": 3.0}}


def post(world: World, path: str, data: Any, who: str = "trainer") -> tuple[int, Any]:
    return body(world.client(who), "post", path, data)


def test_a_signature_is_that_of_the_model(world: World) -> None:
    status, told = post(world, "/api/signatures", {"rig": "R2", "faults": [LEAK]})
    expected = by_sight(signature(load_rig("R2"), [FaultSpec.model_validate(LEAK)]))
    assert status == 200 and [(d["condition"], d["channel"]) for d in told["departures"]] == [
        (d.condition, d.channel) for d in expected
    ]
    assert told["words"] == ["Air leak behind the throttle (3 mm²)"]


def test_two_faults_at_once_show_what_both_do(world: World) -> None:
    both = [{"kind": "maf_under_read", "params": {"gain": 0.8}}, LEAK]
    told = post(world, "/api/signatures", {"rig": "R1", "faults": both})[1]
    assert len(told["words"]) == 2 and "P0171" in told["codes"]
    assert any(entry["symptom"] == "lamp" or "lamp" in entry["label"] for entry in told["noticed"])


def test_look_alikes_come_with_what_separates_them(world: World) -> None:
    fault = {"kind": "maf_under_read", "params": {"gain": 0.92}}
    status, told = post(world, "/api/signatures/alike", {"rig": "R1", "fault": fault})
    assert (
        status == 200
        and told["alike"]
        and all(entry["separated_by"] and entry["minutes"] > 0 for entry in told["alike"])
    )
    assert told["smallest"][0]["share"] is not None


def test_the_matrix_holds_the_faults_of_the_group(world: World) -> None:
    status, told = body(world.client("trainer"), "get", "/api/rigs/R2/matrix?group=temperature")
    rows = {row["candidate"]: row for row in told["rows"]}
    assert status == 200 and "thermostat_stuck_open" in rows
    assert any(cell.startswith("ect") for cell in rows["thermostat_stuck_open"]["cells"].values())


def test_trim_steps_of_a_diesel_are_none_and_its_leak_places_some(world: World) -> None:
    told = body(world.client("trainer"), "get", "/api/rigs/R4/steps")[1]
    assert told["columns"] == [] and told["places"]


@pytest.mark.slow
def test_a_symptom_leads_to_the_faults_that_cause_it(world: World) -> None:
    status, causes = post(world, "/api/symptoms/causes", {"rig": "R1", "told": ["no_start:hot_restart"]})
    assert status == 200 and {cause["candidate"].split(":")[0] for cause in causes}


@pytest.mark.parametrize(
    ("path", "data"),
    [
        ("/api/signatures", {"rig": "R1", "faults": []}),
        ("/api/signatures", {"rig": "R9", "faults": [LEAK]}),
        ("/api/signatures", {"rig": "R1", "faults": [{"kind": "rust", "params": {}}]}),
        ("/api/signatures", {"rig": "R1", "faults": [{"kind": "manifold_vacuum_leak", "params": {"area_mm2": -4}}]}),
        ("/api/signatures", {"rig": "R2", "faults": [{"kind": "maf_under_read", "params": {"gain": 0.8}}]}),
        ("/api/signatures/alike", {"rig": "R1", "fault": {"kind": "boost_leak", "params": {}}}),
        ("/api/symptoms/causes", {"rig": "R1", "told": ["sad"]}),
        ("/api/symptoms/causes", {"rig": "R1", "told": []}),
    ],
)
def test_what_cannot_be_asked_gets_a_sentence(world: World, path: str, data: Any) -> None:
    status, problem = post(world, path, data)
    assert status in {404, 422} and problem["message"]


@pytest.mark.parametrize("query", ["matrix?group=everything", "steps?size=7"])
def test_unknown_groups_and_sizes_get_a_sentence(world: World, query: str) -> None:
    status, problem = body(world.client("trainer"), "get", f"/api/rigs/R1/{query}")
    assert status == 422 and problem["message"]


def test_learners_ask_only_where_their_bench_is_open(world: World) -> None:
    assert post(world, "/api/signatures", {"rig": "R1", "faults": [LEAK]}, "learner")[0] == 403
    open_bench(world)
    assert post(world, "/api/signatures", {"rig": "R1", "faults": [LEAK]}, "learner")[0] == 200
