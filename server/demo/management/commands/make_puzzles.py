"""Make the first minute's puzzles anew."""

import json
from typing import Any

from django.core.management.base import BaseCommand

from practice import puzzles
from practice.puzzles.making import made


class Command(BaseCommand):
    """make_puzzles: writes practice/puzzles/puzzles.json."""

    help = "Make the first minute's puzzles anew"

    def handle(self, *args: Any, **options: Any) -> None:
        """Compute and write."""
        found = made()
        puzzles.KEPT.write_text(json.dumps(found, ensure_ascii=False, indent=None) + "\n", encoding="utf-8")
        for puzzle in found:
            self.stdout.write(f"{puzzle['off']['id']}: {puzzle['off']['reason']}")
