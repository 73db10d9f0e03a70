"""What a bench keeps to itself: under a cover, while a book is closed, and of its twin."""

import asyncio
import json
import uuid
from typing import Any

import numpy as np
import pytest

from bench_line import BREAK, LEAK, Line, opened
from benches.schemas import KeptIn
from benches.sealed import bench_reading, sealed
from leitfaden_core.instruments.instrument import Shown
from server_helpers import body
from server_world import World

pytestmark = [pytest.mark.django_db(transaction=True), pytest.mark.usefixtures("new_process")]


def test_a_closed_book_keeps_verdicts_from_a_learners_bench_and_the_line_stays(world: World) -> None:
    body(world.client("lead"), "patch", "/api/school", {"learners_bench": True})
    version = world.assignment.version
    version.document |= {"closed_book": True}
    type(version).objects.filter(pk=version.pk).update(document=version.document)
    number = opened(world, "learner")

    async def run(judged: str) -> None:
        async with Line(world, "learner", number) as wire:
            opening = (await wire.hear("opened"))["opened"]
            assert bool(opening["bands"]) == (judged == "judged")
            await wire.say(judge=["maf"])
            heard = await wire.hear("judged", "wrong")
            assert judged in heard, heard
            assert "done" in await wire.do({"do": "pull_plug", "circuit": "iat"})

    asyncio.run(run("judged"))
    assert body(world.client("learner"), "post", f"/api/assignments/{world.assignment.pk}/attempt", {})[0] == 200
    asyncio.run(run("wrong"))


def test_what_the_twin_showed_comes_back_sealed_when_a_reading_is_judged(world: World) -> None:
    """A hot start soaks the intake with heat: a sound engine's display is far from what a drive leaves behind."""
    number = opened(world)
    scan = {"instrument": "scan_tool", "place": "iat", "condition": "hot_idle", "options": {}, "seed": 0}

    async def read() -> Any:
        async with Line(world, "trainer", number) as wire:
            await wire.say(pace=10)
            while True:
                await wire.say(id=str(uuid.uuid4()), measure=scan)
                (seen,) = (await wire.hear("measured"))["observation"]["shown"]
                if seen["sealed"]:
                    return seen

    seen = asyncio.run(read())
    assert str(seen["value"]) not in seen["sealed"]
    reading = {key: scan[key] for key in ("instrument", "place", "condition")} | {"what": "iat", "label": "IAT"}
    reading |= {"value": seen["value"], "sealed": seen["sealed"]}

    def verdict(**more: str) -> tuple[int, Any]:
        return body(world.client("trainer"), "post", "/api/rigs/R1/judged", reading | more)

    assert verdict()[1]["verdict"] == "not_decidable"
    assert verdict(sealed="")[1]["verdict"] == "faulty"
    for damaged in (seen["sealed"][:-4] + "AAAA", "ü" * 40, "x"):
        status, refused = verdict(sealed=damaged)
        assert status == 422 and "read it again" in refused["message"]


@pytest.mark.parametrize("value", [None, float("inf"), float("nan"), 35.0])
def test_whatever_a_twin_shows_can_be_sealed(value: float | None) -> None:
    """A meter on an open circuit shows no number."""
    kept = {"instrument": "multimeter", "place": "a/b", "condition": "koeo", "what": "x", "label": "x"}
    back = bench_reading(KeptIn(**kept, sealed=sealed(Shown("x", "x", value, text="OL")))).twin
    assert back is not None and (back.value, back.text) == (35.0 if value == 35.0 else None, "OL")


class TestCovered:
    """A bench that a station gives: its engine keeps its secret, over the line and everywhere else."""

    @pytest.fixture
    def covered(self, world: World) -> int:
        station = {
            "kind": "live",
            "id": "s",
            "title": "Find it",
            "channels": ["rpm", "total_trim"],
            "hands": ["hoses"],
            "instruments": ["inspection"],
        }
        document = {"title": "t", "rig": "R1", "faults": [LEAK], "stations": [station]}
        wish = {"document": document, "station": 0, "seed": 3}
        status, row = body(world.client("trainer"), "post", "/api/preview/bench", wish)
        assert status == 200, row
        return int(row["id"])

    def test_nothing_that_it_tells_betrays_the_fault_or_the_truth(self, world: World, covered: int) -> None:
        async def run() -> None:
            async with Line(world, "trainer", covered) as wire:
                told = (await wire.hear("opened"))["opened"]
                assert told["beginning"]["faults"] == [] and told["vehicle"]["faults"] == []
                assert told["marks"]["parted"] == [] and told["now"]["twin"] == {}
                assert "leak" not in json.dumps({k: told[k] for k in ("beginning", "vehicle", "marks", "events")})
                await wire.say(watch=["rpm", "total_trim"], number=1)
                _head, values = await wire.values(watch=1)
                assert np.isfinite(values[0]).all() and np.isnan(values[1]).all()
                await wire.say(past={"first": 0, "last": 10**9, "points": 400})
                assert np.isnan((await wire.values(kind=1))[1][1]).all()
                now = (await wire.hear("now"))["now"]
                assert "rpm" in now["values"] and not {"rpm_true", "maf_true", "map_v"} & set(now["values"])
                assert now["twin"] == {} and (await wire.hear("marks"))["marks"]["parted"] == []
                for hidden in ("rpm_true", "map_v"):
                    await wire.say(watch=[hidden], number=2)
                    assert (await wire.hear("wrong"))["wrong"]["code"] == "unknown_name"
                await wire.say(id=str(uuid.uuid4()), circuit="maf")
                wires = (await wire.hear("wires", "refused"))["wires"]
                assert wires and all(joint["volts"] is None for wire in wires for joint in wire["joints"])

        asyncio.run(run())

    def test_only_what_the_station_lets_be_touched_is(self, world: World, covered: int) -> None:
        async def run() -> None:
            async with Line(world, "trainer", covered) as wire:
                await wire.hear("opened")
                assert "done" in await wire.do({"do": "hold_speed", "rpm": 2500})
                assert "done" in await wire.do({"do": "close_hose", "hose": "purge hose"})
                take_out = {"do": "take_fault", "name": "fault 1"}
                good_part = {"do": "fit_part", "part": "airflow meter"}
                for doing in (BREAK, take_out, good_part, {"do": "pull_plug", "circuit": "map"}):
                    refused = await wire.do(doing)
                    assert refused["code"] == "covered", doing
                place = {"place": "", "condition": "hot_idle", "options": {}, "seed": 0}
                await wire.say(id=str(uuid.uuid4()), measure={"instrument": "multimeter"} | place)
                assert (await wire.hear("measured", "refused"))["code"] == "covered"

        asyncio.run(run())

    def test_it_is_no_bench_of_ones_own_and_nothing_of_it_is_taken_along(self, world: World, covered: int) -> None:
        trainer = world.client("trainer")
        assert covered not in [row["id"] for row in body(trainer, "get", "/api/benches")[1]]
        stretch = {"name": "x", "first": 0, "last": 200, "channels": ["maf_true"]}
        assert body(trainer, "post", f"/api/benches/{covered}/record", stretch)[0] == 404
        assert body(trainer, "delete", f"/api/benches/{covered}")[0] == 404
