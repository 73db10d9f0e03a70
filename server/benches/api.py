"""A person's benches. What runs on them goes over their lines (benches.line)."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Path, Router

from api.problems import ComputingOut, Problem
from benches import schemas, services
from jobs.services import answered, asker_of, packed, packed_response
from leitfaden_core.faults import effects_on
from leitfaden_core.rigs import load_rig
from people.changes import once
from people.permissions import allowed

router = Router(tags=["benches"])
ERRORS = {401: Problem, 403: Problem, 404: Problem, 409: Problem, 422: Problem, 429: Problem, 503: Problem}
Id: Any = Path(ge=1, le=2**31 - 1)  # type: ignore[type-arg]
RigName: Any = Path(max_length=20)  # type: ignore[type-arg]
#: Time that a frame stands for. [s]
FRAME = 0.01


@router.get(
    "/benches", response={200: list[schemas.BenchRow], **ERRORS}, operation_id="benches", summary="A person's benches"
)
@allowed("bench.run")
def benches(request: HttpRequest) -> list[dict[str, Any]]:
    return [_row(bench) for bench in services.benches_of(request.member)]  # type: ignore[attr-defined]


def _row(bench: Any) -> dict[str, Any]:
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
    response={200: schemas.ReachOut, 202: ComputingOut, **ERRORS},
    operation_id="reach",
    summary="What hands can reach on an engine",
)
@allowed("bench.run")
def reach(request: HttpRequest, rig: str = RigName) -> HttpResponse:
    return packed_response(request, packed(answered("reach", {"rig": load_rig(rig).id}, asker_of(request))))


@router.post(
    "/benches/{bench_id}/measure",
    response={200: schemas.ObservationOut, 202: ComputingOut, **ERRORS},
    operation_id="benchMeasure",
    summary="Put an instrument to the vehicle as hands have left it",
)
@allowed("bench.run")
def bench_measure(request: HttpRequest, payload: schemas.MeasureIn, bench_id: int = Id) -> HttpResponse:
    bench = services.bench_of(request.member, bench_id)  # type: ignore[attr-defined]
    wish = payload.model_dump(mode="json") | {
        "beginning": bench.beginning,
        "journal": services.work_on(bench),
    }
    return packed_response(request, packed(answered("bench_measure", wish, asker_of(request))))


@router.post(
    "/benches",
    response={200: schemas.BenchRow, **ERRORS},
    operation_id="openBench",
    summary="Put an engine on a bench",
)
@allowed("bench.run")
@once()
def open_bench(request: HttpRequest, payload: schemas.OpenBenchIn) -> dict[str, Any]:
    rig = load_rig(payload.beginning.rig)
    for fault in payload.beginning.faults:
        effects_on(fault, rig)
    return _row(
        services.open_bench(member=request.member, beginning=payload.beginning, name=payload.name)  # type: ignore[attr-defined]
    )


@router.delete(
    "/benches/{bench_id}",
    response={200: list[schemas.BenchRow], **ERRORS},
    operation_id="closeBench",
    summary="Close a bench; the others are left",
)
@allowed("bench.run")
@once()
def close_bench(request: HttpRequest, bench_id: int = Id) -> list[dict[str, Any]]:
    services.bench_of(request.member, bench_id).delete()  # type: ignore[attr-defined]
    return [_row(bench) for bench in services.benches_of(request.member)]  # type: ignore[attr-defined]
