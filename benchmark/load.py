"""A whole class at once, against a server of its own on loopback: ``./leitfaden bench --load``.

Every figure is printed with how it was got. The client is one process; its own CPU time stands beside each figure,
since on a small machine client and server share the cores. Bounded in time and requests; ends by itself.
"""

import argparse
import asyncio
import gzip
import json
import os
import random
import signal
import subprocess
import sys
import tempfile
import time
import uuid
from collections.abc import Awaitable, Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import aiohttp

from benchmark.school import LEARNERS, PASSWORD, TRAINERS
from leitfaden_host.places import LOCAL, ROOT

#: Seconds between two answers of a learner; where two hundred spread over ten seconds, twenty come in each.
PACE = (0.0, 10.0)
FAULT_SECONDS, PREPARE_SECONDS = 30.0, 900.0
SINGLE_REQUESTS = 300
#: Edits before those that count (both workers become warm in them), and those.
WARMING_EDITS, EDITS = 28, 50


@dataclass
class Times:
    """Milliseconds of answers, and what failed."""

    ms: list[float] = field(default_factory=list)
    failed: list[str] = field(default_factory=list)
    client_cpu_s: float = 0.0
    wall_s: float = 0.0
    stolen: float = 0.0

    def figures(self) -> dict[str, Any]:
        """Counts, median, p95 and the longest."""
        ordered = sorted(self.ms) or [float("nan")]
        pick = {"median_ms": 0.5, "p95_ms": 0.95, "max_ms": 1.0}
        return {
            "answers": len(self.ms),
            "failed": len(self.failed),
            **{
                name: round(ordered[min(int(share * len(ordered)), len(ordered) - 1)], 1)
                for name, share in pick.items()
            },
            "seconds": round(self.wall_s, 1),
            "client_cpu_s": round(self.client_cpu_s, 1),
            "stolen_percent": round(100.0 * self.stolen),
        } | ({"first_failure": self.failed[0]} if self.failed else {})


class Person:
    """Somebody's browser."""

    def __init__(self, base: str, name: str, times: Times) -> None:
        self.base, self.name, self.times = base, name, times
        self.session = aiohttp.ClientSession(
            cookie_jar=aiohttp.CookieJar(unsafe=True),
            timeout=aiohttp.ClientTimeout(60),
            connector=aiohttp.TCPConnector(limit=6),
            auto_decompress=False,
        )

    async def call(self, method: str, path: str, data: Any = None, measured: bool = True, unpack: bool = True) -> Any:
        """One request as the page sends it: again while the answer is being computed; a change under one id.

        A big answer that nobody reads here is not unpacked: each browser does that on a machine of its own.
        """
        token = next((cookie.value for cookie in self.session.cookie_jar if cookie.key == "csrftoken"), "")
        headers = {
            "X-CSRFToken": token,
            "X-Change-Id": str(uuid.uuid4()),
            "X-Page": self.name,
            "Accept-Encoding": "gzip",
        }
        start = time.perf_counter()
        while True:
            try:
                async with self.session.request(method, self.base + path, json=data, headers=headers) as answer:
                    content = await answer.read()
                    compressed = answer.headers.get("Content-Encoding") == "gzip"
                    status, wait = answer.status, float(answer.headers.get("Retry-After", 0.25))
            except (aiohttp.ClientError, TimeoutError) as error:
                self.times.failed.append(f"{method} {path}: {type(error).__name__}")
                return None
            if status not in {202, 429} or "session" in path:
                break
            await asyncio.sleep(json.loads(_plain(content, compressed)).get("retry_after_s", wait))
        if measured:
            self.times.ms.append(1000.0 * (time.perf_counter() - start))
        if status != 200:
            self.times.failed.append(f"{method} {path}: {status} {content[:200]!r}")
            return None
        return json.loads(_plain(content, compressed)) if unpack else {}

    async def sign_in(self, measured: bool = True) -> None:
        """As the page does: first the token, then name and password; unmeasured until it succeeds."""
        for _ in range(20):
            await self.call("GET", "/api/session", measured=False)
            me = await self.call(
                "POST", "/api/session", {"username": self.name, "password": PASSWORD}, measured=measured
            )
            if me or measured:
                return
            await asyncio.sleep(1.0)

    async def start(self) -> int:
        """Begin one's lesson; tries again as a person would, since a server that fails here is measured in what
        follows.
        """
        for _ in range(20):
            given = await self.call("GET", "/api/assignments", measured=False)
            attempt = given and await self.call(
                "POST", f"/api/assignments/{given[0]['id']}/attempt", {}, measured=False
            )
            if attempt:
                return int(attempt["id"])
            await asyncio.sleep(1.0)
        raise SystemExit(f"leitfaden: {self.name} cannot begin: {self.times.failed[-1]}")

    async def open(self, attempt: int, station: int) -> dict[str, Any] | None:
        """Open a station with all that its page asks for."""
        found = await self.call("GET", f"/api/attempts/{attempt}/stations/{station}")
        if found and found["station"]["has_lanes"]:
            await self.call("GET", f"/api/attempts/{attempt}/stations/{station}/lanes")
        return found["station"] if found else None

    async def answer(self, attempt: int, view: dict[str, Any]) -> None:
        """Answer a station somehow."""
        answers = {
            "measure": {"reading": "24 %"},
            "judge": {"verdicts": ["good"] * len(view["readings"])},
            "conclude": {"cause": "0"},
        }
        given = answers.get(view["kind"], {"seen": True})
        await self.call("POST", f"/api/attempts/{attempt}/stations/{view['index']}/answer", {"answer": given})


