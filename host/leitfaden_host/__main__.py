"""What ./leitfaden does once Python is there: start, stop, status, backup, restore, and commands that need the
database.
"""

import argparse
import fcntl
import json
import os
import shlex
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path
from typing import IO

from leitfaden_host import backups
from leitfaden_host.cluster import THROWAWAY, Cluster
from leitfaden_host.places import LOCAL, ROOT, RUN, HostError
from leitfaden_host.supervise import Child, Supervisor

FIRST_PORT, TRIES = 8010, 20
STATE = RUN / "running.json"
#: What the processes of a small server may be: two that answer, one that computes what people wait for, one for
#: everything.
WEB, WORKERS = 2, 2
LOOPBACK = "127.0.0.1"
NOT_RUNNING = 3
#: Connections that one process keeps and shares among its threads: to open one takes twenty milliseconds.
_POOL = "LEITFADEN_DB_CONNECTIONS"
_POOLED = {"web": {_POOL: "6"}, "work": {_POOL: "2"}}
#: Threads of one process share two pools of memory instead of eight for each core: a third less is held, and nothing is
#: slower.
_FRUGAL = {"MALLOC_ARENA_MAX": "2"}
_PYTHON = [sys.executable, str(ROOT / "server" / "manage.py")]


def listen(bind: str, port: int | None) -> socket.socket:
    """A listening socket: the wished port, or the first free one.

    Small answers leave at once (TCP_NODELAY is passed on to connections).
    """
    for candidate in [port] if port else range(FIRST_PORT, FIRST_PORT + TRIES):
        found = socket.socket(socket.AF_INET, socket.SOCK_STREAM, socket.IPPROTO_TCP)
        found.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        found.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)
        try:
            found.bind((bind, candidate))
            found.listen(1024)
        except OSError:
            found.close()
            continue
        return found
    wanted = f"port {port} is taken" if port else f"no port between {FIRST_PORT} and {FIRST_PORT + TRIES} is free"
    raise HostError(f"{wanted}; choose another with --port")


def _lock_instance() -> IO[str] | None:
    """The right to be the running one of this folder; None while another is."""
    RUN.mkdir(parents=True, exist_ok=True)
    lock = (RUN / "instance.lock").open("a")
    try:
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        lock.close()
        return None
    return lock


def _running() -> dict[str, object] | None:
    """What the running one tells about itself; None when none runs."""
    lock = _lock_instance()
    if lock is not None:
        lock.close()
        return None
    try:
        return json.loads(STATE.read_text(encoding="utf-8"))  # type: ignore[no-any-return]
    except (OSError, ValueError):
        return {"state": "starting"}


def _environment(cluster: Cluster | None) -> dict[str, str]:
    return os.environ | (cluster.environment() if cluster else {})


def _own_cluster() -> Cluster | None:
    """Our own database, or None where the environment names another machine's."""
    return None if os.environ.get("LEITFADEN_DB_HOST") else Cluster("database")


def start(arguments: list[str]) -> int:
    """Start everything and stay until a signal."""
    parser = argparse.ArgumentParser(prog="./leitfaden start")
    parser.add_argument("--port", type=int)
    parser.add_argument("--bind", default=LOOPBACK, help="address to listen on; beyond loopback there is no demo")
    parser.add_argument("--no-demo", action="store_true")
    parser.add_argument("--web", type=int, default=WEB, metavar="N", help="web processes")
    parser.add_argument("--workers", type=int, default=WORKERS, metavar="N", help="processes that compute")
    wish = parser.parse_args(arguments)
    lock = _lock_instance()
    if lock is None:
        return _join_running()
    with lock:
        listener = listen(wish.bind, wish.port)
        cluster = _own_cluster()
        if cluster is None:
            return _serve(wish, listener, None)
        with cluster.used():
            return _serve(wish, listener, cluster)


def _join_running() -> int:
    """Another one runs here, or is just starting: say where, once it is there."""
    for _ in range(1200):
        known = _running()
        if known is None:
            raise HostError("the other start ended before it was up; start again")
        if known.get("state") == "running":
            print(f"Leitfaden is already running from this folder:  {known['address']}   (./leitfaden stop ends it)")
            return 0
        time.sleep(0.25)
    raise HostError("another start of this folder does not come up; ./leitfaden stop ends it")


def _serve(wish: argparse.Namespace, listener: socket.socket, cluster: Cluster | None) -> int:
    beyond = wish.bind not in {LOOPBACK, "localhost"}
    environment = _environment(cluster) | _FRUGAL | {"LEITFADEN_BEYOND_LOOPBACK": "1" if beyond else ""}
    prepare = [*_PYTHON, "prepare", *(["--no-demo"] if wish.no_demo or beyond else [])]
    prepared = subprocess.run(prepare, env=environment, stdout=subprocess.PIPE, text=True, check=False)
    if prepared.returncode:
        raise HostError("the database could not be brought up to date; the lines above say why")
    address = f"http://{wish.bind}:{listener.getsockname()[1]}/"
    fd = listener.fileno()
    children = [
        Child(f"web {k + 1}", [*_PYTHON, "web", "--fd", str(fd)], _POOLED["web"] | environment, (fd,))
        for k in range(wish.web)
    ]
    children += [
        Child(f"worker {k + 1}", [*_PYTHON, "work", *(["--quick"] if k else [])], _POOLED["work"] | environment)
        for k in range(wish.workers)
    ]
    welcome = f"\n  Leitfaden is running:  {address}\n{prepared.stdout}\n  Ctrl-C stops everything.\n"
    Supervisor(cluster, children, STATE, address).run(lambda: print(welcome, flush=True))
    print("leitfaden: stopped", file=sys.stderr)
    return 0


