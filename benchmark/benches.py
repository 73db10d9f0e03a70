"""Running benches by the dozen, against a server of its own on loopback: ``./leitfaden bench --live``.

Each bench has its undisturbed twin, a fault, monitors that run along and 20 channels on the line; rigs take turns. One
worker is busy meanwhile. Lateness: how much later a twentieth of a second of engine came than twenty a second would
bring it, counted from the least late one of its bench since everybody has opened; in a block that brings several, or
after one that was left out, each counts by itself. Client and server share this machine's cores: the client's own CPU
time stands beside.
"""

import argparse
import asyncio
import json
import os
import signal
import struct
import tempfile
import time
import uuid
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import aiohttp

from benchmark.load import OwnServer, Person, Times, machine_ticks
from benchmark.school import TRAINERS
from leitfaden_core.rigs import load_rig, rig_channels, rig_ids

CHANNELS, SECONDS = 20, 20.0
AIM, TEN_MINUTES = 100, 60_000
#: A twentieth of a second. [frames]
EACH = 5
HEAD = struct.Struct("<6d")
FAULTS = {
    "R1": {"kind": "manifold_vacuum_leak", "params": {"area_mm2": 3.0}},
    "R2": {"kind": "ect_offset", "params": {"K": -20.0}},
    "R3": {"kind": "manifold_vacuum_leak", "params": {"area_mm2": 2.0}},
    "R4": {"kind": "iat_offset", "params": {"K": 15.0}},
    "R5": {"kind": "manifold_vacuum_leak", "params": {"area_mm2": 4.0}},
    "R6": {"kind": "ect_offset", "params": {"K": -15.0}},
}


class Opening:
    """Benches that open one after the other, as people come; measured is what comes after the last has opened."""

    def __init__(self, count: int, seconds: float = SECONDS) -> None:
        self.waiting, self.seconds, self.since = count, seconds, 0.0

    def another(self) -> None:
        """One more has got its first block, or will get none."""
        self.waiting -= 1
        if not self.waiting:
            self.since = time.perf_counter()

    @property
    def is_over(self) -> bool:
        """Whether everybody has opened."""
        return not self.waiting

    @property
    def has_been_seen(self) -> bool:
        """Whether everybody has watched for as long as they shall."""
        return self.is_over and time.perf_counter() - self.since > self.seconds


@dataclass
class Watched:
    """What one client saw."""

    first_s: float = 0.0
    #: Since everybody has opened.
    blocks: int = 0
    came_ms: list[float] = field(default_factory=list)
    acts_ms: list[float] = field(default_factory=list)
    trouble: list[str] = field(default_factory=list)

    @property
    def late(self) -> list[float]:
        """How much later each block came than it would have come with the least late one's delay. [ms]"""
        least = min(self.came_ms, default=0.0)
        return [came - least for came in self.came_ms]


async def bench_of(person: Person, rig: str) -> int:
    """A new bench."""
    beginning = {"rig": rig, "faults": [FAULTS[rig]]}
    row = await person.call("POST", "/api/benches", {"beginning": beginning})
    if row is None:
        raise SystemExit(f"leitfaden: no bench: {person.times.failed[-1]}")
    return int(row["id"])


async def watch(
    person: Person, number: int, rig: str, seen: Watched, opening: Opening, acts: bool, wait: float = 0.0
) -> None:
    """Watch a bench, and do something every two seconds once all have opened."""
    await asyncio.sleep(wait)
    try:
        await _watch(person, number, rig, seen, opening, acts)
    finally:
        if not seen.first_s:
            opening.another()


async def _watch(person: Person, number: int, rig: str, seen: Watched, opening: Opening, acts: bool) -> None:
    start = time.perf_counter()
    channels = rig_channels(load_rig(rig))[:CHANNELS]
    url = f"{person.base.replace('http', 'ws')}/ws/benches/{number}"
    sent: dict[str, float] = {}
    effect: dict[str, tuple[int, float]] = {}
    begun, first, known, frame, next_act = 0.0, 0, 0, 0, start + 2.0
    async with person.session.ws_connect(url, origin=person.base, max_msg_size=0) as line:
        await line.send_json({"watch": channels, "number": 1})
        while not opening.has_been_seen:
            message = await line.receive(timeout=30)
            now = time.perf_counter()
            if message.type is aiohttp.WSMsgType.BINARY:
                frame = int(HEAD.unpack_from(message.data)[2] + HEAD.unpack_from(message.data)[5])
                if not seen.first_s:
                    seen.first_s = now - start
                    opening.another()
                if not opening.is_over:  # how long that takes is another figure
                    continue
                if not seen.blocks:
                    begun, first, known = now, frame, frame - EACH
                seen.blocks += 1
                # The clock is the engine's: frame n is due n frames after the first.
                due = range(known + EACH, frame + 1, EACH)
                seen.came_ms += [1000.0 * (now - begun - (n - first) * 0.01) for n in due]
                known = due[-1] if due else known
                for change, (done, at) in list(effect.items()):
                    if frame > done:
                        seen.acts_ms.append(1000.0 * (now - at))
                        del effect[change]
                if acts and now > next_act:
                    next_act = now + 2.0
                    change = str(uuid.uuid4())
                    sent[change] = now
                    pedal = {"do": "move_pedal", "to": 0.02 if seen.blocks % 2 else 0.0}
                    await line.send_json({"id": change, "do": pedal})
            elif message.type is aiohttp.WSMsgType.TEXT:
                told = json.loads(message.data) if "done" in message.data[:8] or "refused" in message.data[:11] else {}
                if told.get("done") in sent:
                    effect[told["done"]] = (told["frame"], sent.pop(told["done"]))
                elif "refused" in told:
                    seen.trouble.append(told["message"])
            else:
                seen.trouble.append(str(message.type))
                return


