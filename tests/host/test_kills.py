"""Server, worker and database are killed in the middle of work: nothing acknowledged is lost or doubled.

A hundred kills: tests/long/.
"""

from pathlib import Path

import pytest

from host_helpers import Installation
from kills import FILL, check, in_server, under_fire


@pytest.mark.parametrize("kills, of_each", [(2, "1"), pytest.param(6, "2", marks=pytest.mark.slow)])
def test_kills_lose_and_double_nothing(tmp_path: Path, kills: int, of_each: str) -> None:
    """With one process of each kind in the short form: each takes seconds to start."""
    installation = Installation(tmp_path / "local")
    try:
        installation.start("--no-demo", "--web", of_each, "--workers", of_each)
        base = installation.wait_until_running()["address"].rstrip("/")
        in_server(installation, FILL)
        told = under_fire(installation, base, kills=kills)
        counted = check(installation, told)
        assert counted["kills"] == kills and counted["answers"] > 8 * kills
        assert counted["drafts"] > 0 and counted["doings"] > 0
    finally:
        installation.end()
