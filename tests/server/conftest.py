"""The world of the server's tests."""

from bench_line import new_process
from server_world import attempt, quick, world

__all__ = ["attempt", "new_process", "quick", "world"]
