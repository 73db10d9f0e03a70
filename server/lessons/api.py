"""Lessons for those who make them."""

from dataclasses import asdict
from typing import Any, Literal

from django.db.models import Count
from django.http import HttpRequest, HttpResponse
from ninja import Path, Query, Router

from api.paper import as_pdf
from api.problems import ComputingOut, NotFound, Problem
from benches import services as benches
from benches.api import bench_row
from benches.library import require_stretch
from benches.schemas import BenchRow
from jobs.services import answered, asker_of, packed, packed_response, value_of
from leitfaden_core.expect import has_sheet
from leitfaden_core.lessons import Lesson as LessonDocument
from leitfaden_core.lessons import aims, check_words, page_for, parse_lesson, station_engine
from leitfaden_core.lessons.exchange import OwnStatement, packed_lesson, statements_of
from leitfaden_core.lessons.pictures import cleaned
from leitfaden_core.rigs import load_rig
from leitfaden_core.words import say
from lessons import pictures, schemas, services
from lessons.models import Lesson
from people.changes import once
from people.permissions import allowed
from simulations.sheets import require_sheet
from simulations.wishes import as_asked_by

router = Router(tags=["lessons"])
Id: Any = Path(ge=1, le=2**31 - 1)  # type: ignore[type-arg]
Paper = Literal["worksheet", "key", "questions"]
Digest: Any = Path(pattern=r"^[0-9a-f]{64}$")  # type: ignore[type-arg]
Number: Any = Query(0, ge=0, le=2**31 - 1)  # type: ignore[type-arg]


@router.get(
    "/lessons",
    response={200: list[schemas.LessonRow]},
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
        "archived": lesson.archived_at is not None,
        "updated_by": lesson.updated_by.display_name if lesson.updated_by else "",
    }


def _with_draft(lesson: Lesson) -> dict[str, Any]:
    return _state(Lesson.objects.with_state().defer("draft").get(pk=lesson.pk)) | {"draft": lesson.draft}


@router.post("/lessons", response={200: schemas.LessonOut}, operation_id="createLesson", summary="A new lesson")
@allowed("lesson.edit")
@once()
def create_lesson(request: HttpRequest, payload: schemas.LessonIn) -> dict[str, Any]:
    return _with_draft(services.create_lesson(member=request.member, document=payload.document))  # type: ignore[attr-defined]


