"""A Leitfaden of its own in a temporary folder, with what is slow to make taken from this one."""

import json
import os
import signal
import socket
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from leitfaden_host.places import LOCAL, ROOT


class Installation:
    """Commands in a folder of their own."""

    def __init__(self, folder: Path) -> None:
        self.local = folder
        folder.mkdir(parents=True, exist_ok=True)
        folder.chmod(0o755)
        for parent in folder.parents:  # the database's user must be able to pass through
            if parent.is_relative_to(tempfile.gettempdir()) and parent.stat().st_uid == os.geteuid():
                parent.chmod(parent.stat().st_mode | 0o011)
        venv = os.readlink(LOCAL / "venv")
        for name, target in ((venv, LOCAL / venv), ("venv", Path(venv))):
            if not (folder / name).is_symlink():
                (folder / name).symlink_to(target)
        (folder / "simulator.stamp").write_text((LOCAL / "simulator.stamp").read_text())
        self.environment = {
            name: value for name, value in os.environ.items() if not name.startswith("LEITFADEN_DB_")
        } | {
            "LEITFADEN_LOCAL": str(folder),
            "LEITFADEN_CACHE": os.environ.get("LEITFADEN_CACHE", str(LOCAL / "cache")),
            "LEITFADEN_SECRET": "only-in-this-test-0123456789-abcdefghijklmnopqrstuvwxyz",
        }
        self.started: list[subprocess.Popen[str]] = []

    def run(self, *words: str) -> subprocess.CompletedProcess[str]:
        """A command to its end."""
        return subprocess.run(
            [sys.executable, "-m", "leitfaden_host", *words],
            env=self.environment,
            capture_output=True,
            text=True,
            timeout=300,
            check=False,
        )

    def command(self, *words: str) -> subprocess.CompletedProcess[str]:
        """The one command at the root, as it is typed."""
        return subprocess.run(
            [str(ROOT / "leitfaden"), *words],
            env=self.environment,
            capture_output=True,
            text=True,
            timeout=300,
            check=False,
        )

    def start(self, *words: str) -> subprocess.Popen[str]:
        """A start that goes on."""
        command = [sys.executable, "-m", "leitfaden_host", "start", *words]
        log = (self.local / "start.log").open("a")
        self.started.append(
            subprocess.Popen(
                command, env=self.environment, stdout=log, stderr=subprocess.STDOUT, text=True, start_new_session=True
            )
        )
        return self.started[-1]

    @property
    def state(self) -> dict[str, Any]:
        """What the running one tells."""
        try:
            return json.loads((self.local / "run" / "running.json").read_text())  # type: ignore[no-any-return]
        except (OSError, ValueError):
            return {}

    def wait_until_running(self) -> dict[str, Any]:
        """Its state once it answers."""
        wait_until(lambda: self.state.get("state") == "running", 120, lambda: (self.local / "start.log").read_text())
        return self.state

    def pids(self) -> list[int]:
        """Processes of the running one."""
        return [row["pid"] for row in self.state["processes"].values()]

    def end(self) -> None:
        """Whatever still runs, and the database after it."""
        for process in self.started:
            if process.poll() is None:
                process.send_signal(signal.SIGTERM)
                process.wait(30)


def wait_until(condition: Callable[[], bool], seconds: float, why: Callable[[], str] = lambda: "") -> None:
    """Look again and again until something holds."""
    until = time.monotonic() + seconds
    while not condition():
        assert time.monotonic() < until, why()
        time.sleep(0.05)


def is_alive(pid: int) -> bool:
    """Whether a process lives; a dead one that nobody has reaped does not."""
    try:
        return Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()[0] != "Z"
    except OSError:
        return False


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])
