"""Commands that the documents show are run as they stand: what a reader types must work."""

import re
import shlex
from pathlib import Path

import pytest

from leitfaden_core.cli.commands import main

DOCS = Path(__file__).parent.parent.parent / "docs"
#: Commands of the core's shell; the others start servers or need a database.
_CORE = ("judge", "measure", "diagnose", "symptoms", "work", "expect", "simulate", "pins", "codes", "faults", "rigs")
#: What stands for something that the reader fills in, or would take minutes.
_NOT_WHOLE = ("...", "…", "my.yaml", "--rebuild", "VE='90", "--told")


def commands() -> list[str]:
    """Whole commands of the documents, each once."""
    found = []
    for name in ("judgement.md", "physics.md"):
        text = (DOCS / name).read_text(encoding="utf-8")
        for match in re.finditer(r"(?:^|`)\./leitfaden ([^`\n]+)", text, re.MULTILINE):
            command = match.group(1).split("   #")[0].strip()
            if command.split()[0] in _CORE and not any(part in command for part in _NOT_WHOLE):
                found.append(command)
    return list(dict.fromkeys(found))


def test_there_are_some() -> None:
    assert len(commands()) > 10


@pytest.mark.parametrize("command", commands())
def test_a_command_of_the_documents_runs(command: str, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(shlex.split(command)) == 0
    assert capsys.readouterr().out.strip()
