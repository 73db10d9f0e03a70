"""Work that goes on while processes are killed: learners answer, trainers save, and afterwards every acknowledgement is
looked up.
"""

import asyncio
import json
import os
import random
import signal
import subprocess
import sys
import uuid
from dataclasses import dataclass, field
from typing import Any

import aiohttp

from host_helpers import Installation

LEARNERS, TRAINERS = 20, 5
#: Answers that must have been acknowledged between two kills, however slow the machine is.
BETWEEN_KILLS = 10
PASSWORD = "only-under-fire"
#: For the work, and as much again for each kill as the slowest machine takes to come back. [s]
LONGEST = 60.0

FILL = f"""
from django.contrib.auth.hashers import make_password
from people.models import Membership, Role, School, User
from lessons.services import create_lesson, publish_lesson
from practice.items import prepare_station
from practice.models import Assignment
school, password = School.objects.create(name="Under fire"), make_password({PASSWORD!r})
names = [("trainer-%d" % k, Role.TRAINER) for k in range({TRAINERS})]
names += [("learner-%d" % k, Role.LEARNER) for k in range({LEARNERS})]
for name, role in names:
    Membership.objects.create(user=User.objects.create(username=name, password=password), school=school, role=role)
reading = {{"condition": "hot_idle", "channel": "total_trim"}}
station = {{"kind": "measure", "id": "m", "title": "m", "reading": reading}}
for member in Membership.objects.filter(role=Role.TRAINER).select_related("user", "school"):
    lesson = create_lesson(member=member, document={{"title": "0", "stations": [station]}})
version = publish_lesson(member=member, lesson_id=lesson.pk)
for member in Membership.objects.filter(role=Role.LEARNER).select_related("user"):
    given = Assignment.objects.create(version=version, learner=member.user, seed=5)
    prepare_station(given.pk, 0)
"""

LOOK = """
import json
from benches.models import Doing
from lessons.models import Lesson
from practice.models import Entry
entries = Entry.objects.select_related("attempt__assignment__learner")
lessons = Lesson.objects.select_related("updated_by")
print(json.dumps({
    "doings": [[row.bench_id, str(row.change), row.frame] for row in Doing.objects.order_by("bench", "number")],
    "answers": [[entry.attempt.assignment.learner.username, entry.answer["reading"]] for entry in entries],
    "drafts": {lesson.updated_by.username: [lesson.title, lesson.revision] for lesson in lessons},
}))
"""


def in_server(installation: Installation, code: str) -> str:
    """Run code in the installation's own server environment."""
    command = [
        sys.executable,
        "-m",
        "leitfaden_host",
        "with",
        "database",
        sys.executable,
        "-c",
        f"import django; django.setup()\n{code}",
    ]
    environment = installation.environment | {"DJANGO_SETTINGS_MODULE": "config.settings"}
    done = subprocess.run(command, env=environment, check=False, capture_output=True, text=True)
    assert done.returncode == 0, done.stderr
    return done.stdout


@dataclass
class Acknowledged:
    """What clients were told is stored."""

    answers: list[tuple[str, str]] = field(default_factory=list)
    drafts: dict[str, tuple[str, int]] = field(default_factory=dict)
    #: Bench -> what was done on it: id and frame.
    doings: dict[int, list[tuple[str, int]]] = field(default_factory=dict)
    refused: list[str] = field(default_factory=list)
    kills: int = 0


