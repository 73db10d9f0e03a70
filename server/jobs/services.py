"""Asking the model, and the answers: the one door through which the server computes."""

import gzip
import hashlib
import json
from dataclasses import dataclass
from datetime import timedelta
from typing import Any

from django.conf import settings
from django.db import IntegrityError, transaction
from django.db.models import Count, Q
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from procrastinate.exceptions import AlreadyEnqueued

from api.problems import Busy, Computing, Refused
from jobs import waiting
from jobs.kinds import Kind, kind_called
from jobs.models import Computation
from jobs.tasks import compute, run_task
from leitfaden_core.compiled import source_fingerprint
from leitfaden_core.words import say
from people.models import User

#: How long a request waits for its answer before it is told to come back. [s]
PATIENCE = 1.5
#: When to ask again: sooner where few are ahead, since twenty who ask four times a second are work too. [s]
SOONEST, EACH, LATEST = 0.25, 0.15, 2.0
#: Questions of one person, and of all, that may wait.
PERSON_MAY_QUEUE, ALL_MAY_QUEUE = 8, 200
#: A failure that was nobody's fault is tried again after this. [s]
RETRY_FAILURE = 10.0


@dataclass(frozen=True)
class Asker:
    """Who asks, and from which of their pages: a page's newest question takes the place of its older ones."""

    person: User | None = None
    page: str = ""


NOBODY = Asker()


def asker_of(request: HttpRequest) -> Asker:
    """The member behind a request, and the page that they ask from."""
    return Asker(request.member.user, request.headers.get("X-Page", "")[:40])  # type: ignore[attr-defined]


def key_of(kind: Kind, wish: Any) -> str:
    """The name of a question: the same for everybody who asks the same of the same model."""
    return hashlib.sha256(json.dumps([source_fingerprint(), kind.id, wish], sort_keys=True).encode()).hexdigest()


def ask(kind_id: str, wish: Any, asker: Asker = NOBODY) -> Computation:
    """The computation of a wish, queued when nobody has asked for it yet.

    Raises
    ------
    Busy
        When the person, or everybody together, has too much waiting already.
    """
    kind = kind_called(kind_id)
    key, now = key_of(kind, wish), timezone.now()
    found = Computation.objects.defer("result").filter(key=key).first()
    if found is not None and not _may_retry(found):
        if (now - found.asked_at).total_seconds() > 1.0:
            Computation.objects.filter(key=key).update(asked_at=now)
        return found
    if not kind.background:
        _make_room(kind, key, asker)
    with transaction.atomic():
        if found is not None:
            Computation.objects.filter(key=key).delete()
        row = Computation(key=key, kind=kind.id, wish=wish, person=asker.person, page=asker.page, asked_at=now)
        # Another may ask the same in this moment: whichever row comes first is the one that is computed.
        Computation.objects.bulk_create([row], ignore_conflicts=True)
        if not settings.JOBS_INLINE:
            _defer(kind, key, asker.person)
    return row


def _may_retry(row: Computation) -> bool:
    """Whether a failure may be tried again: not a refusal, which would be the same, and not at once."""
    if row.state != Computation.State.FAILED or (row.error or {}).get("status") == Refused.status:
        return False
    return row.finished_at is None or timezone.now() - row.finished_at > timedelta(seconds=RETRY_FAILURE)


def _make_room(kind: Kind, key: str, asker: Asker) -> None:
    queued = Computation.objects.filter(state=Computation.State.QUEUED)
    if kind.supersedes and asker.page:
        queued.filter(person=asker.person, page=asker.page, kind=kind.id).exclude(key=key).delete()
    waiting_now = queued.aggregate(all=Count("pk"), own=Count("pk", filter=Q(person=asker.person)))
    if asker.person is not None and waiting_now["own"] >= PERSON_MAY_QUEUE:
        raise Busy("Several of your questions are still being computed; this one is asked again in a moment.", 2.0)
    if waiting_now["all"] >= ALL_MAY_QUEUE:
        raise Busy("Very many questions are being computed at the moment; try again in a few seconds.", 5.0)


def _defer(kind: Kind, key: str, person: User | None) -> None:
    # One running job a person: the others of the same lock wait for it. Work in the background keeps its own order.
    lock = f"background-{kind.id}" if kind.background else f"person-{person.pk}" if person else "nobody"
    try:
        with transaction.atomic():
            run_task.configure(queue=kind.queue, lock=lock, queueing_lock=key, priority=kind.priority).defer(key=key)
    except (AlreadyEnqueued, IntegrityError):
        return  # somebody asked the same in the same moment


def answered(kind_id: str, wish: Any, asker: Asker = NOBODY, patience: float = PATIENCE) -> Computation:
    """As :func:`ask`, waiting a moment for the answer.

    Raises
    ------
    Computing
        While it is not there yet; it says how far it is and when to ask again.
    Refused
        When the model refuses the wish, in its own words.
    """
    row = ask(kind_id, wish, asker)
    if settings.JOBS_INLINE and not row.is_over:
        compute(row.key)
        row = _fresh(row)
    elif not row.is_over and patience > 0.0:
        waiting.wait_for(row.key, patience)
        row = _fresh(row)
    if row.state == Computation.State.FAILED:
        raise_failure(row)
    if row.state != Computation.State.DONE:
        ahead = Computation.objects.filter(state=Computation.State.QUEUED, created_at__lt=row.created_at).count()
        raise Computing(row.share, row.says or _place(ahead, row.state), min(max(SOONEST, ahead * EACH), LATEST))
    return row


def _fresh(row: Computation) -> Computation:
    """What has become of a computation, with its answer."""
    fresh = Computation.objects.filter(key=row.key).first()
    if fresh is None:  # another question of that page took its place
        raise Computing(0.0, "is asked for again")
    return fresh


def raise_failure(row: Computation) -> None:
    """The failure of a computation as the refusal that it is."""
    error = row.error or {}
    refusal = Refused(str(error.get("message", "The computation failed.")), code=str(error.get("code", "failed")))
    refusal.status = int(error.get("status", Refused.status))
    refusal.place = str(error.get("place", ""))
    raise refusal


def _place(ahead: int, state: str) -> str:
    if state == Computation.State.RUNNING:
        return "is being computed"
    return say("waits behind {ahead} others", ahead=ahead) if ahead else "is about to be computed"


def packed(row: Computation) -> bytes:
    """The compressed answer of a computation that is done. Computing when it was thrown away in this very moment."""
    try:
        result = row.result  # fetched only now where the row was there already
    except Computation.DoesNotExist:
        result = None
    if result is None:
        raise Computing(0.0, "is computed again")
    return bytes(result)


def value_of(row: Computation) -> Any:
    """The answer of a computation that is done, as plain data."""
    return json.loads(gzip.decompress(packed(row)))


def packed_response(request: HttpRequest, content: bytes) -> HttpResponse:
    """Compressed JSON as a response: as it is where the browser takes that."""
    if "gzip" in request.headers.get("Accept-Encoding", ""):
        return HttpResponse(
            content, content_type="application/json", headers={"Content-Encoding": "gzip", "Vary": "Accept-Encoding"}
        )
    return HttpResponse(gzip.decompress(content), content_type="application/json")
