"""Settings of all tests."""

import hashlib
import os
from collections import Counter
from pathlib import Path

import pytest
from hypothesis import settings

# The same examples on every machine, so that a red check means a change. LEITFADEN_EXPLORE=1 draws new ones.
# No deadline: how fast a machine is, is measured in the bench.
settings.register_profile("steady", derandomize=not os.environ.get("LEITFADEN_EXPLORE"), deadline=None)
settings.load_profile("steady")

TESTS = Path(__file__).parent
CORE = TESTS.parent / "core" / "leitfaden_core"
#: What the tests of a mark are about. Their last green run is written down: while none of it has changed since, they
#: need not run again, except with --long.
_MODEL = (
    *("channels.py", "chance.py", "compiled.py", "constants.py", "quantities", "rigs", "scripts", "engine", "sensors"),
    *("control", "wiring", "faults", "simulate", "monitors", "recordings", "expect", "instruments", "diagnose"),
    *("judge", "workings", "explore", "atlas", "cautions", "live"),
)
ABOUT = {"model": _MODEL, "lessons": tuple(path.name for path in sorted(CORE.iterdir()) if path.name != "locale")}
#: What these tests share.
_HELPERS = ("tests/circuits_alone.py", "tests/rides.py", "tests/strategies.py", "tests/vehicles.py")
_COURSE = ("server/demo/course.py", "server/demo/course.yaml", "server/demo/course", "server/demo/lesson.yaml")
_MADE = ("tests/proposals.py", "tests/station_lessons.py", *_COURSE)
SHARED = {"model": _HELPERS, "lessons": (*_HELPERS, *_MADE)}
GREEN = TESTS / "data" / "green.txt"


def fingerprint(mark: str) -> str:
    """A name for what the tests of a mark are about, and for these tests."""
    files = [path for name in ABOUT[mark] for path in _files(CORE / name)]
    marked = [path for path in sorted(TESTS.rglob("*.py")) if f"pytest.mark.{mark}\n" in path.read_text("utf-8")]
    name = hashlib.sha256()
    shared = [path for name in (*SHARED[mark], "requirements/base.txt") for path in _files(TESTS.parent / name)]
    for path in [*files, *marked, *shared]:
        name.update(str(path.relative_to(TESTS.parent)).encode())
        name.update(path.read_bytes())
    return name.hexdigest()


def last_green() -> dict[str, str]:
    """The fingerprint of each mark at its last green run."""
    return dict(line.split() for line in GREEN.read_text(encoding="utf-8").splitlines())


def _files(place: Path) -> list[Path]:
    if place.is_file():
        return [place]
    return sorted(path for path in place.rglob("*") if path.is_file() and "__pycache__" not in path.parts)


@pytest.fixture(scope="session")
def django_db_modify_db_settings(django_db_modify_db_settings: None) -> None:
    """A server gives up a silent database after three seconds; a busy machine must not turn a test red."""
    from django.db import connection

    connection.settings_dict["OPTIONS"]["connect_timeout"] = 60


@pytest.hookimpl(trylast=True)
def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    """Leave out what is about a model that was green as it is, unless it is asked for by name; files whose few tests
    take long come first, so that no process waits for them at the end, then the largest files.
    """
    _leave_out_green(config, items)
    count = Counter(item.path for item in items)
    items.sort(key=lambda item: (item.path.parent != TESTS / "host", -count[item.path], item.path))


def _leave_out_green(config: pytest.Config, items: list[pytest.Item]) -> None:
    if os.environ.get("LEITFADEN_LONG") or os.environ.get("LEITFADEN_GREEN"):
        return
    green = last_green()
    known = {mark for mark in ABOUT if mark not in config.option.markexpr and green.get(mark) == fingerprint(mark)}
    left_out = [item for item in items if known & {mark.name for mark in item.iter_markers()}]
    if len(left_out) < len(items):  # a file that is named alone runs
        items[:] = [item for item in items if item not in set(left_out)]
        config.hook.pytest_deselected(items=left_out)


def pytest_sessionfinish(session: pytest.Session, exitstatus: int) -> None:
    """Write a green run of all tests of the marks that were asked for down: LEITFADEN_GREEN=write."""
    if os.environ.get("LEITFADEN_GREEN") == "write" and exitstatus == 0 and not hasattr(session.config, "workerinput"):
        asked = [mark for mark in ABOUT if mark in session.config.option.markexpr]
        green = last_green() | {mark: fingerprint(mark) for mark in asked}
        GREEN.write_text("".join(f"{mark} {name}\n" for mark, name in sorted(green.items())), encoding="utf-8")
