"""What draws charts: it may hang, stop, fill its pipes or die, and holds nobody up for long."""

import os
import signal
import time
from pathlib import Path
from typing import Any

import pytest

from fluctus.http.refusals import RefusalError
from fluctus.jobs.life import CancelledError
from fluctus.reports import drawing
from fluctus.reports.drawing import Renderer, a_renderer

LARGE = {"points": ["x" * 1000] * 300}
"""More than a pipe holds."""
DOES = {
    "reads nothing": "setInterval(() => {}, 1000)",
    "writes and reads nothing": (
        "const fill = () => process.stdout.write('y'.repeat(1 << 20), fill); fill()"
    ),
    "says half": "process.stdout.write('{\"svg\":'); setInterval(() => {}, 1000)",
    "closes its ears": "process.stdin.destroy(); setInterval(() => {}, 1000)",
    "starts others": (
        "require('child_process').spawn('sleep', ['1000'], {stdio: 'ignore'}).on('spawn', () =>"
        " 0); setInterval(() => {}, 1000)"
    ),
}


def program(folder: Path, text: str) -> Path:
    file = folder / "draws.cjs"
    file.write_text(text)
    return file


@pytest.mark.parametrize("what", DOES)
def test_one_that_does_not_draw_is_given_up_in_time(tmp_path: Path, what: str) -> None:
    renderer, began = Renderer(program(tmp_path, DOES[what]), seconds=0.5), time.monotonic()
    with pytest.raises(RefusalError, match="could not be drawn"):
        renderer.draw(LARGE, 600, 400)
    assert time.monotonic() - began < 8
    assert renderer._process is None


def test_one_that_is_stopped_is_ended_with_all_it_has_started(tmp_path: Path) -> None:
    renderer = Renderer(program(tmp_path, DOES["starts others"]), seconds=1.5)
    process = renderer._started()
    group = process.pid
    os.kill(process.pid, signal.SIGSTOP)
    with pytest.raises(RefusalError, match="could not be drawn"):
        renderer.draw({"points": []}, 600, 400)
    deadline = time.monotonic() + 5
    while time.monotonic() < deadline:
        try:
            os.killpg(group, 0)
        except ProcessLookupError:
            return
        time.sleep(0.02)
    raise AssertionError("some of it runs on")


def test_what_is_wanted_no_more_is_not_drawn_to_its_end(tmp_path: Path) -> None:
    renderer, began = (
        Renderer(program(tmp_path, DOES["reads nothing"]), seconds=60),
        time.monotonic(),
    )
    asked = 0

    def still_wanted() -> None:
        nonlocal asked
        asked += 1
        if asked == 2:
            raise CancelledError

    with pytest.raises(CancelledError):
        renderer.draw(LARGE, 600, 400, still_wanted)
    assert time.monotonic() - began < 3
    # Its answer, if one ever comes, is taken for nobody's.
    assert renderer._process is None


def test_two_reports_draw_with_processes_of_their_own(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(drawing, "_idle", [])
    with a_renderer() as one, a_renderer() as two:
        assert one is not two
    kept: list[Any] = drawing._idle
    assert len(kept) == 1
    with a_renderer() as again:
        assert again in (one, two)
