"""What can be done with lessons: create, change the draft, publish. Each is one transaction by one acting member."""

from typing import Any

from django.db import transaction

from accounts.models import Membership
from api.problems import Conflict, NotFound, Refused
from leitfaden_core import __version__
from leitfaden_core.lessons import parse_lesson
from library.models import Lesson, LessonVersion


def lesson_of(member: Membership, lesson_id: int) -> Lesson:
    """A lesson of the member's school; what one may not see is not found."""
    lesson = Lesson.objects.of_school(member.school).filter(pk=lesson_id).first()
    if lesson is None:
        raise NotFound(f"There is no lesson {lesson_id} in your school.")
    return lesson


def create_lesson(*, member: Membership, document: dict[str, Any]) -> Lesson:
    """A new lesson with a valid draft."""
    parsed = parse_lesson(document)
    return Lesson.objects.create(school=member.school, title=parsed.title, draft=parsed.model_dump(mode="json"), updated_by=member.user)


@transaction.atomic
def change_draft(*, member: Membership, lesson_id: int, revision: int, document: dict[str, Any]) -> Lesson:
    """Store a changed draft when nobody else has changed it since ``revision``."""
    lesson = Lesson.objects.select_for_update().of_school(member.school).filter(pk=lesson_id).first()
    if lesson is None:
        raise NotFound(f"There is no lesson {lesson_id} in your school.")
    parsed = parse_lesson(document)
    if lesson.revision != revision:
        who = lesson.updated_by.display_name if lesson.updated_by else "somebody"
        raise Conflict(
            f"{who} has changed this lesson meanwhile (revision {lesson.revision}, you have {revision}). Your changes are still here; reload to see theirs."
        )
    lesson.draft, lesson.title = parsed.model_dump(mode="json"), parsed.title
    lesson.revision += 1
    lesson.updated_by = member.user
    lesson.save()
    return lesson


@transaction.atomic
def publish_lesson(*, member: Membership, lesson_id: int) -> LessonVersion:
    """Make an immutable version of the draft. Refused while nothing has changed since the last one."""
    lesson = Lesson.objects.select_for_update().of_school(member.school).filter(pk=lesson_id).first()
    if lesson is None:
        raise NotFound(f"There is no lesson {lesson_id} in your school.")
    parsed = parse_lesson(lesson.draft)
    last = lesson.versions.first()
    if last is not None and last.document == lesson.draft:
        raise Refused(f"Nothing has changed since version {last.number}; learners already have it.", code="nothing_changed")
    return LessonVersion.objects.create(
        lesson=lesson,
        number=(last.number if last else 0) + 1,
        document=parsed.model_dump(mode="json"),
        trim_good=member.school.trim_good,
        trim_investigate=member.school.trim_investigate,
        core_version=__version__,
        published_by=member.user,
    )
