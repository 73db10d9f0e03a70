"""Tests of the diagnosis as stations offer them: by name, and how far apart each puts some causes."""

import numpy as np

from leitfaden_core.diagnose.procedures import DiagnosticTest, tests_of
from leitfaden_core.diagnose.ranking import TOLD_APART
from leitfaden_core.diagnose.table import Subject, compute_readings
from leitfaden_core.errors import UnknownName
from leitfaden_core.faults import FaultSpec
from leitfaden_core.lessons.kind import Remedy
from leitfaden_core.rigs import Rig
from leitfaden_core.words import say


def named_tests(rig: Rig, names: list[str]) -> list[DiagnosticTest]:
    """Tests by their names, or UnknownName for the first that the engine does not have."""
    known = {test.id: test for test in tests_of(rig)}
    for name in names:
        if name not in known:
            raise UnknownName("test", name, known, where=say("on rig {id}", id=rig.id))
    return [known[name] for name in names]


def separations(rig: Rig, causes: list[FaultSpec], tests: list[DiagnosticTest]) -> list[dict[tuple[int, int], float]]:
    """For each test how far apart it puts every pair of causes, in spreads of the reading that tells most. [-]

    A reading that only one of the two has (an engine that does not start) tells them apart.
    """
    rows = compute_readings(rig, [Subject((cause,)) for cause in causes], workers=1)
    places, at = {}, 0
    for test in tests_of(rig):
        places[test.id] = slice(at, at + len(test.outcomes))
        at += len(test.outcomes)
    found = []
    for test in tests:
        spread = np.array([np.hypot(outcome.spread, outcome.error) for outcome in test.outcomes])
        read = [np.nan_to_num(row[places[test.id]], nan=1e6) for row in rows]
        found.append(
            {
                (one, other): float((np.abs(read[one] - read[other]) / spread).max())
                for one in range(len(causes))
                for other in range(one + 1, len(causes))
            }
        )
    return found


def quickest_telling(rig: Rig, one: FaultSpec, other: FaultSpec) -> DiagnosticTest | None:
    """The quickest test of an engine that tells two causes apart, if there is one."""
    there = list(tests_of(rig))
    apart = [pairs[0, 1] for pairs in separations(rig, [one, other], there)]
    telling = [test for test, far in zip(there, apart, strict=True) if far >= TOLD_APART]
    return min(telling, key=lambda test: test.minutes, default=None)


def offering(tests: list[str], test: DiagnosticTest, most: int) -> Remedy:
    """A test more, in the place of the last one where there are as many as can be."""
    return Remedy(say("Offer too: {test}", test=test.label), {"tests": [*tests[: most - 1], test.id]})
