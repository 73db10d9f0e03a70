"""Value sheets on the screen, in other air, as a table, and beside a school's own service values."""

import csv
import io
import re
from typing import Any

import pytest

from leitfaden_core.expect import load_sheet
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.rigs import load_rig
from people.models import AuditEntry
from server_helpers import body
from server_world import World
from values.paper import on_paper

OWN = {"condition": "hot_idle", "channel": "map", "low": "28 kPa", "high": "34 kPa", "source": "service book, 2024"}


def sheet(world: World, query: str = "", rig: str = "R2") -> dict[str, Any]:
    status, told = body(world.client("trainer"), "get", f"/api/rigs/{rig}/values?{query}")
    assert status == 200, told
    return told


def median(told: dict[str, Any], channel: str) -> float:
    return next(row for row in told["rows"] if row["channel"] == channel)["stats"]["mean"]["median"]


def test_a_sheet_is_that_of_the_model(world: World) -> None:
    told = sheet(world, "condition=hot_idle")
    band = load_sheet(load_rig("R2")).bands["hot_idle", "map", "mean"]
    row = next(row for row in told["rows"] if row["channel"] == "map")
    assert row["stats"]["mean"] == {"low": band.low, "high": band.high, "median": band.median}
    assert row["width"].startswith("Its width comes from") and not told["estimated"]
    assert {"hot_idle", "koeo", "cruise_80"} <= set(told["conditions"])


def test_other_air_moves_the_bands_and_says_that_it_is_an_estimate(world: World) -> None:
    here, there = sheet(world), sheet(world, "altitude=2000&celsius=10")
    assert there["estimated"] and there["kpa"] == pytest.approx(79.5, abs=0.5)
    assert median(there, "map") < median(here, "map")
    richer = sheet(world, "ethanol=0.3")
    assert median(richer, "injector_ms") > 1.06 * median(here, "injector_ms")


@pytest.mark.parametrize(
    "query", ["condition=asleep", "celsius=900", "altitude=-5", "ethanol=2", "altitude=high", "celsius=nan"]
)
def test_air_that_cannot_be_gets_a_sentence(world: World, query: str) -> None:
    status, problem = body(world.client("trainer"), "get", f"/api/rigs/R2/values?{query}")
    assert status == 422 and problem["message"]


def test_an_engine_that_nobody_knows_is_told(world: World) -> None:
    assert body(world.client("trainer"), "get", "/api/rigs/R99/values")[0] in {404, 422}


def test_a_service_value_stands_beside_the_computed_one_in_its_school_only(world: World) -> None:
    client = world.client("trainer")
    status, kept = body(client, "put", "/api/rigs/R2/service-values", OWN)
    assert status == 200, kept
    assert [(row["low"], row["high"], row["source"]) for row in kept] == [(28.0, 34.0, "service book, 2024")]
    # Another one for the same place takes its place; inches of mercury are kilopascal.
    status, kept = body(client, "put", "/api/rigs/R2/service-values", OWN | {"low": "9 inHg", "high": "10 inHg"})
    assert [row["low"] for row in kept] == [pytest.approx(30.5, abs=0.1)]
    assert body(world.client("other_trainer"), "get", "/api/rigs/R2/service-values")[1] == []
    assert body(world.client("other_trainer"), "delete", f"/api/rigs/R2/service-values/{kept[0]['id']}")[0] == 404
    assert body(client, "delete", f"/api/rigs/R2/service-values/{kept[0]['id']}")[1] == []
    assert [entry.action for entry in AuditEntry.objects.filter(action__startswith="service")].count(
        "service_value"
    ) == 2


@pytest.mark.parametrize(
    ("changed", "sentence"),
    [
        ({"low": "28"}, "unit"),
        ({"low": "40 kPa"}, "above"),
        ({"low": "9 V"}, "V"),
        ({"high": "9000 kPa"}, "beyond what that can be"),
        ({"channel": "no_such"}, "no_such"),
        ({"condition": "asleep"}, "asleep"),
        ({"channel": "maf", "low": "1 g/s", "high": "2 g/s"}, "has no MAF"),
        ({"source": ""}, "source"),
    ],
)
def test_a_service_value_that_cannot_be_gets_a_sentence(world: World, changed: dict[str, str], sentence: str) -> None:
    status, problem = body(world.client("trainer"), "put", "/api/rigs/R2/service-values", OWN | changed)
    assert status == 422 and sentence in problem["message"], problem


def test_the_table_holds_the_whole_sheet_in_the_persons_units(world: World) -> None:
    client = world.client("trainer")
    body(client, "put", "/api/rigs/R2/service-values", OWN)
    answer = client.get("/api/rigs/R2/values/table")
    assert answer.status_code == 200 and "attachment" in answer.headers["Content-Disposition"]
    rows = list(csv.DictReader(io.StringIO(answer.content.decode())))
    assert len({row["condition"] for row in rows}) > 8
    (found,) = [r for r in rows if (r["condition"], r["channel"], r["statistic"]) == ("Hot idle", "MAP", "mean")]
    assert float(found["low"]) < float(found["median"]) < float(found["high"])
    assert (found["unit"], found["service value"], found["source"]) == (
        "kPa absolute",
        "28 to 34",
        "service book, 2024",
    )


