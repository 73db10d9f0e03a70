"""Pointing to a cause and proving it are two things: proof is isolation and return, or the measured defect itself; and
what the way there cost.
"""

from dataclasses import dataclass

import numpy as np

from leitfaden_core.diagnose.candidates import Candidate
from leitfaden_core.diagnose.evidence import Taken, posterior, ranked
from leitfaden_core.diagnose.procedures import isolated_by, test_of, tests_of
from leitfaden_core.diagnose.ranking import next_tests
from leitfaden_core.diagnose.table import Table
from leitfaden_core.faults import fault_kinds
from leitfaden_core.words import say

#: From here on a cause may be called the likely one; below this a rival counts as ruled out.
LIKELY, RULED_OUT = 0.8, 0.05


def _measured_by(cause: Candidate) -> set[str]:
    """Tests that measure a cause's defect itself."""
    values = {name: value for name, value in cause.sizes[0].params.items() if isinstance(value, str)}
    named = fault_kinds.get(cause.kind).measured_by if cause.kind else ()
    return {name.format_map({"circuit": "-", "sensor": "-"} | values) for name in named}


@dataclass(frozen=True)
class Standing:
    """Where the evidence stands for a cause."""

    candidate: str
    label: str
    probability: float
    proven: bool
    reason: str
    rivals: tuple[str, ...]


def standing(table: Table, taken: list[Taken], candidate: str | None = None) -> Standing:
    """Whether the evidence proves the likeliest cause (or a named one), or only points to it."""
    order = ranked(table, taken)
    top = order[0] if candidate is None else next(entry for entry in order if entry.candidate == candidate)
    rivals = tuple(entry.label for entry in order if entry.candidate != top.candidate and entry.probability > RULED_OUT)
    if top.candidate == "nothing_wrong":
        proven = top.probability > 0.95
        return Standing(
            top.candidate,
            top.label,
            top.probability,
            proven,
            "Every reading taken is that of a sound engine." if proven else "Not enough has been looked at.",
            rivals,
        )
    proof = _proof(table, taken, top.candidate)
    if top.probability < LIKELY:
        return Standing(
            top.candidate,
            top.label,
            top.probability,
            False,
            "Other causes explain what was measured nearly as well.",
            rivals,
        )
    if proof is None:
        return Standing(
            top.candidate,
            top.label,
            top.probability,
            False,
            "Everything points here, but nothing was isolated and brought back, and the defect itself was not measured.",
            rivals,
        )
    if rivals:
        return Standing(
            top.candidate,
            top.label,
            top.probability,
            False,
            say(
                "{proof}; but what was isolated holds more than one cause: {list}.", proof=proof, list=", ".join(rivals)
            ),
            rivals,
        )
    return Standing(top.candidate, top.label, top.probability, True, f"{proof}.", rivals)


def _proof(table: Table, taken: list[Taken], candidate: str) -> str | None:
    cause = next(c for c in table.candidates if c.id == candidate)
    if cause.parts:
        both = [_proof(table, taken, part.id) for part in cause.parts]
        return "; ".join(words for words in both if words) if all(both) else None
    if not set(fault_kinds.get(cause.kind).only_after) <= {entry.test for entry in taken}:
        return None
    for entry in taken:
        test = test_of(table.rig, entry.test)
        if isolated_by(cause.sizes[0], test) and test.shows(entry.values) and _speaks(table, entry, candidate):
            return say("{label}: the effect went and came back", label=test.label)
        if test.id in _measured_by(cause) and _speaks(table, entry, candidate):
            return say("{label}: the defect itself was measured", label=test.label)
    return None


def _speaks(table: Table, entry: Taken, candidate: str) -> bool:
    """Whether a test by itself raises a cause clearly over a sound engine."""
    alone = posterior(table, [entry])
    number = next(k for k, c in enumerate(table.candidates) if c.id == candidate)
    before = table.candidates[number].prior / table.candidates[0].prior
    return bool(alone[number] / max(alone[0], 1e-12) > 5.0 * before)


def proving_tests(table: Table, candidate: str) -> list[str]:
    """Tests that can prove a cause, cheapest first."""
    cause = next(c for c in table.candidates if c.id == candidate)
    if cause.parts:
        return [name for part in cause.parts for name in proving_tests(table, part.id)[:1]]
    if not cause.sizes:
        return []
    found = [
        test for test in tests_of(table.rig) if isolated_by(cause.sizes[0], test) or test.id in _measured_by(cause)
    ]
    return [test.id for test in sorted(found, key=lambda test: test.minutes)]


@dataclass(frozen=True)
class Path:
    """A way to a proof: tests in order, minutes, whether it arrives."""

    tests: tuple[str, ...]
    minutes: float
    proven: bool


def cheapest_path(
    table: Table,
    shown: dict[str, tuple[float, ...]],
    candidate: str,
    first: tuple[str, ...] = ("codes",),
    limit: int = 12,
) -> Path:
    """The way that a technician who always takes the best next test would go on this vehicle, up to the proof.

    Parameters
    ----------
    shown : dict
        What each test shows on the vehicle, by its id.
    candidate : str
        The true cause: the proof is taken as soon as it stands on top.
    """
    taken = [Taken(name, shown[name]) for name in first]
    while len(taken) < limit:
        if standing(table, taken, candidate).proven:
            break
        done = {entry.test for entry in taken}
        top = ranked(table, taken)[0]
        wanted = next((name for name in proving_tests(table, candidate) if name not in done), None)
        if top.candidate == candidate and top.probability > 0.5 and wanted is not None:
            taken.append(Taken(wanted, shown[wanted]))
            continue
        proposals = next_tests(table, taken, 1)
        if not proposals:
            break
        taken.append(Taken(proposals[0].test, shown[proposals[0].test]))
    minutes = sum(test_of(table.rig, entry.test).minutes for entry in taken)
    return Path(
        tuple(entry.test for entry in taken), float(np.round(minutes, 1)), standing(table, taken, candidate).proven
    )
