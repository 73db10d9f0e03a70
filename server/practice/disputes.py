"""Keys that are questioned: asked by the learner, answered by a trainer, laid over the marks that were kept."""

from typing import Any

from django.db import transaction
from django.utils import timezone

from api.problems import Conflict, NotFound, Refused
from leitfaden_core.words import say
from people import audit
from people.models import Membership
from practice.models import Attempt, Dispute
from practice.services import marks


@transaction.atomic
def question(attempt: Attempt, station: int, text: str) -> Dispute:
    """Question the key of a marked station of one's own finished attempt; until it is answered, in other words too."""
    if not text.strip():
        raise Refused("Say what you question, and why.", code="empty")
    marked = {row["index"] for row in marks(attempt) if row["points"] is not None}
    if station not in marked:
        raise NotFound("This station was not marked, so it has no key to question.")
    found = Dispute.objects.select_for_update().filter(attempt=attempt, station=station).first()
    if found is None:
        return Dispute.objects.create(attempt=attempt, station=station, text=text.strip())
    if found.outcome != Dispute.Outcome.OPEN:
        raise Conflict("This has been answered already.", code="answered")
    found.text = text.strip()
    found.save(update_fields=["text"])
    return found


@transaction.atomic
def settle(member: Membership, dispute_id: int, outcome: str, answer: str) -> Dispute:
    """Let a key stand, or grant the points, with a reason that the learner reads."""
    found = (
        Dispute.objects.select_for_update(of=("self",))
        .select_related("attempt__assignment__version", "attempt__assignment__learner")
        .filter(pk=dispute_id, attempt__assignment__version__lesson__school=member.school)
        .first()
    )
    if found is None:
        raise NotFound("There is no such question in your school.")
    if not answer.strip():
        raise Refused("An answer needs a reason.", code="empty")
    found.outcome, found.answer = outcome, answer.strip()
    found.answered_by, found.answered_at = member.user, timezone.now()
    found.save(update_fields=["outcome", "answer", "answered_by", "answered_at"])
    given = found.attempt.assignment
    what = f"{given.version.document['title']}, station {found.station + 1}, {given.learner.username}"
    audit.note(member, "granted" if outcome == Dispute.Outcome.GRANTED else "let_stand", what, dispute=found.pk)
    return found


def with_granted(attempt: Attempt, rows: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """The marks with what trainers have granted laid over them, each marked as overruled."""
    granted = {
        dispute.station: dispute for dispute in attempt.disputes.all() if dispute.outcome == Dispute.Outcome.GRANTED
    }
    return [
        row | {"points": 1.0, "overruled": told_by(granted[row["index"]])} if row["index"] in granted else row
        for row in rows
    ]


def told_by(dispute: Dispute) -> str:
    """Who overruled the key, and why."""
    who = dispute.answered_by.display_name if dispute.answered_by else say("A trainer")
    return f"{who}: {dispute.answer}"


def as_told(dispute: Dispute) -> dict[str, Any]:
    """A dispute as it goes out."""
    given = dispute.attempt.assignment
    return {
        "id": dispute.pk,
        "attempt": dispute.attempt_id,
        "station": dispute.station,
        "title": given.version.document["stations"][dispute.station]["title"],
        "learner": given.learner.display_name,
        "text": dispute.text,
        "asked_at": dispute.asked_at,
        "outcome": dispute.outcome,
        "answer": dispute.answer,
        "answered_by": dispute.answered_by.display_name if dispute.answered_by else "",
    }
