"""A person's benches. What runs on them goes over their lines (benches.line)."""

import base64
from typing import Annotated, Any, Literal

from django.http import HttpRequest, HttpResponse
from ninja import Path, Query, Router

from api.problems import ComputingOut, NotAllowed, Refused
from benches import library, schemas, services
from benches.sealed import bench_reading
from jobs.services import answered, asker_of, packed, packed_response, value_of
from leitfaden_core.errors import UnknownName
from leitfaden_core.faults import effects_on
from leitfaden_core.rigs import load_rig, rig_channels
from leitfaden_core.simulate import FRAME
from leitfaden_core.workings import workings
from people.changes import change_id, once
from people.permissions import allowed, may
from simulations.wishes import as_asked_by

router = Router(tags=["benches"])
Id: Any = Path(ge=1, le=2**31 - 1)  # type: ignore[type-arg]
RigName: Any = Path(max_length=20)  # type: ignore[type-arg]
Name: Any = Path(max_length=60)  # type: ignore[type-arg]
At: Any = Query(None, ge=0, le=1e6)  # type: ignore[type-arg]


@router.get("/benches", response={200: list[schemas.BenchRow]}, operation_id="benches", summary="A person's benches")
@allowed("bench.use")
def benches(request: HttpRequest) -> list[dict[str, Any]]:
    return [bench_row(bench) for bench in services.benches_of(request.member)]  # type: ignore[attr-defined]


def bench_row(bench: Any) -> dict[str, Any]:
    """A bench as it is listed."""
    return {
        "id": bench.pk,
        "name": bench.name,
        "rig": bench.beginning["rig"],
        "seconds": bench.frame * FRAME,
        "doings": getattr(bench, "doings", 0),
        "used_at": bench.used_at,
    }


@router.get(
    "/rigs/{rig}/reach",
    response={200: schemas.ReachOut, 202: ComputingOut},
    operation_id="reach",
    summary="What hands can reach on an engine",
)
@allowed("catalogue.read")
def reach(request: HttpRequest, rig: str = RigName) -> HttpResponse:
    return packed_response(request, packed(answered("reach", {"rig": load_rig(rig).id}, asker_of(request))))


@router.post(
    "/rigs/{rig}/judged",
    response={200: schemas.KeptVerdict, 202: ComputingOut},
    operation_id="judgeKept",
    summary="The verdict on something that an instrument showed on an engine",
)
@allowed("values.read")
def judge_kept(request: HttpRequest, payload: schemas.KeptIn, rig: str = RigName) -> HttpResponse:
    reading = bench_reading(payload).model_dump(mode="json")
    wish = {"rig": load_rig(rig).id, "reading": reading} | as_asked_by(request.member)  # type: ignore[attr-defined]
    return packed_response(request, packed(answered("kept_reading", wish, asker_of(request))))


@router.post(
    "/rigs/{rig}/judged-together",
    response={200: schemas.KeptTogether, 202: ComputingOut},
    operation_id="judgeKeptTogether",
    summary="Whether readings that must agree do, and which test would tell most after them",
)
@allowed("values.read")
def judge_kept_together(request: HttpRequest, payload: schemas.KeptList, rig: str = RigName) -> HttpResponse:
    readings = [bench_reading(kept).model_dump(mode="json") for kept in payload.readings]
    known = services.share_of_causes(rig)
    wish = {"rig": load_rig(rig).id, "readings": readings, "known": known} | as_asked_by(request.member)  # type: ignore[attr-defined]
    return packed_response(request, packed(answered("kept_together", wish, asker_of(request))))


@router.post(
    "/benches",
    response={200: schemas.BenchRow},
    operation_id="openBench",
    summary="Put an engine on a bench",
)
@allowed("bench.use")
@once()
def open_bench(request: HttpRequest, payload: schemas.OpenBenchIn) -> dict[str, Any]:
    rig = load_rig(payload.beginning.rig)
    if payload.beginning.faults and not may(request.member, "bench.run"):  # type: ignore[attr-defined]
        raise NotAllowed(services.NO_FAULTS)
    for fault in payload.beginning.faults:
        effects_on(fault, rig)
    return bench_row(
        services.open_bench(member=request.member, beginning=payload.beginning, name=payload.name)  # type: ignore[attr-defined]
    )


@router.delete(
    "/benches/{bench_id}",
    response={200: list[schemas.BenchRow]},
    operation_id="closeBench",
    summary="Close a bench; the others are left",
)
@allowed("bench.use")
@once()
def close_bench(request: HttpRequest, bench_id: int = Id) -> list[dict[str, Any]]:
    services.bench_of(request.member, bench_id).delete()  # type: ignore[attr-defined]
    return [bench_row(bench) for bench in services.benches_of(request.member)]  # type: ignore[attr-defined]


