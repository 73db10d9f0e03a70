"""Runs that many tests read."""

from collections.abc import Callable

import pytest

from leitfaden_core.faults import parse_fault
from leitfaden_core.rigs import load_rig
from leitfaden_core.scripts import load_script
from leitfaden_core.simulate import Run, cached_run

Runner = Callable[..., Run]


@pytest.fixture(scope="session")
def run() -> Runner:
    """A run of R1 through the workshop day with faults given as text, such as
    ``run("manifold_vacuum_leak:area_mm2=2")``.
    """

    def make(*faults: str, seed: int = 0, individual: dict[str, float] | None = None) -> Run:
        return cached_run(
            load_rig("R1"), load_script("workshop_day"), [parse_fault(text) for text in faults], seed, individual
        )

    return make


@pytest.fixture(scope="session")
def healthy(run: Runner) -> Run:
    """The sound library bus."""
    return run()
