"""Practice: publish and assign, work through, debrief, results."""

from dataclasses import asdict
from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Path, Router

from api.problems import ComputingOut, NotFound, Problem, Refused
from benches.api import bench_row
from benches.schemas import BenchRow
from jobs.services import packed_response
from leitfaden_core import __version__
from leitfaden_core.lessons import weaknesses
from lessons import services as lesson_services
from lessons.schemas import VersionOut
from people.changes import once
from people.models import Role
from people.permissions import allowed
from practice import disputes, puzzles, schemas, services
from practice.models import Assignment, Attempt, Dispute, ItemLanes, ItemView, StepTaken
from simulations.schemas import LanesOut

router = Router(tags=["practice"])
Id: Any = Path(ge=1, le=2**31 - 1)  # type: ignore[type-arg]
Index: Any = Path(ge=0, le=100)  # type: ignore[type-arg]
PuzzleNumber: Any = Path(ge=1, le=puzzles.COUNT)  # type: ignore[type-arg]


@router.get(
    "/learners",
    response={200: list[schemas.LearnerOut]},
    operation_id="learners",
    summary="Learners of the school",
)
@allowed("result.read")
def learners(request: HttpRequest) -> list[dict[str, str]]:
    found = lesson_services.learners_of(request.member)  # type: ignore[attr-defined]
    return [{"username": user.username, "name": user.display_name} for user in found]


@router.post(
    "/lessons/{lesson_id}/publish",
    response={200: VersionOut, 202: ComputingOut, 422: schemas.PublishProblem},
    operation_id="publishLesson",
    summary="Compute every station for several learners, make an immutable version and give it to learners",
)
@allowed("lesson.edit")
def publish(request: HttpRequest, payload: schemas.PublishIn, lesson_id: int = Id) -> dict[str, Any]:
    lesson_services.ensure_publishable(member=request.member, lesson_id=lesson_id)  # type: ignore[attr-defined]
    return _publish(request, payload, lesson_id)  # type: ignore[no-any-return]


@once()
def _publish(request: HttpRequest, payload: schemas.PublishIn, lesson_id: int) -> dict[str, Any]:
    member = request.member  # type: ignore[attr-defined]
    version = lesson_services.publish_lesson(member=member, lesson_id=lesson_id)
    given = services.assign(member=member, version=version, learners=payload.learners, giving=_giving(payload))
    return {"number": version.number, "title": version.document["title"], "assigned": len(given)}


@router.post(
    "/lessons/{lesson_id}/assign",
    response={200: VersionOut},
    operation_id="assignLesson",
    summary="Give the last version to more learners",
)
@allowed("lesson.edit")
@once()
def assign(request: HttpRequest, payload: schemas.PublishIn, lesson_id: int = Id) -> dict[str, Any]:
    member = request.member  # type: ignore[attr-defined]
    version = lesson_services.lesson_of(member, lesson_id).versions.first()
    if version is None:
        raise Refused("This lesson is not published yet; publish it first.", code="not_published")
    services.assign(member=member, version=version, learners=payload.learners, giving=_giving(payload))
    return {"number": version.number, "title": version.document["title"], "assigned": version.assignments.count()}


def _giving(payload: schemas.PublishIn) -> services.Giving:
    return services.Giving(payload.closed_book, payload.debrief_held, payload.numbers_of)


@router.post(
    "/lessons/{lesson_id}/debriefs",
    response={200: schemas.OpenedOut},
    operation_id="openDebriefs",
    summary="Open the debriefs that were held",
)
@allowed("lesson.edit")
@once()
def open_debriefs(request: HttpRequest, lesson_id: int = Id) -> dict[str, int]:
    member = request.member  # type: ignore[attr-defined]
    lesson = lesson_services.lesson_of(member, lesson_id)
    return {"opened": services.open_debriefs(member, lesson)}


@router.get(
    "/assignments",
    response={200: list[schemas.AssignmentOut]},
    operation_id="assignments",
    summary="What is assigned to me",
)
@allowed("practice.take")
def assignments(request: HttpRequest) -> list[dict[str, Any]]:
    found = Assignment.objects.of_learner(request.member.user).select_related("version", "attempt")  # type: ignore[attr-defined]
    return [_assignment(row) for row in found]


def _attempt(row: Assignment) -> Attempt | None:
    return getattr(row, "attempt", None)


