"""Benches in this process's hand: steps them twenty times a second, does what is asked, and tells those who watch.

Threads beside the event loop: one steps all benches, one talks to the database; what takes longer than a moment (a
night, days of learning, a replay) and instruments have one each, so that nobody's frames wait for them. What is done to
a bench is on disk before it is acknowledged; frames are not: they are computed again.
"""

import asyncio
import logging
import os
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from time import perf_counter
from typing import Any, TypeVar
from uuid import UUID

import orjson
from django.db import connection

from api.problems import Refused, problem
from benches import services, telling, wire
from benches.locks import Locks
from leitfaden_core.errors import LeitfadenError
from leitfaden_core.live import Bench, Cover, Portion, doing_of, present, to_be_seen, undisturbed
from leitfaden_core.simulate import FRAME

Result = TypeVar("Result")
log = logging.getLogger(__name__)
#: Twenty steps a second. [s]
TICK = 0.05
#: Time for what changes slowly: values on the thread, codes. [ticks]
TELL_EVERY = 5
#: What stands out on the thread is looked for in every so many of these.
MARKS_EVERY = 3
#: How far a bench has run is written down so often, and the locks are looked at. [ticks]
KEEP_EVERY = 100
#: Share of a tick that the benches of a process may step in together; each gets the same part of it.
SHARE = 0.7
#: A bench that nobody watches stands still, and is let go after so long. [s]
LET_GO_AFTER = 20.0
#: Frames that a client may say it has seen beyond what is known. [frames]
MOST_AHEAD = 20_000
#: Blocks that wait for a slow line before further ones are left out, and messages before it is cut.
MOST_BLOCKS, MOST_WAITING = 20, 500
FASTEST, SLOWEST = 1000.0, 0.01
#: What takes longer than a moment.
SLOW = frozenset({"stand", "settle_memory", "pass_months"})


def _keep_covered(hosted: "Hosted", why: Callable[[Cover], str]) -> None:
    """Refuse what a bench with a cover does not let be touched or seen."""
    sentence = hosted.cover and why(hosted.cover)
    if sentence:
        raise Refused(sentence, code="covered")


class Viewer:
    """Somebody who watches: which channels, and what waits to be sent to them."""

    def __init__(self) -> None:
        self.watch, self.channels = 0, ()  # type: tuple[int, tuple[str, ...]]
        self.waiting: asyncio.Queue[str | bytes] = asyncio.Queue()
        self.left_out = 0

    def tell(self, message: dict[str, Any]) -> None:
        """Something that is said once."""
        self.waiting.put_nowait(orjson.dumps(message, option=orjson.OPT_SERIALIZE_NUMPY).decode())

    def show(self, block: bytes) -> None:
        """Values; left out where the line is slow: the client sees the gap and asks for the past."""
        if self.waiting.qsize() < MOST_BLOCKS:
            self.waiting.put_nowait(block)
        else:
            self.left_out += 1

    @property
    def never_reads(self) -> bool:
        """Whether more waits than any line could want."""
        return self.waiting.qsize() > MOST_WAITING


