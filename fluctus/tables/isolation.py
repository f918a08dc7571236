"""Work on what comes from outside, done in a process of its own.

What a file claims to hold cannot be trusted: a few kilobytes can unpack to
gigabytes, nest a thousand deep, or never come to an end. The process may use so
much time and memory and no more; when it does not come back, nothing else is
harmed.
"""

import logging
import multiprocessing
import pickle
import resource
from collections.abc import Callable
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any, TypeVar

SECONDS = 10.0
"""Longest time that somebody waits for; what takes longer is a job in the background."""
MEMORY = 1024 * 1024 * 1024
"""Bytes of memory, beyond those of the libraries."""
MOST_OUTPUT = 1024 * 1024 * 1024

Answer = TypeVar("Answer")
log = logging.getLogger(__name__)

# Processes are forked from a server that has imported all they need and nothing else: no thread,
# connection or secret of the one that asks is theirs.
_processes = multiprocessing.get_context("forkserver")
_processes.set_forkserver_preload(
    ["fluctus.tables.formats.opening", "fluctus.tables.calendar_file"]
)


class TooSlowError(Exception):
    """The work was not done in the time that it had."""


class TooMuchError(Exception):
    """The work needed more memory than it may have, or broke down."""


def apart(work: Callable[..., Answer], *arguments: object, seconds: float = SECONDS) -> Answer:
    """Return what ``work`` returns for ``arguments``, done in a process of its own.

    What it raises as ValueError is raised here. Raises TooSlowError after so many
    ``seconds``, and TooMuchError when it runs out of memory or breaks down.
    """
    receiving, sending = _processes.Pipe(duplex=False)
    process = _processes.Process(
        target=_serve, args=(sending, work, arguments, seconds), daemon=True
    )
    process.start()
    sending.close()
    try:
        if not receiving.poll(seconds):
            raise TooSlowError
        answer, error = pickle.loads(receiving.recv_bytes(MOST_OUTPUT))  # noqa: S301 - by our own code
    except (EOFError, OSError) as failure:
        raise TooMuchError from failure
    finally:
        receiving.close()
        process.kill()
        process.join()
    if isinstance(error, ValueError):
        raise error
    if error is not None:
        log.warning("Reading a file broke down: %s", error)
        raise TooMuchError
    return answer  # type: ignore[no-any-return]


def _serve(
    sending: Connection, work: Callable[..., Any], arguments: tuple[object, ...], seconds: float
) -> None:
    memory = _memory() + MEMORY
    resource.setrlimit(resource.RLIMIT_AS, (memory, memory))
    # Of all its threads together; in case whoever asks is gone and does not end it.
    processor = int(4 * seconds) + 1
    resource.setrlimit(resource.RLIMIT_CPU, (processor, processor))
    answer: Any = None
    error: ValueError | str | None = None
    try:
        answer = work(*arguments)
    except ValueError as refused:
        error = refused
    except (MemoryError, RecursionError):
        return
    except Exception as broken:
        error = repr(broken)
    sending.send_bytes(pickle.dumps((answer, error), protocol=5))


def _memory() -> int:
    """Return how many bytes of addresses the process has to begin with."""
    pages = int(Path("/proc/self/statm").read_text().split()[0])
    return pages * resource.getpagesize()
