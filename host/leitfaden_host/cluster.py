"""A database cluster of our own on loopback, never the system's.

Whoever uses it holds a shared lock on a file. The last one out stops it, also when it was killed: a waiting process
(:data:`_LAST_ONE_OUT`) gets the lock when nobody holds it any more. So two users never take the database from each
other, and none is left behind.
"""

import contextlib
import fcntl
import hashlib
import os
import pwd
import secrets
import shutil
import socket
import subprocess
import time
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import IO

from leitfaden_host.places import LOCAL, ROOT, RUN, HostError

USER = NAME = "leitfaden"
#: For tests: quick, and nobody needs the data after a power cut.
THROWAWAY = ("fsync=off", "synchronous_commit=off", "full_page_writes=off")
#: Waits until nobody holds the lock, then stops the server. Holds the lock meanwhile, so that a new user waits.
_LAST_ONE_OUT = ("setsid", "--fork", "flock", "--exclusive")
_START_TRIES = 8


def find_tools() -> Path:
    """Folder of the newest installed server's programs."""
    found = sorted(Path("/usr/lib/postgresql").glob("*/bin/initdb"), key=lambda path: float(path.parent.parent.name))
    if not found:
        raise HostError("PostgreSQL is not installed; ./leitfaden setup installs it")
    return found[-1].parent


