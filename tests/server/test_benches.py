"""Running benches: what is done is kept before it is acknowledged, and whoever comes back finds the same engine."""

import asyncio
import itertools
import json
import struct
import uuid
from typing import Any

import pytest
from asgiref.testing import ApplicationCommunicator
from django.db import connection

from bench_line import BREAK, HEAD, LEAK, Line, Process, ask, opened
from benches import hosting, line
from benches.locks import Locks
from benches.models import Bench as BenchRow
from benches.models import Doing
from benches.services import kept
from benches.wire import past
from config.asgi import application
from leitfaden_core.live import Beginning, Bench
from server_helpers import body
from server_world import World

pytestmark = [pytest.mark.django_db(transaction=True), pytest.mark.usefixtures("new_process")]


def test_an_engine_runs_and_a_leak_by_hand_is_kept_before_it_is_acknowledged(world: World) -> None:
    number = opened(world)

    async def run() -> None:
        async with Line(world, "trainer", number) as wire:
            told = (await wire.hear("opened"))["opened"]
            assert told["rig"] == "R1" and told["vehicle"]["key"] == "on"
            await wire.say(watch=["rpm", "total_trim"], number=7)
            head, values = await wire.values(watch=7)
            assert head[1] == 7 and values.shape[:2] == (2, 2) and 500 < values[0, 0, -1] < 1200
            answer = await wire.do(BREAK)
            rows = await ask(lambda: list(Doing.objects.filter(bench=number).values("frame", "doing")))
            assert [row["frame"] for row in rows] == [answer["frame"]] and rows[0]["doing"]["name"] == "leak"
            await wire.say(pace=20)
            until = None
            while until is None or until["now"]["frame"] < answer["frame"] + 1500:
                until = await wire.hear("now")
            await wire.say(past={"first": 0, "last": 10**9, "points": 400})
            _head, past = await wire.values(kind=1)
            trim, twin = past[0, 1, -40:].mean(), past[1, 1, -40:].mean()
            assert trim > twin + 10.0

    asyncio.run(run())


def test_a_killed_process_loses_nothing_and_the_same_numbers_come_back(world: World, new_process: Process) -> None:
    number = opened(world, seed=5)
    acknowledged: list[int] = []

    async def life(kill: int) -> tuple[int, bytes]:
        async with Line(world, "trainer", number, seen=acknowledged[-1] if acknowledged else 0) as wire:
            told = (await wire.hear("opened"))["opened"]
            assert [event["frame"] for event in told["events"]] == acknowledged
            await wire.say(pace=50)
            await wire.say(watch=["rpm"], number=1)
            await wire.values()
            for rpm in (1500, 2000 + 10 * kill):
                acknowledged.append((await wire.do({"do": "hold_speed", "rpm": rpm}))["frame"])
            await wire.values()
            host = line.host
            state = host.hosted[number].bench
            # Killed: nothing is put in order, only the session with its locks ends.
            host._locks.close()
            return state.frame, state.machine.state.tobytes()

    for kill in range(5):
        asyncio.run(life(kill))
        new_process()
    row = kept(number)
    first, second = (Bench.replayed(row.beginning, row.journal, acknowledged[-1] + 500) for _ in range(2))
    assert [done.frame for done in row.journal] == acknowledged
    assert first.machine.state.tobytes() == second.machine.state.tobytes()


def test_a_repeat_does_nothing_and_gets_the_same_answer(world: World) -> None:
    number, change = opened(world), str(uuid.uuid4())

    async def run() -> None:
        async with Line(world, "trainer", number) as wire:
            first, again = await wire.do(BREAK, change), await wire.do(BREAK, change)
            assert first == again and first["done"] == change

    asyncio.run(run())
    assert Doing.objects.filter(bench=number).count() == 1


