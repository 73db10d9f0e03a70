"""A client's end of a bench's line, for tests of the server."""

import asyncio
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
from config.asgi import application
from server_helpers import body
from server_world import World

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


@pytest.fixture
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
