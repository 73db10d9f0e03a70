"""A gate before the application: so many requests are worked on at once, so many wait, the rest are told to come back.

Each request has a thread of its own while it is worked on, and each thread may ask for a database connection; without a
bound a class that answers at once opens hundreds of them. A request passes the gate when its body is complete, and
leaves it when its answer begins, so that a slow line holds no place.
"""

import asyncio
import json
from collections.abc import Awaitable, Callable
from typing import Any

from api.problems import problem
from leitfaden_core.words import say

Receive = Callable[[], Awaitable[Any]]
Send = Callable[[Any], Awaitable[None]]
Application = Callable[[Any, Receive, Send], Awaitable[None]]
#: Requests worked on at once in this process; more threads than that only take turns. Connections are bounded by the
#: pool (settings).
THREADS = 12
#: Requests that may wait at the gate: a full class in the same second, twice over.
WAITING = 400
LARGEST_BODY = 2_000_000
#: Where larger bodies come in: pictures, and lessons with pictures inside.
LARGEST_FILE, FILES = 12_000_000, frozenset({"/api/pictures", "/api/packages"})
BODY_SECONDS = 30.0


class Gate:
    """Bounds the requests that are inside."""

    def __init__(self, application: Application, threads: int = THREADS, waiting: int = WAITING) -> None:
        self.application, self.waiting = application, waiting
        self.places = asyncio.Semaphore(threads)
        self.queued = 0

    async def __call__(self, scope: Any, receive: Receive, send: Send) -> None:
        """One request."""
        if scope["type"] != "http":
            await self.application(scope, receive, send)
            return
        largest = LARGEST_FILE if scope.get("path") in FILES else LARGEST_BODY
        try:
            body = await asyncio.wait_for(_whole_body(receive, largest), BODY_SECONDS)
        except TimeoutError:
            await _refuse(send, 408, "slow_request", "The request did not arrive completely; send it again.")
            return
        if body is None:
            return
        if len(body) > largest:
            await _refuse(send, 413, "too_big", say("The request is larger than {most:g} MB.", most=largest / 1e6))
            return
        if self.queued >= self.waiting:
            await _refuse(send, 503, "busy", "The server has more to do than it can; try again in a few seconds.", 3)
            return
        await self._pass(scope, body, receive, send)

    async def _pass(self, scope: Any, body: bytes, receive: Receive, send: Send) -> None:
        self.queued += 1
        try:
            await self.places.acquire()
        finally:
            self.queued -= 1
        inside, given = True, False

        def leave() -> None:
            nonlocal inside
            if inside:
                inside = False
                self.places.release()

        async def receive_body() -> Any:
            nonlocal given
            if given:
                return await receive()
            given = True
            return {"type": "http.request", "body": body, "more_body": False}

        async def send_outside(message: Any) -> None:
            if message["type"] == "http.response.start":
                leave()
            await send(message)

        try:
            await self.application(scope, receive_body, send_outside)
        finally:
            leave()


async def _whole_body(receive: Receive, largest: int) -> bytes | None:
    """The body, as far as it may be read; None when the other side has gone."""
    parts, size = [], 0
    while True:
        message: Any = await receive()
        if message["type"] == "http.disconnect":
            return None
        parts.append(message.get("body", b""))
        size += len(parts[-1])
        if size > largest or not message.get("more_body"):
            return b"".join(parts)


async def _refuse(send: Any, status: int, code: str, message: str, retry_after: int | None = None) -> None:
    headers = [(b"content-type", b"application/json"), (b"cache-control", b"no-store")]
    if retry_after is not None:
        headers.append((b"retry-after", str(retry_after).encode()))
    await send({"type": "http.response.start", "status": status, "headers": headers})
    await send({"type": "http.response.body", "body": json.dumps(problem(code, message)).encode()})
