"""Write the OpenAPI document from which the web's types are made."""

import json
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand

from api.main import api


class Command(BaseCommand):
    """export_openapi FILE."""

    help = "Write the OpenAPI document"

    def add_arguments(self, parser: Any) -> None:
        """The file to write."""
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        """Write, sorted, so that a change can be read in a diff."""
        options["file"].write_text(
            json.dumps(api.get_openapi_schema(), indent=1, sort_keys=True, default=str) + "\n", encoding="utf-8"
        )
