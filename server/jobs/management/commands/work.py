"""A worker: takes computations from the queue, one at a time.

As many as there are cores may run, on as many machines as share the database.
"""

import asyncio
import datetime
import os
import socket
from typing import Any

from asgiref.sync import sync_to_async
from django.core.management.base import BaseCommand
from django.db import connections
from procrastinate import App
from procrastinate.contrib.django import app as queue

from jobs.housekeeping import DEAD_AFTER, forget_lost, throw_away
from jobs.kinds import HEAVY, QUICK, load_kinds
from leitfaden_core.simulate import warm_up_compiler

HEARTBEAT, LOOK_EVERY, CLEAN_EVERY = 2.0, 5.0, 600.0


async def _keep_house(app: App) -> None:
    """Forever: hand on what dead workers left, and clean up."""
    since_cleaning = CLEAN_EVERY
    while True:
        await asyncio.sleep(LOOK_EVERY)
        for job in await app.job_manager.get_stalled_jobs(seconds_since_heartbeat=DEAD_AFTER):
            await app.job_manager.retry_job(job, retry_at=datetime.datetime.now(datetime.UTC))
        await sync_to_async(_tidy)(since_cleaning >= CLEAN_EVERY)
        since_cleaning = 0.0 if since_cleaning >= CLEAN_EVERY else since_cleaning + LOOK_EVERY


def _tidy(thoroughly: bool) -> None:
    forget_lost()
    if thoroughly:
        throw_away()
    connections.close_all()


async def _run(queues: list[str]) -> None:
    with queue.replace_connector(queue.connector.get_worker_connector()) as app:  # type: ignore[attr-defined]
        async with app.open_async():
            house = asyncio.create_task(_keep_house(app))
            try:
                await app.run_worker_async(
                    queues=queues,
                    name=f"{socket.gethostname()}",
                    concurrency=1,
                    fetch_job_polling_interval=2.0,
                    update_heartbeat_interval=HEARTBEAT,
                    stalled_worker_timeout=DEAD_AFTER,
                    shutdown_graceful_timeout=3.0,
                    delete_jobs="always",
                )
            finally:
                house.cancel()


class Command(BaseCommand):
    """work [--quick]."""

    help = "Take computations from the queue until a signal comes"

    def add_arguments(self, parser: Any) -> None:
        """Which queue."""
        parser.add_argument("--quick", action="store_true", help="only what people look at a screen for")

    def handle(self, *args: Any, **options: Any) -> None:
        """Work."""
        # Whoever answers people comes first; and one computation takes one core, not all of them.
        os.nice(15)
        os.environ["LEITFADEN_THREADS"] = "1"
        load_kinds()
        warm_up_compiler()
        asyncio.run(_run([QUICK] if options["quick"] else [QUICK, HEAVY]))
