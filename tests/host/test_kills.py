"""Server, worker and database are killed in the middle of work: nothing acknowledged is lost or doubled.

A hundred kills: tests/long/.
"""

from pathlib import Path

from host_helpers import Installation
from kills import FILL, check, in_server, under_fire


def test_six_kills_lose_and_double_nothing(tmp_path: Path) -> None:
    installation = Installation(tmp_path / "local")
    try:
        installation.start("--no-demo")
        base = installation.wait_until_running()["address"].rstrip("/")
        in_server(installation, FILL)
        told = under_fire(installation, base, kills=6)
        counted = check(installation, told)
        assert counted["kills"] == 6 and counted["answers"] > 50 and counted["drafts"] > 5 and counted["doings"] > 5
    finally:
        installation.end()
