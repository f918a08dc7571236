"""Background jobs in tests."""

import threading
import time
from collections.abc import Callable
from datetime import datetime, timedelta

from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob


def gates(hours: int) -> str:
    """Write a table of twenty gates by the hour."""
    return "Hour,Gate,Cycle (s)\n" + "\n".join(
        f"{datetime(2026, 1, 1) + timedelta(hours=n):%Y-%m-%d %H:%M},Gate {gate},"
        f"{(n * 7 + gate) % 90}"
        for n in range(hours)
        for gate in range(20)
    )


def wait_for(what: Callable[[], bool], seconds: float = 60) -> None:
    """Wait until something is so; fails where that takes too long."""
    end = time.monotonic() + seconds
    while not what():
        assert time.monotonic() < end, "it took too long"
        time.sleep(0.05)


def no_jobs() -> None:
    """Drop all jobs: tables that are not ours are not emptied after a test."""
    ProcrastinateJob.objects.all()._raw_delete("default")


def work() -> None:
    """Run what is waiting, as the worker does, and come back."""

    def run() -> None:
        connector = app.connector.get_worker_connector()  # type: ignore[attr-defined]
        with app.replace_connector(connector) as own:
            own.run_worker(wait=False, install_signal_handlers=False, listen_notify=False)

    # On a thread of its own: browser tests leave an event loop behind on this one.
    thread = threading.Thread(target=run)
    thread.start()
    thread.join()
