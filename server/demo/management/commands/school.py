"""A first school on an empty server: ``school NAME --lead NAME``."""

from typing import Any

from django.core.management.base import BaseCommand

from api.problems import Refused
from people.models import SignInLink
from people.services import found_school


class Command(BaseCommand):
    """school NAME --lead NAME."""

    help = "Found a school with its lead; prints a one-time link"

    def add_arguments(self, parser: Any) -> None:
        """Names."""
        parser.add_argument("name")
        parser.add_argument("--lead", required=True, help="sign-in name of the lead")

    def handle(self, *args: Any, **options: Any) -> None:
        """Found it."""
        try:
            school, token = found_school(options["name"].strip(), options["lead"].strip().lower())
        except Refused as error:
            self.stderr.write(f"leitfaden: {error.message}")
            raise SystemExit(2) from None
        days = SignInLink.LASTS.days
        self.stdout.write(
            f"{school.name} is founded. Its lead opens this address once, within {days} days, behind the "
            f"server's own address:\n\n"
            f"    /welcome#{token}\n"
        )
