"""The line between a bench and somebody who watches it: actions and questions come in, values and news go out."""

import asyncio
from typing import Annotated, Any
from urllib.parse import parse_qs
from uuid import UUID

import orjson
import psycopg
import websockets
from channels.db import database_sync_to_async
from channels.generic.websocket import AsyncWebsocketConsumer
from django.contrib.sessions.models import Session
from django.db import DatabaseError
from django.utils import timezone
from psycopg_pool import PoolTimeout
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from api.json import check_plain
from api.problems import Refused, problem
from benches import services
from benches.hosting import Host, Hosted, Viewer, own_address
from leitfaden_core.errors import LeitfadenError
from leitfaden_core.validation import first_wrong
from leitfaden_core.words import say
from people.permissions import may, why_not
from simulations.wishes import as_asked_by

#: Channels on one line at most.
MOST_CHANNELS = 24
#: Longest message that a person's doing could need.
LONGEST = 20_000
MOST_POINTS = 4000
#: Every so often it is looked whether the person is still signed in. [s]
LOOK_EVERY = 20.0
#: How long another process may take to let go of a bench, or to take it. [s]
PATIENCE = 8.0
#: Codes with which the line is closed; the client comes back after the last two by itself.
NOT_SIGNED_IN, NOT_ALLOWED, NOT_FOUND, TOO_SLOW, AGAIN = 4401, 4403, 4404, 4408, 4412

host = Host()