def test_two_tabs_see_the_same_bench_and_two_people_never_each_others(world: World) -> None:
    number = opened(world)

    async def run() -> None:
        async with Line(world, "trainer", number) as one, Line(world, "trainer", number) as two:
            await two.hear("opened")
            await one.do({"do": "mark", "words": "look here"})
            event = (await two.hear("event"))["event"]
            assert event["doing"]["words"] == "look here"
        for stranger, code in (("lead", "not_found"), ("other_trainer", "not_found"), ("learner", "not_found")):
            async with Line(world, stranger, number) as wire:
                assert (await wire.hear("closed"))["closed"]["code"] == code
        async with Line(world, None, number) as wire:
            assert (await wire.hear("closed"))["closed"]["code"] == "not_signed_in"

    asyncio.run(run())


def test_what_is_done_while_somebody_comes_in_is_told_to_them_once(world: World) -> None:
    number = opened(world)

    async def comes_in(words: str) -> list[str]:
        """How often somebody who comes in is told of a mark, until surely nothing of it can come any more."""
        async with Line(world, "trainer", number) as wire:
            told = (await wire.hear("opened"))["opened"]["events"]
            await wire.say(id=str(uuid.uuid4()), do={"do": "mark", "words": f"after {words}"})
            heard = [event["words"] for event in told]
            while heard[-1:] != [f"after {words}"]:
                heard.append((await wire.hear("event"))["event"]["words"])
            return [word for word in heard if word == words]

    async def run() -> None:
        async with Line(world, "trainer", number) as one:
            await one.hear("opened")
            for k in range(6):
                _done, heard = await asyncio.gather(one.do({"do": "mark", "words": f"{k}"}), comes_in(f"{k}"))
                assert heard == [f"{k}"]

    asyncio.run(run())


@pytest.mark.parametrize(
    ("text", "code"),
    [
        ("no json", "bad_message"),
        ("[]", "bad_message"),
        ("{}", "unknown_message"),
        ('{"do": {"do": "snap"}}', "no_id"),
        ('{"watch": ["no_such_channel"]}', "unknown_name"),
        ('{"watch": ' + json.dumps(["rpm"] * 200) + "}", "bad_message"),
        ('{"pace": "fast"}', "bad_message"),
        ('{"past": {"first": "x"}}', "bad_message"),
        ('{"past": 3}', "bad_message"),
        ("x" * 30_000, "bad_message"),
        ("[" * 3000, "bad_message"),
    ],
)
def test_a_bad_message_gets_a_sentence_and_the_line_stays(world: World, text: str, code: str) -> None:
    number = opened(world)

    async def run() -> None:
        async with Line(world, "trainer", number) as wire:
            await wire.send(text)
            wrong = (await wire.hear("wrong"))["wrong"]
            assert wrong["code"] == code and wrong["message"]
            assert "done" in await wire.do({"do": "snap"})

    asyncio.run(run())


@pytest.mark.parametrize(
    "doing", [{"do": "fly"}, {"do": "hold_speed", "rpm": 1e9}, {"do": "take_fault", "name": "none"}, 7]
)
def test_what_cannot_be_done_is_refused_and_not_kept(world: World, doing: Any) -> None:
    number = opened(world)

    async def run() -> None:
        async with Line(world, "trainer", number) as wire:
            refused = await wire.do(doing)
            assert "refused" in refused and refused["message"]

    asyncio.run(run())
    assert not Doing.objects.filter(bench=number).exists()


def test_a_client_that_never_reads_is_left_out_not_waited_for() -> None:
    async def run() -> None:
        viewer = hosting.Viewer()
        for _ in range(200):
            viewer.show(b"block")
        assert viewer.waiting.qsize() == hosting.MOST_BLOCKS and viewer.left_out == 200 - hosting.MOST_BLOCKS
        while not viewer.never_reads:
            viewer.tell({"news": 1})

    asyncio.run(run())


def test_a_night_goes_by_beside_the_event_loop_and_is_there_afterwards(world: World) -> None:
    number = opened(world)

    async def run() -> None:
        async with Line(world, "trainer", number) as wire:
            await wire.do({"do": "turn_key", "to": "off"})
            await wire.say(id=str(uuid.uuid4()), do={"do": "stand", "hours": 12})
            assert (await wire.hear("working"))["working"]["do"] == "stand"
            await wire.hear("done")
            await wire.do({"do": "turn_key", "to": "on"})
            ect = None
            while ect is None or ect > 60:
                ect = (await wire.hear("now"))["now"]["values"]["ect"]
            assert ect == pytest.approx(20.0, abs=4.0)

    asyncio.run(run())


