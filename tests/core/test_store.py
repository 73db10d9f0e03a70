"""The simulator's store: bounded by size and age, and a kept value sheet is as good as a shipped one."""

import os
import time
from pathlib import Path

import pytest

from leitfaden_core.expect import MissingSheet, has_sheet, keep_sheet, load_sheet, sheet_text
from leitfaden_core.rigs import load_rig
from leitfaden_core.simulate import kept, prune_store, store


@pytest.fixture
def folder(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    monkeypatch.setenv("LEITFADEN_CACHE", str(tmp_path))
    monkeypatch.setattr(store, "_folder", lambda: tmp_path / "statistics" / "of-these-sources")
    return tmp_path


def fill(folder: Path, names: str, size: int) -> list[Path]:
    """Files of that size, the first the oldest."""
    for name in names:
        kept(name, lambda: "x" * (size - 2))
    found = sorted((folder / "statistics" / "of-these-sources").iterdir(), key=lambda path: path.stat().st_mtime_ns)
    for age, path in enumerate(reversed(found)):
        os.utime(path, (time.time() - 60.0 * age,) * 2)
    return found


def test_the_oldest_files_go_until_the_rest_is_small_enough(folder: Path) -> None:
    found = fill(folder, "abcd", 1000)
    assert prune_store(most_bytes=2500) == 2
    assert [path.exists() for path in found] == [False, False, True, True]


def test_what_nobody_has_read_for_long_goes_and_what_is_read_stays(folder: Path) -> None:
    found = fill(folder, "ab", 100)
    for path in found:
        os.utime(path, (0, 0))
    assert kept("a", lambda: "computed anew") == "x" * 98
    assert prune_store(most_age=86_400.0) == 1
    assert kept("a", lambda: "computed anew") == "x" * 98


def test_files_of_other_sources_go(folder: Path) -> None:
    other = folder / "statistics" / "of-yesterday" / "file.json"
    other.parent.mkdir(parents=True)
    other.write_text("{}")
    fill(folder, "a", 100)
    assert prune_store() == 1 and not other.exists()


def test_a_sheet_that_was_computed_elsewhere_and_kept_here_judges_like_a_shipped_one(folder: Path) -> None:
    with pytest.raises(MissingSheet, match="has no value sheet yet"):
        load_sheet(load_rig("R1-HZ"))
    assert not has_sheet(load_rig("R1-HZ")) and has_sheet(load_rig("R1"))
    keep_sheet(load_rig("R1-HZ"), sheet_text(load_sheet(load_rig("R1"))))
    assert has_sheet(load_rig("R1-HZ"))
    assert load_sheet(load_rig("R1-HZ")).bands == load_sheet(load_rig("R1")).bands
    load_sheet.cache_clear()
