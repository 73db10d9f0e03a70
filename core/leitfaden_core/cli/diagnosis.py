"""diagnose: from tests to a proven cause."""

import argparse
import sys
from typing import Any

from leitfaden_core.cli.vehicle import vehicle_of
from leitfaden_core.diagnose import (
    HISTORY,
    LIKELY,
    VICTIMS,
    Standing,
    Taken,
    candidate_of,
    consequences_of,
    look_alikes,
    minutes_now,
    next_tests,
    origins_of,
    proving_tests,
    ranked,
    ruled_out,
    standing,
    table,
    take,
    test_of,
    tests_of,
    until_nothing_is_left,
    way_of_a_technician,
    with_pairs,
)
from leitfaden_core.diagnose.table import Table, write_readings
from leitfaden_core.errors import LeitfadenError, UnknownName
from leitfaden_core.faults import describe_fault
from leitfaden_core.instruments import Vehicle
from leitfaden_core.judge import after_complaint
from leitfaden_core.rigs import Rig, load_rig
from leitfaden_core.words import say

Rows = list[dict[str, Any]]


def _progress(done: int, total: int) -> None:
    print(f"\r{done} of {total} simulated causes", end="\n" if done == total else "", file=sys.stderr)


def rig_table(rig: Rig, history: tuple[str, ...] = (), victims: float = VICTIMS) -> Table:
    """The table of causes of a rig, with progress on a terminal."""
    return table(rig, history, progress=_progress if sys.stderr.isatty() else None, victims=victims)


def diagnose_rows(options: argparse.Namespace) -> Rows:
    """Take tests on a vehicle, and say what is likely, what is ruled out, what to do next and whether anything is
    proven.
    """
    rig = load_rig(options.rig)
    for word in options.history:
        if word not in HISTORY:
            raise UnknownName("history", word, HISTORY)
    if options.list_tests:
        return [
            {"test": t.id, "what": t.label, "minutes": f"{t.minutes:g}", "condition": t.condition}
            for t in tests_of(rig)
        ]
    for name in options.take:
        test_of(rig, name)
    if options.rebuild:
        return [{"written": write_readings(rig, _progress if sys.stderr.isatty() else None).name, "for": rig.id}]
    if not 0.0 <= options.victims <= 95.0:
        raise LeitfadenError("victims among spoilt parts are 0 to 95 of 100")
    causes = rig_table(rig, tuple(options.history), options.victims / 100.0)
    if options.told:
        causes = after_complaint(causes, options.told)
    vehicle = vehicle_of(options)
    if options.look_alikes:
        return _look_alike_rows(causes, options)
    taken = [take(vehicle, name) for name in dict.fromkeys(options.take)]
    if options.best_path:
        return _best_path_rows(causes, vehicle)
    if options.pairs:
        likely = [entry.candidate for entry in ranked(causes, taken)[: options.pairs]]
        causes = with_pairs(causes, likely, progress=_progress if sys.stderr.isatty() else None)
    rows = [row for entry in taken for row in _shown_rows(rig, entry)]
    rows += [
        {"part": "likely", "what": entry.label, "value": f"{100 * entry.probability:.1f} %", "note": entry.candidate}
        for entry in ranked(causes, taken)[: options.causes]
    ]
    rows += [
        {"part": "ruled out", "what": cause, "value": "", "note": say("by {test}", test=test)}
        for cause, test in ruled_out(causes, taken)
    ]
    now = standing(causes, taken)
    rows.append(
        {
            "part": "proven" if now.proven else "not proven",
            "what": now.label,
            "value": f"{100 * now.probability:.1f} %",
            "note": now.reason,
        }
    )
    found = next(c for c in causes.candidates if c.id == now.candidate)
    if now.probability > 0.5:
        rows += [
            {"part": "victim of?", "what": origin, "value": "", "note": how} for origin, how in origins_of(found.kind)
        ]
        rows += [
            {"part": "leads to", "what": later, "value": "", "note": how} for later, how in consequences_of(found.kind)
        ]
    if not now.proven:
        proving, further = _proving_rows(causes, taken, now), _further_rows(causes, taken, options.next)
        # Once a cause is likely, proving it is worth more than knowing it a little better.
        rows += proving + further if now.probability > LIKELY else further + proving
    rows.append(
        {
            "part": "spent",
            "what": "shop minutes",
            "value": say("{count:g} min", count=_spent(rig, taken)),
            "note": "",
        }
    )
    if options.conclude is not None:
        rows += _conclusion_rows(causes, vehicle, taken, options.conclude)
    return rows