@router.post(
    "/lessons/from-bench",
    response={200: schemas.FromBenchOut, 202: ComputingOut},
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


@router.get("/aims", response={200: list[schemas.AimOut]}, operation_id="aims", summary="What a lesson can aim at")
@allowed("lesson.edit")
def all_aims(request: HttpRequest) -> list[dict[str, Any]]:
    return [
        aim.model_dump(include={"id", "title", "can", "family", "level", "minutes", "why", "after"})
        | {"rigs": [_engine(name) for name in aim.rigs if page_for(aim, name)]}
        for aim in aims().values()
    ]


def _engine(name: str) -> dict[str, Any]:
    rig = load_rig(name)
    return {"id": rig.id, "name": rig.name, "ready": has_sheet(rig)}


@router.post(
    "/lessons/propose",
    response={200: schemas.ProposedOut, 202: ComputingOut},
    operation_id="proposeLesson",
    summary="A whole lesson for an aim, computed and checked. Nothing is kept",
)
@allowed("lesson.edit")
def propose_lesson(request: HttpRequest, payload: schemas.ProposeIn) -> HttpResponse:
    require_sheet(load_rig(payload.rig))
    wish = payload.model_dump(mode="json", include={"aim", "page", "rig", "fault", "level", "minutes"})
    return packed_response(request, packed(answered("propose", wish, asker_of(request))))


@router.get(
    "/lessons/{lesson_id}",
    response={200: schemas.LessonOut},
    operation_id="lesson",
    summary="A lesson with its draft",
)
@allowed("lesson.read")
def lesson(request: HttpRequest, lesson_id: int = Id) -> dict[str, Any]:
    return _with_draft(services.lesson_of(request.member, lesson_id))  # type: ignore[attr-defined]


@router.put(
    "/lessons/{lesson_id}/draft",
    response={200: schemas.LessonOut},
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


@router.put(
    "/lessons/{lesson_id}/archived",
    response={200: schemas.LessonOut},
    operation_id="archiveLesson",
    summary="Put a lesson away, or take it back. Learners who have it keep it",
)
@allowed("lesson.edit")
@once()
def archive_lesson(request: HttpRequest, payload: schemas.ArchiveIn, lesson_id: int = Id) -> dict[str, Any]:
    return _with_draft(services.archive(request.member, lesson_id, payload.archived))  # type: ignore[attr-defined]


@router.get(
    "/lessons/{lesson_id}/versions",
    response={200: list[schemas.VersionRow]},
    operation_id="lessonVersions",
    summary="Published versions, the newest first",
)
@allowed("lesson.read")
def lesson_versions(request: HttpRequest, lesson_id: int = Id) -> list[dict[str, Any]]:
    lesson = services.lesson_of(request.member, lesson_id)  # type: ignore[attr-defined]
    rows = lesson.versions.select_related("published_by").annotate(assigned=Count("assignments"))
    return [
        {
            "number": row.number,
            "title": row.document["title"],
            "published_at": row.published_at,
            "published_by": row.published_by.display_name if row.published_by else "",
            "assigned": row.assigned,
        }
        for row in rows
    ]


@router.get(
    "/lessons/{lesson_id}/versions/{number}",
    response={200: schemas.VersionDocument},
    operation_id="lessonVersion",
    summary="A version as it was published",
)
@allowed("lesson.read")
def lesson_version(request: HttpRequest, lesson_id: int = Id, number: int = Id) -> dict[str, Any]:
    version = services.version_of(request.member, lesson_id, number)  # type: ignore[attr-defined]
    return {"number": version.number, "document": parse_lesson(version.document).model_dump(mode="json")}


@router.get(
    "/lessons/{lesson_id}/changes",
    response={200: list[schemas.PartChange]},
    operation_id="lessonChanges",
    summary="What has changed from one version to another (0: the draft)",
)
@allowed("lesson.read")
def lesson_changes(request: HttpRequest, lesson_id: int = Id, before: int = Number, after: int = Number) -> list[Any]:
    found = services.changes(request.member, lesson_id, before, after)  # type: ignore[attr-defined]
    return [asdict(change) for change in found]


@router.get(
    "/lessons/{lesson_id}/comments",
    response={200: list[schemas.CommentOut]},
    operation_id="comments",
    summary="Words for colleagues at a draft",
)
@allowed("lesson.read")
def comments(request: HttpRequest, lesson_id: int = Id) -> list[dict[str, Any]]:
    lesson = services.lesson_of(request.member, lesson_id)  # type: ignore[attr-defined]
    return [_told(comment) for comment in lesson.comments.select_related("author")]


@router.post(
    "/lessons/{lesson_id}/comments",
    response={200: schemas.CommentOut},
    operation_id="addComment",
    summary="A word for a colleague",
)
@allowed("lesson.edit")
@once()
def add_comment(request: HttpRequest, payload: schemas.CommentIn, lesson_id: int = Id) -> dict[str, Any]:
    return _told(services.add_comment(request.member, lesson_id, payload.station, payload.text))  # type: ignore[attr-defined]


@router.put(
    "/lessons/{lesson_id}/comments/{comment_id}",
    response={200: schemas.CommentOut},
    operation_id="settleComment",
    summary="A comment is settled, or open again",
)
@allowed("lesson.edit")
@once()
def settle_comment(
    request: HttpRequest, payload: schemas.SettledIn, lesson_id: int = Id, comment_id: int = Id
) -> dict[str, Any]:
    return _told(services.settle_comment(request.member, lesson_id, comment_id, payload.settled))  # type: ignore[attr-defined]


def _told(comment: Any) -> dict[str, Any]:
    return {
        "id": comment.pk,
        "station": comment.station,
        "text": comment.text,
        "author": comment.author.display_name if comment.author else "",
        "written_at": comment.written_at,
        "settled": comment.settled_at is not None,
    }


@router.get(
    "/lessons/{lesson_id}/package",
    response={200: None},
    operation_id="lessonPackage",
    summary="The draft as a package file (docs/lesson-package.schema.json)",
)
@allowed("lesson.read")
def lesson_package(request: HttpRequest, lesson_id: int = Id) -> HttpResponse:
    lesson = services.lesson_of(request.member, lesson_id)  # type: ignore[attr-defined]
    parsed = parse_lesson(lesson.draft)
    text = packed_lesson(parsed, pictures.contents(lesson.school, parsed.pictures()))
    return _file(text.encode(), "application/json; charset=utf-8", f"lesson-{lesson.pk}.json")


@router.post(
    "/packages",
    response={200: schemas.LessonOut, 413: Problem},
    operation_id="takePackage",
    summary="A new lesson from a package file, as the body of the request",
)
@allowed("lesson.edit")
@once()
def take_package(request: HttpRequest) -> dict[str, Any]:
    found = services.from_package(request.body)
    return _with_draft(services.take_in(request.member, found))  # type: ignore[attr-defined]


@router.post(
    "/pictures",
    response={200: schemas.PictureOut, 413: Problem},
    operation_id="addPicture",
    summary=(
        "Keep an own picture (PNG, JPEG or WebP, as the body of the request): turned upright, made smaller, cleaned"
    ),
)
@allowed("lesson.edit")
@once()
def add_picture(request: HttpRequest) -> dict[str, Any]:
    kept = pictures.keep(request.member, cleaned(request.body))  # type: ignore[attr-defined]
    return {"id": kept.digest, "width": kept.width, "height": kept.height}


@router.get(
    "/pictures/{digest}",
    response={200: None},
    operation_id="picture",
    summary="An own picture of the school, as WebP",
)
@allowed("catalogue.read")
def picture(request: HttpRequest, digest: str = Digest) -> HttpResponse:
    content = pictures.picture_of(request.member, digest)  # type: ignore[attr-defined]
    kept = {"Cache-Control": "private, max-age=31536000, immutable"}
    return HttpResponse(content, content_type="image/webp", headers=kept)


@router.get(
    "/lessons/{lesson_id}/paper/{what}",
    response={200: None, 202: ComputingOut},
    operation_id="lessonOnPaper",
    summary="Worksheet or key as PDF, or the questions as GIFT, of the draft for one seed",
)
@allowed("lesson.read")
def lesson_on_paper(request: HttpRequest, what: Paper, lesson_id: int = Id, seed: int = Number) -> HttpResponse:
    member = request.member  # type: ignore[attr-defined]
    lesson = services.lesson_of(member, lesson_id)
    parsed = parse_lesson(lesson.draft)
    _required(parsed)
    wish = {"document": parsed.model_dump(mode="json"), "seed": seed, "units": member.user.units}
    found = value_of(answered("lesson_on_paper", wish, asker_of(request)))
    if what == "questions":
        return _file(found["questions"].encode(), "text/plain; charset=utf-8", f"lesson-{lesson.pk}.gift.txt")
    foot = f"{member.school.name} · {parsed.title} · {seed}"
    return _file(as_pdf(found[what], foot), "application/pdf", f"lesson-{lesson.pk}-{what}.pdf")


def _file(content: bytes, kind: str, name: str) -> HttpResponse:
    return HttpResponse(content, content_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'})


@router.post(
    "/statements",
    response={200: list[OwnStatement]},
    operation_id="readStatements",
    summary="Statements out of questions in GIFT, as the body of the request. Nothing is kept",
)
@allowed("lesson.edit")
def read_statements(request: HttpRequest) -> list[Any]:
    return statements_of(request.body.decode("utf-8-sig", errors="replace"))


def _required(lesson: LessonDocument) -> None:
    """Have the value sheets of all engines of a lesson. Computing while one is not there."""
    for rig in lesson.engines():
        require_sheet(rig)


@router.post(
    "/preview/station",
    response={200: schemas.PreviewOut, 202: ComputingOut},
    operation_id="previewStation",
    summary="A station of a draft: what a learner will see, the key, the lanes",
)
@allowed("lesson.edit")
def preview(request: HttpRequest, payload: schemas.PreviewIn) -> HttpResponse:
    member = request.member  # type: ignore[attr-defined]
    wish = {"document": _one_station(payload), "seed": payload.seed} | as_asked_by(member)
    return packed_response(request, packed(answered("station", wish, asker_of(request))))


def _one_station(payload: schemas.PreviewIn) -> dict[str, Any]:
    """The lesson with the one station that is asked for. Texts are left out: the page has them, and a changed word
    computes nothing anew.
    """
    asked = parse_lesson(payload.document)
    if payload.station >= len(asked.stations):
        raise NotFound(
            say(
                "The lesson has {count} stations; there is no station {station}.",
                count=len(asked.stations),
                station=payload.station + 1,
            )
        )
    one = asked.model_copy(update={"stations": [asked.stations[payload.station]]})
    _required(one)
    document = one.model_dump(mode="json", include={"rig", "script", "drives", "faults", "or_else", "stations"}) | {
        "title": "-"
    }
    document["stations"][0] |= {"title": "-", "text": ""}
    return document


@router.post(
    "/preview/bench",
    response={200: BenchRow},
    operation_id="previewBench",
    summary="The running engine of a station of a draft, as a learner gets it",
)
@allowed("lesson.edit")
@once()
def preview_bench(request: HttpRequest, payload: schemas.PreviewIn) -> dict[str, Any]:
    lesson = parse_lesson(payload.document)
    engine = station_engine(lesson, payload.station, payload.seed) if payload.station < len(lesson.stations) else None
    if engine is None:
        raise NotFound("No engine runs at this station.")
    beginning, cover = engine
    name = lesson.stations[payload.station].title[:80]
    return bench_row(benches.open_trial(member=request.member, beginning=beginning, name=name, cover=cover))  # type: ignore[attr-defined]


@router.post(
    "/preview/check",
    response={200: schemas.CheckOut, 202: ComputingOut},
    operation_id="checkLesson",
    summary="Warnings of fairness",
)
@allowed("lesson.edit")
def check(request: HttpRequest, payload: schemas.CheckIn) -> Any:
    asked = parse_lesson(payload.document)
    _required(asked)
    document = asked.model_dump(mode="json")
    wordless = document | {
        "level": "",
        "goal": "",
        "cautions": [],
        "stations": [station | {"text": ""} for station in document["stations"]],
    }
    found = answered("check_lesson", {"document": wordless}, asker_of(request))
    words = [asdict(warning) for warning in check_words(asked)]
    return {"warnings": [*value_of(found)["warnings"], *words]}


@router.post(
    "/preview/difficulty",
    response={200: schemas.DifficultyOut, 202: ComputingOut},
    operation_id="stationDifficulty",
    summary="How hard a station is: its fault in several sizes, and three draws",
)
@allowed("lesson.edit")
def difficulty(request: HttpRequest, payload: schemas.PreviewIn) -> HttpResponse:
    document = _one_station(payload)
    return packed_response(request, packed(answered("difficulty", {"document": document}, asker_of(request))))