def test_a_bench_in_another_process_is_reached_through_its_line(world: World, new_process: Process) -> None:
    number = opened(world)

    async def run() -> None:
        async with Line(world, "trainer", number) as first:
            await first.hear("opened")
            other = new_process()
            assert await other.take(number, 0) is None

    asyncio.run(run())


def test_benches_are_listed_opened_and_closed_by_their_person_only(world: World) -> None:
    number = opened(world)
    assert [row["id"] for row in body(world.client("trainer"), "get", "/api/benches")[1]] == [number]
    assert body(world.client("lead"), "get", "/api/benches")[1] == []
    assert body(world.client("lead"), "delete", f"/api/benches/{number}")[0] == 404
    assert body(world.client("trainer"), "delete", f"/api/benches/{number}")[0] == 200
    assert not BenchRow.objects.exists()
    for bad in ({"rig": "R99"}, {"rig": "R1", "faults": [{"kind": "no"}]}, {"rig": "R1", "seed": -1}, {}):
        status, problem = body(world.client("trainer"), "post", "/api/benches", {"beginning": bad})
        assert 400 <= status < 500 and problem["message"]


@pytest.mark.parametrize(("first", "last"), [(0, 0), (5, 2), (10**8, 10**9), (0, 2**31 - 1), (3, 9)])
def test_any_stretch_of_the_past_can_be_asked_for(first: int, last: int) -> None:
    bench = Bench(Beginning(rig="R1"))
    for frames in (0, 40, 7000):
        if frames:
            bench.go_to(frames)
        for points, channels in itertools.product((0, 2, 300), (["rpm", "maf"], [])):
            head = struct.unpack("<6d", past(bench, 4, channels, first, last, points, False)[:HEAD])
            assert head[:2] == (1, 4) and 0 <= head[5] <= frames


def test_learners_have_benches_where_their_school_allows_it_and_break_nothing(world: World) -> None:
    assert body(world.client("learner"), "get", "/api/session")[1]["bench"] is False
    assert body(world.client("learner"), "post", "/api/benches", {"beginning": {"rig": "R1"}})[0] == 403
    assert body(world.client("lead"), "patch", "/api/school", {"learners_bench": True})[0] == 200
    assert body(world.client("learner"), "get", "/api/session")[1]["bench"] is True
    number = opened(world, "learner")
    broken = {"beginning": {"rig": "R1", "faults": [LEAK]}}
    assert body(world.client("learner"), "post", "/api/benches", broken)[1]["code"] == "not_allowed"

    async def run() -> None:
        async with Line(world, "learner", number) as wire:
            assert "done" in await wire.do({"do": "pull_plug", "circuit": "iat"})
            brings = {"do": "fit_part", "part": "airflow meter", "brings": LEAK}
            for doing in (BREAK, {"do": "take_fault", "name": "leak"}, brings):
                assert (await wire.do(doing))["wrong"]["code"] == "not_allowed"
        async with Line(world, "second_learner", number) as wire:
            assert (await wire.hear("closed"))["closed"]["code"] == "not_found"

    asyncio.run(run())
    # And nobody sees a fault in the names that a learner's page is given.
    assert body(world.client("learner"), "get", "/api/catalogue")[1]["faults"] == []


