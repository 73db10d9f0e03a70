"""How somebody works who does not know the answer: always the test that is worth most for its cost, a proof when a
cause has become likely, a repair when one is proven, and then a look at what is left.

This is the way with which a learner's own is compared; it never asks what is wrong with the vehicle.
"""

from collections.abc import Callable
from dataclasses import dataclass, field, replace

import numpy as np

from leitfaden_core.diagnose.candidates import Candidate, candidate_of
from leitfaden_core.diagnose.costs import minutes_now
from leitfaden_core.diagnose.evidence import Taken, ranked
from leitfaden_core.diagnose.fit import unexplained
from leitfaden_core.diagnose.pairs import with_pairs
from leitfaden_core.diagnose.procedures import test_of, tests_of
from leitfaden_core.diagnose.proof import Standing, proving_tests, standing
from leitfaden_core.diagnose.ranking import next_tests
from leitfaden_core.diagnose.table import Table
from leitfaden_core.diagnose.taking import take
from leitfaden_core.faults import fault_kinds
from leitfaden_core.instruments.vehicle import Vehicle

#: A cause that is likelier than this is put to the proof.
WORTH_PROVING = 0.5
#: Tests at most before somebody gives up, or asks for help.
PATIENCE = 12
#: So many of the likeliest causes are tried in pairs when none explains everything alone.
PAIRED = 5


@dataclass(frozen=True)
class Way:
    """Tests in order with what each cost, and where that led."""

    tests: tuple[str, ...]
    minutes: float
    end: Standing
    taken: tuple[Taken, ...] = field(default=(), repr=False)

    @property
    def proven(self) -> bool:
        """Whether it ends in a proof."""
        return self.end.proven


def way_of_a_technician(
    table: Table,
    shows: Callable[[str], Taken],
    first: tuple[str, ...] = ("codes",),
    limit: int = PATIENCE,
    already: tuple[Taken, ...] = (),
) -> Way:
    """The way that the evidence itself leads on a vehicle, up to a proof or the end of patience.

    Parameters
    ----------
    shows : callable
        What a test shows on the vehicle, by its id.
    first : tuple of str
        Tests that are taken anyway.
    already : tuple of Taken
        What is known from before; it costs nothing any more.
    """
    conditions = {test.id: test.condition for test in tests_of(table.rig)}
    taken: list[Taken] = list(already)
    minutes, limit = 0.0, limit + len(already)

    def go(name: str) -> None:
        nonlocal minutes
        minutes += minutes_now(test_of(table.rig, name), [entry.test for entry in taken], conditions)
        taken.append(shows(name))

    for name in first:
        if name not in {entry.test for entry in taken}:
            go(name)
    while len(taken) < limit and not (now := standing(table, taken)).proven:
        done = {entry.test for entry in taken}
        top = ranked(table, taken)[0]
        proofs = [name for name in proving_tests(table, top.candidate) if name not in done]
        if top.probability > WORTH_PROVING and proofs:
            go(proofs[0])
            continue
        proposals = next_tests(table, taken, 1)
        if not proposals or (proposals[0].bits < 1e-3 and now.candidate == "nothing_wrong"):
            break
        go(proposals[0].test)
    return Way(tuple(entry.test for entry in taken), float(np.round(minutes, 1)), standing(table, taken), tuple(taken))


def repaired(vehicle: Vehicle, cause: Candidate) -> Vehicle:
    """The vehicle after the repair of a cause: another part in its place, or what was wrong there put right, driven in.
    What else is wrong stays.
    """
    for one in cause.parts or (cause,):
        if not one.sizes:
            continue
        part = fault_kinds.get(one.kind).part_of(dict(one.sizes[0].params))
        # What hands put right at that place, a wire or a connector, is right afterwards.
        left = tuple(fault for fault in vehicle.faults if candidate_of(vehicle.rig, fault).id != one.id)
        vehicle = replace(vehicle, faults=left)
        vehicle = vehicle.with_part(part) if part else vehicle
    return vehicle


def until_nothing_is_left(table: Table, vehicle: Vehicle, faults: int = 2, limit: int = PATIENCE) -> list[Way]:
    """Way after way: after each proven repair the remaining evidence is looked at, until the vehicle shows nothing
    more.

    Where no single cause explains what was seen, pairs of the likeliest ones are tried.
    """
    ways: list[Way] = []
    for _ in range(faults + 1):
        shows = _shower(vehicle)
        way, causes = way_of_a_technician(table, shows, limit=limit), table
        if not way.proven and unexplained(table, list(way.taken), way.end.candidate):
            likely = [entry.candidate for entry in ranked(table, list(way.taken))[:PAIRED]]
            causes = with_pairs(table, likely, workers=1)
            further = way_of_a_technician(causes, shows, limit=limit // 2, already=way.taken)
            way = replace(further, minutes=way.minutes + further.minutes)
        ways.append(way)
        if not way.proven or way.end.candidate == "nothing_wrong":
            break
        vehicle = repaired(vehicle, next(c for c in causes.candidates if c.id == way.end.candidate))
    return ways


def _shower(vehicle: Vehicle) -> Callable[[str], Taken]:
    return lambda name: take(vehicle, name)
