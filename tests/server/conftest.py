"""The world of the server's tests."""

from server_world import quick, world

__all__ = ["quick", "world"]