@pytest.mark.parametrize("blank", ["false", "true"])
def test_the_sheet_goes_on_paper_with_the_schools_own_values(world: World, blank: str) -> None:
    client = world.client("trainer")
    body(client, "put", "/api/rigs/R2/service-values", OWN)
    answer = client.get(f"/api/rigs/R2/values/paper?blank={blank}&altitude=800")
    assert answer.status_code == 200 and answer.headers["Content-Type"] == "application/pdf"
    assert answer.content.startswith(b"%PDF-") and len(answer.content) > 20_000
    table = list(csv.DictReader(io.StringIO(client.get("/api/rigs/R2/values/table?altitude=800").content.decode())))
    made = on_paper(load_rig("R2"), [20.0, 92.0, 0.0], table, blank == "true", UnitSystem.METRIC)
    assert made.title == "Value sheet: Greenhouse van" and "92.0 kPa" in made.lines[1]
    idle = next(block for block in made.blocks if block.title == "Hot idle")
    assert ("Measured" in idle.rows[0]) == (blank == "true")
    [pressure] = [row for row in idle.rows if "28 to 34" in row[4]]
    assert pressure[0] == "MAP" and "service book, 2024" in pressure[4]
    assert next(row[2:4] for row in idle.rows if row[0] == "Fuel system status") == ["2 (closed loop)"] * 2
    # No moment of a signal that swings is at its mean: it has both, one within the other.
    swinging = [re.findall(r"\d+\.?\d*", row[2]) for row in idle.rows if row[2].startswith("swings")]
    assert swinging
    for low, high, mean_low, mean_high in swinging:
        assert float(low) < float(mean_low) <= float(mean_high) < float(high)


def test_verdicts_go_by_a_service_value_until_it_is_gone(world: World) -> None:
    client = world.client("trainer")
    wish = {
        "document": {
            "title": "t",
            "rig": "R2",
            "stations": [
                {
                    "kind": "measure",
                    "id": "read",
                    "title": "Read it",
                    "reading": {"condition": "hot_idle", "channel": "map"},
                }
            ],
        },
        "station": 0,
    }

    def verdict() -> tuple[str, str]:
        status, found = body(client, "post", "/api/preview/station", wish)
        assert status == 200, found
        [part] = found["key"]["parts"]
        return part["verdict"], part["reason"]

    before = verdict()
    assert before[0] == "good"
    kept = body(client, "put", "/api/rigs/R2/service-values", OWN | {"low": "10 kPa", "high": "12 kPa"})[1]
    kind, reason = verdict()
    assert kind == "faulty"
    assert "own service value" in reason and "service book, 2024" in reason
    rules = body(client, "get", "/api/rules")[1]
    assert rules["versions"][0]["number"] == 2 and set(rules["versions"][0]["values"]) == {
        r["id"] for r in rules["rules"]
    }
    body(client, "delete", f"/api/rigs/R2/service-values/{kept[0]['id']}")
    assert verdict() == before


def test_a_change_of_the_rules_keeps_the_service_values(world: World) -> None:
    body(world.client("trainer"), "put", "/api/rigs/R2/service-values", OWN)
    lead = world.client("lead")
    newest = body(lead, "get", "/api/rules")[1]["versions"][0]
    values = newest["values"] | {"trim_good": 4.0}
    assert body(lead, "put", "/api/rules", {"number": newest["number"], "values": values})[0] == 200
    assert [own.source for own in world.lesson.school.rules.book.own] == ["service book, 2024"]


def test_a_service_value_tells_the_vehicle_that_it_was_taken_at(world: World) -> None:
    client = world.client("trainer")
    kept = body(client, "put", "/api/rigs/R2/service-values", OWN | {"vehicle": "greenhouse van, left bay"})[1]
    assert kept[0]["vehicle"] == "greenhouse van, left bay"
    rows = list(csv.DictReader(io.StringIO(client.get("/api/rigs/R2/values/table").content.decode())))
    assert any(row["source"] == "service book, 2024, greenhouse van, left bay" for row in rows)


def test_the_full_sheet_of_a_population_takes_the_place_of_the_estimate(
    world: World, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("values.computations.MEMBERS", 6)
    estimate = sheet(world, "celsius=-10")
    status, _done = body(world.client("trainer"), "post", "/api/rigs/R2/values/full", {"air": {"celsius": -10}})
    full = sheet(world, "celsius=-10")
    assert status == 200 and estimate["estimated"] and not full["estimated"]
    assert median(full, "iat") == pytest.approx(median(estimate, "iat"), abs=4.0)
    assert sheet(world, "celsius=-12")["estimated"], "other air is still an estimate"
