"""How gunicorn serves Fluctus: ``gunicorn -c python:fluctus.site.server``.

Its workers end with the master, and close what opens a connection and never asks.
"""

import asyncio
import ctypes
import signal
from typing import Any, ClassVar

from uvicorn.protocols.http.h11_impl import H11Protocol
from uvicorn_worker import UvicornWorker

HEADERS_WITHIN = 20.0
"""Seconds in which the head of a request has to be there."""
SET_PARENT_DEATH_SIGNAL = 1


class PromptProtocol(H11Protocol):
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
    """A worker that serves by ``PromptProtocol``."""

    CONFIG_KWARGS: ClassVar[dict[str, Any]] = {"loop": "auto", "http": PromptProtocol}


def post_fork(server: Any, worker: Any) -> None:
    """Let a worker end with the master, whose port it would hold otherwise."""
    ctypes.CDLL(None).prctl(SET_PARENT_DEATH_SIGNAL, signal.SIGKILL)


worker_class = "fluctus.site.server.PromptWorker"
loglevel = "warning"
