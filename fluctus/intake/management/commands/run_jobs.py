"""Runs the background jobs, and takes up those that a worker died over."""

import asyncio
from typing import Any

from django.core.management.base import BaseCommand
from procrastinate import App
from procrastinate.contrib.django import app

HEARTBEAT = 2.0
DEAD_AFTER = 10.0
"""Seconds without a sign of life after which a worker is taken for dead, and its job for undone."""
LOOKED_FOR_EVERY = 3.0


class Command(BaseCommand):
    """``python -m django run_jobs``."""

    help = "Run background jobs until stopped."

    def handle(self, *args: Any, **options: Any) -> None:
        """Run them."""
        with app.replace_connector(app.connector.get_worker_connector()) as worker_app:  # type: ignore[attr-defined]
            asyncio.run(_work(worker_app))


async def _work(worker_app: App) -> None:
    async with worker_app.open_async():
        rescue = asyncio.create_task(_rescue(worker_app))
        try:
            await worker_app.run_worker_async(
                fetch_job_polling_interval=1.0,
                update_heartbeat_interval=HEARTBEAT,
                stalled_worker_timeout=DEAD_AFTER,
                delete_jobs="successful",
                shutdown_graceful_timeout=2.0,
            )
        finally:
            rescue.cancel()


async def _rescue(worker_app: App) -> None:
    while True:
        for job in await worker_app.job_manager.get_stalled_jobs(
            seconds_since_heartbeat=DEAD_AFTER
        ):
            await worker_app.job_manager.retry_job(job)
        await asyncio.sleep(LOOKED_FOR_EVERY)
