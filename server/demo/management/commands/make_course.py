"""Propose the lessons of the sample course anew and keep them as documents."""

from typing import Any

import yaml
from django.core.management.base import BaseCommand, CommandParser

from demo import course


class Command(BaseCommand):
    """make_course: writes demo/course/*.yaml."""

    help = "Propose the lessons of the sample course anew"

    def add_arguments(self, parser: CommandParser) -> None:
        """Only these aims, if any are named."""
        parser.add_argument("aims", nargs="*")

    def handle(self, *args: Any, **options: Any) -> None:
        """One after the other."""
        for number, entry in enumerate(course.plan(), 1):
            if options["aims"] and entry["aim"] not in options["aims"]:
                continue
            text = yaml.safe_dump(course.made(number, entry), allow_unicode=True, sort_keys=False, width=150)
            course.path_of(number, entry).write_text(text, encoding="utf-8")
            self.stdout.write(f"{number:2d} {entry['aim']} on {entry['rig']}")
