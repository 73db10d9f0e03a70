"""Copies of everything that people have entered: one file with a version in it, and the way back."""

import contextlib
import io
import json
import shutil
import tarfile
import tempfile
from datetime import UTC, datetime
from pathlib import Path

from leitfaden_core import __version__
from leitfaden_host.cluster import NAME, Cluster
from leitfaden_host.places import ROOT, HostError

FORMAT = 1
#: Folders of the server whose tables keep the name that they were made with.
_KEPT_AS = {"people": "accounts", "lessons": "library"}
_APPS = (
    "select app || '.' || name from django_migrations where app in ('accounts', 'library', 'practice', 'jobs', "
    "'records') order by id"
)


def backup(cluster: Cluster, path: Path) -> None:
    """Write a consistent copy of the database to a file; written beside, then moved."""
    if path.is_dir() or not path.parent.is_dir():
        raise HostError(f"{path} is not a place for a file; name a file in a folder that exists")
    if not cluster.sql("select to_regclass('django_migrations')", NAME):
        raise HostError("there is nothing to copy yet; start Leitfaden first")
    beside = path.with_name(path.name + ".new")
    told = {
        "format": FORMAT,
        "version": __version__,
        "made_at": datetime.now(UTC).isoformat(timespec="seconds"),
        "migrations": cluster.sql(_APPS, NAME).splitlines(),
    }
    try:
        with tempfile.TemporaryDirectory() as folder:
            dump = Path(folder) / "database.dump"
            # One transaction sees one moment, whatever goes on meanwhile.
            cluster.client("pg_dump", "-Fc", "--no-owner", "-f", str(dump), database=NAME)
            with tarfile.open(beside, "w") as tar:
                head = json.dumps(told, indent=1).encode()
                entry = tarfile.TarInfo("leitfaden-backup.json")
                entry.size = len(head)
                tar.addfile(entry, io.BytesIO(head))
                tar.add(dump, "database.dump")
        beside.replace(path)
    except OSError as error:
        with contextlib.suppress(OSError):
            beside.unlink(missing_ok=True)
        raise HostError(
            f"the copy could not be written to {path}: {error.strerror or error}; nothing was changed"
        ) from error


def read_head(path: Path) -> dict[str, object]:
    """Version and date of a copy, or HostError when the file is none."""
    try:
        with tarfile.open(path) as tar:
            member = tar.extractfile("leitfaden-backup.json")
            head = json.loads(member.read()) if member else {}
    except (OSError, tarfile.TarError, KeyError, ValueError) as error:
        raise HostError(f"{path} is no copy made by ./leitfaden backup") from error
    if head.get("format") != FORMAT:
        raise HostError(f"{path} was made by a newer Leitfaden ({head.get('version')}); this one is {__version__}")
    return head


def restore(cluster: Cluster, path: Path) -> dict[str, object]:
    """Put a copy in the database's place.

    It is read in beside the present one first; a file that cannot be read changes nothing.
    """
    head = read_head(path)
    known = {
        f"{_KEPT_AS.get(file.parents[1].name, file.parents[1].name)}.{file.stem}"
        for file in (ROOT / "server").glob("*/migrations/0*.py")
    }
    unknown = [name for name in head.get("migrations", []) if name not in known]  # type: ignore[attr-defined]
    if unknown:
        raise HostError(f"{path} was made by a newer Leitfaden ({head.get('version')}); this one is {__version__}")
    coming, going = f"{NAME}_coming", f"{NAME}_going"
    for name in (coming, going):
        cluster.sql(f"drop database if exists {name} with (force)")
    with tempfile.TemporaryDirectory() as folder:
        with tarfile.open(path) as tar, (Path(folder) / "database.dump").open("wb") as dump:
            packed = tar.extractfile("database.dump")
            if packed is None:
                raise HostError(f"{path} holds no database")
            shutil.copyfileobj(packed, dump)
        cluster.client("createdb", coming)
        try:
            cluster.client(
                "pg_restore", "--no-owner", "--exit-on-error", str(Path(folder) / "database.dump"), database=coming
            )
        except HostError:
            cluster.sql(f"drop database {coming}")
            raise
    cluster.sql(f"select pg_terminate_backend(pid) from pg_stat_activity where datname = '{NAME}'")
    cluster.sql(f"alter database {NAME} rename to {going}")
    cluster.sql(f"alter database {coming} rename to {NAME}")
    cluster.sql(f"drop database {going}")
    return head
