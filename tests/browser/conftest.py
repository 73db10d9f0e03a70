"""A real browser against the real server on the demo data."""

import os
import time
from collections.abc import Iterator
from io import StringIO
from typing import Any

import pytest
from django.core.management import call_command
from django.db import connection
from playwright.sync_api import BrowserContext, Page, expect

# Playwright keeps an event loop in this thread; the test's own look into the database is none of its business.
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
# Generous: a waiting test costs nothing, a busy machine must not turn it red.
expect.set_options(timeout=60_000)

#: No look-ups outside this machine.
QUIET = [
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args: dict[str, Any]) -> dict[str, Any]:
    return browser_type_launch_args | {"executable_path": "/usr/bin/chromium", "args": QUIET}


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args: dict[str, Any]) -> dict[str, Any]:
    return browser_context_args | {"viewport": {"width": 1280, "height": 800}}


OTHERS = "select count(*) from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid()"


def wait_until_nobody_asks(seconds: float = 60.0) -> None:
    """Requests of a page that is closed go on to their end; the database is emptied after them."""
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        with connection.cursor() as cursor:
            cursor.execute(OTHERS)
            if cursor.fetchone() == (0,):
                return


@pytest.fixture
def site(live_server: Any, settings: Any) -> Iterator[str]:
    """Address of the running application with the Hollerbach school in it."""
    # Hashing a password is slow on purpose; here it is only in the way.
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
    # What workers do is done in the request: these tests drive the screens; tests/server and tests/long drive real
    # workers.
    settings.JOBS_INLINE = True
    call_command("load_demo", stdout=StringIO())
    yield str(live_server.url)
    wait_until_nobody_asks()


@pytest.fixture
def page(context: BrowserContext, site: str) -> Iterator[Page]:
    """A page that fails the test when a script fails or something is asked of another machine."""
    page = context.new_page()
    page.set_default_timeout(90_000)
    faults: list[str] = []
    page.on("pageerror", lambda error: faults.append(f"script: {error}"))
    page.on(
        "console",
        lambda message: faults.append(f"policy: {message.text}") if "Content Security Policy" in message.text else None,
    )
    page.on(
        "request",
        lambda request: (
            faults.append(f"outside: {request.url}") if not request.url.startswith((site, "data:")) else None
        ),
    )
    page.goto(site)
    yield page
    assert faults == []
