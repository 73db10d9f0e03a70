"""Shared by the server's tests."""

from typing import Any

from django.test import Client

PASSWORD = "a-long-enough-password"


def body(client: Client, method: str, path: str, data: Any = None) -> tuple[int, Any]:
    """Status and JSON of a call."""
    answer = getattr(client, method)(path, data, content_type="application/json") if data is not None else getattr(client, method)(path)
    return answer.status_code, answer.json()
