"""Pointing to a cause and proving it are two things: proof is isolation and return, or the measured defect itself."""

from dataclasses import dataclass

from leitfaden_core.diagnose.candidates import Candidate
from leitfaden_core.diagnose.evidence import Taken, posterior, ranked
from leitfaden_core.diagnose.fit import Unexplained, unexplained
from leitfaden_core.diagnose.procedures import DiagnosticTest, isolated_by, test_of, tests_of
from leitfaden_core.diagnose.table import Table
from leitfaden_core.faults import fault_kinds
from leitfaden_core.rigs import Rig
from leitfaden_core.wiring.circuits import CIRCUITS
from leitfaden_core.words import say

#: From here on a cause may be called the likely one; below this a rival counts as ruled out.
LIKELY, RULED_OUT = 0.8, 0.05
#: The same where a part was exchanged or a hose closed: that tells which part was bad, not what about it. [-]
RULED_OUT_BY_EXCHANGE = 0.02
#: That nothing is wrong is said from here on: a small fault that was not looked at would be sent home. [-]
SURELY_SOUND = 0.98
#: Tests without which an exchange proves nothing: it tells that a part was bad, not what about it.
LEAST_TESTS = 3


def _measured_by(cause: Candidate, rig: Rig) -> set[str]:
    """Tests that measure a cause's defect itself."""
    values = {name: value for name, value in cause.sizes[0].params.items() if isinstance(value, str)}
    named = fault_kinds.get(cause.kind).measured_by if cause.kind else ()
    found = {name.format_map({"circuit": "-", "sensor": "-"} | values) for name in named}
    circuit = CIRCUITS.get(values.get("circuit", ""))
    return found | ({test.id for test in tests_of(rig) if test.of_shared} if circuit and circuit.shared else set())


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
    others = [entry for entry in order if entry.candidate != top.candidate]
    rivals = tuple(entry.label for entry in others if entry.probability > RULED_OUT)

    def stands(proven: bool, reason: str) -> Standing:
        return Standing(top.candidate, top.label, top.probability, proven, reason, rivals)

    if top.candidate == "nothing_wrong":
        proven = top.probability > SURELY_SOUND
        return stands(
            proven, "Every reading taken is that of a sound engine." if proven else "Not enough has been looked at."
        )
    if top.probability < LIKELY:
        return stands(False, "Other causes explain what was measured nearly as well.")
    odd = unexplained(table, taken, top.candidate)
    if odd:
        return stands(False, not_explained(table, odd))
    proofs = _proofs(table, taken, next(c for c in table.candidates if c.id == top.candidate))
    if not proofs:
        return stands(
            False,
            "Everything points here, but nothing was isolated and brought back, and the defect itself was not "
            "measured.",
        )
    proof = "; ".join(words for words, _test in proofs)
    if any(test.isolates for _words, test in proofs):
        rivals = tuple(entry.label for entry in others if entry.probability > RULED_OUT_BY_EXCHANGE)
    if rivals:
        return stands(
            False,
            say(
                "{proof}; but what was isolated holds more than one cause: {list}.", proof=proof, list=", ".join(rivals)
            ),
        )
    return stands(True, f"{proof}.")


def not_explained(table: Table, odd: list[Unexplained]) -> str:
    """That nothing known explains what was seen, with what does not fit."""
    named = [
        say(
            "{label} ({test})",
            label=entry.label,
            test=test_of(table.rig, entry.test).label,
        )
        for entry in odd[:3]
    ]
    return say(
        (
            "No single cause explains all of this; the likeliest leaves open: {list}. Look for a second fault, "
            "or for one that is not in the list."
        ),
        list="; ".join(named),
    )


def _proofs(table: Table, taken: list[Taken], cause: Candidate) -> list[tuple[str, DiagnosticTest]]:
    """What proves a cause, in words, with the test that did it; of a pair one for each of both. Empty: nothing does."""
    if cause.parts:
        both = [_proofs(table, taken, part) for part in cause.parts]
        return [proof for proofs in both for proof in proofs] if all(both) else []
    if not set(fault_kinds.get(cause.kind).only_after) <= {entry.test for entry in taken}:
        return []
    for entry in taken:
        test = test_of(table.rig, entry.test)
        exchanged_early = test.isolates is not None and test.isolates.what == "part" and len(taken) < LEAST_TESTS
        if exchanged_early:
            continue
        if isolated_by(cause.sizes[0], test) and test.shows(entry.values) and _speaks(table, entry, cause.id):
            return [(say("{label}: the effect went and came back", label=test.label), test)]
        if test.id in _measured_by(cause, table.rig) and _speaks(table, entry, cause.id):
            return [(say("{label}: the defect itself was measured", label=test.label), test)]
    return []


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
    measuring = _measured_by(cause, table.rig)
    found = [test for test in tests_of(table.rig) if isolated_by(cause.sizes[0], test) or test.id in measuring]
    return [test.id for test in sorted(found, key=lambda test: test.minutes)]
