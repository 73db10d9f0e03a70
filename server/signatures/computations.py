"""Good against faulty. Each function runs in a worker and gets plain data."""

from dataclasses import asdict
from typing import Any

from jobs.kinds import HEAVY, Tell, computation
from leitfaden_core.diagnose import look_alikes, table
from leitfaden_core.diagnose.candidates import candidate_of, candidates
from leitfaden_core.diagnose.procedures import tests_of
from leitfaden_core.errors import MissingPart
from leitfaden_core.faults import FaultSpec, describe_fault, fault_kinds
from leitfaden_core.judge import (
    STATES,
    Column,
    by_sight,
    causes_of,
    leak_places,
    noticed,
    smallest_sizes,
    symptoms,
    trim_steps,
)
from leitfaden_core.judge import matrix as matrix_of
from leitfaden_core.judge import signature as signature_of
from leitfaden_core.judge.steps import REGIMES, STEPS
from leitfaden_core.monitors import trouble_codes
from leitfaden_core.rigs import Rig, load_rig, shown_quantity
from leitfaden_core.scripts import CONDITIONS, script_with
from leitfaden_core.simulate import cached_run
from leitfaden_core.words import in_language, say
from simulations.sheets import fetch_sheet


@computation("signature", limit_s=60.0, supersedes=True)
def signature(wish: Any, tell: Tell) -> dict[str, Any]:
    """What leaves its band, and what the driver notices."""
    rig = load_rig(wish["rig"])
    fetch_sheet(rig)
    faults = [FaultSpec.model_validate(fault) for fault in wish["faults"]]
    departures = by_sight(signature_of(rig, faults))
    tell(0.6, "the drives have run")
    return {
        "words": [describe_fault(fault) for fault in faults],
        "departures": [asdict(d) | {"quantity": _quantity(rig, d.channel, d.stat)} for d in departures],
        "noticed": [
            {
                "symptom": entry.symptom,
                "label": in_language(symptoms.get(entry.symptom).label),
                "state": entry.state,
                "state_label": in_language(STATES[entry.state][0]),
            }
            for entry in noticed(rig, faults)
        ],
        "codes": list(trouble_codes(cached_run(rig, script_with("hot_idle"), faults, 0))),
    }


def _quantity(rig: Rig, channel: str, stat: str) -> str:
    return "frequency" if stat == "freq" else shown_quantity(rig, channel)


@computation("alike", limit_s=120.0)
def alike(wish: Any, tell: Tell) -> dict[str, Any]:
    """Look-alikes in the data lists, and the smallest sizes that can be told."""
    rig, fault = load_rig(wish["rig"]), FaultSpec.model_validate(wish["fault"])
    fetch_sheet(rig)
    smallest = smallest_sizes(rig, fault)
    tell(0.5, "sizes are compared")
    lists = [test.id for test in tests_of(rig) if test.instrument == "scan_tool"]
    known = table(rig, workers=1, progress=lambda done, of: tell(0.5 + 0.5 * done / of, "causes are compared"))
    return {
        "alike": [
            {
                "candidate": found.candidate,
                "label": found.label,
                "distance": found.distance,
                "separated_by": found.separated_by,
                "minutes": found.separating_minutes,
                "separation": found.separation,
            }
            for found in look_alikes(known, candidate_of(rig, fault).id, lists)
        ],
        "smallest": [asdict(told) for told in smallest],
    }


@computation("matrix", queue=HEAVY, limit_s=600.0, background=True)
def matrix(wish: Any, tell: Tell) -> dict[str, Any]:
    """The faults of a group against conditions."""
    rig = load_rig(wish["rig"])
    fetch_sheet(rig)
    only = tuple(c.id for c in candidates(rig) if c.kind and fault_kinds.get(c.kind).group == wish["group"])
    rows = (
        matrix_of(rig, only, lambda done, of: tell(done / of, say("{done} of {of} faults", done=done, of=of)))
        if only
        else []
    )
    met = {condition for row in rows for condition in row.cells}
    return {
        "conditions": [name for name in CONDITIONS if name in met],
        "rows": [asdict(row) | {"fault": row.fault.model_dump(mode="json")} for row in rows],
    }


@computation("steps", limit_s=60.0)
def steps(wish: Any, tell: Tell) -> dict[str, Any]:
    """The trim-step test, and where the engine is boosted the places of a leak."""
    rig, size = load_rig(wish["rig"]), wish["size"]

    def rows(columns: list[Column]) -> list[dict[str, Any]]:
        return [
            asdict(column)
            | {
                "fault": column.fault.model_dump(mode="json") if column.fault else None,
                "cells": [asdict(cell) | {"quantity": shown_quantity(rig, cell.channel)} for cell in column.cells],
            }
            for column in columns
        ]

    found: dict[str, Any] = {"conditions": list(STEPS), "columns": [], "place_conditions": list(REGIMES), "places": []}
    for part, asked in (("columns", trim_steps), ("places", leak_places)):
        try:
            found[part] = rows(asked(rig, size))
        except MissingPart:
            continue  # a diesel has no trims, a plain engine no boost
    return found


@computation("causes", queue=HEAVY, limit_s=900.0, background=True)
def causes(wish: Any, tell: Tell) -> list[dict[str, Any]]:
    """The faults that would cause all that a driver tells."""
    tell(0.1, "the drives of all faults are compared with those of the sound engine")
    return [asdict(cause) for cause in causes_of(load_rig(wish["rig"]), wish["told"])]
