"""The entry point for gunicorn's uvicorn workers."""

import asyncio
import warnings
from concurrent.futures import ThreadPoolExecutor
from contextvars import copy_context
from functools import partial
from typing import IO, Any, Final

import django
from django.core import signals
from django.core.exceptions import RequestAborted
from django.core.handlers.asgi import ASGIHandler, get_script_prefix
from django.db import close_old_connections
from django.http.response import HttpResponseBase
from django.urls import set_script_prefix

from fluctus.site.limits import limited
from fluctus.site.turns import AT_ONCE

# The files that whitenoise serves are small and read in one go, so that reading them on a
# thread, which Django warns of, costs nothing.
warnings.filterwarnings("ignore", "StreamingHttpResponse must consume synchronous iterators")

ROOM_FOR_FILES: Final = 4
"""Threads for what is no request of the API, so that pages come while all others work."""


class OnOneThread(ASGIHandler):
    """Answers a request on one thread, from the first middleware to the last.

    None of ours awaits anything. Django would start a thread for each request, and go to it and
    back for each middleware, which is half of what a small answer costs.
    """

    def load_middleware(self, is_async: bool = False) -> None:
        """Load all of it as functions that do not await."""
        super().load_middleware(is_async=False)
        self._threads = ThreadPoolExecutor(AT_ONCE + ROOM_FOR_FILES, "request")

    async def __call__(self, scope: Any, receive: Any, send: Any) -> None:
        """Answer one request; one that is left before it is whole gets none."""
        try:
            body = await self.read_body(receive)
        except RequestAborted:
            return
        answer = partial(copy_context().run, self._answer, scope, body)
        response = await asyncio.get_running_loop().run_in_executor(self._threads, answer)
        try:
            await self.send_response(response, send)
        finally:
            if response.streaming:
                response.close()

    def _answer(self, scope: Any, body: IO[bytes]) -> HttpResponseBase:
        with body:
            set_script_prefix(get_script_prefix(scope))
            signals.request_started.send(sender=self.__class__, scope=scope)
            request, refusal = self.create_request(scope, body)
            response = refusal if request is None else self.get_response(request)
            assert response is not None, "what is no request has been refused"
            if response.streaming:
                # A file, of which nothing more is asked of the database.
                close_old_connections()
            else:
                response.close()
            return response


django.setup(set_prefix=False)
application = limited(OnOneThread())
"""The application, whose requests are bounded in size and time."""
