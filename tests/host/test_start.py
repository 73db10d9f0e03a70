"""Starting and stopping as people do it: twice, killed, with a port that is taken, in a folder that cannot be
written.
"""

import os
import signal
import socket
import subprocess
import urllib.request
from collections.abc import Iterator
from pathlib import Path

import pytest

from host_helpers import Installation, free_port, is_alive, wait_until
from kills import survives_kills
from leitfaden_host.places import ROOT


@pytest.fixture(scope="module")
def installation(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Installation]:
    made = Installation(tmp_path_factory.mktemp("start") / "local")
    yield made
    made.end()


def answers(address: str) -> bool:
    try:
        with urllib.request.urlopen(f"{address}api/session", timeout=20) as answer:
            return bool(answer.status == 200)
    except OSError:
        return False


def test_it_runs_mends_what_dies_and_a_second_start_says_where_it_runs(installation: Installation) -> None:
    first = installation.start("--no-demo", "--workers", "1")
    state = installation.wait_until_running()
    assert answers(state["address"])

    second = installation.run("start", "--no-demo")
    assert second.returncode == 0 and state["address"] in second.stdout and first.poll() is None

    before = installation.pids()
    for pid in before:
        os.kill(pid, signal.SIGKILL)
    wait_until(lambda: not set(before) & set(installation.pids()) and all(map(is_alive, installation.pids())), 60)
    wait_until(lambda: answers(state["address"]), 60)
    said = installation.run("status")
    assert said.returncode == 0 and "started again 1 times" in said.stdout

    database = installation.local / "database" / "postmaster.pid"
    os.kill(int(database.read_text().splitlines()[0]), signal.SIGKILL)
    wait_until(lambda: answers(state["address"]), 60)

    serving = installation.pids()
    assert len(serving) == len(before) and all(map(is_alive, serving))
    stopped = installation.run("stop")
    assert stopped.returncode == 0 and first.wait(30) == 0
    assert not any(map(is_alive, serving))
    assert installation.run("status").returncode == 3


def test_kills_lose_and_double_nothing(installation: Installation) -> None:
    """Two of them, with one process of each kind: each takes seconds to start. More of both: test_kills.py."""
    survives_kills(installation, kills=2, of_each="1")


@pytest.mark.slow
def test_a_killed_start_leaves_nothing_that_blocks_the_next(installation: Installation) -> None:
    port = free_port()
    killed = installation.start("--no-demo", "--workers", "1", "--port", str(port))
    installation.wait_until_running()
    orphans = installation.pids()
    killed.send_signal(signal.SIGKILL)
    killed.wait()
    wait_until(lambda: not any(map(is_alive, orphans)), 30)
    (installation.local / "run" / "running.json").unlink(missing_ok=True)
    installation.start("--no-demo", "--workers", "1", "--port", str(port))
    state = installation.wait_until_running()
    assert answers(state["address"]) and state["address"].endswith(f":{port}/")
    installation.end()


def test_a_port_that_is_taken_is_said_before_anything_is_set_up(tmp_path: Path) -> None:
    with socket.create_server(("127.0.0.1", 0)) as taken:
        port = taken.getsockname()[1]
        said = subprocess.run(
            [str(ROOT / "leitfaden"), "start", "--port", str(port)],
            env=os.environ | {"LEITFADEN_LOCAL": str(tmp_path / "nothing")},
            capture_output=True,
            text=True,
            timeout=60,
            check=False,
        )
    assert (said.returncode, said.stderr) == (1, f"leitfaden: port {port} is taken; choose another with --port\n")
    assert not (tmp_path / "nothing").exists()


def test_a_folder_that_cannot_be_written_is_one_sentence(tmp_path: Path) -> None:
    for words in (["start"], ["backup", "x"]):
        said = subprocess.run(
            [str(ROOT / "leitfaden"), *words],
            env=os.environ | {"LEITFADEN_LOCAL": "/proc/no-place"},
            capture_output=True,
            text=True,
            timeout=60,
            check=False,
        )
        assert said.returncode == 1 and said.stderr.count("\n") == 1 and "cannot be written to" in said.stderr


@pytest.mark.slow
def test_without_network_set_up_ends_with_one_sentence_and_leaves_the_build_alone(tmp_path: Path) -> None:
    build = ROOT / "web" / "dist"
    before = build.stat().st_ino
    said = subprocess.run(
        [str(ROOT / "leitfaden"), "setup"],
        env=os.environ
        | {
            "LEITFADEN_LOCAL": str(tmp_path),
            "PIP_INDEX_URL": "http://127.0.0.1:9/",
            "PIP_NO_CACHE_DIR": "1",
            "PIP_RETRIES": "0",
            "PIP_EXTRA_INDEX_URL": "",
            "PIP_FIND_LINKS": "",
        },
        capture_output=True,
        text=True,
        timeout=300,
        check=False,
    )
    assert said.returncode == 1
    assert said.stderr.splitlines()[-1].startswith("leitfaden: Python packages could not be installed (no network?)")
    assert not (tmp_path / "venv").exists(), "what is not whole does not take its place"
    assert build.stat().st_ino == before, "others are being served from it"
