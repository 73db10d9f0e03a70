"""What learners and trainers can do with assignments and attempts."""

import secrets
from typing import Any

from django.db import transaction
from django.utils import timezone

from accounts.models import Membership, Role, User
from api.problems import Conflict, NotFound, Refused
from leitfaden_core import __version__
from leitfaden_core.judge import SchoolRules
from leitfaden_core.lessons import Lesson as LessonDocument
from leitfaden_core.lessons import mark_answer, parse_answer, parse_lesson
from leitfaden_core.lessons.marking import check_answer
from leitfaden_core.quantities import UnitSystem
from library.models import LessonVersion
from practice.models import Assignment, Attempt, Entry


@transaction.atomic
def assign(*, member: Membership, version: LessonVersion, learners: list[str]) -> list[Assignment]:
    """Give a version to learners of the school, by sign-in name. Who has it already keeps it."""
    users = {
        user.username: user
        for user in User.objects.filter(membership__school=member.school, membership__role=Role.LEARNER, username__in=learners)
    }
    unknown = [name for name in learners if name not in users]
    if unknown:
        raise Refused(f"'{unknown[0]}' is no learner of your school.", code="unknown_learner")
    return [
        Assignment.objects.get_or_create(version=version, learner=users[name], defaults={"assigned_by": member.user})[0]
        for name in learners
    ]


def assignment_of(member: Membership, assignment_id: int) -> Assignment:
    """A learner's own assignment; another's is not found."""
    found = Assignment.objects.of_learner(member.user).select_related("version__lesson").filter(pk=assignment_id).first()
    if found is None:
        raise NotFound("This lesson is not assigned to you.")
    return found


@transaction.atomic
def start_attempt(*, member: Membership, assignment_id: int, seed: int | None = None) -> Attempt:
    """Start, or go on with, one's attempt at an assigned lesson."""
    assignment = assignment_of(member, assignment_id)
    attempt, _ = Attempt.objects.get_or_create(assignment=assignment, defaults={"seed": seed or 1 + secrets.randbelow(2**30)})
    return attempt


def attempt_of(member: Membership, attempt_id: int) -> Attempt:
    """An attempt that the member may see: a learner their own, trainers and leads those of their school."""
    rows = Attempt.objects.select_related("assignment__version__lesson", "assignment__learner")
    if member.role == Role.LEARNER:
        rows = rows.filter(assignment__learner=member.user)
    else:
        rows = rows.filter(assignment__version__lesson__school=member.school)
    found = rows.filter(pk=attempt_id).first()
    if found is None:
        raise NotFound("There is no such attempt of yours." if member.role == Role.LEARNER else "There is no such attempt in your school.")
    return found


def document_of(attempt: Attempt) -> LessonDocument:
    """The published lesson that the attempt works on."""
    return parse_lesson(attempt.assignment.version.document)


def rules_of(attempt: Attempt) -> SchoolRules:
    """The school's rules as they were when the version was published."""
    version = attempt.assignment.version
    return SchoolRules(version.trim_good, version.trim_investigate)


def open_station(attempt: Attempt, index: int) -> LessonDocument:
    """The document, when the learner has come as far as this station."""
    document = document_of(attempt)
    if index >= len(document.stations):
        raise NotFound(f"The lesson has {len(document.stations)} stations.")
    if index > attempt.reached:
        raise Refused(f"Station {index + 1} opens when the stations before it are answered.", code="not_open_yet")
    return document


@transaction.atomic
def store_answer(*, member: Membership, attempt_id: int, index: int, answer: dict[str, Any]) -> Attempt:
    """Append an answer to the journal and open the next station. Nothing is marked here: that is for the debrief."""
    attempt = Attempt.objects.select_for_update().get(pk=attempt_of(member, attempt_id).pk)
    if attempt.finished_at is not None:
        raise Conflict("This attempt is finished; its answers stay as they are.", code="finished")
    document = open_station(attempt, index)
    given = parse_answer(answer)
    check_answer(document, index, given)
    Entry.objects.create(attempt=attempt, station=index, answer=given.model_dump(exclude_defaults=True))
    attempt.reached = max(attempt.reached, min(index + 1, len(document.stations) - 1))
    attempt.save(update_fields=["reached"])
    return attempt


@transaction.atomic
def finish_attempt(*, member: Membership, attempt_id: int) -> Attempt:
    """Close an attempt when every station is answered."""
    attempt = Attempt.objects.select_for_update().get(pk=attempt_of(member, attempt_id).pk)
    if attempt.finished_at is None:
        missing = [index for index in range(len(document_of(attempt).stations)) if index not in last_answers(attempt)]
        if missing:
            raise Refused(f"Station {missing[0] + 1} has no answer yet.", code="unanswered")
        attempt.finished_at, attempt.marked, attempt.core_version = timezone.now(), _mark(attempt), __version__
        attempt.save(update_fields=["finished_at", "marked", "core_version"])
    return attempt


def last_answers(attempt: Attempt) -> dict[int, dict[str, Any]]:
    """The answer that counts at each station."""
    return {entry.station: entry.answer for entry in attempt.entries.all()}


def marks(attempt: Attempt) -> list[dict[str, Any]]:
    """Points and parts per station: as kept when the attempt was finished, else computed now."""
    return _mark(attempt) if attempt.marked is None else list(attempt.marked)


def _mark(attempt: Attempt) -> list[dict[str, Any]]:
    """Points and parts per station, computed from document, seed and journal."""
    document, answers, rules = document_of(attempt), last_answers(attempt), rules_of(attempt)
    units = UnitSystem(attempt.assignment.learner.units)
    rows: list[dict[str, Any]] = []
    for index, station in enumerate(document.stations):
        if index not in answers:
            rows.append({"index": index, "kind": station.kind, "title": station.title, "points": None, "answered": False, "parts": []})
            continue
        mark = mark_answer(document, index, attempt.seed, parse_answer(answers[index]), rules, units)
        rows.append(
            {"index": index, "kind": station.kind, "title": station.title, "points": mark.points, "answered": True, "parts": mark.parts}
        )
    return rows


def score(rows: list[dict[str, Any]]) -> float | None:
    """Mean points of the marked stations, in percent; None before any is marked."""
    points = [row["points"] for row in rows if row["points"] is not None]
    return round(100.0 * sum(points) / len(points), 1) if points else None