@router.get(
    "/recordings",
    response={200: list[schemas.RecordingRow]},
    operation_id="recordings",
    summary="A person's recordings",
)
@allowed("bench.use")
def recordings(request: HttpRequest) -> list[dict[str, Any]]:
    return [library.row(kept) for kept in library.recordings_of(request.member)]  # type: ignore[attr-defined]


@router.post(
    "/benches/{bench_id}/record",
    response={200: schemas.RecordingRow, 202: ComputingOut},
    operation_id="benchRecord",
    summary="Keep a stretch of a bench as a recording",
)
@allowed("bench.use")
def bench_record(request: HttpRequest, payload: schemas.RecordIn, bench_id: int = Id) -> HttpResponse:
    member = request.member  # type: ignore[attr-defined]
    bench = services.bench_of(member, bench_id)
    library.require_stretch(payload.first, payload.last)
    known = rig_channels(load_rig(bench.beginning["rig"]))
    for name in payload.channels:
        if name not in known:
            raise UnknownName("channel", name, known)
    library.require_room(member)
    wish = payload.model_dump(mode="json") | {
        "change": str(change_id(request)),
        "person": member.user.pk,
        "beginning": bench.beginning,
        "journal": services.journal_until(bench, payload.last),
    }
    return packed_response(request, packed(answered("bench_record", wish, asker_of(request))))


@router.post(
    "/recordings",
    response={200: schemas.RecordingRow, 202: ComputingOut},
    operation_id="readRecording",
    summary="Read a recording from a file: a table (CSV) or ASAM MDF 4, as the body of the request",
)
@allowed("bench.use")
def read_recording(
    request: HttpRequest,
    name: Annotated[str, Query(min_length=1, max_length=120)],
    rig: Annotated[str, Query(max_length=20)],
) -> HttpResponse:
    member = request.member  # type: ignore[attr-defined]
    library.require_room(member)
    if not request.body:
        raise Refused("The file is empty.", code="empty_file")
    wish = {
        "change": str(change_id(request)),
        "person": member.user.pk,
        "name": name,
        "rig": load_rig(rig).id,
        "content": base64.b64encode(request.body).decode(),
    }
    return packed_response(request, packed(answered("recording_read", wish, asker_of(request))))


@router.get(
    "/recordings/{recording_id}/lanes",
    response={200: schemas.RecordingLanesOut, 202: ComputingOut},
    operation_id="recordingLanes",
    summary="Values of a recording",
)
@allowed("bench.use")
def recording_lanes(request: HttpRequest, recording_id: int = Id) -> HttpResponse:
    kept = library.recording_of(request.member, recording_id)  # type: ignore[attr-defined]
    wish = {"recording": kept.pk, "made_at": kept.made_at.isoformat(), "channels": kept.channels}
    return packed_response(request, packed(answered("recording_lanes", wish, asker_of(request))))


@router.get(
    "/recordings/{recording_id}/feed/{working}",
    response={200: schemas.RecordingFeedOut, 202: ComputingOut},
    operation_id="recordingFeed",
    summary="Inputs of a calculation from an instant of a recording: the one told, or that of the highest engine speed",
)
@allowed("bench.use")
def recording_feed(
    request: HttpRequest, recording_id: int = Id, working: str = Name, at: float | None = At
) -> HttpResponse:
    kept = library.recording_of(request.member, recording_id)  # type: ignore[attr-defined]
    wish = {
        "recording": kept.pk,
        "made_at": kept.made_at.isoformat(),
        "working": workings.get(working).id,
        "at": at,
    }
    return packed_response(request, packed(answered("recording_feed", wish, asker_of(request))))


@router.get(
    "/recordings/{recording_id}/file",
    response={200: None, 202: ComputingOut},
    operation_id="recordingFile",
    summary="A recording as a file: csv or mf4",
)
@allowed("bench.use")
def recording_file(request: HttpRequest, format: Literal["csv", "mf4"], recording_id: int = Id) -> HttpResponse:
    kept = library.recording_of(request.member, recording_id)  # type: ignore[attr-defined]
    wish = {"recording": kept.pk, "made_at": kept.made_at.isoformat(), "format": format}
    content = base64.b64decode(value_of(answered("recording_file", wish, asker_of(request), patience=20.0))["content"])
    kind = "text/csv; charset=utf-8" if format == "csv" else "application/octet-stream"
    return HttpResponse(
        content,
        content_type=kind,
        headers={"Content-Disposition": f'attachment; filename="recording-{kept.pk}.{format}"'},
    )


@router.delete(
    "/recordings/{recording_id}",
    response={200: list[schemas.RecordingRow]},
    operation_id="deleteRecording",
    summary="Delete a recording; the others are left",
)
@allowed("bench.use")
@once()
def delete_recording(request: HttpRequest, recording_id: int = Id) -> list[dict[str, Any]]:
    library.recording_of(request.member, recording_id).delete()  # type: ignore[attr-defined]
    return [library.row(kept) for kept in library.recordings_of(request.member)]  # type: ignore[attr-defined]
