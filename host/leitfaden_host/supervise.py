"""Keeps the processes of a running Leitfaden alive: database, web processes on one socket, workers.

A process that dies is started again, at once the first time and then after growing pauses. When this process ends,
however it ends, the others end too: each asks the kernel for a signal at its parent's death (setpriv --pdeathsig).
"""

import json
import os
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path

from leitfaden_host.cluster import Cluster
from leitfaden_host.places import HostError

GRACE = 10.0
LONGEST_PAUSE = 15.0
#: A process that lived this long has earned an immediate restart. [s]
SETTLED = 20.0
_WITH_US = ("setpriv", "--pdeathsig", "TERM", "--")


@dataclass
class Child:
    """A process to keep alive."""

    name: str
    command: list[str]
    environment: dict[str, str]
    sockets: tuple[int, ...] = ()
    process: subprocess.Popen[bytes] | None = None
    restarts: int = 0
    pause: float = 0.0
    started: float = field(default=0.0)

    def start(self) -> None:
        """Start it, tied to our own life."""
        self.started = time.monotonic()
        self.process = subprocess.Popen(
            [*_WITH_US, *self.command], env=self.environment, pass_fds=self.sockets, start_new_session=True
        )

    def is_alive(self) -> bool:
        """Whether it lives; reaps it when not."""
        return self.process is not None and self.process.poll() is None

    def mend(self) -> bool:
        """Start it again when it has died and its pause is over. True when something was done."""
        now = time.monotonic()
        if self.is_alive() or now < self.started + self.pause:
            return False
        lived = now - self.started
        self.pause = 0.5 if lived > SETTLED else min(max(2.0 * self.pause, 0.5), LONGEST_PAUSE)
        self.restarts += 1
        self.start()
        return True


class Supervisor:
    """Runs until a signal: ``children`` and the cluster under them. ``state`` is a file that tells others what runs."""

    def __init__(self, cluster: Cluster | None, children: list[Child], state: Path, address: str) -> None:
        self.cluster, self.children, self.state, self.address = cluster, children, state, address
        self._ending = False
        self._told = ""

    def run(self, when_ready: Callable[[], None]) -> None:
        """Keep everything alive until SIGINT, SIGTERM or SIGHUP."""
        for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
            signal.signal(number, self._end)
        ready, port = False, int(self.address.rsplit(":", 1)[1].strip("/"))
        try:
            for child in self.children:
                child.start()
            while not self._ending:
                self._look_after_database()
                for child in self.children:
                    if child.mend():
                        _say(f"{child.name} ended and was started again")
                if not ready and _answers(port):
                    ready = True
                    when_ready()
                self._tell("running" if ready else "starting")
                time.sleep(0.25)
        finally:
            self._stop_children()
            self.state.unlink(missing_ok=True)

    def _end(self, *_: object) -> None:
        self._ending = True

    def _look_after_database(self) -> None:
        if self.cluster is None or self.cluster.seems_alive() or self.cluster.is_running():
            return
        _say("the database ended and is started again")
        try:
            self.cluster.start()
        except HostError as error:
            _say(f"{error}; trying again")

    def _tell(self, word: str) -> None:
        rows = {
            child.name: {"pid": child.process.pid if child.process else None, "restarts": child.restarts}
            for child in self.children
        }
        told = json.dumps({"pid": os.getpid(), "address": self.address, "state": word, "processes": rows})
        if told != self._told:
            beside = self.state.with_suffix(".new")
            try:
                beside.write_text(told, encoding="utf-8")
                beside.replace(self.state)
            except OSError:
                return  # a full disk: nobody can be told, everything goes on
            self._told = told

    def _stop_children(self) -> None:
        living = [child.process for child in self.children if child.process and child.is_alive()]
        for process in living:
            process.terminate()
        until = time.monotonic() + GRACE
        for process in living:
            try:
                process.wait(max(until - time.monotonic(), 0.1))
            except subprocess.TimeoutExpired:
                process.kill()
                process.wait()


def _answers(port: int) -> bool:
    """Whether a web process answers. Only asked until the first one does."""
    try:
        with socket.create_connection(("127.0.0.1", port), timeout=1.0) as wire:
            wire.settimeout(5.0)
            wire.sendall(b"GET /api/health HTTP/1.1\r\nHost: 127.0.0.1\r\nConnection: close\r\n\r\n")
            return wire.recv(64).startswith(b"HTTP/1.1 200")
    except OSError:
        return False


def _say(text: str) -> None:
    print(f"leitfaden: {text}", file=sys.stderr, flush=True)