def _assignment(row: Assignment) -> dict[str, Any]:
    attempt = _attempt(row)
    return {
        "id": row.pk,
        "title": row.version.document["title"],
        "goal": row.version.document["goal"],
        "version": row.version.number,
        "stations": len(row.version.document["stations"]),
        "answered": len(services.last_answers(attempt)) if attempt else 0,
        "attempt": attempt.pk if attempt else None,
        "started_at": attempt.started_at if attempt else None,
        "finished_at": attempt.finished_at if attempt else None,
        "debrief_held": row.debrief_held,
    }


@router.post(
    "/assignments/{assignment_id}/attempt",
    response={200: schemas.AttemptOut},
    operation_id="startAttempt",
    summary="Start, or go on with, an assigned lesson",
)
@allowed("practice.take")
@once()
def start_attempt(request: HttpRequest, assignment_id: int = Id) -> dict[str, Any]:
    return _attempt_out(services.start_attempt(member=request.member, assignment_id=assignment_id))  # type: ignore[attr-defined]


@router.get("/attempts/{attempt_id}", response={200: schemas.AttemptOut}, operation_id="attempt", summary="My attempt")
@allowed("practice.take")
def attempt(request: HttpRequest, attempt_id: int = Id) -> dict[str, Any]:
    return _attempt_out(services.attempt_of(request.member, attempt_id))  # type: ignore[attr-defined]


def _attempt_out(found: Attempt) -> dict[str, Any]:
    document, answers = found.assignment.version.document, services.last_answers(found)
    heads = [
        {
            "index": k,
            "kind": station["kind"],
            "title": station["title"] if k <= found.reached and k not in found.left_out else "",
            "open": k <= found.reached,
            "answered": k in answers,
            "left_out": k in found.left_out,
        }
        for k, station in enumerate(document["stations"])
    ]
    return {
        "id": found.pk,
        "title": document["title"],
        "goal": document["goal"],
        "cautions": document["cautions"],
        "rig": document["rig"],
        "closed_book": found.assignment.closed_book
        or document.get("closed_book", False),  # lessons published before there was such a thing lack it
        "finished": found.finished_at is not None,
        "stations": heads,
    }


@router.get(
    "/attempts/{attempt_id}/stations/{index}",
    response={200: schemas.AttemptStation, 202: ComputingOut},
    operation_id="attemptStation",
    summary="An open station of my attempt",
)
@allowed("practice.take")
def attempt_station(request: HttpRequest, attempt_id: int = Id, index: int = Index) -> dict[str, Any]:
    member = request.member  # type: ignore[attr-defined]
    found = services.work_of(member, attempt_id)
    item = services.open_station(member, found, index)
    steps = services.steps_at(found, item)
    return {"station": item.view, "answer": services.answer_at(found, item), "steps": steps}


@router.get(
    "/attempts/{attempt_id}/stations/{index}/lanes",
    response={200: LanesOut, 202: ComputingOut},
    operation_id="attemptLanes",
    summary="Lanes of an open station",
)
@allowed("practice.take")
def attempt_lanes(request: HttpRequest, attempt_id: int = Id, index: int = Index) -> HttpResponse:
    member = request.member  # type: ignore[attr-defined]
    found = services.work_of(member, attempt_id)
    services.open_station(member, found, index)
    return _lanes(request, found, index)


def _lanes(request: HttpRequest, found: Attempt, index: int) -> HttpResponse:
    content = (
        ItemLanes.objects.filter(assignment_id=found.assignment_id, station=index)
        .values_list("content", flat=True)
        .first()
    )
    if content is None:
        raise NotFound("This station has no lanes.")
    return packed_response(request, bytes(content))


@router.post(
    "/attempts/{attempt_id}/stations/{index}/answer",
    response={200: schemas.Stored, 202: ComputingOut},
    operation_id="storeAnswer",
    summary="Store an answer",
)
@allowed("practice.take")
def store_answer(
    request: HttpRequest, payload: schemas.AnswerIn, attempt_id: int = Id, index: int = Index
) -> dict[str, Any]:
    member = request.member  # type: ignore[attr-defined]
    found = services.work_of(member, attempt_id)
    return _store_answer(request, payload, found, services.open_station(member, found, index))  # type: ignore[no-any-return]


@once()
def _store_answer(request: HttpRequest, payload: schemas.AnswerIn, found: Attempt, item: ItemView) -> dict[str, Any]:
    return {"stored": True, "next": services.store_answer(attempt=found, item=item, answer=payload.answer)}


