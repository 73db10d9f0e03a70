"""Running benches: what is done is kept before it is acknowledged, and whoever comes back finds the same engine."""

import asyncio
import itertools
import json
import struct
import uuid
from collections.abc import Callable, Iterator
from typing import Any

import numpy as np
import pytest
from asgiref.testing import ApplicationCommunicator
from django.db import connection

from benches import hosting, line
from benches.locks import Locks
from benches.models import Bench as BenchRow
from benches.models import Doing
from benches.schemas import KeptIn
from benches.sealed import bench_reading, sealed
from benches.services import kept
from benches.wire import past
from config.asgi import application
from leitfaden_core.instruments.instrument import Shown
from leitfaden_core.live import Beginning, Bench
from server_helpers import body
from server_world import World

pytestmark = pytest.mark.django_db(transaction=True)
LEAK = {"kind": "manifold_vacuum_leak", "params": {"area_mm2": 8.0}}
BREAK = {"do": "put_fault", "name": "leak", "fault": LEAK}
HEAD = 48
#: For an answer that is certain to come. [s]
LONGEST = 60.0


async def ask(question: Callable[[], Any]) -> Any:
    """Ask the database beside the event loop."""

    def asked() -> Any:
        try:
            return question()
        finally:
            connection.close()

    return await asyncio.to_thread(asked)


class Line:
    """A client's end of a line."""

    def __init__(self, world: World, person: str | None, bench: int, seen: int = 0) -> None:
        self.world, self.person, self.bench, self.seen = world, person, bench, seen

    async def __aenter__(self) -> "Line":
        headers = [(b"origin", b"http://testserver"), (b"host", b"testserver")]
        if self.person is not None:
            browser = await ask(lambda: self.world.client(self.person))
            headers.append((b"cookie", f"sessionid={browser.cookies['sessionid'].value}".encode()))
        scope = {
            "type": "websocket",
            "path": f"/ws/benches/{self.bench}",
            "query_string": f"seen={self.seen}".encode(),
            "headers": headers,
            "subprotocols": [],
        }
        self.wire = ApplicationCommunicator(application, scope)
        await self.wire.send_input({"type": "websocket.connect"})
        assert (await self.wire.receive_output(timeout=20))["type"] == "websocket.accept"
        return self

    async def __aexit__(self, *_: object) -> None:
        await self.wire.send_input({"type": "websocket.disconnect", "code": 1000})
        await self.wire.wait(timeout=20)

    async def say(self, **message: Any) -> None:
        await self.send(json.dumps(message))

    async def send(self, text: str) -> None:
        await self.wire.send_input({"type": "websocket.receive", "text": text})

    async def hear(self, *names: str) -> dict[str, Any]:
        """The next message that has one of these names; news come all the time, so the wait has an end of its own."""
        async with asyncio.timeout(LONGEST):
            return await self._hear(names)

    async def _hear(self, names: tuple[str, ...]) -> dict[str, Any]:
        while True:
            text = await self.wire.receive_output(timeout=20)
            assert text["type"] == "websocket.send", text
            if text.get("text"):
                message: dict[str, Any] = json.loads(text["text"])
                if any(name in message for name in names):
                    return message

    async def values(self, kind: int = 0, watch: int | None = None) -> tuple[Any, np.ndarray[Any, Any]]:
        """Head and values of the next block."""
        async with asyncio.timeout(LONGEST):
            return await self._values(kind, watch)

    async def _values(self, kind: int, watch: int | None) -> tuple[Any, np.ndarray[Any, Any]]:
        while True:
            got = await self.wire.receive_output(timeout=20)
            if got.get("bytes"):
                head = struct.unpack("<6d", got["bytes"][:HEAD])
                if head[0] == kind and watch in (None, head[1]):
                    return head, np.frombuffer(got["bytes"][HEAD:], dtype="<f4").reshape(2, -1, int(head[4]))

    async def do(self, doing: dict[str, Any], change: str | None = None) -> dict[str, Any]:
        """Do something; the answer."""
        await self.say(id=change or str(uuid.uuid4()), do=doing)
        return await self.hear("done", "refused", "wrong")


def opened(world: World, person: str = "trainer", **beginning: Any) -> int:
    status, row = body(world.client(person), "post", "/api/benches", {"beginning": {"rig": "R1"} | beginning})
    assert status == 200, row
    return int(row["id"])


Process = Callable[[], hosting.Host]


@pytest.fixture(autouse=True)
def new_process(monkeypatch: pytest.MonkeyPatch) -> Iterator[Process]:
    """Each test has a web process of its own with nothing in hand, and can have another."""
    made: list[hosting.Host] = []

    def make() -> hosting.Host:
        made.append(hosting.Host())
        monkeypatch.setattr(line, "host", made[-1])
        return made[-1]

    make()
    yield make
    for host in made:
        host._locks.close()


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
            heard = [event["doing"]["words"] for event in told]
            while heard[-1:] != [f"after {words}"]:
                heard.append((await wire.hear("event"))["event"]["doing"]["words"])
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


def test_an_instrument_is_put_to_the_running_engine_over_its_line(world: World) -> None:
    number = opened(world, rig="R2")
    pump = {"instrument": "hand_pump", "place": "MAP sensor", "condition": "koeo", "options": {"kPa": "40"}}

    async def run() -> None:
        async with Line(world, "trainer", number) as wire:
            await wire.say(id=str(uuid.uuid4()), measure=pump)
            seen = (await wire.hear("measured"))["observation"]
            assert [entry["label"] for entry in seen["shown"]][:2] == ["applied", "signal at the pin"]
            assert 1.0 < seen["shown"][1]["value"] < 4.5 and seen["cautions"] is not None
            for bad in ({}, 7, pump | {"instrument": "wand"}, pump | {"place": "moon"}, pump | {"options": {"x": "1"}}):
                await wire.say(id=str(uuid.uuid4()), measure=bad)
                told = await wire.hear("refused", "wrong")
                assert told.get("message") or told["wrong"]["message"]

    asyncio.run(run())


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
