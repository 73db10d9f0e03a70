"""The world of the server's tests."""

from server_world import attempt, quick, world

__all__ = ["attempt", "quick", "world"]
