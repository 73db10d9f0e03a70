"""What a worker does with a queued computation."""

import logging
import os
import threading
import time
from typing import Any

import orjson
from django.db import DatabaseError, close_old_connections, connection
from django.utils import timezone
from isal import igzip
from procrastinate import RetryStrategy
from procrastinate.contrib.django import app as queue

from api.problems import Refused
from jobs import waiting
from jobs.kinds import Kind, Tell, kind_called
from jobs.models import Computation
from leitfaden_core.errors import LeitfadenError
from leitfaden_core.words import say

_log = logging.getLogger("leitfaden.jobs")
#: A computation that has taken a worker down with it this often is not tried again.
TRIES = 2
#: Seconds after which nobody waits for an answer that nobody has asked for again.
FORGOTTEN = 15.0
_TELL_EVERY = 0.3
#: Exit code of a worker that gave up a computation.
GAVE_UP = 70


@queue.task(name="compute", retry=RetryStrategy(max_attempts=5, exponential_wait=2, retry_exceptions={DatabaseError}))
def run_task(key: str) -> None:
    """Run a queued computation; the job has served its turn whatever comes of it."""
    close_old_connections()  # the database may have been away since the last one
    compute(key, in_worker=True)


def compute(key: str, in_worker: bool = False) -> None:
    """Do a computation and keep its answer, or the reason why there is none."""
    row = Computation.objects.defer("result").filter(key=key).first()
    if row is None or row.is_over:
        return
    kind = kind_called(row.kind)
    if in_worker and not kind.background and (timezone.now() - row.asked_at).total_seconds() > FORGOTTEN:
        row.delete()
        return
    if row.tries >= TRIES:
        _keep_error(
            key,
            _error(
                503,
                "gave_up",
                "This could not be computed: the worker that tried ended twice. The server's log says more.",
            ),
        )
        return
    Computation.objects.filter(key=key).update(state=Computation.State.RUNNING, tries=row.tries + 1)
    watch = _watch(key, kind) if in_worker else None
    try:
        answer = kind.work(row.wish, _teller(key, in_worker))
        # Compressed lightly: it is made once and sent perhaps once.
        content = igzip.compress(orjson.dumps(answer, option=orjson.OPT_SERIALIZE_NUMPY), 1, mtime=0)
    except LeitfadenError as error:
        _keep_error(key, _error(Refused.status, error.code, error.message, str(error.parts.get("place", ""))))
    except Refused as error:
        _keep_error(key, _error(error.status, error.code, error.message))
    except DatabaseError:
        raise  # the queue tries again when the database is back
    except Exception:
        _log.exception("computation %s failed", row.kind)
        _keep_error(
            key,
            _error(
                503, "failed", "This could not be computed; the server's log says why. What you have entered is kept."
            ),
        )
    else:
        _keep(key, state=Computation.State.DONE, result=content, error=None)
    finally:
        if watch is not None:
            watch.cancel()


def _error(status: int, code: str, message: str, place: str = "") -> dict[str, Any]:
    return {"status": status, "code": code, "message": message, "place": place}


def _keep_error(key: str, error: dict[str, Any]) -> None:
    _keep(key, state=Computation.State.FAILED, error=error)


def _keep(key: str, **values: Any) -> None:
    Computation.objects.filter(key=key).update(finished_at=timezone.now(), share=1.0, **values)
    waiting.announce(key)


def _teller(key: str, in_worker: bool) -> Tell:
    """Progress into the row, not more often than somebody can read it: what is done at once never says any."""
    last = time.monotonic()

    def tell(share: float, says: str) -> None:
        nonlocal last
        now = time.monotonic()
        if in_worker and now - last > _TELL_EVERY:
            last = now
            Computation.objects.filter(key=key).update(share=min(max(share, 0.0), 1.0), says=says[:200])

    return tell


def _watch(key: str, kind: Kind) -> threading.Timer:
    """A computation cannot be interrupted from outside; the worker that is caught in one ends, and another takes its
    place.
    """

    def give_up() -> None:
        try:
            minutes = (
                say("{seconds:g} seconds", seconds=kind.limit_s)
                if kind.limit_s < 120
                else say("{minutes:g} minutes", minutes=kind.limit_s / 60)
            )
            _keep_error(
                key,
                _error(
                    503,
                    "time_limit",
                    say("This took longer than {time} and was given up. Ask for less at once.", time=minutes),
                ),
            )
            connection.close()
        finally:
            os._exit(GAVE_UP)

    timer = threading.Timer(kind.limit_s, give_up)
    timer.daemon = True
    timer.start()
    return timer