@router.post(
    "/attempts/{attempt_id}/stations/{index}/bench",
    response={200: BenchRow, 202: ComputingOut},
    operation_id="stationBench",
    summary="The running engine of an open station, put up where it is not",
)
@allowed("practice.take")
def station_bench(
    request: HttpRequest, payload: schemas.StationBenchIn, attempt_id: int = Id, index: int = Index
) -> dict[str, Any]:
    found = services.work_of(request.member, attempt_id)  # type: ignore[attr-defined]
    return _station_bench(request, found, index, payload.anew)  # type: ignore[no-any-return]


@once()
def _station_bench(request: HttpRequest, found: Attempt, index: int, anew: bool) -> dict[str, Any]:
    return bench_row(services.bench_at(request.member, found, index, anew))  # type: ignore[attr-defined]


@router.post(
    "/attempts/{attempt_id}/stations/{index}/steps",
    response={200: schemas.TakenStepOut, 202: ComputingOut},
    operation_id="takeStep",
    summary="Make a choice at a step of an open station, and be told what comes of it; it stays",
)
@allowed("practice.take")
def take_step(request: HttpRequest, payload: schemas.TakeStepIn, attempt_id: int = Id, index: int = Index) -> StepTaken:
    member = request.member  # type: ignore[attr-defined]
    found = services.work_of(member, attempt_id)
    item = services.open_station(member, found, index)
    return services.take_step(found, item, payload.name, payload.choice)


@router.post(
    "/attempts/{attempt_id}/finish",
    response={200: schemas.AttemptOut, 202: ComputingOut},
    operation_id="finishAttempt",
    summary="Close my attempt",
)
@allowed("practice.take")
def finish(request: HttpRequest, attempt_id: int = Id) -> dict[str, Any]:
    member = request.member  # type: ignore[attr-defined]
    found = services.attempt_of(member, attempt_id)
    services.prepare_to_finish(member, found)
    return _finish(request, found)  # type: ignore[no-any-return]


@once()
def _finish(request: HttpRequest, found: Attempt) -> dict[str, Any]:
    return _attempt_out(services.finish_attempt(attempt=found))


def _open_for_debrief(request: HttpRequest, attempt_id: int) -> Attempt:
    member = request.member  # type: ignore[attr-defined]
    found = services.attempt_of(member, attempt_id)
    if member.role == Role.LEARNER and found.finished_at is None:
        raise Refused("The debrief opens when you have finished the lesson.", code="not_finished")
    if member.role == Role.LEARNER and found.assignment.debrief_held:
        raise Refused("You have finished. Your trainer opens the debrief for all together.", code="debrief_held")
    return found


@router.get(
    "/attempts/{attempt_id}/debrief",
    response={200: schemas.Debrief},
    operation_id="debrief",
    summary="What was right and why",
)
@allowed("debrief.read")
def debrief(request: HttpRequest, attempt_id: int = Id) -> dict[str, Any]:
    found = _open_for_debrief(request, attempt_id)
    rows = disputes.with_granted(found, services.marks(found))
    told = [disputes.as_told(entry) for entry in found.disputes.select_related("answered_by")]
    return services.told(found) | {
        "title": found.assignment.version.document["title"],
        "learner": found.assignment.learner.display_name,
        "rig": found.assignment.version.document["rig"],
        "version": found.assignment.version.number,
        "finished_at": found.finished_at,
        "score": services.score(rows),
        "core_version": found.core_version or __version__,
        "stations": rows,
        "disputes": told,
    }


@router.post(
    "/attempts/{attempt_id}/disputes/{index}",
    response={200: schemas.DisputeOut},
    operation_id="questionKey",
    summary="Question the key of a station of one's own debrief",
)
@allowed("practice.take")
@once()
def question_key(
    request: HttpRequest, payload: schemas.DisputeIn, attempt_id: int = Id, index: int = Index
) -> dict[str, Any]:
    return disputes.as_told(disputes.question(_open_for_debrief(request, attempt_id), index, payload.text))