def stop(arguments: list[str]) -> int:
    """End the running one and wait until it has ended."""
    known = _running()
    if known is None:
        print("Leitfaden is not running from this folder.")
        return 0
    pid = known.get("pid")
    if not isinstance(pid, int):
        raise HostError("it is just starting; try again in a moment")
    os.kill(pid, signal.SIGTERM)
    for _ in range(200):
        if _running() is None:
            print("Leitfaden has stopped.")
            return 0
        time.sleep(0.1)
    raise HostError(f"process {pid} does not end")


def status(arguments: list[str]) -> int:
    """What runs."""
    known = _running()
    if known is None:
        print("Leitfaden is not running from this folder.")
        return NOT_RUNNING
    print(f"{known['state']}   {known.get('address', '')}")
    rows = known.get("processes")
    for name, row in rows.items() if isinstance(rows, dict) else ():
        print(f"  {name:<10} process {row['pid']}, started again {row['restarts']} times")
    cluster = _own_cluster()
    if cluster is not None:
        print(f"  database   {'running on port ' + str(cluster.port) if cluster.is_running() else 'not running'}")
    return 0


def backup(arguments: list[str]) -> int:
    """Write a copy of everything to a file."""
    parser = argparse.ArgumentParser(prog="./leitfaden backup")
    parser.add_argument("file", type=Path)
    path = parser.parse_args(arguments).file.absolute()
    with Cluster("database").used() as cluster:
        backups.backup(cluster, path)
        # Who holds a copy holds everything: the schools' trails say that there is one.
        subprocess.run([*_PYTHON, "exported"], env=_environment(cluster), check=False)
    print(f"A copy of everything is in {path}.")
    return 0


def restore(arguments: list[str]) -> int:
    """Put a copy in the place of what is there."""
    parser = argparse.ArgumentParser(prog="./leitfaden restore")
    parser.add_argument("file", type=Path)
    path = parser.parse_args(arguments).file.absolute()
    lock = _lock_instance()
    if lock is None:
        raise HostError("Leitfaden is running; stop it first: ./leitfaden stop")
    with lock, Cluster("database").used() as cluster:
        head = backups.restore(cluster, path)
        migrated = subprocess.run(
            [*_PYTHON, "prepare", "--no-demo"], env=_environment(cluster), stdout=subprocess.DEVNULL, check=False
        )
        if migrated.returncode:
            raise HostError("the copy is in place but could not be brought up to date; the lines above say why")
    print(f"The copy of {head['made_at']} (Leitfaden {head['version']}) is in place.")
    return 0


def with_database(arguments: list[str]) -> int:
    """Run a command while a cluster is up: ``with CLUSTER COMMAND...``."""
    name, *command = arguments
    with Cluster(name, THROWAWAY if name.startswith("test") else ()).used() as cluster:
        return _patient(command, _environment(cluster))


def _patient(command: list[str], environment: dict[str, str]) -> int:
    """Run a command; Ctrl-C and signals are its business, we wait for its end."""
    process = subprocess.Popen(command, env=environment)
    for number in (signal.SIGTERM, signal.SIGHUP):
        signal.signal(number, lambda *_: process.terminate())
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    return process.wait()


def one_process(kind: str) -> Callable[[list[str]], int]:
    """Only web processes, or only a worker, for a second machine that shares the first one's database."""

    def run(arguments: list[str]) -> int:
        if not os.environ.get("LEITFADEN_DB_HOST"):
            raise HostError(
                "LEITFADEN_DB_HOST must name the database; docs/deployment.md tells which settings are needed"
            )
        return _patient([*_PYTHON, kind, *arguments], _FRUGAL | _POOLED[kind] | os.environ)

    return run


COMMANDS = {
    "start": start,
    "stop": stop,
    "status": status,
    "backup": backup,
    "restore": restore,
    "with": with_database,
    "web": one_process("web"),
    "worker": one_process("work"),
}


def main() -> int:
    """Dispatch; HostError becomes one line and exit code 1."""
    command, *arguments = sys.argv[1:]
    try:
        LOCAL.mkdir(parents=True, exist_ok=True)
        return COMMANDS[command](arguments)
    except HostError as error:
        print(f"leitfaden: {error}", file=sys.stderr)
    except OSError as error:
        print(f"leitfaden: {shlex.quote(str(error.filename or command))}: {error.strerror or error}", file=sys.stderr)
    return 1


if __name__ == "__main__":
    sys.exit(main())
