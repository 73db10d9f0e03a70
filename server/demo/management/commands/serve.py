"""Bring the database up to date, load the demo, serve. One process, so that a second start is quick."""

import os
import socket
import warnings
from typing import Any

import uvicorn
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError

from demo.management.commands.load_demo import PASSWORD, PEOPLE

FIRST_PORT, TRIES = 8010, 20


class _Server(uvicorn.Server):
    """Says where it is once it really answers."""

    async def startup(self, sockets: list[socket.socket] | None = None) -> None:
        await super().startup(sockets)
        if self.started:
            print(_welcome(self.config.port), flush=True)


def _welcome(port: int) -> str:
    people = "\n".join(f"    {role:<8} {name:<10} {PASSWORD}" for name, _, _, role in PEOPLE)
    return f"\n  Leitfaden is running:  http://127.0.0.1:{port}/\n\n  Demo sign-ins (role, name, password):\n{people}\n\n  Ctrl-C stops everything.\n"


def _listen(port: int | None) -> socket.socket:
    """A socket on loopback: the wished port, or the first free one."""
    for candidate in [port] if port else range(FIRST_PORT, FIRST_PORT + TRIES):
        found = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
        found.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            found.bind(("127.0.0.1", candidate))
        except OSError:
            found.close()
            continue
        return found
    raise CommandError(
        f"port {port} is taken; choose another with --port" if port else f"no free port between {FIRST_PORT} and {FIRST_PORT + TRIES}"
    )


class Command(BaseCommand):
    """serve [--port N] [--no-demo]."""

    help = "Migrate, load the demo and serve"

    def add_arguments(self, parser: Any) -> None:
        """Port and demo."""
        parser.add_argument("--port", type=int)
        parser.add_argument("--no-demo", action="store_true")

    def handle(self, *args: Any, **options: Any) -> None:
        """Serve until a signal comes."""
        # Static files are read by a synchronous library; the warning is for its authors.
        warnings.filterwarnings("ignore", message="StreamingHttpResponse must consume")
        listener = _listen(options["port"])
        call_command("migrate", verbosity=0, interactive=False)
        if not options["no_demo"]:
            call_command("load_demo")
        os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
        config = uvicorn.Config(
            "config.asgi:application", port=listener.getsockname()[1], log_level="warning", lifespan="off", timeout_graceful_shutdown=3
        )
        _Server(config).run(sockets=[listener])
