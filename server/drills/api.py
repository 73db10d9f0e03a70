"""Drills: for learners to take, for trainers to make and to look at."""

from typing import Any

from django.http import HttpRequest
from ninja import Path, Router

from api.problems import ComputingOut
from drills import schemas, services
from drills.models import Drill, Trial
from drills.scheduling import entries_of
from leitfaden_core.faults import fault_kinds
from leitfaden_core.rigs import load_rig
from people.changes import once
from people.models import User
from people.permissions import allowed

router = Router(tags=["drills"])
Id: Any = Path(ge=1, le=2**31 - 1)  # type: ignore[type-arg]


def _row(drill: Drill, answered: int) -> dict[str, Any]:
    entries = entries_of(drill)
    engines = dict.fromkeys(load_rig(rig).name for entry in entries for rig in entry.rigs)
    return {
        "id": drill.pk,
        "title": drill.title,
        "own": drill.learner_id is not None,
        "kinds": [entry.label for entry in entries],
        "engines": list(engines),
        "answered": answered,
    }


@router.get("/drills", response={200: list[schemas.DrillRow]}, operation_id="drills", summary="Drills")
@allowed("drill.read")
def drills(request: HttpRequest) -> list[dict[str, Any]]:
    member = request.member  # type: ignore[attr-defined]
    found = Drill.objects.seen_by(member).with_trials_of(member.user)
    return [_row(drill, drill.answered) for drill in found]  # type: ignore[attr-defined]


@router.get(
    "/drills/kinds",
    response={200: list[schemas.DrillKind]},
    operation_id="drillKinds",
    summary="Kinds of faults that can be drilled",
)
@allowed("drill.read")
def kinds(request: HttpRequest) -> list[dict[str, Any]]:
    return [{"id": kind.id, "label": kind.label, "place": kind.place} for kind in fault_kinds]


@router.post(
    "/drills",
    response={200: schemas.DrillRow, 202: ComputingOut},
    operation_id="createDrill",
    summary="A drill out of a lesson, or of kinds of faults. Learners make it for themselves",
)
@allowed("drill.read")
def create_drill(request: HttpRequest, payload: schemas.DrillIn) -> dict[str, Any]:
    member = request.member  # type: ignore[attr-defined]
    title, entries = services.entries_wished(member, payload.lesson, payload.kinds)
    return _create(request, payload.title or title, entries)  # type: ignore[no-any-return]


@once()
def _create(request: HttpRequest, title: str, entries: list[dict[str, Any]]) -> dict[str, Any]:
    return _row(services.create(request.member, title, entries), 0)  # type: ignore[attr-defined]


@router.delete(
    "/drills/{drill_id}",
    response={200: list[schemas.DrillRow]},
    operation_id="deleteDrill",
    summary="Delete",
)
@allowed("drill.read")
@once()
def delete_drill(request: HttpRequest, drill_id: int = Id) -> list[dict[str, Any]]:
    member = request.member  # type: ignore[attr-defined]
    services.delete(member, drill_id)
    found = Drill.objects.seen_by(member).with_trials_of(member.user)
    return [_row(drill, drill.answered) for drill in found]  # type: ignore[attr-defined]


@router.post(
    "/drills/{drill_id}/next",
    response={200: schemas.TrialOut, 202: ComputingOut},
    operation_id="nextItem",
    summary="The item that waits for an answer",
)
@allowed("drill.take")
def next_item(request: HttpRequest, payload: schemas.NextIn, drill_id: int = Id) -> dict[str, Any]:
    member = request.member  # type: ignore[attr-defined]
    drill = services.drill_of(member, drill_id)
    trial = services.open_trial(member, drill)
    before = Trial.objects.filter(drill=drill, learner=member.user, answered_at__isnull=False).count()
    return {"id": trial.pk, "number": before + 1, "item": trial.view}


@router.post(
    "/drills/items/{trial_id}",
    response={200: schemas.TrialTold},
    operation_id="answerItem",
    summary="Sound or faulty, and how sure",
)
@allowed("drill.take")
@once()
def answer_item(request: HttpRequest, payload: schemas.TrialIn, trial_id: int = Id) -> dict[str, Any]:
    member = request.member  # type: ignore[attr-defined]
    return services.told(services.answer(member, trial_id, payload.said, payload.confidence))


@router.get(
    "/drills/{drill_id}/figures",
    response={200: list[schemas.FiguresOut]},
    operation_id="drillFigures",
    summary="Hits, false alarms, thresholds: one's own, or for trainers those of all",
)
@allowed("drill.read")
def drill_figures(request: HttpRequest, drill_id: int = Id) -> list[dict[str, Any]]:
    member = request.member  # type: ignore[attr-defined]
    drill = services.drill_of(member, drill_id)
    if member.role == "learner":
        return [services.figures(drill, member.user)]
    tried = Trial.objects.filter(drill=drill, answered_at__isnull=False).values("learner")
    return [services.figures(drill, learner) for learner in User.objects.filter(pk__in=tried).order_by("last_name")]