class Hosted:
    """A bench in hand; with a cover, nobody who watches gets to know what is wrong with its engine."""

    def __init__(self, number: int, bench: Bench, changes: dict[UUID, int], cover: Cover | None) -> None:
        self.number, self.bench, self.changes, self.cover = number, bench, changes, cover
        known = bench.history.channels
        #: What can be watched on it.
        self.channels = frozenset(known if cover is None else to_be_seen(known))
        self.viewers: set[Viewer] = set()
        self.pace, self.reached = 1.0, 1.0
        self.one_at_a_time = asyncio.Lock()
        self.slow = False
        self.written = bench.frame
        self._owed, self._cost = 0.0, 40e-6  # [frames], [s] of a frame
        self._codes: Any = None
        # Counted from the number, so that not all benches of a process have news in the same tick.
        self._heard, self._told = -1, number // TELL_EVERY
        self._untold = number % TELL_EVERY  # [ticks]

    @property
    def runs(self) -> bool:
        """Whether its time goes on."""
        return bool(self.viewers) and self.pace > 0.0 and not self.slow

    def due(self, ticks: int, seconds: float) -> int:
        """Frames that so many ticks bring. Beyond the pace of life stepping may take only so long."""
        wanted = self.pace * ticks * TICK / FRAME
        self._owed = min(self._owed + wanted, wanted + 5.0)
        as_in_life = round(ticks * TICK / FRAME)
        frames = min(int(self._owed), max(int(seconds / self._cost), as_in_life))
        self._owed -= frames
        self._untold += ticks
        self.reached += 0.05 * (frames * FRAME / (ticks * TICK) - self.reached)
        return frames

    def step(self, frames: int) -> None:
        """Go on and word what comes of it for everybody. In the stepping thread."""
        started = perf_counter()
        portion = self.bench.advance(frames)
        self._cost += 0.1 * ((perf_counter() - started) / frames - self._cost)
        self.blocks = self._blocks(portion)
        self.news = []
        if self._untold >= TELL_EVERY:
            self._untold = 0
            self.news = self._news()

    def _blocks(self, portion: Portion) -> dict[Viewer, bytes]:
        made: dict[tuple[int, tuple[str, ...]], bytes] = {}
        found = {}
        for viewer in list(self.viewers):
            asked = (viewer.watch, viewer.channels)
            if asked not in made:
                made[asked] = wire.running(portion, viewer.watch, viewer.channels, self.cover is not None)
            found[viewer] = made[asked]
        return found

    def _news(self) -> list[dict[str, Any]]:
        news = [{"now": telling.now(self.bench, self.cover) | {"pace": self.pace, "reached": round(self.reached, 3)}}]
        self._told = (self._told + 1) % MARKS_EVERY
        if not self._told:
            news.append({"marks": telling.marks(self.bench, self.cover)})
        if self.bench.heard != self._heard:
            self._heard = self.bench.heard
            codes = telling.codes(self.bench)
            if codes != self._codes:
                self._codes = codes
                news.append({"codes": codes})
        return news

    def hand_out(self) -> None:
        """Give everybody what the last step has brought. In the event loop."""
        for viewer, block in self.blocks.items():
            viewer.show(block)
        for message in self.news:
            self.tell(message)

    def tell(self, message: dict[str, Any]) -> None:
        """Say something to everybody who watches."""
        for viewer in self.viewers:
            viewer.tell(message)


class Ticks:
    """Ticks of a clock that keeps up with time. Where steps take longer than a tick, several come as one: fewer and
    longer blocks rather than late ones. Where the machine was away it starts anew: that is not run after.
    """

    def __init__(self, now: float) -> None:
        self._start, self._since = now, 0

    def next(self, now: float) -> tuple[float, int]:
        """Until the next step [s], and the ticks that it brings."""
        self._since += 1
        early = self._start + self._since * TICK - now
        if early < -1.0:
            self._start, self._since = now, 0
            return 0.0, 1
        missed = max(int(-early / TICK), 0)
        self._since += missed
        return max(early, 0.0), 1 + missed


