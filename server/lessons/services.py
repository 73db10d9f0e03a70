"""What can be done with lessons: create, change the draft, publish. Each is one transaction by one acting member."""

from typing import Any

from django.db import transaction

from api.problems import Conflict, NotFound, Refused
from jobs import services as jobs
from leitfaden_core import __version__
from leitfaden_core.lessons import parse_lesson
from lessons.models import Lesson, LessonVersion
from people import audit
from people.models import Membership, User
from simulations.sheets import require_sheet


def lesson_of(member: Membership, lesson_id: int, *, for_change: bool = False) -> Lesson:
    """A lesson of the member's school; what one may not see is not found."""
    rows = Lesson.objects.select_for_update() if for_change else Lesson.objects.all()
    lesson = rows.of_school(member.school).filter(pk=lesson_id).first()
    if lesson is None:
        raise NotFound(f"There is no lesson {lesson_id} in your school.")
    return lesson


def create_lesson(*, member: Membership, document: dict[str, Any]) -> Lesson:
    """A new lesson with a valid draft."""
    parsed = parse_lesson(document)
    return Lesson.objects.create(
        school=member.school, title=parsed.title, draft=parsed.model_dump(mode="json"), updated_by=member.user
    )


@transaction.atomic
def change_draft(*, member: Membership, lesson_id: int, revision: int, document: dict[str, Any]) -> Lesson:
    """Store a changed draft when nobody else has changed it since ``revision``."""
    lesson = lesson_of(member, lesson_id, for_change=True)
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


class Unpublishable(Refused):
    """A lesson with stations that some learner could not be given; one entry for each."""

    code = "unpublishable"

    def __init__(self, problems: list[dict[str, str]]) -> None:
        first = problems[0]["text"]
        more = f" (and {len(problems) - 1} more)" if len(problems) > 1 else ""
        super().__init__(f"The lesson is not published: {first}{more}")
        self.problems = problems

    def parts(self) -> dict[str, object]:
        return {"problems": self.problems}


def ensure_publishable(*, member: Membership, lesson_id: int) -> None:
    """Have every station computed for several learners first.

    Raises
    ------
    Computing
        While that is not done.
    Unpublishable
        Naming each station that cannot be given to learners, with the reason.
    """
    lesson = parse_lesson(lesson_of(member, lesson_id).draft)
    for rig in lesson.engines():
        require_sheet(rig)
    row = jobs.answered(
        "publish_check",
        {"document": lesson.model_dump(mode="json"), "rules": member.school.rules.values},
        jobs.Asker(member.user),
    )
    problems = jobs.value_of(row)
    if problems:
        raise Unpublishable(problems)


@transaction.atomic
def publish_lesson(*, member: Membership, lesson_id: int) -> LessonVersion:
    """Make an immutable version of the draft. Refused while nothing has changed since the last one."""
    lesson = lesson_of(member, lesson_id, for_change=True)
    parsed = parse_lesson(lesson.draft)
    last = lesson.versions.first()
    if last is not None and last.document == lesson.draft:
        raise Refused(
            f"Nothing has changed since version {last.number}; learners already have it.", code="nothing_changed"
        )
    version = LessonVersion.objects.create(
        lesson=lesson,
        number=(last.number if last else 0) + 1,
        document=parsed.model_dump(mode="json"),
        rules=member.school.rules,
        core_version=__version__,
        published_by=member.user,
    )
    audit.note(member, "published", f"{lesson.title}, version {version.number}", lesson=lesson.pk, version=version.pk)
    return version


def learners_of(member: Membership) -> list[User]:
    """Learners of the school who can sign in."""
    return list(
        User.objects.filter(membership__school=member.school, membership__role="learner", is_active=True).order_by(
            "last_name", "username"
        )
    )
