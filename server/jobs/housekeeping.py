"""What workers do beside computing: take up what a dead worker left, and throw away what nobody needs."""

from datetime import timedelta

from axes.models import AccessFailureLog, AccessLog
from django.db.models import Exists, OuterRef, Sum
from django.db.models.functions import Length
from django.utils import timezone
from procrastinate.contrib.django.models import ProcrastinateJob

from jobs.models import Computation
from leitfaden_core.simulate import prune_store
from people.models import Change

#: A worker that has not said for so long that it lives is dead; what it did is done by another. [s]
DEAD_AFTER = 10.0
#: What kept answers may take together, and how long one is kept that nobody asks for. [bytes]
MOST_BYTES, MOST_AGE = 400_000_000, timedelta(days=14)
#: Nobody repeats a change, or asks after a wrong password, that is older.
CHANGES_LAST = timedelta(days=60)


def forget_lost() -> int:
    """Computations that no job will ever do (the queue was emptied, a crash took the row's job): asked again, they are
    queued again.
    """
    living = ProcrastinateJob.objects.filter(queueing_lock=OuterRef("key"), status__in=["todo", "doing"])
    waiting = Computation.objects.filter(state__in=[Computation.State.QUEUED, Computation.State.RUNNING])
    lost = waiting.filter(~Exists(living), asked_at__lt=timezone.now() - timedelta(seconds=5))
    return lost.delete()[0]


def throw_away() -> None:
    """Answers that are too old, then the oldest until the rest is small enough; likewise the files of the simulator's
    store.

    And what is kept of changes and sign-ins only for repeats and pauses.
    """
    Change.objects.filter(made_at__lt=timezone.now() - CHANGES_LAST).delete()
    for seen in (AccessFailureLog, AccessLog):
        seen.objects.filter(attempt_time__lt=timezone.now() - CHANGES_LAST).delete()
    over = Computation.objects.filter(state__in=[Computation.State.DONE, Computation.State.FAILED])
    over.filter(asked_at__lt=timezone.now() - MOST_AGE).delete()
    held = over.aggregate(held=Sum(Length("result")))["held"] or 0
    for key, size in over.annotate(size=Length("result")).order_by("asked_at").values_list("key", "size"):
        if held <= MOST_BYTES:
            break
        Computation.objects.filter(key=key).delete()
        held -= size or 0
    prune_store()
