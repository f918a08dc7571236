"""An event loop for what is asynchronous."""

import asyncio
from collections.abc import Callable, Coroutine
from concurrent.futures import ThreadPoolExecutor
from typing import Any, TypeVar

from django.db import connections

Answer = TypeVar("Answer")


def in_a_loop(work: Callable[[], Coroutine[Any, Any, Answer]]) -> Answer:
    """Return what comes of ``work``, done in a loop of its own.

    In a thread: a browser test that ran before in this process leaves a loop running here.
    """

    def loop() -> Answer:
        try:
            return asyncio.run(work())
        finally:
            connections.close_all()

    with ThreadPoolExecutor(1) as apart:
        return apart.submit(loop).result()
