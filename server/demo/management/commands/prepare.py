"""Bring the database up to date before anything serves from it: migrations, and the sample data."""

from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand

from demo.management.commands.load_demo import PASSWORD, PEOPLE
from people.models import User


class Command(BaseCommand):
    """prepare [--no-demo]; prints the demo's sign-ins where there are any."""

    help = "Migrate, load the demo"

    def add_arguments(self, parser: Any) -> None:
        """Demo or not."""
        parser.add_argument("--no-demo", action="store_true")

    def handle(self, *args: Any, **options: Any) -> None:
        """Prepare."""
        call_command("migrate", verbosity=0, interactive=False)
        if not options["no_demo"]:
            call_command("load_demo", stdout=self.stderr)
        demo = set(User.objects.filter(is_demo=True).values_list("username", flat=True))
        rows = [f"    {role:<8} {name:<10} {PASSWORD}" for name, _first, _last, role in PEOPLE if name in demo]
        if rows and not options["no_demo"]:
            self.stdout.write("\n".join(["", "  Demo sign-ins (role, name, password):", *rows]))