def at(values: list[float], share: float) -> float:
    """A quantile; NaN of nothing."""
    ordered = sorted(values) or [float("nan")]
    return round(ordered[min(int(share * len(ordered)), len(ordered) - 1)], 1)


async def many(base: str, count: int, server: OwnServer | None) -> dict[str, Any]:
    """So many benches at once, while one worker is busy."""
    times = Times()
    people = [Person(base, f"trainer-{k}", times) for k in range(TRAINERS)]
    await asyncio.gather(*(person.sign_in(measured=False) for person in people))
    wishes = []
    for k in range(count):
        person, rig = people[k % TRAINERS], rig_ids()[k % len(rig_ids())]
        wishes.append((person, await bench_of(person, rig), rig))
    stop = asyncio.Event()
    busy = asyncio.create_task(_keep_a_worker_busy(people[0], stop))
    seen, opening = [Watched() for _ in wishes], Opening(count)
    started, ticks, cpu = time.perf_counter(), machine_ticks(), time.process_time()
    before = _cpu_of(server)
    results = await asyncio.gather(
        # They come one after the other, as people do.
        *(
            watch(*wish, got, opening, acts=True, wait=0.03 * k)
            for k, (wish, got) in enumerate(zip(wishes, seen, strict=True))
        ),
        return_exceptions=True,
    )
    stop.set()
    await busy
    spent = [after - known for after, known in zip(machine_ticks(), ticks, strict=True)]
    served, passed = _cpu_of(server) - before, time.perf_counter() - started
    for person, number, _rig in wishes:
        await person.call("DELETE", f"/api/benches/{number}")
    await asyncio.gather(*(person.session.close() for person in people))
    late = [value for got in seen for value in got.late]
    acts = [value for got in seen for value in got.acts_ms]
    return {
        "benches": count,
        "blocks_per_s_and_bench": round(sum(got.blocks for got in seen) / count / SECONDS, 1),
        "late_p50_ms": at(late, 0.5),
        "late_p95_ms": at(late, 0.95),
        "act_to_effect_p95_ms": at(acts, 0.95),
        "first_block_p95_s": at([got.first_s for got in seen], 0.95),
        "web_cpu_ms_per_s_and_bench": round(1000.0 * served / passed / count, 1),
        "client_cpu_s_per_s": round((time.process_time() - cpu) / passed, 2),
        "stolen_percent": round(100.0 * spent[7] / max(sum(spent), 1)),
        "trouble": [str(error) for error in results if error] + [text for got in seen for text in got.trouble][:3],
    }


async def _keep_a_worker_busy(person: Person, stop: asyncio.Event) -> None:
    n = 0
    while not stop.is_set():
        n += 1
        fault = {"kind": "manifold_vacuum_leak", "params": {"area_mm2": round(1.0 + 0.001 * n, 4)}}
        await person.call("POST", "/api/bench/run", {"channels": ["maf"], "faults": [fault]}, unpack=False)


def _cpu_of(server: OwnServer | None) -> float:
    """CPU time of the web processes. [s]"""
    if server is None:
        return 0.0
    spent, tick = 0.0, os.sysconf("SC_CLK_TCK")
    for name, row in server.state["processes"].items():
        if name.startswith("web"):
            fields = Path(f"/proc/{row['pid']}/stat").read_text().rsplit(")", 1)[1].split()
            spent += (int(fields[11]) + int(fields[12])) / tick
    return spent


async def one(base: str) -> dict[str, Any]:
    """One bench on a quiet server: opening, an action's effect, and ten minutes brought back."""
    person = Person(base, "trainer-0", Times())
    await person.sign_in(measured=False)
    number = await bench_of(person, "R1")
    warm, quiet = Watched(), Watched()
    await watch(person, number, "R1", warm, Opening(1, 3.0), acts=False)
    await person.call("DELETE", f"/api/benches/{number}")
    number = await bench_of(person, "R1")
    await watch(person, number, "R1", quiet, Opening(1, 12.0), acts=True)
    await person.session.close()
    return {
        "opening_to_first_block_s": round(quiet.first_s, 3),
        "act_to_effect_p95_ms": at(quiet.acts_ms, 0.95),
        "late_p95_ms": at(quiet.late, 0.95),
    }


