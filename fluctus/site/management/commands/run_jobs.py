"""Runs the background jobs of all queues, and what is due by the clock.

On one host, one process for all of it; on several, each part as often as wanted. A queue has so
many places of its own, so that a long import keeps no report waiting, and the libraries that a job
needs are loaded when the first of its kind comes.
"""

import asyncio
import logging
import os
import signal
import subprocess
import sys
import time
from collections.abc import Callable, Coroutine
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser
from django.db import DatabaseError, InterfaceError
from procrastinate import App
from procrastinate.contrib.django import app
from procrastinate.exceptions import ConnectorException

from fluctus.accounts.own import jobs  # noqa: F401 - importing them is what registers them
from fluctus.accounts.record.keeping import clear_record
from fluctus.feeds.jobs import begin_due, clear_drafts
from fluctus.feeds.jobs import sweep as sweep_fetches
from fluctus.http import clock
from fluctus.http.database import on_a_thread
from fluctus.http.metrics import serve_metrics
from fluctus.http.spans import export_spans
from fluctus.intake.jobs import sweep as sweep_imports
from fluctus.intake.uploads import clear_old
from fluctus.jobs.queues import AT_ONCE
from fluctus.kpis.chart.renewal import count_ended, renew_ended
from fluctus.messages.jobs import tell
from fluctus.reports.jobs import sweep as sweep_reports
from fluctus.site.waiting import Waiting

HEARTBEAT = 2.0
DEAD_AFTER = 10.0
"""Seconds without a sign of life after which a worker is taken for dead, and its job for undone."""
LOOKED_FOR_EVERY = 3.0
RENEWED_EVERY = 5.0
BEHIND_ANSWERS = 5
"""How far background work stands back where there is more to do than there are processors."""
MOST_ALONE = 1000
"""Charts due at once that the worker renews by itself, within some seconds."""
DUE_EVERY = 5.0
SWEPT_EVERY = 60.0
CLEARED_EVERY = 3600.0
LONGEST_PAUSE = 10.0
"""Seconds at most between two looks whether the database is back."""
AWAY = (ConnectorException, DatabaseError, InterfaceError)
"""What is raised while the database is away."""

log = logging.getLogger(__name__)


class Command(BaseCommand):
    """``python -m django run_jobs``."""

    help = "Run background jobs, and what is due by the clock, until stopped."

    def add_arguments(self, parser: CommandParser) -> None:
        """Take the queues to work on."""
        parser.add_argument(
            "--queues", nargs="*", choices=list(AT_ONCE), help="Which to work on; all otherwise."
        )
        parser.add_argument(
            "--part", choices=["all", "queues", "clock"], default="all", help="What to do of it."
        )

    def handle(self, *args: Any, **options: Any) -> None:
        """Run them; while the database is away, wait for it."""
        # Somebody waits for each answer of the application, and for a job somewhat longer.
        os.nice(BEHIND_ANSWERS)
        queues = [] if options["part"] == "clock" else options["queues"] or list(AT_ONCE)
        by_clock = options["part"] != "queues"
        if settings.METRICS:
            serve_metrics(settings.METRICS, Waiting())
        export_spans("worker")
        pause = 1.0
        while True:
            try:
                asyncio.run(_work(app_of_worker(), queues, by_clock=by_clock))
            except AWAY as error:
                log.warning("The database is away; looking again in %.0f s: %s", pause, error)
            else:
                return
            time.sleep(pause)
            pause = min(LONGEST_PAUSE, pause * 1.5)


def app_of_worker() -> App:
    """Return what takes jobs from the queues, with the tasks of the app that puts them there.

    That one goes on to put them there by the connection of whoever does: what the work itself
    leaves for later is there once its transaction has ended, and never before.
    """
    worker_app = App(connector=app.connector.get_worker_connector())  # type: ignore[attr-defined]
    worker_app.tasks = app.tasks
    return worker_app


async def _work(worker_app: App, queues: list[str], *, by_clock: bool) -> None:
    async with worker_app.open_async():
        beside = [asyncio.create_task(work) for work in (_due(worker_app) if by_clock else ())]
        workers = [asyncio.create_task(_serve(worker_app, queue)) for queue in queues]
        # Without queues, until it is stopped.
        workers = workers or [asyncio.create_task(_for_ever())]
        loop = asyncio.get_running_loop()
        for name in (signal.SIGINT, signal.SIGTERM):
            # A worker that is cancelled ends what it does, for as long as it may.
            loop.add_signal_handler(name, lambda: [worker.cancel() for worker in workers])
        try:
            ended = await asyncio.gather(*workers, return_exceptions=True)
        finally:
            for task in [*beside, *workers]:
                task.cancel()
        for error in ended:
            if isinstance(error, Exception):
                raise error


def _due(worker_app: App) -> list[Coroutine[Any, Any, None]]:
    """Return what is done by the clock; several who do it share each piece of it."""
    return [
        _rescue(worker_app),
        _every(RENEWED_EVERY, _renew),
        _every(DUE_EVERY, begin_due),
        _every(SWEPT_EVERY, sweep_fetches),
        _every(RENEWED_EVERY, tell),
        _every(CLEARED_EVERY, clear_drafts),
        _every(SWEPT_EVERY, sweep_imports),
        _every(SWEPT_EVERY, sweep_reports),
        _every(SWEPT_EVERY, clear_old),
        _every(CLEARED_EVERY, _clear_over),
    ]


async def _for_ever() -> None:
    await asyncio.Event().wait()


async def _serve(worker_app: App, queue: str) -> None:
    """Work on a queue; one whose connection has broken goes on, whatever the others do."""
    while True:
        try:
            await worker_app.run_worker_async(
                queues=[queue],
                name=queue,
                concurrency=AT_ONCE[queue],
                fetch_job_polling_interval=1.0,
                update_heartbeat_interval=HEARTBEAT,
                stalled_worker_timeout=DEAD_AFTER,
                delete_jobs="successful",
                shutdown_graceful_timeout=2.0,
                install_signal_handlers=False,
            )
        except AWAY as error:
            log.warning("The queue %s is looked at again: %s", queue, error)
            await asyncio.sleep(1.0)
        else:
            return


async def _rescue(worker_app: App) -> None:
    while True:
        try:
            for job in await worker_app.job_manager.get_stalled_jobs(
                seconds_since_heartbeat=DEAD_AFTER
            ):
                await worker_app.job_manager.retry_job(job)
        except AWAY as error:
            log.warning("Jobs of dead workers could not be looked for: %s", error)
        await asyncio.sleep(LOOKED_FOR_EVERY)


async def _every(seconds: float, work: Callable[[], object]) -> None:
    """Do some work at the start and from time to time, whatever goes wrong with it."""
    while True:
        try:
            await on_a_thread(work)
        except AWAY as error:
            log.warning("%s could not be done: %s", work.__name__, error)
        except Exception:
            # The others depend on this one as little as the next time does.
            log.exception("%s has failed", work.__name__)
        await asyncio.sleep(seconds)


def _renew() -> None:
    """Renew what is due: much of it by a process for each processor, behind all else."""
    now = clock.now()
    if count_ended(now) <= MOST_ALONE:
        renew_ended(now)
        return
    command = [sys.executable, "-m", "django", "renew_charts", "--beside"]
    helpers = [subprocess.Popen(command) for _ in range(os.cpu_count() or 1)]  # noqa: S603 - ours
    for helper in helpers:
        helper.wait()


def _clear_over() -> None:
    call_command("clearsessions")
    clear_record(clock.now())
