"""Work on what comes from outside, done in a process of its own.

What a file claims to hold cannot be trusted: a few kilobytes can unpack to
gigabytes, nest a thousand deep, or never come to an end. The process may use so
much time and memory and no more; when it does not come back, nothing else is
harmed. It holds no secret, and its answer is plain JSON that is checked against
what it should be, so that whatever takes the process over can tell lies, but no more.
"""

import logging
import multiprocessing
import resource
import time
from collections.abc import Callable
from functools import cache
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any, TypeVar, get_type_hints

import orjson
from pydantic import TypeAdapter, ValidationError

from fluctus.tables.unreadable import UnreadableError

SECONDS = 10.0
"""Longest time that somebody waits for; what takes longer is a job in the background."""
MEMORY = 1024 * 1024 * 1024
"""Bytes of memory, beyond those of the libraries."""
MOST_OUTPUT = 256 * 1024 * 1024
LOOKED_EVERY = 0.25
"""Seconds after which whoever waits is asked whether the answer is still wanted."""

Answer = TypeVar("Answer")
log = logging.getLogger(__name__)

# Processes are forked from a server that has imported all they need and nothing else: no thread,
# connection or secret of the one that asks is theirs.
_processes = multiprocessing.get_context("forkserver")
_processes.set_forkserver_preload(
    [
        "fluctus.tables.bare_environment",
        "fluctus.tables.formats.opening",
        "fluctus.tables.calendar_file",
    ]
)


class TooSlowError(Exception):
    """The work was not done in the time that it had."""


class TooMuchError(Exception):
    """The work needed more memory than it may have, or broke down."""


def run_isolated(
    work: Callable[..., Answer],
    *arguments: object,
    seconds: float = SECONDS,
    still_wanted: Callable[[], None] = lambda: None,
) -> Answer:
    """Return what ``work`` returns for ``arguments``, done in a process of its own.

    ``work`` is a function of a module that says what it returns: dataclasses of plain values.
    What it raises as UnreadableError is raised here, and so is what ``still_wanted`` raises
    while it lasts. Raises TooSlowError after so many ``seconds``, and TooMuchError when it runs
    out of memory or breaks down.
    """
    receiving, sending = _processes.Pipe(duplex=False)
    process = _processes.Process(
        target=_serve, args=(sending, work, arguments, seconds), daemon=True
    )
    process.start()
    sending.close()
    try:
        _wait(receiving, seconds, still_wanted)
        said = receiving.recv_bytes(MOST_OUTPUT)
    except (EOFError, OSError) as failure:
        raise TooMuchError from failure
    finally:
        receiving.close()
        process.kill()
        process.join()
    return _understood(work, said)


def _wait(receiving: Connection, seconds: float, still_wanted: Callable[[], None]) -> None:
    until = time.monotonic() + seconds
    while not receiving.poll(min(LOOKED_EVERY, max(0.0, until - time.monotonic()))):
        if time.monotonic() >= until:
            raise TooSlowError
        still_wanted()


def _understood(work: Callable[..., Answer], said: bytes) -> Answer:
    """Return the answer in what a process has said; raises as ``run_isolated`` does."""
    kind, _, content = said.partition(b"\n")
    if kind == b"answer":
        try:
            return _shape(work).validate_json(content)  # type: ignore[no-any-return]
        except ValidationError as error:
            log.warning("What a reading process said is not what it should be: %s", error)
            raise TooMuchError from error
    if kind == b"refused":
        name, message = orjson.loads(content)
        raise _refusals().get(str(name), UnreadableError)(str(message))
    log.warning("Reading a file broke down: %s", content[:500].decode(errors="replace"))
    raise TooMuchError


@cache
def _shape(work: Callable[..., Any]) -> TypeAdapter[Any]:
    return TypeAdapter(get_type_hints(work)["return"])


def _refusals() -> dict[str, type[UnreadableError]]:
    """Return the kinds of refusals that are known, by name."""
    kinds, found = [UnreadableError], {}
    while kinds:
        kind = kinds.pop()
        found[kind.__name__] = kind
        kinds += kind.__subclasses__()
    return found


def _serve(
    sending: Connection, work: Callable[..., Any], arguments: tuple[object, ...], seconds: float
) -> None:
    memory = _memory() + MEMORY
    resource.setrlimit(resource.RLIMIT_AS, (memory, memory))
    # Of all its threads together; in case whoever asks is gone and does not end it.
    processor = int(4 * seconds) + 1
    resource.setrlimit(resource.RLIMIT_CPU, (processor, processor))
    try:
        said = b"answer\n" + _shape(work).dump_json(work(*arguments))
    except UnreadableError as refused:
        said = b"refused\n" + orjson.dumps([type(refused).__name__, _writable(str(refused))])
    except (MemoryError, RecursionError):
        return
    except Exception as broken:
        said = b"broken\n" + _writable(repr(broken)).encode()
    sending.send_bytes(said)


def _writable(text: str) -> str:
    """Leave out halves of characters, which no encoding has."""
    return text.encode("utf-8", "replace").decode()


def _memory() -> int:
    """Return how many bytes of addresses the process has to begin with."""
    pages = int(Path("/proc/self/statm").read_text().split()[0])
    return pages * resource.getpagesize()
