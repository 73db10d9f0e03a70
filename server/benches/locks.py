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

    def take(self, number: int) -> bool:
        """Whether the lock is ours now."""
        return bool(self._ask("select pg_try_advisory_lock(%s, %s)", number))

    def give_back(self, number: int) -> None:
        """Let others have it."""
        self._ask("select pg_advisory_unlock(%s, %s)", number)

    def are_held(self) -> bool:
        """Whether the session that holds them still lives; once it does not, they are gone."""
        if self._connection is None:
            return False
        try:
            self._connection.execute("select 1")
        except psycopg.Error:
            self.close()
            return False
        return True

    def close(self) -> None:
        """Give all back."""
        if self._connection is not None:
            self._connection.close()
            self._connection = None

    def _ask(self, question: str, number: int) -> Any:
        if self._connection is None or self._connection.closed:
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
        row = self._connection.execute(question, (_CLASS, number)).fetchone()
        return row and row[0]
