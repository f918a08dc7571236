"""Charts drawn for paper by the same layers as on screen, in one kept Node process.

It is bounded in memory, given up when a drawing takes too long, and started again when it has
died; what made it die is tried once more, then refused.
"""

import json
import selectors
import subprocess
import sys
from pathlib import Path
from threading import Lock
from typing import Any

import orjson
from django.conf import settings

from fluctus.http.refusals import Issue, RefusalError

MEMORY_MB = 512
SECONDS = 20.0
"""How long one drawing may take; a chart takes some hundredths of a second."""
TRIES = 2


class Pen:
    """What draws: a Node process that takes a chart and gives its picture, one at a time."""

    def __init__(self, program: Path | None = None, seconds: float = SECONDS) -> None:
        """Start nothing yet."""
        self._program = program or settings.WEB_PRINT
        self._seconds = seconds
        self._lock = Lock()
        self._process: subprocess.Popen[bytes] | None = None

    def draw(self, chart: Any, pins: Any, hidden: list[str] | None, width: int, height: int) -> str:
        """Return a chart as an SVG document of ``width`` times ``height`` pixels.

        ``chart`` and ``pins`` are answers of the API. Raises RefusalError (503) where
        it cannot be drawn.
        """
        line = orjson.dumps(
            {"chart": chart, "pins": pins, "hidden": hidden, "width": width, "height": height},
            option=orjson.OPT_SERIALIZE_NUMPY,
        )
        with self._lock:
            for _ in range(TRIES):
                answer = self._ask(line + b"\n")
                if answer is not None:
                    break
        if answer is None or "svg" not in answer:
            raise RefusalError(
                "The chart could not be drawn.",
                Issue((answer or {}).get("error", "What draws charts took too long, or died."),
                      "Try again; if it stays, tell whoever runs Fluctus."),
                status=503,
            )  # fmt: skip
        return str(answer["svg"])

    def stop(self) -> None:
        """End the process; another begins when it is needed."""
        if self._process is not None:
            self._process.kill()
            self._process.wait()
            self._process = None

    def _ask(self, line: bytes) -> dict[str, Any] | None:
        """Send a line and wait for its answer; None where the process died or took too long."""
        process = self._started()
        assert process.stdin is not None
        assert process.stdout is not None
        try:
            process.stdin.write(line)
            process.stdin.flush()
        except OSError:
            self.stop()
            return None
        with selectors.DefaultSelector() as selector:
            selector.register(process.stdout, selectors.EVENT_READ)
            said = process.stdout.readline() if selector.select(self._seconds) else b""
        if not said:
            self.stop()
            return None
        answer: dict[str, Any] = json.loads(said)
        return answer

    def _started(self) -> subprocess.Popen[bytes]:
        if self._process is None or self._process.poll() is not None:
            node = Path(sys.executable).with_name("node")
            self._process = subprocess.Popen(  # noqa: S603 - a program of our own, no shell
                [str(node), f"--max-old-space-size={MEMORY_MB}", str(self._program)],
                stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL,
            )  # fmt: skip
        return self._process


pen = Pen()
"""The one of this process."""
