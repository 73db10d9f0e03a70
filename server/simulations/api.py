"""Names of everything, the bench, and drawings to explore."""

from dataclasses import asdict
from functools import cache
from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Router

from api.problems import ComputingOut, Problem
from jobs.services import answered, asker_of, packed, packed_response
from leitfaden_core import __version__
from leitfaden_core.channels import channel
from leitfaden_core.errors import UnknownName
from leitfaden_core.faults import ONSETS, effects_on, fault_kinds, offered_on
from leitfaden_core.quantities import QUANTITIES
from leitfaden_core.rigs import Rig, base_of, load_rig, rig_channels, rig_ids, variant_ids
from leitfaden_core.scripts import CONDITIONS, load_script, reading_scripts
from leitfaden_core.wiring.circuits import CIRCUITS
from people.permissions import allowed, may
from simulations import schemas
from simulations.lanes import channel_rows
from simulations.sheets import require_sheet
from simulations.wishes import as_asked_by

router = Router(tags=["simulations"])


@cache
def _catalogue() -> dict[str, Any]:
    kinds = [asdict(kind) | {"effects": None} for kind in fault_kinds]
    return {
        "core": __version__,
        "rigs": [_rig_row(load_rig(rig_id)) for rig_id in (*rig_ids(), *variant_ids())],
        "scripts": [
            {
                "id": s.id,
                "name": s.name,
                "description": s.description,
                "seconds": s.seconds,
                "conditions": s.conditions(),
            }
            for s in reading_scripts()
        ],
        "conditions": [asdict(c) for c in CONDITIONS.values()],
        "channels": channel_rows(),
        "quantities": [asdict(q) | {"means": dict(q.means)} for q in QUANTITIES.values()],
        "faults": kinds,
        "circuits": {circuit.id: circuit.label for circuit in CIRCUITS.values()},
        "onsets": [asdict(mode) for mode in ONSETS.values()],
    }


def _rig_row(rig: Rig) -> dict[str, Any]:
    return {
        "id": rig.id,
        "base": base_of(rig.id),
        "name": rig.name,
        "description": rig.description,
        "governed": rig.governor is not None,
        "sensors": [sensor.model_dump() for sensor in rig.sensors],
        "channels": rig_channels(rig),
        "faults": offered_on(rig),
    }


@router.get(
    "/catalogue",
    response={200: schemas.Catalogue, 401: Problem, 403: Problem},
    operation_id="catalogue",
    summary="Rigs, scripts, conditions, channels, units and fault kinds",
)
@allowed("catalogue.read")
def catalogue(request: HttpRequest) -> dict[str, Any]:
    """Learners get names and units; the list of faults stays with those who build lessons."""
    known = _catalogue()
    if may(request.member, "lesson.read"):  # type: ignore[attr-defined]
        return known
    return known | {"faults": [], "onsets": [], "rigs": [rig | {"faults": {}} for rig in known["rigs"]]}


@router.post(
    "/bench/run",
    response={200: schemas.LanesOut, 202: ComputingOut},
    operation_id="benchRun",
    summary="Run a rig along a script, good beside faulty",
)
@allowed("bench.run")
def bench_run(request: HttpRequest, payload: schemas.BenchIn) -> HttpResponse:
    member = request.member  # type: ignore[attr-defined]
    rig, script = load_rig(payload.rig), load_script(payload.script)
    if not script.conditions():
        raise UnknownName("script", script.id, [known.id for known in reading_scripts()])
    for name in payload.channels:
        if channel(name).id not in rig_channels(rig):
            raise UnknownName("channel", name, rig_channels(rig), where=f"on rig {rig.id}")
    for fault in payload.faults:
        effects_on(fault, rig)
    require_sheet(rig)
    wish = payload.model_dump(mode="json") | as_asked_by(member)
    return packed_response(request, packed(answered("bench_run", wish, asker_of(request))))
