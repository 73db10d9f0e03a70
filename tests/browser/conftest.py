"""A real browser against the real server on the demo data."""

import asyncio
import os
import socket
import sys
import threading
import time
from collections.abc import Iterator
from io import StringIO
from typing import Any

import pytest
import uvicorn
from django.core.management import call_command
from django.db import connection
from playwright.sync_api import Browser, BrowserContext, Page, expect

from benches import line

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
    return browser_type_launch_args | {"executable_path": "/usr/bin/chromium-headless-shell", "args": QUIET}


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args: dict[str, Any], running: "Running") -> dict[str, Any]:
    return browser_context_args | {"viewport": {"width": 1280, "height": 800}, "base_url": running.url}


@pytest.fixture(scope="session")
def django_db_modify_db_settings(django_db_modify_db_settings: None) -> None:
    """Connections are kept, as in a web process that was started: opening one takes longer than most requests."""
    connection.settings_dict["OPTIONS"]["pool"] = {"min_size": 1, "max_size": 12, "timeout": 30.0}


#: Looks in a row at which nobody else has a connection in hand.
QUIET_LOOKS = 200


def wait_until_nobody_asks(seconds: float = 60.0) -> None:
    """Requests of a page that is closed go on to their end; the database is emptied after them.

    A request that has just come in has no connection yet: nobody must be seen many times in a row.
    """
    until, quiet = time.monotonic() + seconds, 0
    while time.monotonic() < until and quiet < QUIET_LOOKS:
        with connection.cursor() as cursor:
            cursor.execute("select 1")
            kept = connection.pool.get_stats()
            quiet = quiet + 1 if kept["pool_size"] - kept["pool_available"] == 1 else 0


class Running:
    """The application on a port of its own, requests and lines alike."""

    def __init__(self) -> None:
        self.socket = socket.create_server(("127.0.0.1", 0))
        self.url = f"http://127.0.0.1:{self.socket.getsockname()[1]}"
        self.loop = asyncio.new_event_loop()
        config = uvicorn.Config(
            "config.asgi:application", log_level="error", lifespan="off", ws="websockets-sansio", loop="none"
        )
        self.server = uvicorn.Server(config)
        self.thread = threading.Thread(target=self._run, daemon=True)
        self.thread.start()

    def _run(self) -> None:
        asyncio.set_event_loop(self.loop)
        self.loop.run_until_complete(self.server.serve(sockets=[self.socket]))

    def drop_benches(self) -> None:
        """As when the process is restarted: nothing is in hand any more."""
        asyncio.run_coroutine_threadsafe(line.host.close(), self.loop).result(60)

    def end(self) -> None:
        self.server.should_exit = True
        self.thread.join(20)


@pytest.fixture(scope="session")
def running(django_db_setup: None) -> Iterator[Running]:
    made = Running()
    yield made
    made.end()


@pytest.fixture
def with_course() -> bool:
    """Whether the whole course of the sample data is there, besides its one lesson in work."""
    return False


@pytest.fixture
def site(transactional_db: None, running: Running, settings: Any, with_course: bool) -> Iterator[str]:
    """Address of the running application with the Hollerbach school in it."""
    # Hashing a password is slow on purpose; here it is only in the way.
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
    # What workers do is done in the request: these tests drive the screens; tests/server and tests/long drive real
    # workers.
    settings.JOBS_INLINE = True
    call_command("load_demo", course=with_course, stdout=StringIO())
    yield running.url
    running.drop_benches()
    wait_until_nobody_asks()


@pytest.fixture(scope="session")
def kept(browser: Browser, browser_context_args: dict[str, Any]) -> Iterator[BrowserContext]:
    """A browser that stays open: what it has loaded of the application it need not load and compile again."""
    opened = browser.new_context(**browser_context_args)
    yield opened
    opened.close()


@pytest.fixture
def context(kept: BrowserContext, running: Running) -> Iterator[BrowserContext]:
    """The browser as that of somebody who comes for the first time: nobody is signed in and nothing is kept."""
    blank = kept.new_page()
    kept.new_cdp_session(blank).send(
        "Storage.clearDataForOrigin", {"origin": running.url, "storageTypes": "cookies,local_storage,indexeddb"}
    )
    blank.close()
    yield kept
    kept.set_offline(False)
    kept.unroute_all()
    kept.clear_permissions()
    for opened in kept.pages:
        opened.close()


#: What has become of a test, for what is done after it.
OUTCOME = pytest.StashKey[pytest.CallInfo[None]]()


@pytest.hookimpl(tryfirst=True)
def pytest_runtest_makereport(item: pytest.Item, call: pytest.CallInfo[None]) -> None:
    if call.when == "call":
        item.stash[OUTCOME] = call


@pytest.fixture
def page(context: BrowserContext, site: str, request: pytest.FixtureRequest) -> Iterator[Page]:
    """A page that fails the test when a script fails or something is asked of another machine. What it shows and
    what it was told when a test fails is printed.
    """
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
    answers: list[str] = []
    page.on(
        "response",
        lambda answer: (
            answers.append(f"{answer.status} {answer.request.method} {answer.url}") if "/api/" in answer.url else None
        ),
    )
    page.on("requestfailed", lambda asked: answers.append(f"{asked.failure} {asked.method} {asked.url}"))
    yield page
    done = request.node.stash.get(OUTCOME, None)
    if done is not None and done.excinfo is not None:
        sys.stderr.write("\n".join((page.url, page.locator("body").inner_text(), *answers[-40:])))
    # Before the site goes: a page that stays open takes its bench up again, as after a lost line.
    for opened in context.pages:
        opened.close()
    assert faults == []
