"""Server, worker and database are killed in the middle of work: nothing acknowledged is lost or doubled.

Two kills: test_start.py. A hundred: tests/long/.
"""

from pathlib import Path

import pytest

from host_helpers import Installation
from kills import survives_kills


@pytest.mark.slow
def test_kills_with_two_of_each_lose_and_double_nothing(tmp_path: Path) -> None:
    installation = Installation(tmp_path / "local")
    try:
        survives_kills(installation, kills=6, of_each="2")
    finally:
        installation.end()
