"""How gunicorn serves Fluctus: ``gunicorn -c python:fluctus.site.server``.

Its workers end with the master, and close what opens a connection and never asks. The address
of a client is what the connection says: what a header says of it is looked at in one place
(``http.client_address``), by how many proxies there are.
"""

import asyncio
import ctypes
import faulthandler
import gc
import signal
import sys
import time
from contextlib import suppress
from threading import Thread
from typing import Any, ClassVar

from django.conf import settings
from prometheus_client.multiprocess import mark_process_dead
from uvicorn.protocols.http.h11_impl import H11Protocol
from uvicorn_worker import UvicornWorker

from fluctus.http.metrics import serve_metrics
from fluctus.http.spans import export_spans

HEADERS_WITHIN = 20.0
"""Seconds in which the head of a request has to be there, once it has begun or nobody has asked."""
STUCK_AFTER = 60.0
"""Seconds of a watching thread's own after which a loop that does not come round is stuck."""
SET_PARENT_DEATH_SIGNAL = 1


class TimedProtocol(H11Protocol):
    """HTTP on a connection that is closed where the head of a request stays half sent."""

    _timer: asyncio.TimerHandle | None = None

    def connection_made(self, transport: Any) -> None:
        """Wait for the first request."""
        super().connection_made(transport)
        self._await_head()

    def data_received(self, data: bytes) -> None:
        """Take what comes; a head that is not whole by then is waited for only so long."""
        super().data_received(data)
        if self.cycle is None or self.cycle.response_complete:
            self._await_head()
        else:
            self._stop_waiting()

    def connection_lost(self, exc: Exception | None) -> None:
        """Stop waiting."""
        self._stop_waiting()
        super().connection_lost(exc)

    def _await_head(self) -> None:
        if self._timer is None:
            self._timer = self.loop.call_later(HEADERS_WITHIN, self.transport.close)

    def _stop_waiting(self) -> None:
        if self._timer is not None:
            self._timer.cancel()
            self._timer = None


class PromptWorker(UvicornWorker):  # type: ignore[misc]
    """A worker that serves by ``TimedProtocol``."""

    CONFIG_KWARGS: ClassVar[dict[str, Any]] = {
        "loop": "auto",
        "http": TimedProtocol,
        "proxy_headers": False,
        "server_header": False,
    }

    async def _serve(self) -> None:
        loop = asyncio.get_running_loop()
        Thread(target=watch_loop, args=(loop,), name="watch-loop", daemon=True).start()
        await super()._serve()


def watch_loop(loop: asyncio.AbstractEventLoop, stuck_after: float = STUCK_AFTER) -> None:
    """Tell where a loop is stuck that does not come round, and end its process then.

    By this thread's own turns: where the machine is so busy that they come late as well, the
    loop may be late by as much.
    """
    came_round = turns = 0

    def come_round() -> None:
        nonlocal came_round
        came_round = turns

    while True:
        turns += 1
        with suppress(RuntimeError):
            loop.call_soon_threadsafe(come_round)
        time.sleep(1.0)
        if loop.is_closed():
            return
        if turns - came_round > stuck_after:
            sys.stderr.write("The event loop does not come round; this process ends.\n")
            faulthandler.dump_traceback(sys.stderr)
            signal.raise_signal(signal.SIGKILL)
            return


def pre_fork(server: Any, worker: Any) -> None:
    """Leave what all workers share where it is: collecting garbage would copy it for each."""
    gc.freeze()


def post_fork(server: Any, worker: Any) -> None:
    """Let a worker end with the master, whose port it would hold otherwise, and be traced."""
    ctypes.CDLL(None).prctl(SET_PARENT_DEATH_SIGNAL, signal.SIGKILL)
    export_spans("web")


def when_ready(server: Any) -> None:
    """Serve what all workers have counted, where an address for it is given."""
    if settings.METRICS:
        serve_metrics(settings.METRICS)


def child_exit(server: Any, worker: Any) -> None:
    """Count what a worker was doing no more."""
    if settings.METRICS:
        mark_process_dead(worker.pid)  # type: ignore[no-untyped-call]


worker_class = "fluctus.site.server.PromptWorker"
preload_app = True
"""Workers share what they have loaded, until they write to it."""
timeout = 0
"""No worker is ended for being late with a sign of life: a busy machine makes all of them late."""
graceful_timeout = 60
"""Seconds in which a worker that is to go finishes what it has."""
keepalive = 75
"""Seconds that an idle connection is kept: closed sooner than the other side expects, it takes
the next request with it, which gets no answer."""
forwarded_allow_ips = ""
loglevel = "warning"
