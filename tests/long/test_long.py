"""What is too slow for every time: ./leitfaden test --long.

Prints what it found; the last output is kept in docs/long-tests.txt.
"""

import asyncio
import json
import os
import shutil
import subprocess
import sys
import time
import uuid
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import aiohttp
import pytest

from fuzzing import send_hostile
from host_helpers import Installation, wait_until
from kills import FILL, LOOK, Acknowledged, Client, check, in_server, under_fire
from practice.services import start_attempt

pytestmark = pytest.mark.skipif(not os.environ.get("LEITFADEN_LONG"), reason="only with ./leitfaden test --long")


def say(text: str) -> None:
    sys.stdout.write(f"\n  {text}\n")
    sys.stdout.flush()


@pytest.fixture
def installation(tmp_path: Path) -> Iterator[Installation]:
    made = Installation(tmp_path / "local")
    yield made
    made.end()


def test_a_hundred_kills_lose_and_double_nothing(installation: Installation) -> None:
    installation.start("--no-demo")
    base = installation.wait_until_running()["address"].rstrip("/")
    in_server(installation, FILL)
    start = time.monotonic()
    told = under_fire(installation, base, kills=100)
    counted = check(installation, told)
    say(
        f"100 kills of web, worker and database in {time.monotonic() - start:.0f} s: {counted['answers']} "
        f"answers and {counted['drafts']} drafts and {counted['doings']} doings at benches acknowledged, "
        f"none lost or doubled"
    )


@pytest.mark.parametrize("slice_", range(10))
def test_a_thousand_hostile_requests_of_ten_thousand(world: Any, slice_: int) -> None:
    attempt = start_attempt(member=world.members["learner"], assignment_id=world.assignment.pk)
    report = send_hostile(world, attempt.pk, requests=1000, seed=1000 + slice_)
    say(
        f"hostile requests, part {slice_ + 1} of 10: {report.sent} sent, {report.accepted} accepted and "
        f"shown again, {len(report.broken)} broken, {len(report.hung)} hung"
    )
    assert report.broken == [] and report.hung == []


def small_disk(folder: Path, megabytes: int) -> bool:
    """A file system of that size at the folder: in memory where we are root, else there is none."""
    folder.mkdir(parents=True)
    mounted = subprocess.run(
        ["mount", "-t", "tmpfs", "-o", f"size={megabytes}m,mode=755", "tmpfs", str(folder)],
        capture_output=True,
        check=False,
    )
    return mounted.returncode == 0


def test_a_full_disk_is_a_sentence_loses_nothing_and_recovers_by_itself(tmp_path: Path) -> None:
    folder = tmp_path / "disk"
    if os.geteuid() or not small_disk(folder, 200):
        pytest.skip("neither a tmpfs nor a file system of limited size can be had here")
    installation = Installation(folder / "local")
    try:
        installation.start("--no-demo", "--workers", "1")
        base = installation.wait_until_running()["address"].rstrip("/")
        in_server(installation, FILL)
        _fill_up_and_recover(installation, base, folder)
    finally:
        installation.end()
        time.sleep(2)
        subprocess.run(["umount", "-l", str(folder)], check=False)


def _fill_up_and_recover(installation: Installation, base: str, folder: Path) -> None:
    ballast = folder / "ballast"

    async def post(client: Client, attempt: int, n: int) -> tuple[int, Any]:
        token = next((cookie.value for cookie in client.session.cookie_jar if cookie.key == "csrftoken"), "")
        headers = {"X-CSRFToken": token, "X-Change-Id": str(uuid.uuid4())}
        data = {"answer": {"reading": f"{n}.5 %"}}
        async with client.session.post(
            f"{base}/api/attempts/{attempt}/stations/0/answer", json=data, headers=headers
        ) as answer:
            return answer.status, await answer.json()

    async def run() -> None:
        told = Acknowledged()
        client = Client(base, "learner-0", told)
        await client.sign_in()
        given = await client.call("GET", "/api/assignments")
        attempt = (await client.call("POST", f"/api/assignments/{given[0]['id']}/attempt", {}))["id"]
        # Everything that is left, to the last page.
        with ballast.open("wb") as file:
            try:
                while True:
                    file.write(b"x" * 65536)
                    file.flush()
            except OSError:
                pass
        sentences, stored = [], []
        for n in range(4000):
            try:
                status, answer = await post(client, attempt, n)
            except (aiohttp.ClientError, TimeoutError):
                continue
            if status == 200:
                stored.append(f"{n}.5 %")
            else:
                sentences.append((status, answer["code"], answer["message"]))
                if len(sentences) > 5:
                    break
        assert sentences, "the disk never got full"
        assert all(status == 503 and code in {"no_space", "no_database"} for status, code, _ in sentences), sentences
        ballast.unlink()
        again = await client.call(
            "POST", f"/api/attempts/{attempt}/stations/0/answer", {"answer": {"reading": "99999 %"}}
        )
        assert again == {"stored": True, "next": None}
        stored.append("99999 %")
        kept = [reading for _name, reading in json.loads(in_server(installation, LOOK))["answers"]]
        assert set(stored) <= set(kept) and len(kept) == len(set(kept))
        await client.session.close()
        say(
            f"full disk: {len(stored)} answers acknowledged, all there; then \u00ab{sentences[0][2]}\u00bb; "
            f"went on by itself once there was room"
        )

    wait_until(lambda: installation.state.get("state") == "running", 30)
    asyncio.run(run())
    assert shutil.disk_usage(folder).free > 0