def _plain(content: bytes, compressed: bool) -> bytes:
    return gzip.decompress(content) if compressed else content


@contextmanager
def measured(times: Times) -> Iterator[None]:
    """Wall time and the client's own CPU time of a stretch, and the share of the machine that its host gave to others
    meanwhile.
    """
    start, cpu, ticks = time.perf_counter(), time.process_time(), machine_ticks()
    yield
    times.wall_s, times.client_cpu_s = time.perf_counter() - start, time.process_time() - cpu
    spent = [after - before for before, after in zip(ticks, machine_ticks(), strict=True)]
    times.stolen = spent[7] / max(sum(spent), 1)


def machine_ticks() -> list[int]:
    """Ticks of all cores: user, nice, system, idle, iowait, irq, softirq, steal (proc(5))."""
    return [int(count) for count in Path("/proc/stat").read_text().splitlines()[0].split()[1:9]]


async def crowd(base: str, names: list[str], times: Times, work: Callable[[Person, int], Awaitable[None]]) -> None:
    """Many people at the same work at once."""
    people = [Person(base, name, times) for name in names]
    try:
        await asyncio.gather(*(work(person, k) for k, person in enumerate(people)))
    finally:
        await asyncio.gather(*(person.session.close() for person in people))


async def class_signs_in(base: str) -> dict[str, Any]:
    """Thirty people sign in in the same moment."""
    times = Times()

    async def work(person: Person, _: int) -> None:
        await person.sign_in()

    with measured(times):
        await crowd(base, [f"trainer-{k}" for k in range(TRAINERS)], times, work)
    return times.figures()


async def school_at_work(base: str) -> tuple[dict[str, Any], dict[str, Any]]:
    """Two hundred learners through all stations but the last at human pace; then the last answer of all in the same
    second.
    """
    pace, burst = Times(), Times()
    chance, door, begin, go = random.Random(7), asyncio.Semaphore(20), asyncio.Event(), asyncio.Event()
    seated = waiting = 0

    async def work(person: Person, _: int) -> None:
        nonlocal seated, waiting
        async with door:  # signing in is another figure
            await person.sign_in(measured=False)
            attempt = await person.start()
        seated += 1
        if seated == LEARNERS:
            begin.set()
        await begin.wait()
        view = None
        for station in range(5):
            await asyncio.sleep(chance.uniform(*PACE))
            view = await person.open(attempt, station)
            if view and station < 4:
                await asyncio.sleep(chance.uniform(*PACE))
                await person.answer(attempt, view)
        waiting += 1
        if waiting == LEARNERS:
            go.set()
        await go.wait()
        person.times = burst
        if view:
            await person.answer(attempt, view)

    async def clock() -> None:
        await go.wait()
        burst.wall_s, burst.client_cpu_s = time.perf_counter(), time.process_time()

    watch = asyncio.create_task(clock())
    with measured(pace):
        await crowd(base, [f"learner-{k}" for k in range(LEARNERS)], pace, work)
    await watch
    burst.wall_s, burst.client_cpu_s = time.perf_counter() - burst.wall_s, time.process_time() - burst.client_cpu_s
    return pace.figures(), burst.figures()


