"""The database cluster: made whole or not at all, shared without being taken away, mended after crashes."""

import os
import signal
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

from host_helpers import Installation, wait_until
from leitfaden_host import cluster as module
from leitfaden_host.cluster import Cluster
from leitfaden_host.places import HostError

USER = (
    "import sys,time; from leitfaden_host.cluster import Cluster\nwith Cluster('database').used() as c: "
    "print(c.port, flush=True); sys.stdin.read()"
)


@pytest.fixture
def installation(tmp_path: Path) -> Iterator[Installation]:
    made = Installation(tmp_path / "local")
    yield made
    made.end()


@pytest.fixture
def cluster(installation: Installation, monkeypatch: pytest.MonkeyPatch) -> Iterator[Cluster]:
    for name, value in (("LOCAL", installation.local), ("RUN", installation.local / "run")):
        monkeypatch.setattr(module, name, value)
    made = Cluster("database")
    yield made
    made.stop()


def user(installation: Installation) -> "subprocess.Popen[str]":
    """A process that uses the cluster until its input ends."""
    return subprocess.Popen(
        [sys.executable, "-c", USER],
        env=installation.environment,
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        text=True,
    )


def test_the_last_user_stops_it_and_not_the_first(installation: Installation, cluster: Cluster) -> None:
    first, second = user(installation), user(installation)
    ports = {process.stdout.readline() for process in (first, second) if process.stdout}
    assert len(ports) == 1
    first.communicate()
    assert cluster.is_running() and cluster.sql("select 1") == "1"
    second.communicate()
    wait_until(lambda: not cluster.is_running(), 20)


def test_a_user_that_is_killed_leaves_no_server_behind(installation: Installation, cluster: Cluster) -> None:
    killed = user(installation)
    assert killed.stdout and killed.stdout.readline()
    killed.kill()
    killed.wait()
    wait_until(lambda: not cluster.is_running(), 20)


def test_one_that_was_killed_comes_back_on_its_port_with_its_data(cluster: Cluster) -> None:
    with cluster.used():
        cluster.sql("create table kept (n int); insert into kept values (7)", "leitfaden")
        port, pid = cluster.port, int((cluster.data / "postmaster.pid").read_text().splitlines()[0])
        os.kill(pid, signal.SIGKILL)
        wait_until(lambda: not cluster.is_running(), 20)
        cluster.start()
        assert cluster.port == port and cluster.sql("select n from kept", "leitfaden") == "7"


def test_a_folder_that_was_half_made_is_made_anew(cluster: Cluster) -> None:
    building = cluster.data.with_name("database.building")
    building.mkdir()
    (building / "half").write_text("killed in the middle")
    with cluster.used():
        assert cluster.sql("select 1") == "1"
    assert not building.exists()


def test_a_foreign_folder_in_its_place_is_left_alone_and_named(cluster: Cluster) -> None:
    cluster.data.mkdir()
    (cluster.data / "letters").write_text("somebody's")
    with pytest.raises(HostError, match="is no database folder and not empty"):
        cluster.make()
    assert (cluster.data / "letters").exists()


def test_a_stale_pid_file_that_names_another_program_or_another_server_is_no_obstacle(cluster: Cluster) -> None:
    cluster.make()
    for stranger in (os.getpid(), 1):
        (cluster.data / "postmaster.pid").write_text(f"{stranger}\n{cluster.data}\n0\n5432\n")
        cluster.start()
        assert cluster.is_running()
        cluster.stop()


def test_the_password_is_never_in_a_place_that_others_can_read(cluster: Cluster) -> None:
    assert cluster.password
    kept = [
        path
        for path in Path(module.LOCAL).iterdir()
        if path.is_file() and cluster.password in path.read_text(errors="ignore")
    ]
    assert kept and all(path.stat().st_mode & 0o077 == 0 for path in kept)
    cluster.make()
    assert not list(Path("/tmp").glob("leitfaden-pw*"))
