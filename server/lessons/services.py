"""What can be done with lessons: create, change the draft, publish. Each is one transaction by one acting member."""

from typing import Any

from django.db import transaction
from django.utils import timezone

from api.problems import Conflict, NotFound, Refused
from jobs import services as jobs
from leitfaden_core import __version__
from leitfaden_core.lessons import PartChange, compare, parse_lesson
from leitfaden_core.lessons.exchange import BadPackage, Unpacked, unpacked
from leitfaden_core.words import say
from lessons import pictures
from lessons.models import Comment, Lesson, LessonVersion
from people import audit
from people.models import Membership, User
from simulations.sheets import require_sheet


def lesson_of(member: Membership, lesson_id: int, *, for_change: bool = False) -> Lesson:
    """A lesson of the member's school; what one may not see is not found."""
    rows = Lesson.objects.select_for_update() if for_change else Lesson.objects.all()
    lesson = rows.of_school(member.school).filter(pk=lesson_id).first()
    if lesson is None:
        raise NotFound(say("There is no lesson {lesson} in your school.", lesson=lesson_id))
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
            say(
                "{who} has changed this lesson meanwhile (revision {present}, you have {yours}). "
                "Your changes are still here; reload to see theirs.",
                who=who,
                present=lesson.revision,
                yours=revision,
            )
        )
    lesson.draft, lesson.title = parsed.model_dump(mode="json"), parsed.title
    lesson.revision += 1
    lesson.updated_by = member.user
    lesson.save()
    return lesson


@transaction.atomic
def archive(member: Membership, lesson_id: int, archived: bool) -> Lesson:
    """Put a lesson away, or take it back."""
    lesson = lesson_of(member, lesson_id, for_change=True)
    if (lesson.archived_at is not None) != archived:
        lesson.archived_at = timezone.now() if archived else None
        Lesson.objects.filter(pk=lesson.pk).update(archived_at=lesson.archived_at)  # no change of the draft
        audit.note(member, "archived" if archived else "restored", lesson.title, lesson=lesson.pk)
    return lesson


def version_of(member: Membership, lesson_id: int, number: int) -> LessonVersion:
    """A published version of a lesson of the member's school."""
    found = lesson_of(member, lesson_id).versions.filter(number=number).first()
    if found is None:
        raise NotFound(say("This lesson has no version {number}.", number=number))
    return found


def changes(member: Membership, lesson_id: int, before: int, after: int) -> list[PartChange]:
    """What has changed from one version to another; 0 is the draft."""
    old, new = (
        parse_lesson(version_of(member, lesson_id, number).document if number else lesson_of(member, lesson_id).draft)
        for number in (before, after)
    )
    return compare(old, new)


@transaction.atomic
def add_comment(member: Membership, lesson_id: int, station: str, text: str) -> Comment:
    """A word for a colleague, at a station that the draft has or at the lesson as a whole."""
    lesson = lesson_of(member, lesson_id)
    if station and station not in {entry["id"] for entry in lesson.draft["stations"]}:
        raise NotFound(say("The draft has no station '{station}'.", station=station))
    if not text.strip():
        raise Refused("A comment needs words.", code="empty")
    return Comment.objects.create(lesson=lesson, station=station, text=text.strip(), author=member.user)


@transaction.atomic
def settle_comment(member: Membership, lesson_id: int, comment_id: int, settled: bool) -> Comment:
    """A comment is settled, or open again."""
    found = lesson_of(member, lesson_id).comments.select_related("author").filter(pk=comment_id).first()
    if found is None:
        raise NotFound("There is no such comment.")
    found.settled_at = timezone.now() if settled else None
    found.save(update_fields=["settled_at"])
    return found


class NotTaken(Refused):
    """A file that is no lesson's package; one entry for each reason."""

    code = "bad_package"

    def __init__(self, reasons: list[str]) -> None:
        super().__init__(say("The file is not taken, nothing was changed: {reason}", reason=reasons[0]))
        self.reasons = reasons

    def parts(self) -> dict[str, object]:
        return {"problems": [{"station": "", "code": self.code, "text": reason} for reason in self.reasons]}


def from_package(content: bytes) -> Unpacked:
    """Lesson and pictures in a package file, or NotTaken."""
    try:
        return unpacked(content)
    except BadPackage as error:
        raise NotTaken(error.reasons) from error


@transaction.atomic
def take_in(member: Membership, found: Unpacked) -> Lesson:
    """A new lesson out of a package, its pictures with it."""
    for picture in found.pictures:
        pictures.keep(member, picture)
    return create_lesson(member=member, document=found.lesson.model_dump(mode="json"))


class Unpublishable(Refused):
    """A lesson with stations that some learner could not be given; one entry for each."""

    code = "unpublishable"

    def __init__(self, problems: list[dict[str, str]]) -> None:
        first = problems[0]["text"]
        more = say(" (and {more} more)", more=len(problems) - 1) if len(problems) > 1 else ""
        super().__init__(say("The lesson is not published: {first}{more}", first=first, more=more))
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
    gone = pictures.missing(member.school, lesson.pictures())
    if gone:
        told = say("{count} of its pictures are not in your school; put them in again.", count=len(gone))
        raise Unpublishable([{"station": "", "code": "no_picture", "text": told}])
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
            say("Nothing has changed since version {number}; learners already have it.", number=last.number),
            code="nothing_changed",
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