async def trainers_at_the_bench(base: str, memory: Callable[[], float]) -> dict[str, Any]:
    """Twenty trainers change the fault again and again; one more person does quick things meanwhile."""
    heavy, quick = Times(), Times()
    names = [*(f"trainer-{k}" for k in range(20)), "trainer-29"]
    done, seated, peak, until = [0] * 20, asyncio.Barrier(len(names)), 0.0, 0.0

    async def work(person: Person, k: int) -> None:
        nonlocal until
        await person.sign_in(measured=False)
        await seated.wait()
        until = time.monotonic() + FAULT_SECONDS
        if k == 20:
            person.times = quick
            await look_around(person)
        while time.monotonic() < until:
            fault = {"kind": "manifold_vacuum_leak", "params": {"area_mm2": round(0.5 + 0.3 * k + 0.001 * done[k], 4)}}
            if (
                await person.call(
                    "POST", "/api/bench/run", {"channels": ["maf", "total_trim"], "faults": [fault]}, unpack=False
                )
                is not None
            ):
                done[k] += 1

    async def look_around(person: Person) -> None:
        nonlocal peak
        while time.monotonic() < until:
            for path in ("/api/lessons", "/api/session", "/api/learners"):
                await person.call("GET", path)
                await asyncio.sleep(0.05)
            peak = max(peak, await asyncio.to_thread(memory))

    with measured(heavy):
        await crowd(base, names, heavy, work)
    quick.wall_s, quick.client_cpu_s, quick.stolen = heavy.wall_s, heavy.client_cpu_s, heavy.stolen
    share = {"runs_of_the_least_served": min(done), "runs_of_the_most_served": max(done)}
    return {"quick": quick.figures(), "heavy": heavy.figures() | share, "memory_MB": round(peak)}


async def one_station_after_the_other(base: str) -> dict[str, Any]:
    """One learner comes back to a station again and again on a quiet server."""
    times = Times()
    person = Person(base, "learner-0", times)
    await person.sign_in(measured=False)
    attempt = await person.start()
    for station in range(3):
        view = await person.open(attempt, station)
        if view:
            await person.answer(attempt, view)
    times.ms.clear()
    with measured(times):
        for _ in range(SINGLE_REQUESTS):
            await person.call("GET", f"/api/attempts/{attempt}/stations/3")
    await person.session.close()
    return times.figures()


async def one_edit_after_the_other(base: str) -> dict[str, Any]:
    """One trainer changes a fault again and again on a quiet server: through the queue to a worker and back, as a
    page's question goes. Every size is new. The first are not counted: in them the workers become warm.
    """
    times = Times()
    person = Person(base, "trainer-0", times)
    await person.sign_in(measured=False)

    async def edit(k: int) -> None:
        fault = {"kind": "manifold_vacuum_leak", "params": {"area_mm2": round(1.0 + 0.07 * k, 3)}}
        wish = {"channels": ["rpm", "maf", "total_trim", "ho2s_b1s1_v"], "faults": [fault], "good": k == 0}
        await person.call("POST", "/api/bench/run", wish, unpack=False)

    for k in range(WARMING_EDITS):
        await edit(k)
    times.ms.clear()
    with measured(times):
        for k in range(WARMING_EDITS, WARMING_EDITS + EDITS):
            await edit(k)
    await person.session.close()
    return times.figures()


class OwnServer:
    """A Leitfaden for the figures only, in a temporary folder, with what is slow to make taken from this one."""

    def __init__(self, folder: Path, processes: list[str]) -> None:
        folder.chmod(0o755)
        venv = os.readlink(LOCAL / "venv")
        (folder / venv).symlink_to(LOCAL / venv)
        (folder / "venv").symlink_to(venv)
        self.folder = folder
        known = {name: value for name, value in os.environ.items() if not name.startswith("LEITFADEN_DB_")}
        self.environment = known | {"LEITFADEN_LOCAL": str(folder), "LEITFADEN_SECRET": uuid.uuid4().hex * 2}
        command = [sys.executable, "-m", "leitfaden_host", "start", "--no-demo", *processes]
        self.process = subprocess.Popen(command, env=self.environment, stdout=subprocess.DEVNULL)

    @property
    def state(self) -> dict[str, Any]:
        """What the running server tells about itself."""
        try:
            return json.loads((self.folder / "run" / "running.json").read_text())  # type: ignore[no-any-return]
        except (OSError, ValueError):
            return {}

    def wait(self) -> str:
        """Its address once it answers."""
        for _ in range(600):
            if self.state.get("state") == "running":
                return str(self.state["address"]).rstrip("/")
            time.sleep(0.2)
        raise SystemExit("leitfaden: the server for the figures did not start")

    def python(self, code: str) -> str:
        """Run code in the server's environment."""
        script = f"import django; django.setup()\n{code}"
        run = [sys.executable, "-m", "leitfaden_host", "with", "database", sys.executable, "-c", script]
        environment = self.environment | {"DJANGO_SETTINGS_MODULE": "config.settings"}
        return subprocess.run(run, env=environment, check=True, stdout=subprocess.PIPE, text=True).stdout

    def memory(self) -> float:
        """What all its processes hold together, shared pages counted once. [MB]"""
        pids = [self.process.pid, *(row["pid"] for row in self.state["processes"].values())]
        postmaster = int((self.folder / "database" / "postmaster.pid").read_text().splitlines()[0])
        children = Path(f"/proc/{postmaster}/task/{postmaster}/children").read_text().split()
        held = 0.0
        for pid in [*pids, postmaster, *map(int, children)]:
            try:
                rows = Path(f"/proc/{pid}/smaps_rollup").read_text().splitlines()
            except OSError:
                continue
            held += sum(float(row.split()[1]) for row in rows if row.startswith("Pss:")) / 1024.0
        return held

    def end(self) -> None:
        """Stop it."""
        self.process.send_signal(signal.SIGTERM)
        self.process.wait(60)