class BenchLine(AsyncWebsocketConsumer):
    """One person's line to one bench."""

    hosted: Hosted | None = None
    passed_on: Any = None  # line to the process that has the bench in hand

    async def connect(self) -> None:
        """Let them in, or say why not."""
        await self.accept()
        self.viewer, self.tasks = Viewer(), []  # type: Viewer, list[asyncio.Task[None]]
        member = getattr(self.scope["user"], "membership", None)
        if member is None:
            await self._refuse(NOT_SIGNED_IN, "not_signed_in", "You are not signed in, or your session has ended.")
        else:
            await self._take(member, int(self.scope["url_route"]["kwargs"]["bench_id"]))

    async def _take(self, member: Any, number: int) -> None:
        try:
            bench = await database_sync_to_async(services.bench_of)(member, number, covered=True)
            # What a station gave may be used, also where the school has not opened the bench for learners.
            if bench.cover is None and not may(member, "bench.use"):
                await self._refuse(
                    NOT_ALLOWED, "not_allowed", say("Your role ({role}) does not allow this.", role=member.role)
                )
                return
            self.member, self.may_break = member, may(member, "bench.run")
            self.wish = await database_sync_to_async(as_asked_by)(member)
            seen = _whole(parse_qs(self.scope["query_string"].decode()).get("seen", ["0"])[0])
            until = asyncio.get_running_loop().time() + PATIENCE
            while self.hosted is None and self.passed_on is None:
                self.hosted = await host.take(number, seen)
                if self.hosted is None and not await self._pass_on(number):
                    if asyncio.get_running_loop().time() > until:
                        await self._refuse(
                            AGAIN, "busy", "The bench is in another process's hand that does not answer."
                        )
                        return
                    await asyncio.sleep(0.3)
        except Refused as error:
            await self._refuse(NOT_FOUND, error.code, error.message)
            return
        except (DatabaseError, PoolTimeout, psycopg.Error):
            await self._refuse(AGAIN, "no_database", "The database does not answer; the bench opens again in a moment.")
            return
        except LeitfadenError as error:
            sentence = say("This bench can no longer be brought back: {reason}", reason=error.message)
            await self._refuse(NOT_FOUND, "cannot_be_replayed", sentence)
            return
        if self.hosted is not None:
            closed = await self._closed_values()
            async with self.hosted.one_at_a_time:  # what is done meanwhile is told once: there, or as news
                opening = await host.opening(self.hosted)
                self.viewer.tell({"opened": opening | ({} if closed is None else {"bands": []})})
                self.hosted.viewers.add(self.viewer)
            self._start(self._send_all(), self._look_after_session())

    def _start(self, *jobs: Any) -> None:
        self.tasks += [asyncio.create_task(job) for job in jobs]

    async def receive(self, text_data: str | None = None, bytes_data: bytes | None = None) -> None:
        """Something comes in; what is wrong with it is said, and the line stays."""
        if self.passed_on is not None:
            await self.passed_on.send(text_data if text_data is not None else bytes_data or b"")
            return
        if self.hosted is None:
            return
        try:
            await self._heard(self.hosted, _message(text_data))
        except (Refused, LeitfadenError) as error:
            self.viewer.tell({"wrong": problem(error.code, error.message)})

    async def _heard(self, hosted: Hosted, message: dict[str, Any]) -> None:
        if "do" in message:
            change, raw = _id(message.get("id")), message["do"]
            if not self.may_break and isinstance(raw, dict) and _breaks(raw):
                raise Refused(services.NO_FAULTS, code="not_allowed")
            self.viewer.tell(await host.do(hosted, change, raw))
        elif "measure" in message:
            asked, wish = str(_id(message.get("id"))), _use(message["measure"])
            self._start(self._measure(hosted, asked, wish))
        elif "circuit" in message:
            self.viewer.tell(await host.circuit(hosted, str(_id(message.get("id"))), str(message["circuit"])[:40]))
        elif "watch" in message:
            self.viewer.watch, self.viewer.channels = _watch(hosted, message)
        elif "pace" in message:
            host.set_pace(hosted, _number(message["pace"], "pace"))
        elif "judge" in message:
            names = _channels(hosted, message["judge"], "judge")
            closed = await self._closed_values()
            if closed is not None:
                raise Refused(closed, code="closed_book")
            self.viewer.tell({"judged": await host.verdicts(hosted, list(names), self.wish)})
        elif "past" in message:
            first, last, points = _stretch(message["past"])
            self.viewer.waiting.put_nowait(await host.past(hosted, self.viewer, first, last, min(points, MOST_POINTS)))
        else:
            raise Refused(
                "A message must hold one of: do, measure, circuit, watch, judge, pace, past.", code="unknown_message"
            )

    async def _closed_values(self) -> str | None:
        """Why this person may see no sound values and no verdicts now; None when they may."""
        reason: str | None = await database_sync_to_async(why_not)(self.member, "values.read")
        return reason

    async def _measure(self, hosted: Hosted, asked: str, wish: dict[str, Any]) -> None:
        """Beside what else comes in: an instrument takes a moment."""
        self.viewer.tell(await host.measure(hosted, asked, wish))

    async def _send_all(self) -> None:
        send: Any = self.scope["plain_send"]  # type: ignore[typeddict-item]
        while True:
            message = await self.viewer.waiting.get()
            if self.viewer.never_reads:
                await self.close(TOO_SLOW)
                return
            if isinstance(message, bytes):
                await send({"type": "websocket.send", "bytes": message})
            else:
                await send({"type": "websocket.send", "text": message})
                if '"dropped"' in message[:12]:
                    await self.close(AGAIN)
                    return

    async def _look_after_session(self) -> None:
        key = str(self.scope["session"].session_key)
        while True:
            await asyncio.sleep(LOOK_EVERY)
            if not await database_sync_to_async(_is_signed_in)(key):
                await self._refuse(NOT_SIGNED_IN, "not_signed_in", "Your session has ended; sign in again.")
                return

    # --- a bench that another process has in hand -------------------------------------------------------------------

    async def _pass_on(self, number: int) -> bool:
        """Pass this line on to the process that has the bench; False when nobody answers there."""
        address = await database_sync_to_async(services.held_at)(number)
        if not address or address == own_address():
            return False
        headers = {name.decode(): value.decode() for name, value in self.scope["headers"]}
        query = self.scope["query_string"].decode()
        try:
            self.passed_on = await websockets.connect(
                f"ws://{address}/ws/benches/{number}?{query}",
                additional_headers={name: headers[name] for name in ("cookie",) if name in headers},
                origin=headers.get("origin"),  # type: ignore[arg-type]
                compression=None,
                max_size=None,
                open_timeout=3,
            )
        except (OSError, TimeoutError, websockets.WebSocketException):
            return False
        self._start(self._bring_back())
        return True

    async def _bring_back(self) -> None:
        try:
            async for message in self.passed_on:
                if isinstance(message, bytes):
                    await self.send(bytes_data=message)
                else:
                    await self.send(text_data=message)
            await self.close(self.passed_on.close_code or AGAIN)
        except websockets.ConnectionClosed:
            await self.close(AGAIN)

    async def disconnect(self, code: int) -> None:
        """They have gone."""
        for task in getattr(self, "tasks", []):
            if task is not asyncio.current_task():
                task.cancel()
        if self.passed_on is not None:
            await self.passed_on.close()
        if self.hosted is not None:
            await host.leave(self.hosted, self.viewer)

    async def _refuse(self, close: int, code: str, sentence: str) -> None:
        await self.send(text_data=orjson.dumps({"closed": problem(code, sentence)}).decode())
        await self.close(close)


