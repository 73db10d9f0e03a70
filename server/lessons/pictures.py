"""Own pictures of a school: taken in, given out, and asked for before a lesson goes to learners."""

import json
from collections.abc import Iterable
from datetime import timedelta

from django.utils import timezone

from api.problems import Conflict, NotFound
from leitfaden_core.lessons.pictures import Cleaned
from leitfaden_core.words import say
from lessons.models import Lesson, LessonVersion, Picture
from people.models import Membership, School

#: Of one school.
MOST = 500


def keep(member: Membership, found: Cleaned) -> Picture:
    """Keep a cleaned picture; the same one twice is kept once."""
    known = Picture.objects.filter(school=member.school, digest=found.id).first()
    if known is not None:
        return known
    if Picture.objects.filter(school=member.school).count() >= MOST and not _forget_unused(member.school):
        raise Conflict(
            say("Your school has {most} pictures, which is as many as are kept.", most=MOST), code="too_many_pictures"
        )
    told = {"content": found.content, "width": found.width, "height": found.height, "added_by": member.user}
    return Picture.objects.get_or_create(school=member.school, digest=found.id, defaults=told)[0]


def _forget_unused(school: School) -> int:
    """Delete what no draft and no version shows, a day after it was taken in; how many."""
    documents = [
        *Lesson.objects.filter(school=school).values_list("draft", flat=True),
        *LessonVersion.objects.filter(lesson__school=school).values_list("document", flat=True),
    ]
    shown = json.dumps(documents)
    old = Picture.objects.filter(school=school, added_at__lt=timezone.now() - timedelta(days=1))
    gone = [picture.pk for picture in old.only("pk", "digest") if picture.digest not in shown]
    return Picture.objects.filter(pk__in=gone).delete()[0]


def picture_of(member: Membership, digest: str) -> bytes:
    """The content of a picture of the member's school."""
    found = Picture.objects.filter(school=member.school, digest=digest).values_list("content", flat=True).first()
    if found is None:
        raise NotFound("There is no such picture in your school.")
    return bytes(found)


def contents(school: School, digests: Iterable[str]) -> dict[str, bytes]:
    """Contents of pictures by their ids, as far as they are there."""
    rows = Picture.objects.filter(school=school, digest__in=list(digests)).values_list("digest", "content")
    return {digest: bytes(content) for digest, content in rows}


def missing(school: School, digests: list[str]) -> list[str]:
    """Ids of pictures that the school does not have."""
    there = set(Picture.objects.filter(school=school, digest__in=digests).values_list("digest", flat=True))
    return [digest for digest in digests if digest not in there]