def prepared(server: OwnServer) -> float:
    """Fill the school and wait until every learner's items are prepared; how long that took. [s]"""
    server.python("from benchmark.school import fill; fill()")
    start = time.monotonic()
    while time.monotonic() - start < PREPARE_SECONDS:
        if server.python("from practice.models import ItemView; print(ItemView.objects.count())").strip() == str(
            5 * LEARNERS
        ):
            break
        time.sleep(2.0)
    return round(time.monotonic() - start, 1)


AIMS = {
    "sign_in_of_30": "aim: p95 under 4 s, none failed",
    "station_alone": "aim: p95 under 30 ms",
    "edit_alone": "from a changed fault to its lanes, through queue and worker",
    "200_at_human_pace": "aim: p95 under 150 ms, none failed",
    "200_answers_in_one_second": "aim: p95 under 3 s, all stored",
    "20_trainers_at_the_bench": "aim: quick p95 under 200 ms, heavy fair, memory under 1500 MB",
}


async def figures(base: str, memory: Callable[[], float]) -> dict[str, Any]:
    """All figures, one after the other."""
    found: dict[str, Any] = {
        "sign_in_of_30": await class_signs_in(base),
        "station_alone": await one_station_after_the_other(base),
        "edit_alone": await one_edit_after_the_other(base),
    }
    found["200_at_human_pace"], found["200_answers_in_one_second"] = await school_at_work(base)
    found["20_trainers_at_the_bench"] = await trainers_at_the_bench(base, memory)
    return found


def main() -> None:
    """bench --load [--json] [--against URL] [--web N] [--workers N] [--bench-only]."""
    parser = argparse.ArgumentParser(prog="./leitfaden bench --load")
    parser.add_argument("--load", action="store_true")
    parser.add_argument("--json", action="store_true")
    parser.add_argument("--against", help="a server on loopback that benchmark/school.py has filled")
    parser.add_argument("--web", default="2")
    parser.add_argument("--workers", default="2")
    parser.add_argument(
        "--bench-only",
        action="store_true",
        help="only trainers at the bench, one and twenty: what another worker brings",
    )
    wish = parser.parse_args()
    if wish.against:
        if not wish.against.startswith(("http://127.0.0.1:", "http://localhost:")):
            raise SystemExit("leitfaden: load goes to this machine only; --against takes an address on 127.0.0.1")
        found = asyncio.run(figures(wish.against.rstrip("/"), lambda: 0.0))
    else:
        found = on_own_server(["--web", wish.web, "--workers", wish.workers], wish.bench_only)
    if wish.json:
        print(json.dumps(found, indent=1))
        return
    print(
        f"{__doc__}\n{LEARNERS} learners, {TRAINERS} trainers, {os.cpu_count()} cores; client and server on "
        f"the same machine.\n"
    )
    for name, row in found.items():
        print(f"{name}: {json.dumps(row)}   {AIMS.get(name, '')}")


def on_own_server(processes: list[str], bench_only: bool) -> dict[str, Any]:
    """The figures of a server made for them."""
    with tempfile.TemporaryDirectory(prefix="leitfaden-load-", dir="/var/tmp") as folder:
        server = OwnServer(Path(folder), processes)
        try:
            base = server.wait()
            if bench_only:
                server.python("from benchmark.school import fill; fill(learners=1)")
                return {
                    "edit_alone": asyncio.run(one_edit_after_the_other(base)),
                    "20_trainers_at_the_bench": asyncio.run(trainers_at_the_bench(base, server.memory)),
                }
            seconds = prepared(server)
            found = asyncio.run(figures(base, server.memory))
        finally:
            server.end()
        return {"items_of_200_prepared_s": seconds} | found


if __name__ == "__main__":
    sys.path.insert(0, str(ROOT))
    main()