def free_port() -> int:
    """A port of loopback that nobody listens on."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


class Cluster:
    """One data folder with its server. ``options`` are settings of the server, such as ``fsync=off``."""

    def __init__(self, name: str, options: Sequence[str] = (), folder: Path | None = None) -> None:
        self.name, self.options, self.tools = name, tuple(options), find_tools()
        self.data = folder or self._default_folder()
        self._password_file = LOCAL / f"{name}.password"

    def _default_folder(self) -> Path:
        folder = LOCAL / self.name
        if os.geteuid() == 0 and self._as_server("test", "-x", str(LOCAL)).returncode:
            # The server runs as an unprivileged user who cannot enter this folder's parents.
            ours = ROOT if LOCAL == ROOT / ".local" else LOCAL
            return Path(f"/var/lib/leitfaden-{hashlib.sha256(str(ours).encode()).hexdigest()[:10]}-{self.name}")
        return folder

    # --- as whom
    # ---------------------------------------------------------------------------------------------------------------

    def _owner(self) -> tuple[int, int] | None:
        """The unprivileged user of the server, where we are root: PostgreSQL refuses to run as root."""
        if os.geteuid():
            return None
        entry = pwd.getpwnam("postgres")
        return entry.pw_uid, entry.pw_gid

    def _as_server(self, *command: str) -> subprocess.CompletedProcess[str]:
        owner = self._owner()
        who = {"user": owner[0], "group": owner[1], "extra_groups": []} if owner else {}
        # close_fds: a server must not inherit the lock that says who uses it.
        return subprocess.run(command, cwd="/", capture_output=True, text=True, check=False, close_fds=True, **who)  # type: ignore[call-overload,no-any-return]

    def _tool(self, name: str, *arguments: str) -> subprocess.CompletedProcess[str]:
        return self._as_server(str(self.tools / name), *arguments)

    # --- making it
    # -------------------------------------------------------------------------------------------------------------

    @property
    def password(self) -> str:
        """The cluster's password, made once; only our own user can read it."""
        if not self._password_file.exists():
            beside = self._password_file.with_suffix(".new")
            beside.touch(mode=0o600)
            beside.write_text(secrets.token_urlsafe(24), encoding="utf-8")
            beside.replace(self._password_file)
        return self._password_file.read_text(encoding="utf-8").strip()

    def make(self) -> None:
        """The data folder, built beside and renamed: one that was killed half-way is built anew."""
        if (self.data / "PG_VERSION").exists() or self._as_server(
            "test", "-e", str(self.data / "PG_VERSION")
        ).returncode == 0:
            return
        if self.data.exists() and any(self.data.iterdir()):
            raise HostError(f"{self.data} is no database folder and not empty; move it away and start again")
        building = self.data.with_name(self.data.name + ".building")
        shutil.rmtree(building, ignore_errors=True)
        building.mkdir(mode=0o700, parents=True)
        secret = building / "password"
        secret.touch(mode=0o600)
        secret.write_text(self.password, encoding="utf-8")
        owner = self._owner()
        if owner:
            os.chown(secret, *owner)
            os.chown(building, *owner)
        made = self._tool(
            "initdb",
            "-D",
            str(building / "data"),
            "-U",
            USER,
            "--auth=scram-sha-256",
            f"--pwfile={secret}",
            "-E",
            "UTF8",
            "--locale=C.UTF-8",
        )
        if made.returncode:
            shutil.rmtree(building, ignore_errors=True)
            raise HostError(f"the database folder could not be made: {_complaint(made.stderr)}")
        if self.data.exists():
            self.data.rmdir()
        (building / "data").rename(self.data)
        shutil.rmtree(building, ignore_errors=True)

    # --- running it
    # ------------------------------------------------------------------------------------------------------------

    def is_running(self) -> bool:
        """Whether the server lives."""
        return self._tool("pg_ctl", "-D", str(self.data), "status").returncode == 0

    def seems_alive(self) -> bool:
        """A glance that costs nothing: whether the process of the pid file lives. Only its absence is certain."""
        try:
            pid = (self.data / "postmaster.pid").read_text().split("\n", 1)[0].strip()
        except PermissionError:
            return self.is_running()
        except OSError:
            return False
        return Path(f"/proc/{pid}").exists()

    @property
    def port(self) -> int:
        """Port of the living server, or the one that it had: clients of a server that died find it again."""
        pid_file = self._as_server("cat", str(self.data / "postmaster.pid")).stdout.splitlines()
        if len(pid_file) > 3:
            return int(pid_file[3])
        kept = RUN / f"{self.name}.port"
        return int(kept.read_text()) if kept.exists() else free_port()

    def start(self) -> None:
        """Start the server unless it runs; mends a stale pid file; keeps its port when it can."""
        RUN.mkdir(parents=True, exist_ok=True)
        log, port = self.data / "server.log", self.port
        for attempt in range(_START_TRIES):
            if self.is_running():
                return
            self._forget_dead_server()
            settings = ["listen_addresses=127.0.0.1", "unix_socket_directories=''", *self.options]
            options = " ".join([f"-p {port}", *(f"-c {setting}" for setting in settings)])
            started = self._tool(
                "pg_ctl", "-D", str(self.data), "-w", "-t", "120", "-l", str(log), "-o", options, "start"
            )
            if started.returncode == 0:
                (RUN / f"{self.name}.port").write_text(str(port))
                return
            time.sleep(min(0.25 * 2**attempt, 2.0))
            if attempt > 1 and "could not bind" in self._as_server("tail", "-n", "5", str(log)).stdout:
                port = free_port()
        raise HostError(
            f"the database did not start: {_complaint(self._as_server('tail', '-n', '3', str(log)).stdout)} "
            f"(log: {log})"
        )

    def _forget_dead_server(self) -> None:
        """A pid file may name a process that is now another program, or the server of another folder."""
        pid_file = self.data / "postmaster.pid"
        lines = self._as_server("cat", str(pid_file)).stdout.splitlines()
        if not lines or not lines[0].strip().isdigit():
            return
        where = Path("/proc") / lines[0].strip() / "cwd"
        with contextlib.suppress(OSError):
            if where.resolve(strict=True) == self.data.resolve():
                return
        self._as_server("rm", "-f", str(pid_file))

    def stop(self) -> None:
        """Stop the server; its clients are disconnected."""
        self._tool("pg_ctl", "-D", str(self.data), "-m", "fast", "-w", "stop")

    def make_database(self) -> None:
        """The application's database."""
        if not self.sql("select 1 from pg_database where datname = '" + NAME + "'"):
            self.client("createdb", NAME)

    # --- using it
    # --------------------------------------------------------------------------------------------------------------

    def environment(self) -> dict[str, str]:
        """What the server's settings read."""
        return {
            "LEITFADEN_DB_HOST": "127.0.0.1",
            "LEITFADEN_DB_PORT": str(self.port),
            "LEITFADEN_DB_USER": USER,
            "LEITFADEN_DB_NAME": NAME,
            "LEITFADEN_DB_PASSWORD": self.password,
        }

    def client(self, tool: str, *arguments: str, database: str | None = None) -> str:
        """Run one of PostgreSQL's client programs; its output, or HostError with its last line."""
        where = ["-h", "127.0.0.1", "-p", str(self.port), "-U", USER, *(["-d", database] if database else [])]
        done = subprocess.run(
            [str(self.tools / tool), *where, *arguments],
            env=os.environ | {"PGPASSWORD": self.password},
            capture_output=True,
            text=True,
            check=False,
        )
        if done.returncode:
            raise HostError(f"{tool}: {_complaint(done.stderr)}")
        return done.stdout

    def sql(self, statement: str, database: str = "postgres") -> str:
        """What one statement answers, bare."""
        return self.client("psql", "-tAqc", statement, database=database).strip()

    @contextlib.contextmanager
    def used(self) -> Iterator["Cluster"]:
        """The running cluster, for as long as we need it."""
        RUN.mkdir(parents=True, exist_ok=True)
        with (RUN / f"{self.name}.users").open("a") as users:
            self._enter(users)
            try:
                yield self
            finally:
                fcntl.flock(users, fcntl.LOCK_UN)

    def _enter(self, users: IO[str]) -> None:
        with (RUN / f"{self.name}.making").open("a") as making:
            fcntl.flock(making, fcntl.LOCK_EX)  # two at once: the second waits and finds it running
            fcntl.flock(users, fcntl.LOCK_SH)
            self.make()
            self.start()
            self.make_database()
            owner = self._owner()
            drop = ["setpriv", f"--reuid={owner[0]}", f"--regid={owner[1]}", "--clear-groups"] if owner else []
            stop = [*drop, str(self.tools / "pg_ctl"), "-D", str(self.data), "-m", "fast", "-w", "stop"]
            subprocess.run(
                [*_LAST_ONE_OUT, users.name, *stop],
                cwd="/",
                check=True,
                stdout=subprocess.DEVNULL,
                stderr=subprocess.DEVNULL,
            )


def _complaint(text: str) -> str:
    """What a program complained about: its first error, or the last thing that it said."""
    lines = [line.strip() for line in text.splitlines() if line.strip()]
    return next((line for line in lines if "error" in line.lower()), lines[-1] if lines else "no reason was given")
