"""Good against faulty: what a fault shows, what looks like it, which causes a symptom may have."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Path, Query, Router

from api.problems import ComputingOut
from jobs.services import answered, asker_of, packed, packed_response
from leitfaden_core.diagnose.procedures import tests_of
from leitfaden_core.errors import UnknownName
from leitfaden_core.faults import effects_on, fault_kinds
from leitfaden_core.judge import STATES, symptoms, told_symptom
from leitfaden_core.rigs import load_rig
from leitfaden_core.words import in_language
from people.permissions import allowed
from signatures import schemas
from simulations.sheets import require_sheet

router = Router(tags=["signatures"])
RigName: Any = Path(max_length=20)  # type: ignore[type-arg]
Size: Any = Query(1, ge=0, le=2)  # type: ignore[type-arg]
Group: Any = Query("air_path", max_length=40)  # type: ignore[type-arg]


@router.post(
    "/signatures",
    response={200: schemas.SignatureOut, 202: ComputingOut},
    operation_id="signature",
    summary="Which values leave their band with some faults, in which condition, by how much",
)
@allowed("values.read")
def signature(request: HttpRequest, payload: schemas.FaultsIn) -> HttpResponse:
    rig = load_rig(payload.rig)
    for fault in payload.faults:
        effects_on(fault, rig)
    require_sheet(rig)
    wish = {"rig": rig.id, "faults": [fault.model_dump(mode="json") for fault in payload.faults]}
    return packed_response(request, packed(answered("signature", wish, asker_of(request))))


@router.post(
    "/signatures/alike",
    response={200: schemas.AlikesOut, 202: ComputingOut},
    operation_id="alike",
    summary="What else looks like a fault, what separates them, and from which size on it can be told",
)
@allowed("values.read")
def alike(request: HttpRequest, payload: schemas.OneFaultIn) -> HttpResponse:
    rig = load_rig(payload.rig)
    effects_on(payload.fault, rig)
    require_sheet(rig)
    wish = {"rig": rig.id, "fault": payload.fault.model_dump(mode="json")}
    return packed_response(request, packed(answered("alike", wish, asker_of(request))))


@router.get(
    "/rigs/{rig}/matrix",
    response={200: schemas.MatrixOut, 202: ComputingOut},
    operation_id="matrix",
    summary="The faults of a group against all conditions, at their middle size",
)
@allowed("values.read")
def matrix(request: HttpRequest, rig: str = RigName, group: str = Group) -> HttpResponse:
    known = load_rig(rig)
    groups = {kind.group for kind in fault_kinds}
    if group not in groups:
        raise UnknownName("group of faults", group, groups)
    require_sheet(known)
    return packed_response(request, packed(answered("matrix", {"rig": known.id, "group": group}, asker_of(request))))


@router.get(
    "/rigs/{rig}/steps",
    response={200: schemas.StepsOut, 202: ComputingOut},
    operation_id="steps",
    summary="The trim-step test, and the place of a leak against the pressure there",
)
@allowed("values.read")
def steps(request: HttpRequest, rig: str = RigName, size: int = Size) -> HttpResponse:
    wish = {"rig": load_rig(rig).id, "size": size}
    return packed_response(request, packed(answered("steps", wish, asker_of(request))))


@router.get(
    "/rigs/{rig}/tests",
    response={200: list[schemas.TestOut]},
    operation_id="diagnosticTests",
    summary="The tests that can be put to an engine, with their minutes",
)
@allowed("lesson.read")
def diagnostic_tests(request: HttpRequest, rig: str = RigName) -> list[dict[str, Any]]:
    return [{"id": test.id, "label": test.label, "minutes": test.minutes} for test in tests_of(load_rig(rig))]


@router.get(
    "/symptoms",
    response={200: schemas.SymptomsOut},
    operation_id="symptoms",
    summary="What a driver may notice, and in which states",
)
@allowed("catalogue.read")
def all_symptoms(request: HttpRequest) -> Any:
    return in_language(
        {
            "symptoms": [{"id": s.id, "label": s.label, "states": list(s.states)} for s in symptoms],
            "states": [{"id": name, "label": label} for name, (label, _script, _condition) in STATES.items()],
        }
    )


@router.post(
    "/symptoms/causes",
    response={200: list[schemas.CauseOut], 202: ComputingOut},
    operation_id="causes",
    summary="The faults of an engine that would cause all that a driver tells",
)
@allowed("values.read")
def causes(request: HttpRequest, payload: schemas.ToldIn) -> HttpResponse:
    for text in payload.told:
        told_symptom(text)
    wish = {"rig": load_rig(payload.rig).id, "told": sorted(set(payload.told))}
    return packed_response(request, packed(answered("causes", wish, asker_of(request))))
