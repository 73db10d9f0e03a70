"""App registration."""

from django.apps import AppConfig


class PracticeConfig(AppConfig):
    name = "practice"

    def ready(self) -> None:
        """Let lessons close the book."""
        import practice.closed_book  # noqa: F401
