"""The catalogue, the bench, and lessons for those who make them."""

from dataclasses import asdict
from functools import cache
from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Path, Router

from accounts.models import Membership
from accounts.permissions import allowed, may
from api.problems import NotFound, Problem
from leitfaden_core import __version__
from leitfaden_core.channels import channel
from leitfaden_core.errors import UnknownName
from leitfaden_core.explore import narrowband_grid
from leitfaden_core.faults import ONSETS, fault_kinds, offered_on
from leitfaden_core.judge import SchoolRules
from leitfaden_core.lessons import Lesson as LessonDocument
from leitfaden_core.lessons import check_lesson, parse_lesson, station_key
from leitfaden_core.monitors import code, trouble_codes
from leitfaden_core.quantities import QUANTITIES, UnitSystem
from leitfaden_core.rigs import load_rig, rig_channels, rig_ids
from leitfaden_core.scripts import CONDITIONS, load_script, reading_scripts
from leitfaden_core.simulate import cached_run
from library import schemas, services
from library.lanes import as_json, bands, channel_rows, lanes, readings
from library.models import Lesson
from library.stations import station_lanes, station_out

router = Router(tags=["library"])
ERRORS = {401: Problem, 403: Problem, 404: Problem, 422: Problem}
Id: Any = Path(ge=1, le=2**31 - 1)  # type: ignore[type-arg]


def rules_of(member: Membership) -> SchoolRules:
    """The school's rules of judgement."""
    return SchoolRules(member.school.trim_good, member.school.trim_investigate)


def units_of(member: Membership) -> UnitSystem:
    """The units that the person has chosen."""
    return UnitSystem(member.user.units)