class Host:
    """All benches that this process has in hand."""

    def __init__(self) -> None:
        self.hosted: dict[int, Hosted] = {}
        self._locks = Locks()
        self._stepping = ThreadPoolExecutor(1, "bench-steps")
        self._database = ThreadPoolExecutor(1, "bench-database")
        self._slow = ThreadPoolExecutor(1, "bench-slow")
        self._measuring = ThreadPoolExecutor(1, "bench-measuring")
        self._taking: dict[int, asyncio.Lock] = {}
        self._runner: asyncio.Task[None] | None = None

    # --- taking and letting go ------------------------------------------------------------------------------------

    async def take(self, number: int, seen: int) -> Hosted | None:
        """Have a bench in hand, brought back from its journal where it was not; None while another process has it.

        ``seen``: the frame that its viewer has seen last.
        """
        async with self._taking.setdefault(number, asyncio.Lock()):
            if number in self.hosted:
                return self.hosted[number]
            if not await self._ask(self._locks.take, number):
                return None
            try:
                kept = await self._ask(services.kept, number)
                frame = min(max(kept.frame, seen), kept.frame + MOST_AHEAD)
                bench = await self._in(self._slow, Bench.replayed, kept.beginning, kept.journal, frame)
                await self._ask(services.hold, number, own_address())
                await self._ask(services.fetch_sheet_of, kept.beginning.rig)
            except BaseException:
                await self._ask(self._locks.give_back, number)
                raise
            self.hosted[number] = Hosted(number, bench, kept.changes, kept.cover)
            if self._runner is None or self._runner.done():
                self._runner = asyncio.create_task(self._run())
            return self.hosted[number]

    async def leave(self, hosted: Hosted, viewer: Viewer) -> None:
        """Somebody no longer watches; where nobody does, the engine stands still, and is let go after a while."""
        hosted.viewers.discard(viewer)
        if not hosted.viewers:
            asyncio.get_running_loop().call_later(
                LET_GO_AFTER, lambda: asyncio.ensure_future(self._let_go_if_alone(hosted))
            )

    async def _let_go_if_alone(self, hosted: Hosted) -> None:
        if hosted.viewers or self.hosted.get(hosted.number) is not hosted:
            return
        async with self._taking.setdefault(hosted.number, asyncio.Lock()):
            if hosted.viewers:
                return
            del self.hosted[hosted.number]
            await self._ask(services.keep_frames, {hosted.number: hosted.bench.frame})
            await self._ask(self._locks.give_back, hosted.number)

    async def close(self) -> None:
        """Let go of everything, as far as it has run; whoever watches comes back and finds it."""
        for hosted in list(self.hosted.values()):
            self.hosted.pop(hosted.number, None)
            await self._ask(services.keep_frames, {hosted.number: hosted.bench.frame})
            hosted.tell({"dropped": problem("closing", "The bench opens again in a moment.")})
        await self._ask(self._locks.close)

    async def _drop(self, hosted: Hosted, code: str, sentence: str) -> None:
        """Out of hand at once: what was not kept did not happen. Viewers come back and find what was kept."""
        self.hosted.pop(hosted.number, None)
        hosted.tell({"dropped": problem(code, sentence)})
        try:
            await self._ask(self._locks.give_back, hosted.number)
        except Exception:  # the database is away; with its session the lock is gone too
            log.debug("no lock to give back")

    # --- doing ----------------------------------------------------------------------------------------------------

    async def do(self, hosted: Hosted, change: UUID, raw: Any) -> dict[str, Any]:
        """Do something once, write it down, tell everybody; the acknowledgement, or why it was refused."""
        async with hosted.one_at_a_time:
            if change in hosted.changes:
                return {"done": str(change), "frame": hosted.changes[change]}
            number = len(hosted.bench.journal)
            try:
                _keep_covered(hosted, lambda cover: cover.refuses(raw))
                doing = doing_of(raw)
                done = await self._perform(hosted, doing)
            except (Refused, LeitfadenError) as error:
                return {"refused": str(change), **problem(error.code, error.message)}
            try:
                await self._ask(services.keep_doing, hosted.number, number, done.frame, change, doing)
            except Exception:
                sentence = (
                    "This could not be kept and was not done. What was kept before is there; the bench opens again."
                )
                await self._drop(hosted, "not_kept", sentence)
                return {"refused": str(change), **problem("not_kept", sentence)}
            hosted.changes[change] = done.frame
            hosted.tell({"event": telling.events(hosted.bench, len(hosted.bench.journal) - 1)[0]})
            hosted.tell({"vehicle": await self._in(self._stepping, telling.vehicle, hosted.bench, hosted.cover)})
            return {"done": str(change), "frame": done.frame}

    async def _perform(self, hosted: Hosted, doing: Any) -> Any:
        if doing.do not in SLOW:
            return await self._in(self._stepping, hosted.bench.do, doing)
        hosted.slow = True
        hosted.tell({"working": {"do": doing.do}})
        try:
            await self._in(self._stepping, _nothing)  # a step that is under way ends first
            return await self._in(self._slow, hosted.bench.do, doing)
        finally:
            hosted.slow = False

    async def measure(self, hosted: Hosted, asked: str, wish: dict[str, Any]) -> dict[str, Any]:
        """What an instrument shows on the vehicle as it is, or why it cannot be used."""
        try:
            _keep_covered(hosted, lambda cover: cover.refuses_instrument(wish["instrument"]))
            pair = await self._in(self._stepping, lambda bench: (present(bench), undisturbed(bench)), hosted.bench)
            return {"measured": asked} | await self._in(self._measuring, telling.observation, *pair, wish)
        except (Refused, LeitfadenError) as error:
            return {"refused": asked, **problem(error.code, error.message)}
        except Exception:  # the slip must not wait for ever
            log.exception("an instrument could not be simulated: %s", wish)
            sentence = "This could not be measured; the server's log says why. The bench goes on."
            return {"refused": asked, **problem("failed", sentence)}

    async def circuit(self, hosted: Hosted, asked: str, wire: str) -> dict[str, Any]:
        """The circuit of what hangs on a wire, now."""
        try:
            wires = await self._in(self._stepping, telling.circuit, hosted.bench, wire, hosted.cover)
            return {"circuit": asked, "wires": wires}
        except (Refused, LeitfadenError) as error:
            return {"refused": asked, **problem(error.code, error.message)}

    async def past(self, hosted: Hosted, viewer: Viewer, first: int, last: int, points: int) -> bytes:
        """A stretch that has been, of what the viewer watches."""
        asked = (viewer.watch, viewer.channels, first, last, points, hosted.cover is not None)
        return await self._in(self._stepping, wire.past, hosted.bench, *asked)

    async def verdicts(self, hosted: Hosted, channels: list[str], wish: dict[str, Any]) -> dict[str, Any]:
        """Verdicts on what somebody watches, by their limits."""
        return await self._in(self._stepping, telling.verdicts, hosted.bench, channels, wish)

    async def opening(self, hosted: Hosted) -> dict[str, Any]:
        """What somebody is told who begins to watch."""
        told = await self._in(self._stepping, telling.opening, hosted.bench, hosted.cover)
        return told | {"pace": hosted.pace}

    def set_pace(self, hosted: Hosted, pace: float) -> None:
        """How fast its time is seen to pass; 0: it stands. That changes when things are seen, never what they are."""
        hosted.pace = 0.0 if pace <= 0.0 else min(max(pace, SLOWEST), FASTEST)
        hosted.reached = hosted.pace
        hosted.tell({"pace": hosted.pace})

    # --- the clock ------------------------------------------------------------------------------------------------

    async def _run(self) -> None:
        loop = asyncio.get_running_loop()
        ticks = Ticks(loop.time())
        keeping, unkept = asyncio.create_task(self._keep()), 0
        while self.hosted:
            wait, count = ticks.next(loop.time())
            await asyncio.sleep(wait)
            running = [hosted for hosted in self.hosted.values() if hosted.runs]
            seconds = SHARE * TICK / max(len(running), 1)
            work = [(hosted, frames) for hosted in running if (frames := hosted.due(count, seconds)) > 0]
            if work:
                await self._step(work)
            unkept += count
            if unkept >= KEEP_EVERY and keeping.done():
                keeping, unkept = asyncio.create_task(self._keep()), 0  # beside the steps: it may take its time

    async def _step(self, work: list[tuple[Hosted, int]]) -> None:
        failed = await self._in(self._stepping, _step_all, work)
        for hosted, _frames in work:
            if hosted in failed:
                hosted.pace = 0.0
                hosted.tell({"stopped": problem("stopped", failed[hosted]), "pace": 0.0})
            else:
                hosted.hand_out()

    async def _keep(self) -> None:
        """Write down how far everything has run; let go of what others may have taken meanwhile."""
        try:
            if not await self._ask(self._locks.are_held):
                for hosted in list(self.hosted.values()):
                    await self._drop(hosted, "database_lost", "The database was away; the bench opens again.")
                return
            gone_on = {hosted: hosted.bench.frame for hosted in self.hosted.values()}
            gone_on = {hosted: frame for hosted, frame in gone_on.items() if hosted.written != frame}
            await self._ask(services.keep_frames, {hosted.number: frame for hosted, frame in gone_on.items()})
            for hosted, frame in gone_on.items():
                hosted.written = frame
        except Exception:
            log.warning("how far the benches have run could not be written down")

    # --- threads --------------------------------------------------------------------------------------------------

    async def _ask(self, function: Callable[..., Result], *arguments: Any) -> Result:
        """Ask the database, in its thread; the connection goes back to the pool."""

        def asked() -> Result:
            try:
                return function(*arguments)
            finally:
                connection.close()

        return await self._in(self._database, asked)

    async def _in(self, pool: ThreadPoolExecutor, function: Callable[..., Result], *arguments: Any) -> Result:
        return await asyncio.get_running_loop().run_in_executor(pool, function, *arguments)


def _step_all(work: list[tuple[Hosted, int]]) -> dict[Hosted, str]:
    """Step all; why some could not."""
    failed: dict[Hosted, str] = {}
    for hosted, frames in work:
        try:
            hosted.step(frames)
        except LeitfadenError as error:
            failed[hosted] = error.message
        except Exception:  # one bench must not stop the others
            log.exception("a bench could not be stepped")
            failed[hosted] = "This bench cannot go on: the model met a state that it does not know. Open another one."
    return failed


def _nothing() -> None:
    """To wait for a thread."""


def own_address() -> str:
    """Where other web processes reach this one, so that one can pass a line on to another."""
    return os.environ.get("LEITFADEN_PEER", "")