def test_an_instrument_is_put_to_the_running_engine_over_its_line(world: World) -> None:
    number = opened(world, rig="R2")
    pump = {"instrument": "hand_pump", "place": "MAP sensor", "condition": "koeo", "options": {"kPa": "40"}}

    async def run() -> None:
        async with Line(world, "trainer", number) as wire:
            await wire.say(id=str(uuid.uuid4()), measure=pump)
            seen = (await wire.hear("measured"))["observation"]
            assert [entry["label"] for entry in seen["shown"]][:2] == ["applied", "signal at the pin"]
            assert 1.0 < seen["shown"][1]["value"] < 4.5 and seen["cautions"] is not None
            for bad, sentence in (
                ({}, "measure, instrument: is missing."),
                (7, "measure: must be a set of named values."),
                (pump | {"seed": "x"}, "measure, seed: must be a whole number."),
                (pump | {"instrument": "wand"}, "unknown instrument 'wand'"),
                (pump | {"place": "moon"}, "moon"),
                (pump | {"options": {"x": "1"}}, "'x'"),
            ):
                await wire.say(id=str(uuid.uuid4()), measure=bad)
                told = await wire.hear("refused", "wrong")
                assert sentence in (told.get("message") or told["wrong"]["message"])

    asyncio.run(run())


def test_a_machine_that_is_late_brings_several_ticks_at_once_and_one_that_was_away_runs_after_nothing() -> None:
    tick = hosting.TICK
    steady = hosting.Ticks(0.0)
    assert [steady.next(k * tick) for k in range(5)] == [(pytest.approx(tick), 1)] * 5
    # Steps that take three ticks and a half: nothing is left out, and nothing grows late.
    slow, now, brought = hosting.Ticks(0.0), 0.0, 0
    for _ in range(100):
        wait, ticks = slow.next(now)
        now += wait + 3.5 * tick
        brought += ticks
        assert now - brought * tick <= 4.5 * tick + 1e-9
    away = hosting.Ticks(0.0)
    assert [away.next(20.0), away.next(20.0)] == [(0.0, 1), (pytest.approx(tick), 1)]


def test_a_bench_whose_time_creeps_still_has_news(db: None) -> None:
    bench = Bench(Beginning(rig="R1"))
    for pace, number in ((0.04, 1), (0.01, 4), (1.0, 3)):
        hosted = hosting.Hosted(number, bench, {}, None)
        hosted.pace = pace
        told = 0
        for _ in range(400):
            frames = hosted.due(1, 1.0)
            if frames:
                hosted.step(frames)
                told += bool(hosted.news)
        assert told >= min(400 * pace, 75), f"x{pace}"


def test_a_process_that_gave_its_benches_back_has_lost_none(db: None) -> None:
    locks = Locks()
    assert locks.take(7)
    locks.close()
    assert locks.take(8) and locks.are_held()
    locks.close()


def test_locks_of_a_session_that_has_ended_are_known_to_be_lost(db: None) -> None:
    first, second = Locks(), Locks()
    assert first.take(7) and first.are_held() and not second.take(7)
    assert first._connection is not None
    # The server ends the session, as when it is killed: the lock is free, and its holder must hear of it once.
    with connection.cursor() as cursor:
        cursor.execute("select pg_terminate_backend(%s)", [first._connection.info.backend_pid])
    assert not first.are_held() and first.are_held()
    assert second.take(7)
    second.close()
    first.close()


def test_a_bench_that_cannot_be_stepped_does_not_stop_the_others() -> None:
    class Broken:
        def step(self, frames: int) -> None:
            raise ValueError("boom")

    class Sound:
        steps = 0

        def step(self, frames: int) -> None:
            self.steps += frames

    broken, sound = Broken(), Sound()
    failed = hosting._step_all([(broken, 5), (sound, 5)])  # type: ignore[list-item]
    assert list(failed) == [broken] and sound.steps == 5


def test_a_page_of_another_site_gets_no_line(world: World) -> None:
    number = opened(world)
    cookie = f"sessionid={world.client('trainer').cookies['sessionid'].value}".encode()

    async def run() -> None:
        for origin in (b"https://elsewhere.example", b"null"):
            scope = {
                "type": "websocket",
                "path": f"/ws/benches/{number}",
                "query_string": b"",
                "headers": [(b"origin", origin), (b"host", b"testserver"), (b"cookie", cookie)],
                "subprotocols": [],
            }
            wire = ApplicationCommunicator(application, scope)
            await wire.send_input({"type": "websocket.connect"})
            assert (await wire.receive_output(timeout=20))["type"] == "websocket.close"

    asyncio.run(run())
