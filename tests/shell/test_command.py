"""The one command at the root, as it is typed."""

import json
import subprocess
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]


def leitfaden(*words: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run([str(ROOT / "leitfaden"), *words], capture_output=True, text=True, timeout=900, check=False)


def test_help_names_the_two_commands_first() -> None:
    said = leitfaden("help")
    assert said.returncode == 0
    assert said.stdout.index("leitfaden start") < said.stdout.index("leitfaden test") < said.stdout.index("simulate")


@pytest.mark.parametrize(
    ("words", "part"),
    [
        (["rigs", "--json"], "R5"),
        (["faults", "R2", "--json"], "map_hose_leak"),
        (["channels", "R2", "--json"], "map_volts"),
    ],
)
def test_lists_reach_the_shell(words: list[str], part: str) -> None:
    said = leitfaden(*words)
    assert said.returncode == 0
    assert part in {row["id"] for row in json.loads(said.stdout)}


def test_bad_input_ends_with_2_and_one_line() -> None:
    for words in (["simulate", "R9"], ["dance"], ["cases", "check", "/nowhere.yaml"]):
        said = leitfaden(*words)
        assert (said.returncode, said.stdout, said.stderr.count("\n")) == (2, "", 1), said.stderr
