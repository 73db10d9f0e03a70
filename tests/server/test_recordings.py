"""A person's recordings: kept from a bench, given away as files, read back, and nobody else's."""

from typing import Any

import pytest

from api.problems import Computing
from benches.models import Bench, Doing
from benches.services import open_bench
from jobs.models import Computation
from leitfaden_core.live import Beginning
from leitfaden_core.rigs import Rig
from server_helpers import body
from server_world import World

NAMES = ["rpm", "maf", "ect", "lambda_true"]


@pytest.fixture
def bench(world: World) -> Bench:
    """Fifteen seconds of an engine whose throttle was snapped after five."""
    row = open_bench(member=world.members["trainer"], beginning=Beginning(rig="R1", seed=2))
    Doing.objects.create(
        bench=row, number=0, frame=500, change="00000000-0000-4000-8000-000000000001", doing={"do": "snap"}
    )
    Bench.objects.filter(pk=row.pk).update(frame=1500)
    return row


def recorded(world: World, bench: Bench, **changed: Any) -> tuple[int, Any]:
    wish = {"name": "snap", "first": 300, "last": 1200, "channels": NAMES} | changed
    return body(world.client("trainer"), "post", f"/api/benches/{bench.pk}/record", wish)


@pytest.mark.parametrize("kind", ["csv", "mf4"])
def test_a_stretch_is_kept_given_away_and_read_back(world: World, bench: Bench, kind: str) -> None:
    status, row = recorded(world, bench)
    assert status == 200 and row["seconds"] == pytest.approx(9.0, abs=0.02)
    client = world.client("trainer")
    lanes = body(client, "get", f"/api/recordings/{row['id']}/lanes")[1]
    assert max(lanes["lanes"]["rpm"]) > 3000 > 1200 > lanes["lanes"]["rpm"][0]

    file = client.get(f"/api/recordings/{row['id']}/file?format={kind}")
    assert file.status_code == 200 and f".{kind}" in file.headers["Content-Disposition"]
    again = client.post(
        "/api/recordings?name=back&rig=R1",
        data=file.content,
        content_type="application/octet-stream",
        headers={"X-Change-Id": "00000000-0000-4000-8000-00000000000a"},
    )
    assert again.status_code == 200, again.content
    back = body(client, "get", f"/api/recordings/{again.json()['id']}/lanes")[1]
    assert set(again.json()["channels"]) == set(NAMES)
    assert back["lanes"]["rpm"] == pytest.approx(lanes["lanes"]["rpm"], rel=1e-4)
    assert [entry["name"] for entry in body(client, "get", "/api/recordings")[1]] == ["back", "snap"]
    left = body(client, "delete", f"/api/recordings/{row['id']}")[1]
    assert [entry["name"] for entry in left] == ["back"]


@pytest.mark.parametrize(
    "changed",
    [
        {"first": 900, "last": 900},
        {"first": 0, "last": 10**6},
        {"channels": ["no_such"]},
        {"channels": []},
        {"name": ""},
        {"first": -1},
    ],
)
def test_a_stretch_that_is_none_is_refused(world: World, bench: Bench, changed: dict[str, Any]) -> None:
    status, problem = recorded(world, bench, **changed)
    assert 400 <= status < 500 and problem["message"]


@pytest.mark.parametrize(
    "content",
    [
        b"",
        b"\xff\xfe\x00junk",
        b"time [s],maf [g/s]\n0,1\n1,many\n",
        b"time [s],mood\n0,1\n1,2\n",
        b"MDF     4.10    " + bytes(300),
        b"a" * 5000,
    ],
)
def test_a_file_that_cannot_be_read_says_why(world: World, content: bytes) -> None:
    answer = world.client("trainer").post(
        "/api/recordings?name=x&rig=R1",
        data=content,
        content_type="application/octet-stream",
        headers={"X-Change-Id": "00000000-0000-4000-8000-00000000000b"},
    )
    assert answer.status_code == 422 and answer.json()["message"]
    assert body(world.client("trainer"), "get", "/api/recordings")[1] == []