class Client:
    """A page that sends a change again, under its id, until it is answered."""

    def __init__(self, base: str, name: str, told: Acknowledged) -> None:
        self.base, self.name, self.told = base, name, told
        self.session = aiohttp.ClientSession(
            cookie_jar=aiohttp.CookieJar(unsafe=True), timeout=aiohttp.ClientTimeout(15)
        )

    async def call(self, method: str, path: str, data: Any = None) -> Any:
        """The answer, however long it takes."""
        change = str(uuid.uuid4())
        while True:
            token = next((cookie.value for cookie in self.session.cookie_jar if cookie.key == "csrftoken"), "")
            headers = {"X-CSRFToken": token, "X-Change-Id": change}
            try:
                async with self.session.request(method, self.base + path, json=data, headers=headers) as answer:
                    content = await answer.json()
                    if answer.status == 200:
                        return content
                    if answer.status < 500 and answer.status not in {202, 429}:
                        self.told.refused.append(f"{method} {path}: {answer.status} {content}")
                        return None
            except (aiohttp.ClientError, TimeoutError, json.JSONDecodeError, ConnectionError):
                pass
            await asyncio.sleep(0.2)

    async def sign_in(self) -> None:
        await self.call("GET", "/api/session")
        await self.call("POST", "/api/session", {"username": self.name, "password": PASSWORD})


async def _learner(client: Client, stop: asyncio.Event) -> None:
    await client.sign_in()
    given = await client.call("GET", "/api/assignments")
    attempt = (await client.call("POST", f"/api/assignments/{given[0]['id']}/attempt", {}))["id"]
    n = 0
    while not stop.is_set():
        reading = f"{n}.5 %"
        if await client.call("POST", f"/api/attempts/{attempt}/stations/0/answer", {"answer": {"reading": reading}}):
            client.told.answers.append((client.name, reading))
        n += 1
        await asyncio.sleep(0.1)


async def _trainer(client: Client, stop: asyncio.Event) -> None:
    await client.sign_in()
    mine = next(row for row in await client.call("GET", "/api/lessons") if row["updated_by"] == client.name)
    lesson, n = await client.call("GET", f"/api/lessons/{mine['id']}"), 0
    while not stop.is_set():
        n += 1
        document = lesson["draft"] | {"title": str(n)}
        saved = await client.call(
            "PUT", f"/api/lessons/{mine['id']}/draft", {"revision": lesson["revision"], "document": document}
        )
        if saved:
            lesson = saved
            client.told.drafts[client.name] = (saved["title"], saved["revision"])
        await asyncio.sleep(0.2)


async def _at_the_bench(client: Client, stop: asyncio.Event) -> None:
    """Do one thing after the other on a running engine; a line that breaks is opened again, and what was not
    acknowledged goes again under its id.
    """
    await client.sign_in()
    number = int((await client.call("POST", "/api/benches", {"beginning": {"rig": "R1"}}))["id"])
    told = client.told.doings.setdefault(number, [])
    url = f"{client.base.replace('http', 'ws')}/ws/benches/{number}"
    n, change = 0, str(uuid.uuid4())
    while not stop.is_set():
        seen = told[-1][1] if told else 0
        try:
            async with client.session.ws_connect(f"{url}?seen={seen}", origin=client.base, timeout=5.0) as line:
                opened = await _hear(line, "opened")
                frames = [event["frame"] for event in opened["opened"]["events"]]
                # One more than was acknowledged may have been kept.
                if frames[: len(told)] != [frame for _change, frame in told] or len(frames) > len(told) + 1:
                    client.told.refused.append(f"bench {number} came back with {frames}, not {told}")
                while not stop.is_set():
                    await line.send_json({"id": change, "do": {"do": "hold_speed", "rpm": 1500 + n}})
                    answer = await _hear(line, "done", "refused")
                    if answer.get("done") == change:
                        told.append((change, answer["frame"]))
                        n, change = n + 1, str(uuid.uuid4())
                    await asyncio.sleep(0.1)
        except (aiohttp.ClientError, TimeoutError, ConnectionError):
            await asyncio.sleep(0.2)


async def _hear(line: aiohttp.ClientWebSocketResponse, *names: str) -> dict[str, Any]:
    while True:
        message = await line.receive(timeout=10)
        if message.type is aiohttp.WSMsgType.TEXT:
            told: dict[str, Any] = json.loads(message.data)
            if any(name in told for name in names):
                return told
        elif message.type is not aiohttp.WSMsgType.BINARY:
            raise ConnectionError("the line was cut")


