"""Writes into every school's trail that a copy of everything was made at the machine."""

from typing import Any

from django.core.management.base import BaseCommand

from people.audit import note_at_machine


class Command(BaseCommand):
    """exported."""

    help = "Note in the trails that a copy was made"

    def handle(self, *args: Any, **options: Any) -> None:
        """Note it."""
        note_at_machine("exported", "a copy of everything (backup)")
