"""Waiting for a computation without keeping a database connection, and telling those who wait.

Each process that serves listens on one connection of its own for keys that are done. Few requests may wait at once: the
others are told to come back, so that quick requests always find a free thread.
"""

import logging
import threading
import time

import psycopg
from django.db import connection

CHANNEL = "leitfaden_done"
#: Requests of one process that may wait at once.
WAITERS = 6
#: Seconds after which a process in which nobody waits listens no longer.
IDLE = 60.0
_log = logging.getLogger("leitfaden.jobs")
_seats = threading.BoundedSemaphore(WAITERS)
_news = threading.Condition()
_waited_for: dict[str, bool] = {}
_listener: threading.Thread | None = None


def announce(key: str) -> None:
    """Tell all processes that a computation is over."""
    with connection.cursor() as cursor:
        cursor.execute("select pg_notify(%s, %s)", [CHANNEL, key])


def wait_for(key: str, seconds: float) -> None:
    """Until the computation is over, or the time is, or at once where nobody may wait here (all seats taken, or inside
    a transaction).
    """
    if connection.in_atomic_block or not _seats.acquire(blocking=False):
        return
    try:
        _ensure_listener()
        connection.close()
        until = time.monotonic() + seconds
        with _news:
            _waited_for.setdefault(key, False)
        # It may have ended before we listened.
        if not _is_over(key):
            with _news:
                _news.wait_for(lambda: _waited_for.get(key, True), timeout=until - time.monotonic())
    finally:
        _seats.release()
        with _news:
            _waited_for.pop(key, None)


def _is_over(key: str) -> bool:
    from jobs.models import Computation

    row = Computation.objects.only("state").filter(key=key).first()
    connection.close()
    return row is None or row.is_over


def _ensure_listener() -> None:
    global _listener
    with _news:
        if _listener is None or not _listener.is_alive():
            _listener = threading.Thread(target=_listen, name="listener", daemon=True)
            _listener.start()


def _listen() -> None:
    """Hear of computations that are over. A lost connection ends the thread; the next one who waits starts another."""
    wanted = {
        name: value
        for name, value in connection.get_connection_params().items()
        if name not in {"cursor_factory", "context"}
    }
    try:
        with psycopg.connect(**wanted, autocommit=True) as wire:
            wire.execute(f"listen {CHANNEL}")
            wanted_at = time.monotonic()
            while _waited_for or time.monotonic() - wanted_at < IDLE:
                wanted_at = time.monotonic() if _waited_for else wanted_at
                for note in wire.notifies(timeout=IDLE / 4.0, stop_after=1):
                    with _news:
                        if note.payload in _waited_for:
                            _waited_for[note.payload] = True
                            _news.notify_all()
    except psycopg.Error as error:
        _log.warning("listening for computations ended: %s", error)
