"""The catalogue, the bench, and lessons for those who make them."""

from dataclasses import asdict
from functools import cache
from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Path, Query, Router

from accounts.changes import once
from accounts.models import Membership
from accounts.permissions import allowed, may
from api.problems import ComputingOut, NotFound, Problem
from jobs.services import answered, asker_of, packed, packed_response
from leitfaden_core import __version__
from leitfaden_core.channels import channel
from leitfaden_core.errors import UnknownName
from leitfaden_core.faults import ONSETS, effects_on, fault_kinds, offered_on
from leitfaden_core.lessons import Lesson as LessonDocument
from leitfaden_core.lessons import parse_lesson
from leitfaden_core.quantities import QUANTITIES
from leitfaden_core.rigs import Rig, load_rig, rig_channels, rig_ids, variant_ids
from leitfaden_core.scripts import CONDITIONS, load_script, reading_scripts
from library import schemas, services
from library.lanes import channel_rows
from library.models import Lesson
from library.sheets import require_sheet

router = Router(tags=["library"])
ERRORS = {401: Problem, 403: Problem, 404: Problem, 409: Problem, 422: Problem, 429: Problem, 503: Problem}
Id: Any = Path(ge=1, le=2**31 - 1)  # type: ignore[type-arg]
RigName: Any = Query("R1", max_length=20)  # type: ignore[type-arg]


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
        "quantities": [asdict(q) for q in QUANTITIES.values()],
        "faults": kinds,
        "onsets": [asdict(mode) for mode in ONSETS.values()],
    }


def _rig_row(rig: Rig) -> dict[str, Any]:
    return {
        "id": rig.id,
        "base": rig.id.partition("-")[0],
        "name": rig.name,
        "description": rig.description,
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
    response={200: schemas.LanesOut, 202: ComputingOut, **ERRORS},
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
    wish = payload.model_dump(mode="json") | _as_asked_by(member)
    return packed_response(request, packed(answered("bench_run", wish, asker_of(request))))


def _as_asked_by(member: Membership) -> dict[str, Any]:
    """What of the person decides how an answer reads: their school's limits and their units."""
    return {"rules": member.school.rules.values, "units": member.user.units}


@router.get(
    "/lessons",
    response={200: list[schemas.LessonRow], **ERRORS},
    operation_id="lessons",
    summary="Lessons of the school",
)
@allowed("lesson.read")
def lessons(request: HttpRequest) -> list[dict[str, Any]]:
    found: Any = Lesson.objects.of_school(request.member.school).with_state().defer("draft")  # type: ignore[attr-defined]
    return [
        _state(lesson)
        | {
            "updated_at": lesson.updated_at,
            "updated_by": lesson.updated_by.display_name if lesson.updated_by else "",
            "assigned": lesson.assigned or 0,
            "finished": lesson.finished or 0,
        }
        for lesson in found
    ]


def _state(lesson: Any) -> dict[str, Any]:
    return {
        "id": lesson.pk,
        "title": lesson.title,
        "revision": lesson.revision,
        "version": lesson.version,
        "changed_since_version": not lesson.as_published,
    }


def _with_draft(lesson: Lesson) -> dict[str, Any]:
    return _state(Lesson.objects.with_state().defer("draft").get(pk=lesson.pk)) | {"draft": lesson.draft}


@router.post(
    "/lessons", response={200: schemas.LessonOut, **ERRORS}, operation_id="createLesson", summary="A new lesson"
)
@allowed("lesson.edit")
@once()
def create_lesson(request: HttpRequest, payload: schemas.LessonIn) -> dict[str, Any]:
    return _with_draft(services.create_lesson(member=request.member, document=payload.document))  # type: ignore[attr-defined]


@router.get(
    "/lessons/{lesson_id}",
    response={200: schemas.LessonOut, **ERRORS},
    operation_id="lesson",
    summary="A lesson with its draft",
)
@allowed("lesson.read")
def lesson(request: HttpRequest, lesson_id: int = Id) -> dict[str, Any]:
    return _with_draft(services.lesson_of(request.member, lesson_id))  # type: ignore[attr-defined]


@router.put(
    "/lessons/{lesson_id}/draft",
    response={200: schemas.LessonOut, **ERRORS},
    operation_id="changeDraft",
    summary="Store a changed draft",
)
@allowed("lesson.edit")
@once()
def change_draft(request: HttpRequest, payload: schemas.DraftIn, lesson_id: int = Id) -> dict[str, Any]:
    member = request.member  # type: ignore[attr-defined]
    changed = services.change_draft(
        member=member, lesson_id=lesson_id, revision=payload.revision, document=payload.document
    )
    return _with_draft(changed)


def _required(lesson: LessonDocument) -> None:
    """Have the value sheets of all engines of a lesson. Computing while one is not there."""
    for rig in lesson.engines():
        require_sheet(rig)


@router.post(
    "/preview/station",
    response={200: schemas.PreviewOut, 202: ComputingOut, **ERRORS},
    operation_id="previewStation",
    summary="A station of a draft: what a learner will see, the key, the lanes",
)
@allowed("lesson.edit")
def preview(request: HttpRequest, payload: schemas.PreviewIn) -> HttpResponse:
    """Texts are left out: the page has them, and a changed word computes nothing anew."""
    member = request.member  # type: ignore[attr-defined]
    asked = parse_lesson(payload.document)
    if payload.station >= len(asked.stations):
        raise NotFound(f"The lesson has {len(asked.stations)} stations; there is no station {payload.station + 1}.")
    one = asked.model_copy(update={"stations": [asked.stations[payload.station]]})
    _required(one)
    document = one.model_dump(mode="json", include={"rig", "script", "faults", "stations"}) | {"title": "-"}
    document["stations"][0] |= {"title": "-", "text": ""}
    found = answered("station", {"document": document, "seed": payload.seed} | _as_asked_by(member), asker_of(request))
    return packed_response(request, packed(found))


@router.post(
    "/preview/check",
    response={200: schemas.CheckOut, 202: ComputingOut, **ERRORS},
    operation_id="checkLesson",
    summary="Warnings of fairness",
)
@allowed("lesson.edit")
def check(request: HttpRequest, payload: schemas.CheckIn) -> HttpResponse:
    asked = parse_lesson(payload.document)
    _required(asked)
    document = asked.model_dump(mode="json")
    wordless = document | {
        "goal": "",
        "cautions": [],
        "stations": [station | {"text": ""} for station in document["stations"]],
    }
    return packed_response(request, packed(answered("check_lesson", {"document": wordless}, asker_of(request))))


@router.get(
    "/explore/narrowband",
    response={200: schemas.NarrowbandOut, 202: ComputingOut, **ERRORS},
    operation_id="exploreNarrowband",
    summary="A narrowband sensor to explore",
)
@allowed("catalogue.read")
def explore_narrowband(request: HttpRequest, rig: str = RigName) -> HttpResponse:
    known = load_rig(rig)
    if known.oxygen_sensors is None:
        raise UnknownName("narrowband sensor", rig, [r for r in rig_ids() if load_rig(r).oxygen_sensors is not None])
    return packed_response(request, packed(answered("narrowband", {"rig": known.id}, asker_of(request))))
