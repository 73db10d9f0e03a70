"""A copy of everything, and the way back."""

import json
import tarfile
from collections.abc import Iterator
from pathlib import Path

import pytest

from host_helpers import Installation
from leitfaden_host import backups
from leitfaden_host import cluster as module
from leitfaden_host.cluster import NAME, THROWAWAY, Cluster
from leitfaden_host.places import ROOT, HostError


@pytest.fixture
def installation(tmp_path: Path) -> Iterator[Installation]:
    made = Installation(tmp_path / "local")
    yield made
    made.end()


@pytest.fixture
def cluster(installation: Installation, monkeypatch: pytest.MonkeyPatch) -> Iterator[Cluster]:
    for name, value in (("LOCAL", installation.local), ("RUN", installation.local / "run")):
        monkeypatch.setattr(module, name, value)
    with Cluster("database", THROWAWAY).used() as made:
        yield made


@pytest.mark.parametrize(
    "release", sorted((ROOT / "tests" / "data" / "releases").glob("*.dump")), ids=lambda path: path.stem
)
@pytest.mark.slow
def test_an_older_copy_restores_is_brought_up_to_date_and_comes_back_whole(
    installation: Installation, cluster: Cluster, release: Path, tmp_path: Path
) -> None:
    old, new = tmp_path / "old.backup", tmp_path / "new.backup"
    head = tmp_path / "leitfaden-backup.json"
    head.write_text(
        json.dumps({"format": 1, "version": release.stem, "made_at": "2026-11-27T12:00:00+00:00", "migrations": []})
    )
    with tarfile.open(old, "w") as tar:
        tar.add(head, head.name)
        tar.add(release, "database.dump")

    said = installation.run("restore", str(old))
    assert said.returncode == 0, said.stderr
    people = cluster.sql("select count(*) from accounts_user", NAME)
    assert people == "6" and cluster.sql("select count(*) from accounts_rulesversion", NAME) == "1"

    assert installation.run("backup", str(new)).returncode == 0
    assert (
        cluster.sql("select who || ' ' || action from accounts_auditentry order by id desc limit 1", NAME)
        == "at the machine exported"
    )
    cluster.sql("delete from practice_entry", NAME)
    assert installation.run("restore", str(new)).returncode == 0
    assert cluster.sql("select count(*) from practice_entry", NAME) == "8"
    assert backups.read_head(new)["version"] != release.stem


def test_what_is_no_copy_or_comes_from_the_future_changes_nothing(cluster: Cluster, tmp_path: Path) -> None:
    cluster.sql("create table kept (n int)", NAME)
    letter = tmp_path / "letter.backup"
    letter.write_text("dear all")
    with pytest.raises(HostError, match="is no copy made by"):
        backups.restore(cluster, letter)

    def packed(name: str, head: dict[str, object], dump: bytes) -> Path:
        for part, content in (("leitfaden-backup.json", json.dumps(head).encode()), ("database.dump", dump)):
            (tmp_path / part).write_bytes(content)
        with tarfile.open(tmp_path / name, "w") as tar:
            for part in ("leitfaden-backup.json", "database.dump"):
                tar.add(tmp_path / part, part)
        return tmp_path / name

    told = {"format": 1, "version": "9.9", "made_at": "", "migrations": ["accounts.9999_hyperspace"]}
    with pytest.raises(HostError, match=r"made by a newer Leitfaden \(9.9\)"):
        backups.restore(cluster, packed("future.backup", told, b""))
    with pytest.raises(HostError, match="pg_restore"):
        backups.restore(cluster, packed("broken.backup", told | {"migrations": []}, b"PGDMP and then nothing"))
    assert cluster.sql("select count(*) from kept", NAME) == "0"
    assert cluster.sql("select count(*) from pg_database where datname like 'leitfaden%'") == "1"


def test_a_copy_that_cannot_be_written_is_one_sentence(cluster: Cluster, tmp_path: Path) -> None:
    with pytest.raises(HostError, match="is not a place for a file"):
        backups.backup(cluster, tmp_path / "nowhere" / "x.backup")
    with pytest.raises(HostError, match="nothing to copy yet"):
        backups.backup(cluster, tmp_path / "x.backup")
    cluster.sql("create table django_migrations (id int, app text, name text)", NAME)
    with pytest.raises(HostError, match="could not be written"):
        backups.backup(cluster, Path("/proc/x.backup"))