def _further_rows(causes: Table, taken: list[Taken], most: int) -> Rows:
    return [
        {
            "part": "next",
            "what": p.label,
            "value": say("{bits:.2f} bit in {minutes:g} min", bits=p.bits, minutes=p.minutes),
            "note": "; ".join([p.test, *p.cautions]),
        }
        for p in next_tests(causes, taken, most)
    ]


def _proving_rows(causes: Table, taken: list[Taken], now: Standing) -> Rows:
    done = {entry.test for entry in taken}
    open_ = [name for name in proving_tests(causes, now.candidate) if name not in done]
    tests = [test_of(causes.rig, name) for name in open_[:2]]
    return [
        {
            "part": "would prove",
            "what": test.label,
            "value": say("{minutes:g} min", minutes=test.minutes),
            "note": "; ".join([test.id, *test.cautions]),
        }
        for test in tests
    ]


def _shown_rows(rig: Rig, entry: Taken) -> Rows:
    test = test_of(rig, entry.test)
    rows: Rows = []
    for outcome, value in zip(test.outcomes, entry.values, strict=True):
        if test.id == "codes":
            if value > 0.5:
                rows.append({"part": "seen", "what": outcome.label, "value": "stored", "note": test.label})
            continue
        rows.append({"part": "seen", "what": outcome.label, "value": outcome.words(value), "note": test.label})
    return rows or [{"part": "seen", "what": "codes", "value": "none", "note": test.label}]


def _conclusion_rows(causes: Table, vehicle: Vehicle, taken: list[Taken], cause: str) -> Rows:
    known = {entry.id for entry in causes.candidates}
    if cause not in known:
        raise UnknownName("cause", cause, known)
    true = "nothing_wrong" if not vehicle.faults else candidate_of(causes.rig, vehicle.faults[0]).id
    stands = standing(causes, taken, cause)
    words = "; ".join(describe_fault(fault) for fault in vehicle.faults) or "nothing is wrong"
    rows: Rows = [
        {
            "part": "conclusion",
            "what": "right" if cause == true else "wrong",
            "value": "proven" if stands.proven else "not proven",
            "note": stands.reason,
        },
        {"part": "truth", "what": words, "value": "", "note": true},
    ]
    best = way_of_a_technician(causes, lambda name: take(vehicle, name))
    spent = _spent(causes.rig, taken)
    rows.append(
        {
            "part": "cost",
            "what": "spent against somebody who follows the evidence",
            "value": say("{spent:g} min against {minutes:g} min", spent=spent, minutes=best.minutes),
            "note": " > ".join(best.tests),
        }
    )
    return rows


def _best_path_rows(causes: Table, vehicle: Vehicle) -> Rows:
    conditions = {test.id: test.condition for test in tests_of(causes.rig)}
    rows: Rows = []
    for way in until_nothing_is_left(causes, vehicle):
        rows += [
            {
                "part": "step",
                "what": test_of(causes.rig, name).label,
                "value": say(
                    "{minutes:g} min",
                    minutes=minutes_now(test_of(causes.rig, name), list(way.tests[:k]), conditions),
                ),
                "note": name,
            }
            for k, name in enumerate(way.tests)
        ]
        rows.append(
            {
                "part": "proven" if way.proven else "not proven",
                "what": way.end.label,
                "value": say("{minutes:g} min", minutes=way.minutes),
                "note": way.end.reason,
            }
        )
    return rows


def _spent(rig: Rig, taken: list[Taken]) -> float:
    """Shop minutes of some tests in their order."""
    conditions = {test.id: test.condition for test in tests_of(rig)}
    names = [entry.test for entry in taken]
    return sum(minutes_now(test_of(rig, name), names[:k], conditions) for k, name in enumerate(names))


def _look_alike_rows(causes: Table, options: argparse.Namespace) -> Rows:
    known = {entry.id for entry in causes.candidates}
    if options.look_alikes not in known:
        raise UnknownName("cause", options.look_alikes, known)
    tests = options.take or [
        test.id for test in tests_of(causes.rig) if test.id.startswith("scan.") or test.id == "codes"
    ]
    found = look_alikes(causes, options.look_alikes, tests)
    return [
        {
            "looks like": alike.label,
            "apart": say("{distance:.1f} spreads", distance=alike.distance),
            "told apart by": alike.separated_by,
            "in": say("{separating_minutes:g} min", separating_minutes=alike.separating_minutes),
            "by": say("{separation:.1f} spreads", separation=alike.separation),
        }
        for alike in found
    ] or [{"looks like": "nothing", "apart": "", "told apart by": "", "in": "", "by": ""}]