async def after_a_kill(base: str, server: OwnServer) -> dict[str, Any]:
    """Ten minutes of a bench, run as fast as it goes, with an action each ten seconds; then the process that has it in
    hand is killed, and its viewer comes back: seconds to the first block, which another process sends.
    """
    person = Person(base, "trainer-0", Times())
    await person.sign_in(measured=False)
    number = await bench_of(person, "R1")
    url = f"{base.replace('http', 'ws')}/ws/benches/{number}"
    frame = acts = 0
    async with person.session.ws_connect(url, origin=base, max_msg_size=0) as line:
        await line.send_json({"watch": ["rpm"], "number": 1})
        await line.send_json({"pace": 1000})
        while frame < TEN_MINUTES:
            message = await line.receive(timeout=60)
            if message.type is aiohttp.WSMsgType.BINARY:
                frame = int(HEAD.unpack_from(message.data)[2] + HEAD.unpack_from(message.data)[5])
                if frame >= acts * 1000:
                    acts += 1
                    await line.send_json({"id": str(uuid.uuid4()), "do": {"do": "hold_speed", "rpm": 1500 + 20 * acts}})
        holder = server.python(f"from benches.services import held_at; print(held_at({number}))").strip()
        os.kill(_web_process(server, holder), signal.SIGKILL)
        killed = time.perf_counter()
    while True:
        try:
            async with person.session.ws_connect(url, origin=base, max_msg_size=0) as line:
                await line.send_json({"watch": ["rpm"], "number": 1})
                while (message := await line.receive(timeout=60)).type is not aiohttp.WSMsgType.BINARY:
                    if message.type is not aiohttp.WSMsgType.TEXT:
                        raise ConnectionResetError
                break
        except (OSError, aiohttp.ClientError):
            await asyncio.sleep(0.02)
    back = time.perf_counter() - killed
    await person.call("DELETE", f"/api/benches/{number}")
    await person.session.close()
    return {"actions": acts, "killed_to_first_block_s": round(back, 2)}


def _web_process(server: OwnServer, address: str) -> int:
    """Process id of the web process that others reach at an address: the one that holds the listening socket."""
    port = f":{int(address.rsplit(':', 1)[1]):04X}"
    listening = [line.split() for line in Path("/proc/net/tcp").read_text().splitlines()[1:]]
    (inode,) = [fields[9] for fields in listening if fields[1].endswith(port) and fields[3] == "0A"]
    for name, row in server.state["processes"].items():
        held = Path(f"/proc/{row['pid']}/fd").iterdir()
        if name.startswith("web") and any(os.readlink(fd) == f"socket:[{inode}]" for fd in held):
            return int(row["pid"])
    raise SystemExit(f"leitfaden: no web process answers at {address}")


def replay() -> dict[str, Any]:
    """A session of ten minutes with an action every ten seconds, brought back from its journal."""
    from leitfaden_core.live import Beginning, Bench, doing_of

    found = {}
    for rig in rig_ids():
        bench = Bench(Beginning(rig=rig))
        for k in range(60):
            bench.go_to(bench.frame + 1000)
            bench.do(doing_of({"do": "hold_speed", "rpm": 1500 + 20 * k}))
        start = time.perf_counter()
        Bench.replayed(bench.beginning, bench.journal, bench.frame)
        found[rig] = round(time.perf_counter() - start, 2)
    return found


AIMS = {
    "one": "aim: opening under 1 s warm, action to effect p95 under 150 ms",
    "replay_of_ten_minutes_s": "aim: under 1 s",
    "ten_minutes_after_a_kill": "the replay, and what server and line take beside it",
    "many": f"aim: {AIM} benches with p95 lateness under 100 ms",
}


def main() -> None:
    """bench --live [--json] [--count N ...]."""
    parser = argparse.ArgumentParser(prog="./leitfaden bench --live")
    parser.add_argument("--live", action="store_true")
    parser.add_argument("--json", action="store_true")
    parser.add_argument("--count", type=int, nargs="*", default=[20, 60, 100])
    parser.add_argument("--web", default="2")
    wish = parser.parse_args()
    found: dict[str, Any] = {"replay_of_ten_minutes_s": replay()}
    with tempfile.TemporaryDirectory(prefix="leitfaden-live-", dir="/var/tmp") as folder:
        server = OwnServer(Path(folder), ["--web", wish.web, "--workers", "2"])
        try:
            base = server.wait()
            server.python("from benchmark.school import fill; fill(learners=1)")
            found["one"] = asyncio.run(one(base))
            for count in wish.count:
                found[f"many {count}"] = asyncio.run(many(base, count, server))
            # Last: the process that comes in its place begins without lines, and would get more of the next than
            # others.
            found["ten_minutes_after_a_kill"] = asyncio.run(after_a_kill(base, server))
        finally:
            server.end()
    if wish.json:
        print(json.dumps(found, indent=1))
        return
    print(f"{__doc__}\n{os.cpu_count()} cores.\n")
    for name, row in found.items():
        print(f"{name}: {json.dumps(row)}   {AIMS.get(name.split(' ')[0], '')}")


if __name__ == "__main__":
    main()
