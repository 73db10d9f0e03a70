"""The gate before the application: so many at once, the rest in order, slow lines hold no place."""

import asyncio
import json
from typing import Any

from config.gate import LARGEST_BODY, Gate

SCOPE = {"type": "http", "method": "POST", "path": "/api/anything"}


class Line:
    """One client's line."""

    def __init__(self, parts: list[bytes] | None = None) -> None:
        self.parts, self.sent = [b""] if parts is None else list(parts), []

    async def receive(self) -> dict[str, Any]:
        if not self.parts:
            return {"type": "http.disconnect"}
        part = self.parts.pop(0)
        return {"type": "http.request", "body": part, "more_body": bool(self.parts)}

    async def send(self, message: Any) -> None:
        self.sent.append(message)

    @property
    def status(self) -> int:
        return int(self.sent[0]["status"])


def test_no_more_requests_are_inside_than_there_are_places_and_all_are_answered() -> None:
    inside = most = 0

    async def application(scope: Any, receive: Any, send: Any) -> None:
        nonlocal inside, most
        inside += 1
        most = max(most, inside)
        await asyncio.sleep(0.001)
        inside -= 1
        await send({"type": "http.response.start", "status": 200, "headers": []})

    async def run() -> list[Line]:
        gate, lines = Gate(application, threads=3), [Line() for _ in range(50)]
        await asyncio.gather(*(gate(SCOPE, line.receive, line.send) for line in lines))
        return lines

    lines = asyncio.run(run())
    assert most == 3 and [line.status for line in lines] == [200] * 50


def test_a_place_is_free_again_as_soon_as_the_answer_begins() -> None:
    async def application(scope: Any, receive: Any, send: Any) -> None:
        await send({"type": "http.response.start", "status": 200, "headers": []})
        await scope["line"].wait()

    async def run() -> int:
        gate, slow = Gate(application, threads=1), asyncio.Event()
        lines = [Line() for _ in range(5)]
        tasks = [asyncio.create_task(gate(SCOPE | {"line": slow}, line.receive, line.send)) for line in lines]
        for _ in range(50):
            await asyncio.sleep(0)
        begun = sum(bool(line.sent) for line in lines)
        slow.set()
        await asyncio.gather(*tasks)
        return begun

    assert asyncio.run(run()) == 5


def test_more_than_may_wait_are_told_to_come_back() -> None:
    async def application(scope: Any, receive: Any, send: Any) -> None:
        await scope["door"].wait()
        await send({"type": "http.response.start", "status": 200, "headers": []})

    async def run() -> list[Line]:
        gate, door = Gate(application, threads=1, waiting=2), asyncio.Event()
        lines = [Line() for _ in range(6)]
        tasks = [asyncio.create_task(gate(SCOPE | {"door": door}, line.receive, line.send)) for line in lines]
        for _ in range(50):
            await asyncio.sleep(0)
        door.set()
        await asyncio.gather(*tasks)
        return lines

    lines = asyncio.run(run())
    assert sorted(line.status for line in lines) == [200, 200, 200, 503, 503, 503]
    refused = next(line for line in lines if line.status == 503)
    assert (b"retry-after", b"3") in refused.sent[0]["headers"] and json.loads(refused.sent[1]["body"])[
        "code"
    ] == "busy"


def test_a_body_that_is_too_large_never_gets_in_and_a_client_that_hangs_up_is_forgotten() -> None:
    async def application(scope: Any, receive: Any, send: Any) -> None:
        raise AssertionError("it got in")

    async def run() -> tuple[Line, Line]:
        gate, large, gone = Gate(application), Line([b"x" * (LARGEST_BODY // 2)] * 4), Line([])
        for line in (large, gone):
            await gate(SCOPE, line.receive, line.send)
        return large, gone

    large, gone = asyncio.run(run())
    assert large.status == 413 and gone.sent == []


def test_the_body_arrives_whole() -> None:
    async def application(scope: Any, receive: Any, send: Any) -> None:
        first = await receive()
        await send({"type": "http.response.start", "status": 200, "headers": [], "got": first["body"]})

    async def run() -> Line:
        line = Line([b"one ", b"two ", b"three"])
        await Gate(application)(SCOPE, line.receive, line.send)
        return line

    assert asyncio.run(run()).sent[0]["got"] == b"one two three"
