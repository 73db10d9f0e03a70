"""signature, symptoms: what follows from a fault, on the tool and for the driver, and the way back."""

import argparse
import sys
from dataclasses import asdict
from typing import Any

from leitfaden_core.channels import channel
from leitfaden_core.errors import LeitfadenError, MissingPart
from leitfaden_core.faults import parse_fault
from leitfaden_core.judge import STATES, causes_of, matrix, noticed, signature, symptoms, told_symptom
from leitfaden_core.quantities import QUANTITIES
from leitfaden_core.rigs import load_rig
from leitfaden_core.scripts import condition as condition_of
from leitfaden_core.scripts import script_with
from leitfaden_core.words import say

Rows = list[dict[str, Any]]


def signature_rows(options: argparse.Namespace) -> Rows:
    """What leaves its band with these faults, farthest first; or the matrix of all faults of the rig."""
    rig = load_rig(options.rig)
    if options.matrix:
        conditions = [
            c
            for script in ("hot_idle", "hot_soak_restart", "full_load_altitude")
            for c in script_with(script).conditions()
        ]
        return [
            {"fault": row.label, **{c: row.cells.get(c, "·") for c in dict.fromkeys(conditions)}} for row in matrix(rig)
        ]
    if not options.fault:
        raise MissingPart("name at least one --fault, or ask for the --matrix")
    found = signature(rig, [parse_fault(text) for text in options.fault])
    if options.condition:
        found = [d for d in found if d.condition == condition_of(options.condition).id]
    rows: Rows = [
        {
            "condition": d.condition,
            "channel": d.channel,
            "layer": d.layer,
            "stat": d.stat,
            "value": f"{d.value:.4g}",
            "band": say("{low:.4g} to {high:.4g}", low=d.low, high=d.high),
            "unit": "Hz" if d.stat == "freq" else QUANTITIES[channel(d.channel).quantity].kept,
            "deviations": f"{d.deviations:+.1f}",
        }
        for d in found[: options.rows]
    ]
    return rows or [
        {
            "condition": "everywhere",
            "channel": "none",
            "layer": "",
            "stat": "",
            "value": "",
            "band": "inside",
            "unit": "",
            "deviations": "",
        }
    ]


def symptom_rows(options: argparse.Namespace) -> Rows:
    """What a driver notices of some faults; the faults behind what a driver tells; or the known symptoms."""
    if options.rig is None:
        return [
            {"symptom": s.id, "means": s.label, "measured by": s.measure, "states": ", ".join(s.states)}
            for s in symptoms
        ]
    rig = load_rig(options.rig)
    if options.fault and options.told:
        raise LeitfadenError(
            "--fault and --told exclude each other: one asks what follows, the other what it may come from"
        )
    if options.told:
        for text in options.told:
            told_symptom(text)
        if not options.json:
            print("comparing the drives of all faults with those of the sound engine", file=sys.stderr)
        found = [asdict(cause) for cause in causes_of(rig, options.told)]
        return found or [
            {"candidate": "none", "label": "no single fault of this rig causes all of that", "group": "", "size": ""}
        ]
    if not options.fault:
        raise MissingPart("name at least one --fault, or what the driver tells with --told")
    rows: Rows = [
        {
            "symptom": symptoms.get(entry.symptom).label,
            "state": STATES[entry.state][0],
            "measure": entry.measure,
            "faulty": f"{entry.faulty:.4g}",
            "sound": f"{entry.sound:.4g}",
        }
        for entry in noticed(rig, [parse_fault(text) for text in options.fault])
    ]
    return rows or [{"symptom": "nothing noticed", "state": "everywhere", "measure": "", "faulty": "", "sound": ""}]
