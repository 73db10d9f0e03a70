"""Own pictures of a school: taken in, given out, and asked for before a lesson goes to learners."""

from collections.abc import Iterable

from api.problems import Conflict, NotFound
from leitfaden_core.lessons.pictures import Cleaned
from lessons.models import Picture
from people.models import Membership, School

#: Of one school.
MOST = 500


def keep(member: Membership, found: Cleaned) -> Picture:
    """Keep a cleaned picture; the same one twice is kept once."""
    known = Picture.objects.filter(school=member.school, digest=found.id).first()
    if known is not None:
        return known
    if Picture.objects.filter(school=member.school).count() >= MOST:
        raise Conflict(f"Your school has {MOST} pictures, which is as many as are kept.", code="too_many_pictures")
    told = {"content": found.content, "width": found.width, "height": found.height, "added_by": member.user}
    return Picture.objects.get_or_create(school=member.school, digest=found.id, defaults=told)[0]


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
