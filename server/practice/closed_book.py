"""A closed book: while a learner works on a lesson that says so, values and verdicts are closed for them."""

from django.db.models import Q

from leitfaden_core.words import say
from people.models import Membership, Role
from people.permissions import closes
from practice.models import Attempt


@closes("drill.take")
@closes("numbers.read")
@closes("values.read")
def closed_by_lesson(member: Membership) -> str | None:
    """The sentence that names the lesson which keeps the book closed; None when there is none."""
    if member.role != Role.LEARNER:
        return None
    closed = Q(assignment__version__document__closed_book=True) | Q(assignment__closed_book=True)
    working_on = Attempt.objects.filter(closed, assignment__learner=member.user, finished_at=None)
    title = working_on.values_list("assignment__version__document__title", flat=True).first()
    if title is None:
        return None
    return say(
        "The lesson “{title}” is with a closed book: values and verdicts open again when you have finished it.",
        title=title,
    )