def test_recordings_are_their_persons_own(world: World, bench: Bench) -> None:
    number = recorded(world, bench)[1]["id"]
    for stranger in ("lead", "other_trainer"):
        client = world.client(stranger)
        assert body(client, "get", "/api/recordings") == (200, [])
        assert body(client, "get", f"/api/recordings/{number}/lanes")[0] == 404
        assert client.get(f"/api/recordings/{number}/file?format=csv").status_code == 404
        assert body(client, "delete", f"/api/recordings/{number}")[0] == 404
        assert (
            body(
                client,
                "post",
                f"/api/benches/{bench.pk}/record",
                {"name": "x", "first": 0, "last": 9, "channels": NAMES},
            )[0]
            == 404
        )


KEPT = {
    "instrument": "vacuum_gauge",
    "place": "manifold",
    "condition": "hot_idle",
    "what": "vacuum_gauge",
    "label": "vacuum gauge",
    "value": 55.0,
}


def test_a_kept_reading_is_judged_in_the_persons_units(world: World) -> None:
    status, verdict = body(world.client("trainer"), "post", "/api/rigs/R1/judged", KEPT)
    assert status == 200 and verdict["verdict"] == "faulty"
    assert "kPa vacuum" in verdict["reason"]


def test_kept_readings_are_held_against_each_other_by_the_schools_limits(world: World) -> None:
    def read(channel: str, label: str, value: float) -> dict[str, Any]:
        way = {"instrument": "scan_tool", "place": channel, "condition": "koeo", "stood_h": 12.0}
        return way | {"what": channel, "label": label, "value": value}

    readings = [read("ect", "ECT", 20.0), read("iat", "IAT", 27.0)]
    got, found = body(world.client("trainer"), "post", "/api/rigs/R1/judged-together", {"readings": readings})
    assert got == 200 and [relation["verdict"] for relation in found["relations"]] == ["suspect"]
    assert found["tests"] and all(test["minutes"] > 0 for test in found["tests"])

    values = body(world.client("lead"), "get", "/api/rules")[1]["versions"][0]["values"]
    wider = {"number": 1, "values": values | {"temperatures_k": 10.0}}
    assert body(world.client("lead"), "put", "/api/rules", wider)[0] == 200
    got, found = body(world.client("trainer"), "post", "/api/rigs/R1/judged-together", {"readings": readings})
    assert [relation["verdict"] for relation in found["relations"]] == ["good"]


def test_for_a_variant_tests_are_named_once_its_causes_have_been_simulated(
    world: World, monkeypatch: pytest.MonkeyPatch
) -> None:
    def no_sheet_yet(rig: Rig) -> None:
        raise Computing(0.4, "40 of 200 engines")

    way = {"instrument": "scan_tool", "condition": "koeo", "stood_h": 12.0}
    read = {"ect": 20.0, "iat": 27.0}
    readings = [
        way | {"place": name, "what": name, "label": name.upper(), "value": value} for name, value in read.items()
    ]
    path = "/api/rigs/R1-MAP/judged-together"
    monkeypatch.setattr("benches.services.require_sheet", no_sheet_yet)
    got, found = body(world.client("trainer"), "post", path, {"readings": readings})
    assert got == 200 and found["relations"] and found["known"] == 0.0 and found["tests"] == []
    assert not Computation.objects.filter(kind="all_causes").exists(), "they are read by the sheet"

    monkeypatch.setattr("benches.services.require_sheet", lambda rig: None)
    assert body(world.client("trainer"), "post", path, {"readings": readings})[1]["known"] == 0.0
    simulated = Computation.objects.get(kind="all_causes")
    assert simulated.wish == {"rig": "R1-MAP"} and simulated.state == Computation.State.QUEUED

    for told, shown in (({"share": 0.47}, 0.45), ({"share": 1.0, "state": Computation.State.FAILED}, 0.0)):
        Computation.objects.filter(pk=simulated.pk).update(**told)
        assert body(world.client("trainer"), "post", path, {"readings": readings})[1]["known"] == shown


@pytest.mark.parametrize(
    ("changed", "status", "sentence"),
    [
        ({"instrument": "divining rod"}, 422, "unknown instrument"),
        ({"place": "the moon"}, 422, "unknown place"),
        ({"condition": "asleep"}, 422, "condition"),
        ({"celsius": 900.0}, 422, "celsius"),
        ({"value": "much"}, 422, "value"),
    ],
)
def test_a_reading_that_cannot_be_gets_a_sentence(
    world: World, changed: dict[str, Any], status: int, sentence: str
) -> None:
    got, problem = body(world.client("trainer"), "post", "/api/rigs/R1/judged", KEPT | changed)
    assert got == status and sentence in problem["message"].lower(), problem


