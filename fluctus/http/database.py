"""How long anybody waits for the database: one that is there and answers nothing is left alone.

The limits of the server itself (``statement_timeout``) hold while it works; these hold when it
does not.
"""

import time
from collections.abc import Callable, Generator, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from typing import Any, TypeVar

import psycopg
from asgiref.sync import sync_to_async
from django.db import connection
from django.http import HttpRequest, HttpResponse

READS_WITHIN = 12.0
"""Seconds that a read waits for one answer of the database."""
WRITES_WITHIN = 25.0

Answer = TypeVar("Answer")
_within: ContextVar[float | None] = ContextVar("waits_for_database", default=None)


@contextmanager
def answers_within(seconds: float) -> Iterator[None]:
    """Wait no longer than so many seconds for each answer of the database."""
    before = _within.set(seconds)
    try:
        yield
    finally:
        _within.reset(before)


def by_kind_of_request(
    get_response: Callable[[HttpRequest], HttpResponse],
) -> Callable[[HttpRequest], HttpResponse]:
    """Let reads wait for the database as long as somebody looks, and writes somewhat longer."""

    def middleware(request: HttpRequest) -> HttpResponse:
        seconds = READS_WITHIN if request.method in ("GET", "HEAD") else WRITES_WITHIN
        with answers_within(seconds):
            return get_response(request)

    return middleware


async def on_a_thread(work: Callable[[], Answer]) -> Answer:
    """Return what comes of some work with the database, done on a thread of its own.

    Whoever waits there keeps no other waiting; its connection goes back to the pool.
    """

    def alone() -> Answer:
        try:
            return work()
        finally:
            connection.close()

    return await sync_to_async(alone, thread_sensitive=False)()


class BoundedConnection(psycopg.Connection[Any]):
    """A connection that is closed where an answer does not come within the time it has."""

    def wait(self, gen: Any, *args: Any, **kwargs: Any) -> Any:
        """Return what comes of ``gen``; raises OperationalError where that takes too long."""
        seconds = _within.get()
        if seconds is None:
            return super().wait(gen, *args, **kwargs)
        return super().wait(self._bounded(gen, seconds), *args, **kwargs)

    def _bounded(
        self, steps: Generator[Any, Any, Answer], seconds: float
    ) -> Generator[Any, Any, Answer]:
        until = time.monotonic() + seconds
        try:
            # What is waited for, and back what has come: nothing, after a moment without any.
            wanted = next(steps)
            while True:
                ready = yield wanted
                if not ready and time.monotonic() > until:
                    # Half an answer may be on its way: nobody else is to read that.
                    self.pgconn.finish()
                    raise psycopg.OperationalError("the database did not answer in time")
                wanted = steps.send(ready)
        except StopIteration as end:
            return end.value  # type: ignore[no-any-return]