def _breaks(raw: dict[str, Any]) -> bool:
    """Whether it breaks something: a fault put in, or a part that brings one."""
    return raw.get("do") in services.BREAKING or raw.get("brings") is not None


def _is_signed_in(key: str) -> bool:
    return Session.objects.filter(session_key=key, expire_date__gt=timezone.now()).exists()


def _message(text: str | None) -> dict[str, Any]:
    if text is None or len(text) > LONGEST:
        raise Refused(say("A message is JSON of {most} characters at most.", most=LONGEST), code="bad_message")
    try:
        data = orjson.loads(text)
    except orjson.JSONDecodeError as error:
        raise Refused(say("The message is not JSON: {reason}.", reason=error.msg), code="bad_message") from None
    check_plain(data)
    if not isinstance(data, dict):
        raise Refused("A message is a JSON object.", code="bad_message")
    return data


def _id(text: Any) -> UUID:
    try:
        return UUID(text)
    except (ValueError, TypeError, AttributeError):
        raise Refused("What is done needs an id of its own (a UUID), so that a repeat does nothing.", "no_id") from None


def _number(value: Any, name: str) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float) or value != value:
        raise Refused(say("{name} must be a number.", name=name), code="bad_message")
    return float(value)


def _whole(value: Any) -> int:
    try:
        return min(max(int(value), 0), 2**31 - 1)
    except (ValueError, TypeError, OverflowError):
        raise Refused("first, last and points must be whole numbers.", code="bad_message") from None


class Use(BaseModel):
    """An instrument put to a place, in a state of the engine."""

    model_config = ConfigDict(extra="forbid")

    instrument: Annotated[str, Field(max_length=40)]
    place: Annotated[str, Field(max_length=300)]
    condition: Annotated[str, Field(max_length=40)]
    options: Annotated[dict[str, Annotated[str, Field(max_length=40)]], Field(max_length=12)] = {}
    seed: Annotated[int, Field(ge=0, le=2**31 - 1)] = 0


def _use(raw: Any) -> dict[str, Any]:
    try:
        return Use.model_validate(raw).model_dump()
    except ValidationError as error:
        place, sentence = first_wrong(error)
        where = f"measure, {place}" if place else "measure"
        raise Refused(f"{where}: {sentence}.", code="bad_message") from None


def _stretch(asked: Any) -> tuple[int, int, int]:
    if not isinstance(asked, dict):
        raise Refused("past asks for first, last and points.", code="bad_message")
    return _whole(asked.get("first")), _whole(asked.get("last")), _whole(asked.get("points"))


def _watch(hosted: Hosted, message: dict[str, Any]) -> tuple[int, tuple[str, ...]]:
    return _whole(message.get("number", 0)), _channels(hosted, message["watch"], "watch")


def _channels(hosted: Hosted, names: Any, what: str) -> tuple[str, ...]:
    if not isinstance(names, list) or len(names) > MOST_CHANNELS:
        raise Refused(
            say("{what} is a list of {most} channels at most.", what=what, most=MOST_CHANNELS), code="bad_message"
        )
    for name in names:
        if not isinstance(name, str) or name not in hosted.channels:
            raise Refused(say("This engine has no channel '{name}'.", name=str(name)[:60]), code="unknown_name")
    return tuple(names)
