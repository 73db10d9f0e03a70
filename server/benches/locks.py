"""Advisory locks of this process: a bench is in one process's hand at a time, and free again when the process dies."""

from typing import Any

import psycopg
from django.db import connections

#: Keeps our locks apart from those of others in the same database.
_CLASS = 7301


class Locks:
    """One connection whose session holds the locks. Not for several threads at once."""

    def __init__(self) -> None:
        self._connection: psycopg.Connection[Any] | None = None
        self._taken: set[int] = set()
        self._lost = False

    def take(self, number: int) -> bool:
        """Whether the lock is ours now."""
        ours = bool(self._ask("select pg_try_advisory_lock(%s, %s)", number))
        if ours:
            self._taken.add(number)
        return ours

    def give_back(self, number: int) -> None:
        """Let others have it."""
        if number in self._taken:
            self._taken.discard(number)
            self._ask("select pg_advisory_unlock(%s, %s)", number)

    def are_held(self) -> bool:
        """Whether all that were taken are still ours: false once after the session that held them has ended, since
        others may have taken them meanwhile.
        """
        if self._taken and not self._lost:
            try:
                self._connect().execute("select 1")
            except psycopg.Error:
                self._lose()
        lost, self._lost = self._lost, False
        return not lost

    def _lose(self) -> None:
        """The session has ended by itself, and with it what it held."""
        self._lost = self._lost or bool(self._taken)
        self.close()

    def close(self) -> None:
        """Give all back."""
        self._taken.clear()
        if self._connection is not None:
            self._connection.close()
            self._connection = None

    def _ask(self, question: str, number: int) -> Any:
        try:
            row = self._connect().execute(question, (_CLASS, number)).fetchone()
        except psycopg.Error:
            self._lose()
            raise
        return row and row[0]

    def _connect(self) -> psycopg.Connection[Any]:
        if self._connection is not None and self._connection.closed:
            self._lose()
        if self._connection is None:
            known = connections["default"].settings_dict
            self._connection = psycopg.connect(
                host=known["HOST"],
                port=known["PORT"],
                dbname=known["NAME"],
                user=known["USER"],
                password=known["PASSWORD"],
                connect_timeout=3,
                autocommit=True,
            )
        return self._connection
