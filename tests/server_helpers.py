"""Shared by the server's tests."""

import uuid
from typing import Any

from django.test import Client

PASSWORD = "a-long-enough-password"


def body(client: Client, method: str, path: str, data: Any = None, change: str | None = None) -> tuple[int, Any]:
    """Status and JSON of a call. A change carries an id of its own, or the given one."""
    given = {} if method == "get" else {"headers": {"X-Change-Id": change or str(uuid.uuid4())}}
    if data is not None:
        given |= {"data": data, "content_type": "application/json"}
    answer = getattr(client, method)(path, **given)
    return answer.status_code, answer.json()
