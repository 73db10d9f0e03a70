"""What can be done to find out: each test is an instrument at a place in a condition, with its cost, and gives a few
numbers.
"""

from leitfaden_core.diagnose.procedures.base import DiagnosticTest, Examined, Isolated, Outcome, noisy
from leitfaden_core.diagnose.procedures.gauges import gauge_tests
from leitfaden_core.diagnose.procedures.hands import (
    air_tests,
    eye_tests,
    isolable,
    isolated_by,
    part_tests,
    stimulus_tests,
)
from leitfaden_core.diagnose.procedures.scan import codes_test, scan_tests
from leitfaden_core.diagnose.procedures.wiring import wiring_tests
from leitfaden_core.errors import UnknownName
from leitfaden_core.rigs import Rig
from leitfaden_core.words import per_language, say

__all__ = [
    "Examined",
    "Outcome",
    "DiagnosticTest",
    "Isolated",
    "isolable",
    "isolated_by",
    "noisy",
    "test_of",
    "tests_of",
]


@per_language()
def tests_of(rig: Rig) -> tuple[DiagnosticTest, ...]:
    """All tests of a rig."""
    on_the_tool = [*scan_tests(rig), codes_test()]
    by_hand = [*gauge_tests(rig), *stimulus_tests(rig), *eye_tests(rig), *air_tests(rig), *part_tests(rig)]
    return (*on_the_tool, *wiring_tests(rig), *by_hand)


def test_of(rig: Rig, name: str) -> DiagnosticTest:
    """A test by its id, or UnknownName with the known ones."""
    known = {test.id: test for test in tests_of(rig)}
    if name not in known:
        raise UnknownName("test", name, known, where=say("on rig {id}", id=rig.id))
    return known[name]