@router.get(
    "/lessons/{lesson_id}/disputes",
    response={200: list[schemas.DisputeOut]},
    operation_id="disputes",
    summary="Keys of a lesson that learners have questioned",
)
@allowed("result.read")
def lesson_disputes(request: HttpRequest, lesson_id: int = Id) -> list[dict[str, Any]]:
    lesson = lesson_services.lesson_of(request.member, lesson_id)  # type: ignore[attr-defined]
    found = Dispute.objects.filter(attempt__assignment__version__lesson=lesson).select_related(
        "answered_by", "attempt__assignment__version", "attempt__assignment__learner"
    )
    return [disputes.as_told(entry) for entry in found]


@router.put(
    "/disputes/{dispute_id}",
    response={200: schemas.DisputeOut},
    operation_id="settleDispute",
    summary="Let a key stand, or grant the points",
)
@allowed("lesson.edit")
@once()
def settle_dispute(request: HttpRequest, payload: schemas.OutcomeIn, dispute_id: int = Id) -> dict[str, Any]:
    return disputes.as_told(disputes.settle(request.member, dispute_id, payload.outcome, payload.answer))  # type: ignore[attr-defined]


@router.get(
    "/attempts/{attempt_id}/seen/{index}",
    response={200: schemas.SeenStation},
    operation_id="seenStation",
    summary="A station exactly as its learner saw it, with the answer that counts and what was done on its engine",
)
@allowed("debrief.read")
def seen(request: HttpRequest, attempt_id: int = Id, index: int = Index) -> dict[str, Any]:
    found = _open_for_debrief(request, attempt_id)
    item = found.assignment.views.filter(station=index).first()
    if item is None:
        raise NotFound(
            "Nothing was kept of this station: the learner has not seen it, or it is from before items were kept."
        )
    return {
        "station": item.view,
        "answer": services.answer_at(found, item),
        "done": [asdict(act) for act in services.done_at(found, index)],
    }


@router.get(
    "/attempts/{attempt_id}/seen/{index}/lanes",
    response={200: LanesOut},
    operation_id="seenLanes",
    summary="The lanes of a station exactly as its learner saw them",
)
@allowed("debrief.read")
def seen_lanes(request: HttpRequest, attempt_id: int = Id, index: int = Index) -> HttpResponse:
    return _lanes(request, _open_for_debrief(request, attempt_id), index)


@router.get(
    "/lessons/{lesson_id}/results",
    response={200: list[schemas.ResultRow]},
    operation_id="results",
    summary="Results of a lesson",
)
@allowed("result.read")
def results(request: HttpRequest, lesson_id: int = Id) -> list[dict[str, Any]]:
    lesson = lesson_services.lesson_of(request.member, lesson_id)  # type: ignore[attr-defined]
    found = (
        Assignment.objects.filter(version__lesson=lesson)
        .select_related("version", "learner", "attempt")
        .prefetch_related("attempt__disputes__answered_by")
        .order_by("learner__last_name", "-version__number")
    )
    return [_result(row) for row in found]


def _result(row: Assignment) -> dict[str, Any]:
    attempt = _attempt(row)
    kept = attempt.marked if attempt else None
    marked = disputes.with_granted(attempt, kept) if attempt and kept else None
    missed, condemned = weaknesses(marked) if marked else (None, None)
    return {
        "attempt": attempt.pk if attempt else None,
        "username": row.learner.username,
        "name": row.learner.display_name,
        "version": row.version.number,
        "answered": len(services.last_answers(attempt)) if attempt else 0,
        "stations": len(row.version.document["stations"]),
        "finished_at": attempt.finished_at if attempt else None,
        "score": services.score(marked) if marked else None,
        "points": [row for row in marked or [] if row["points"] is not None],
        "missed": missed,
        "condemned": condemned,
        "debrief_held": row.debrief_held,
        "closed_book": row.closed_book or row.version.document.get("closed_book", False),
    }


@router.get(
    "/puzzles/{number}",
    response={200: schemas.PuzzleOut, 422: Problem},
    operation_id="puzzle",
    summary="A running engine with one reading out of band",
    auth=None,
)
def puzzle(request: HttpRequest, number: int = PuzzleNumber) -> dict[str, Any]:
    return puzzles.question(number)


@router.post(
    "/puzzles/{number}/answer",
    response={200: schemas.PuzzleAnswer, 422: Problem},
    operation_id="answerPuzzle",
    summary="Which reading it is, and why; the others are not told",
    auth=None,
)
def answer_puzzle(request: HttpRequest, payload: schemas.PuzzleIn, number: int = PuzzleNumber) -> dict[str, Any]:
    return puzzles.answer(number, payload.reading)
