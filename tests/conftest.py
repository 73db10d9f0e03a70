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
#: What the tests marked ``model`` are about. Their last green run is written down: while none of it has changed since,
#: they need not run again, except with --long.
ABOUT = (
    *("channels.py", "chance.py", "compiled.py", "constants.py", "quantities", "rigs", "scripts", "engine", "sensors"),
    *(
        "control",
        "wiring",
        "faults",
        "simulate",
        "monitors",
        "recordings",
        "expect",
        "instruments",
        "diagnose",
        "judge",
    ),
    *("workings", "explore", "atlas", "cautions", "live"),
)
#: What these tests share.
SHARED = ("circuits_alone.py", "rides.py", "strategies.py", "vehicles.py")
GREEN = TESTS / "data" / "model-tests-green.txt"


def model_fingerprint() -> str:
    """A name for the model's sources and data and the tests about them."""
    files = [path for name in ABOUT for path in _files(CORE / name)]
    marked = [path for path in sorted(TESTS.rglob("*.py")) if "pytest.mark.model" in path.read_text(encoding="utf-8")]
    name = hashlib.sha256()
    shared = [TESTS / name for name in SHARED]
    for path in [*files, *marked, *shared, TESTS.parent / "requirements" / "base.txt"]:
        name.update(str(path.relative_to(TESTS.parent)).encode())
        name.update(path.read_bytes())
    return name.hexdigest()


def _files(place: Path) -> list[Path]:
    if place.is_file():
        return [place]
    return sorted(path for path in place.rglob("*") if path.is_file() and "__pycache__" not in path.parts)


@pytest.hookimpl(trylast=True)
def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    """Leave out what is about a model that was green as it is, unless it is asked for by name; files whose few tests
    take long come first, so that no process waits for them at the end, then the largest files.
    """
    _leave_out_green(config, items)
    count = Counter(item.path for item in items)
    items.sort(key=lambda item: (item.path.parent != TESTS / "host", -count[item.path], item.path))


def _leave_out_green(config: pytest.Config, items: list[pytest.Item]) -> None:
    asked = os.environ.get("LEITFADEN_LONG") or "model" in config.option.markexpr or os.environ.get("LEITFADEN_MODEL")
    if asked or GREEN.read_text(encoding="utf-8").strip() != model_fingerprint():
        return
    left_out = [item for item in items if item.get_closest_marker("model")]
    if len(left_out) < len(items):  # a file that is named alone runs
        items[:] = [item for item in items if not item.get_closest_marker("model")]
        config.hook.pytest_deselected(items=left_out)


def pytest_sessionfinish(session: pytest.Session, exitstatus: int) -> None:
    """Write a green run of all tests about the model down: LEITFADEN_MODEL=write."""
    if os.environ.get("LEITFADEN_MODEL") == "write" and exitstatus == 0 and not hasattr(session.config, "workerinput"):
        GREEN.write_text(model_fingerprint() + "\n", encoding="utf-8")
