"""Lessons for those who make them."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Path, Router

from api.problems import ComputingOut, NotFound, Problem
from benches import services as benches
from benches.library import require_stretch
from jobs.services import answered, asker_of, packed, packed_response
from leitfaden_core.lessons import Lesson as LessonDocument
from leitfaden_core.lessons import parse_lesson
from leitfaden_core.rigs import load_rig
from lessons import schemas, services
from lessons.models import Lesson
from people.changes import once
from people.permissions import allowed
from simulations.sheets import require_sheet
from simulations.wishes import as_asked_by

router = Router(tags=["lessons"])
ERRORS = {401: Problem, 403: Problem, 404: Problem, 409: Problem, 422: Problem, 429: Problem, 503: Problem}
Id: Any = Path(ge=1, le=2**31 - 1)  # type: ignore[type-arg]


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


@router.post(
    "/lessons/from-bench",
    response={200: schemas.FromBenchOut, 202: ComputingOut, **ERRORS},
    operation_id="lessonFromBench",
    summary="A first lesson out of a stretch of a bench: its drive and its faults. Nothing is kept",
)
@allowed("lesson.edit")
def lesson_from_bench(request: HttpRequest, payload: schemas.FromBenchIn) -> HttpResponse:
    member = request.member  # type: ignore[attr-defined]
    bench = benches.bench_of(member, payload.bench)
    require_stretch(payload.first, payload.last)
    wish = payload.model_dump(mode="json") | {
        "beginning": bench.beginning,
        "journal": benches.journal_until(bench, payload.last),
    }
    return packed_response(request, packed(answered("bench_lesson", wish, asker_of(request))))


@router.post(
    "/lessons/propose",
    response={200: schemas.ProposedOut, 202: ComputingOut, **ERRORS},
    operation_id="proposeLesson",
    summary="A whole lesson for an aim, computed and checked. Nothing is kept",
)
@allowed("lesson.edit")
def propose_lesson(request: HttpRequest, payload: schemas.ProposeIn) -> HttpResponse:
    require_sheet(load_rig(payload.rig))
    wish = payload.model_dump(mode="json", include={"page", "rig", "fault", "level", "minutes"})
    return packed_response(request, packed(answered("propose", wish, asker_of(request))))


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
    document = one.model_dump(mode="json", include={"rig", "script", "drives", "faults", "stations"}) | {"title": "-"}
    document["stations"][0] |= {"title": "-", "text": ""}
    found = answered("station", {"document": document, "seed": payload.seed} | as_asked_by(member), asker_of(request))
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