async def _killer(installation: Installation, told: Acknowledged, kills: int, stop: asyncio.Event) -> None:
    """Kill a server process, a worker, or the database, without a word, again and again."""
    chance = random.Random(27)
    await asyncio.sleep(2.0)
    while told.kills < kills:
        rows = installation.state["processes"]
        kind = ("web", "worker", "database")[told.kills % 3]
        if kind == "database":
            pid = int((installation.local / "database" / "postmaster.pid").read_text().splitlines()[0])
        else:
            pid = chance.choice([row["pid"] for name, row in rows.items() if name.startswith(kind)])
        try:
            os.kill(pid, signal.SIGKILL)
            told.kills += 1
        except ProcessLookupError:
            pass
        before = len(told.answers)
        await asyncio.sleep(chance.uniform(0.5, 2.5))
        while len(told.answers) < before + BETWEEN_KILLS:
            await asyncio.sleep(0.05)
    while not told.drafts or not any(told.doings.values()):  # on a slow machine trainers come to work last
        await asyncio.sleep(0.05)
    stop.set()


def under_fire(installation: Installation, base: str, kills: int) -> Acknowledged:
    """Twenty learners and five trainers at work while that many processes are killed; what they were told."""

    async def run() -> Acknowledged:
        told, stop = Acknowledged(), asyncio.Event()
        names = [f"learner-{k}" for k in range(LEARNERS)] + [f"trainer-{k}" for k in range(TRAINERS)]
        clients = [Client(base, name, told) for name in names]
        work = [(_learner if client.name.startswith("learner") else _trainer)(client, stop) for client in clients]
        at_benches = [Client(base, f"trainer-{k}", told) for k in range(TRAINERS)]
        work += [_at_the_bench(client, stop) for client in at_benches]
        await asyncio.gather(_killer(installation, told, kills, stop), *work)
        await asyncio.gather(*(client.session.close() for client in clients + at_benches))
        return told

    async def in_time() -> Acknowledged:
        async with asyncio.timeout(LONGEST + 20.0 * kills):
            return await run()

    return asyncio.run(in_time())


def check(installation: Installation, told: Acknowledged) -> dict[str, int]:
    """Nothing acknowledged is lost, nothing stored twice, nobody refused in their own name; counts for the report."""
    found = json.loads(in_server(installation, LOOK))
    stored = [tuple(row) for row in found["answers"]]
    lost = set(told.answers) - set(stored)
    doubled = [row for row in set(stored) if stored.count(row) > 1]
    assert lost == set() and doubled == [] and told.refused == [], (lost, doubled, told.refused[:3])
    kept = [tuple(row) for row in found["doings"]]
    done = {(bench, *entry) for bench, entries in told.doings.items() for entry in entries}
    assert done <= set(kept) and len(kept) == len({(bench, change) for bench, change, _frame in kept})
    for name, (title, revision) in told.drafts.items():
        # The last save may have been stored without its acknowledgement arriving.
        assert found["drafts"][name] in ([title, revision], [str(int(title) + 1), revision + 1])
        assert int(found["drafts"][name][0]) == found["drafts"][name][1] - 1, "each save counted once"
    return {
        "kills": told.kills,
        "answers": len(told.answers),
        "doings": len(done),
        "drafts": sum(revision - 1 for _title, revision in told.drafts.values()),
    }


def survives_kills(installation: Installation, kills: int, of_each: str) -> None:
    """So many kills, with so many processes of each kind, and what was acknowledged is there once."""
    installation.start("--no-demo", "--web", of_each, "--workers", of_each)
    base = installation.wait_until_running()["address"].rstrip("/")
    in_server(installation, FILL)
    told = under_fire(installation, base, kills=kills)
    counted = check(installation, told)
    assert counted["kills"] == kills and counted["answers"] > 8 * kills
    assert counted["drafts"] > 0 and counted["doings"] > 0
    installation.end()
