"""Addresses of lines."""

from typing import Any

from django.urls import path

from benches.line import BenchLine

routes: list[Any] = [path("ws/benches/<int:bench_id>", BenchLine.as_asgi())]  # type: ignore[arg-type]
