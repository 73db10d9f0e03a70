"""Write the JSON schema of a lesson's package."""

import json
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand

from leitfaden_core.lessons.exchange import package_schema


class Command(BaseCommand):
    """export_schema FILE."""

    help = "Write the JSON schema of a lesson's package"

    def add_arguments(self, parser: Any) -> None:
        """The file to write."""
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        """Write, sorted, so that a change can be read in a diff."""
        options["file"].write_text(json.dumps(package_schema(), indent=1, sort_keys=True) + "\n", encoding="utf-8")