def test_a_stretch_becomes_a_lesson_whose_drive_runs_in_it(world: World, bench: Bench) -> None:
    client = world.client("trainer")
    Bench.objects.filter(pk=bench.pk).update(frame=4000)
    wish = {"bench": bench.pk, "name": "By hand", "first": 0, "last": 4000, "channels": ["rpm", "maf"]}
    status, made = body(client, "post", "/api/lessons/from-bench", wish)
    assert status == 200, made
    assert made["document"]["script"] == made["document"]["drives"][0]["id"] == "own_by_hand"
    status, lesson = body(client, "post", "/api/lessons", {"document": made["document"]})
    assert status == 200, lesson
    status, seen = body(client, "post", "/api/preview/station", {"document": lesson["draft"], "station": 0, "seed": 0})
    assert status == 200 and max(seen["lanes"]["lanes"]["rpm"]["run"]) > 3000
    assert {window["condition"] for window in seen["lanes"]["windows"]} == {"hot_idle"}


@pytest.mark.parametrize(
    ("changed", "sentence"),
    [
        ({"last": 10}, "no named condition"),
        ({"first": 900, "last": 300}, "stretch"),
        ({"channels": []}, "channels"),
        ({"channels": ["no_such"], "last": 4000}, "no_such"),
    ],
)
def test_a_stretch_that_makes_no_lesson_is_refused(
    world: World, bench: Bench, changed: dict[str, Any], sentence: str
) -> None:
    Bench.objects.filter(pk=bench.pk).update(frame=4000)
    wish = {"bench": bench.pk, "name": "By hand", "first": 0, "last": 1500, "channels": ["rpm"]} | changed
    status, problem = body(world.client("trainer"), "post", "/api/lessons/from-bench", wish)
    assert status == 422 and sentence in problem["message"], problem


def test_nobody_makes_a_lesson_of_anothers_bench(world: World, bench: Bench) -> None:
    wish = {"bench": bench.pk, "name": "x", "first": 0, "last": 900, "channels": ["rpm"]}
    assert body(world.client("lead"), "post", "/api/lessons/from-bench", wish)[0] == 404


class TestWorkedOut:
    """An instant of a recording as the inputs of a calculation."""

    def feed(self, world: World, number: int, working: str, query: str = "") -> tuple[int, Any]:
        return body(world.client("trainer"), "get", f"/api/recordings/{number}/feed/{working}{query}")

    def test_without_a_time_it_is_the_instant_of_the_highest_speed(self, world: World, bench: Bench) -> None:
        number = recorded(world, bench)[1]["id"]
        lanes = body(world.client("trainer"), "get", f"/api/recordings/{number}/lanes")[1]
        status, fed = self.feed(world, number, "volumetric_efficiency")
        assert status == 200 and float(fed["given"]["rpm"].split()[0]) == pytest.approx(
            max(lanes["lanes"]["rpm"]), abs=5
        )
        assert fed["sources"]["maf"].startswith("MAF, recorded at") and fed["given"]["L"].endswith("L")

    def test_all_values_are_of_the_instant_told(self, world: World, bench: Bench) -> None:
        number = recorded(world, bench)[1]["id"]
        early = self.feed(world, number, "volumetric_efficiency", "?at=0.5")[1]
        assert float(early["given"]["rpm"].split()[0]) < 1000.0 and early["at"] == pytest.approx(0.5, abs=0.02)

    def test_what_cannot_be_read_gets_a_sentence(self, world: World, bench: Bench) -> None:
        number = recorded(world, bench)[1]["id"]
        for working, query in (
            ("volumetric_efficiency", "?at=500"),
            ("alchemy", ""),
            ("volumetric_efficiency", "?at=-1"),
        ):
            status, problem = self.feed(world, number, working, query)
            assert status in {404, 422} and problem["message"]
        assert body(world.client("learner"), "get", f"/api/recordings/{number}/feed/air_density")[0] == 403