@cache
def _catalogue() -> dict[str, Any]:
    kinds = [asdict(kind) | {"effects": None} for kind in fault_kinds]
    return {
        "core": __version__,
        "rigs": [rig.model_dump() | {"channels": rig_channels(rig), "faults": offered_on(rig)} for rig in map(load_rig, rig_ids())],
        "scripts": [
            {"id": s.id, "name": s.name, "description": s.description, "seconds": s.seconds, "conditions": s.conditions()}
            for s in reading_scripts()
        ],
        "conditions": [asdict(c) for c in CONDITIONS.values()],
        "channels": channel_rows(),
        "quantities": [asdict(q) for q in QUANTITIES.values()],
        "faults": kinds,
        "onsets": [asdict(mode) for mode in ONSETS.values()],
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
    return known if may(request.member, "lesson.read") else known | {"faults": [], "onsets": []}  # type: ignore[attr-defined]


@router.post(
    "/bench/run",
    response={200: schemas.LanesOut, **ERRORS},
    operation_id="benchRun",
    summary="Run a rig along a script, good beside faulty",
)
@allowed("bench.run")
def bench_run(request: HttpRequest, payload: schemas.BenchIn) -> HttpResponse:
    rig, script = load_rig(payload.rig), load_script(payload.script)
    for name in payload.channels:
        if channel(name).id not in rig_channels(rig):
            raise UnknownName("channel", name, rig_channels(rig), where=f"on rig {rig.id}")
    good = cached_run(rig, script, [], payload.seed)
    run = cached_run(rig, script, payload.faults, payload.seed) if payload.faults else good
    drawn = lanes(run, payload.channels, good)
    rules, units = rules_of(request.member), units_of(request.member)  # type: ignore[attr-defined]
    codes = [asdict(code(name, rig)) for name in trouble_codes(run)]
    judged = readings(run, good, payload.channels, rules, units)
    return as_json(drawn | {"readings": judged, "bands": bands(rig.id, payload.channels), "codes": codes})


def _row(lesson: Lesson) -> dict[str, Any]:
    last = lesson.versions.first()
    return {
        "id": lesson.pk,
        "title": lesson.title,
        "revision": lesson.revision,
        "updated_at": lesson.updated_at,
        "updated_by": lesson.updated_by.display_name if lesson.updated_by else "",
        "draft": lesson.draft,
        "version": last.number if last else None,
        "changed_since_version": last is None or last.document != lesson.draft,
        "assigned": last.assignments.count() if last else 0,
        "finished": last.assignments.filter(attempt__finished_at__isnull=False).count() if last else 0,
    }


@router.get("/lessons", response={200: list[schemas.LessonRow], **ERRORS}, operation_id="lessons", summary="Lessons of the school")
@allowed("lesson.read")
def lessons(request: HttpRequest) -> list[dict[str, Any]]:
    found = Lesson.objects.of_school(request.member.school).select_related("updated_by")  # type: ignore[attr-defined]
    return [_row(lesson) for lesson in found]


@router.post("/lessons", response={200: schemas.LessonOut, **ERRORS}, operation_id="createLesson", summary="A new lesson")
@allowed("lesson.edit")
def create_lesson(request: HttpRequest, payload: schemas.LessonIn) -> dict[str, Any]:
    return _row(services.create_lesson(member=request.member, document=payload.document))  # type: ignore[attr-defined]


@router.get("/lessons/{lesson_id}", response={200: schemas.LessonOut, **ERRORS}, operation_id="lesson", summary="A lesson with its draft")
@allowed("lesson.read")
def lesson(request: HttpRequest, lesson_id: int = Id) -> dict[str, Any]:
    return _row(services.lesson_of(request.member, lesson_id))  # type: ignore[attr-defined]


@router.put(
    "/lessons/{lesson_id}/draft",
    response={200: schemas.LessonOut, 409: Problem, **ERRORS},
    operation_id="changeDraft",
    summary="Store a changed draft",
)
@allowed("lesson.edit")
def change_draft(request: HttpRequest, payload: schemas.DraftIn, lesson_id: int = Id) -> dict[str, Any]:
    changed = services.change_draft(member=request.member, lesson_id=lesson_id, revision=payload.revision, document=payload.document)  # type: ignore[attr-defined]
    return _row(changed)


def _document(data: dict[str, Any], station: int) -> LessonDocument:
    document = parse_lesson(data)
    if station >= len(document.stations):
        raise NotFound(f"The lesson has {len(document.stations)} stations; there is no station {station + 1}.")
    return document


@router.post(
    "/preview/station",
    response={200: schemas.StationOut, **ERRORS},
    operation_id="previewStation",
    summary="What a learner will see at a station",
)
@allowed("lesson.edit")
def preview(request: HttpRequest, payload: schemas.PreviewIn) -> dict[str, Any]:
    return station_out(_document(payload.document, payload.station), payload.station, payload.seed)


@router.post("/preview/key", response={200: list[schemas.KeyPart], **ERRORS}, operation_id="previewKey", summary="The key of a station")
@allowed("lesson.edit")
def preview_key(request: HttpRequest, payload: schemas.PreviewIn) -> list[dict[str, Any]]:
    document = _document(payload.document, payload.station)
    return station_key(document, payload.station, payload.seed, rules_of(request.member), units_of(request.member)).parts  # type: ignore[attr-defined]


@router.post(
    "/preview/lanes",
    response={200: schemas.LanesOut, **ERRORS},
    operation_id="previewLanes",
    summary="Lanes of a station of a draft",
)
@allowed("lesson.edit")
def preview_lanes(request: HttpRequest, payload: schemas.PreviewIn) -> HttpResponse:
    drawn = station_lanes(_document(payload.document, payload.station), payload.station, payload.seed)
    if drawn is None:
        raise NotFound("This station has no lanes.")
    return as_json(drawn)


@router.post("/preview/check", response={200: schemas.CheckOut, **ERRORS}, operation_id="checkLesson", summary="Warnings of fairness")
@allowed("lesson.edit")
def check(request: HttpRequest, payload: schemas.LessonIn) -> dict[str, Any]:
    return {"warnings": [asdict(warning) for warning in check_lesson(parse_lesson(payload.document))]}


@cache
def _narrowband(rig_id: str) -> dict[str, Any]:
    return asdict(narrowband_grid(load_rig(rig_id)))


@router.get(
    "/explore/narrowband",
    response={200: schemas.NarrowbandOut, **ERRORS},
    operation_id="exploreNarrowband",
    summary="A narrowband sensor to explore",
)
@allowed("catalogue.read")
def explore_narrowband(request: HttpRequest, rig: str = "R1") -> dict[str, Any]:
    return _narrowband(rig)
