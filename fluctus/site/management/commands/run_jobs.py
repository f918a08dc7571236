"""Runs the background jobs, takes up those that a worker died over, and clears what is over."""

import asyncio
import logging
import time
from collections.abc import Callable
from typing import Any

from asgiref.sync import sync_to_async
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser
from django.db import DatabaseError
from procrastinate import App
from procrastinate.contrib.django import app
from procrastinate.exceptions import ConnectorException

from fluctus.intake.jobs import sweep as sweep_imports
from fluctus.intake.uploads import clear_old
from fluctus.reports.jobs import sweep as sweep_reports

HEARTBEAT = 2.0
DEAD_AFTER = 10.0
"""Seconds without a sign of life after which a worker is taken for dead, and its job for undone."""
LOOKED_FOR_EVERY = 3.0
SWEPT_EVERY = 60.0
CLEARED_EVERY = 3600.0
LONGEST_PAUSE = 10.0
"""Seconds at most between two looks whether the database is back."""

log = logging.getLogger(__name__)


class Command(BaseCommand):
    """``python -m django run_jobs``."""

    help = "Run background jobs until stopped."

    def add_arguments(self, parser: CommandParser) -> None:
        """Take the queues to work on."""
        parser.add_argument("--queues", nargs="*", help="Which to work on; all otherwise.")

    def handle(self, *args: Any, **options: Any) -> None:
        """Run them; while the database is away, wait for it."""
        pause = 1.0
        while True:
            try:
                with app.replace_connector(app.connector.get_worker_connector()) as worker_app:  # type: ignore[attr-defined]
                    asyncio.run(_work(worker_app, options["queues"]))
            except (ConnectorException, DatabaseError) as error:
                log.warning("The database is away; looking again in %.0f s: %s", pause, error)
            else:
                return
            time.sleep(pause)
            pause = min(LONGEST_PAUSE, pause * 1.5)


async def _work(worker_app: App, queues: list[str] | None) -> None:
    async with worker_app.open_async():
        beside = [
            asyncio.create_task(_rescue(worker_app)),
            asyncio.create_task(_every(SWEPT_EVERY, sweep_imports)),
            asyncio.create_task(_every(SWEPT_EVERY, sweep_reports)),
            asyncio.create_task(_every(SWEPT_EVERY, clear_old)),
            asyncio.create_task(_every(CLEARED_EVERY, _clear_sessions)),
        ]
        try:
            await worker_app.run_worker_async(
                queues=queues or None,  # type: ignore[arg-type] # None: all of them
                fetch_job_polling_interval=1.0,
                update_heartbeat_interval=HEARTBEAT,
                stalled_worker_timeout=DEAD_AFTER,
                delete_jobs="successful",
                shutdown_graceful_timeout=2.0,
            )
        finally:
            for task in beside:
                task.cancel()


async def _rescue(worker_app: App) -> None:
    while True:
        try:
            for job in await worker_app.job_manager.get_stalled_jobs(
                seconds_since_heartbeat=DEAD_AFTER
            ):
                await worker_app.job_manager.retry_job(job)
        except ConnectorException as error:
            log.warning("Jobs of dead workers could not be looked for: %s", error)
        await asyncio.sleep(LOOKED_FOR_EVERY)


async def _every(seconds: float, work: Callable[[], object]) -> None:
    """Do some work at the start and from time to time; the database may be away now and then."""
    while True:
        try:
            await sync_to_async(work)()
        except DatabaseError as error:
            log.warning("%s could not be done: %s", work.__name__, error)
        await asyncio.sleep(seconds)


def _clear_sessions() -> None:
    call_command("clearsessions")
