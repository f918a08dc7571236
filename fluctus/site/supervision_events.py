"""Listens for a program that the supervisor has given up, says so, and ends the rest."""

import os
import signal
import sys
from pathlib import Path

from supervisor.childutils import listener

MARK = "given-up"
"""The name of a file, beside the supervisor's settings, that is there once one was given up."""


def main(folder: Path) -> None:
    """Answer the supervisor's events until it ends; its mark goes into ``folder``."""
    while True:
        headers, payload = listener.wait(sys.stdin, sys.stdout)
        if headers["eventname"] == "PROCESS_STATE_FATAL":
            named = dict(part.split(":", 1) for part in payload.split() if ":" in part)
            sys.stderr.write(
                f"\n✗ {named.get('processname', 'A program')} ended again and again right after "
                "it was started.\n  Its messages are above. Mend what they say, then start again.\n"
            )
            sys.stderr.flush()
            (folder / MARK).touch()
            os.kill(os.getppid(), signal.SIGTERM)
        listener.ok(sys.stdout)


if __name__ == "__main__":
    main(Path(sys.argv[1]))
