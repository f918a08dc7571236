"""Imported first where files are read: begins that process anew without the environment.

What asks for files to be read has secrets in its environment, and a process keeps what it was
started with where anything in it can read it, whatever is deleted later.
"""

import os
import sys

NEEDED = ("PATH", "LANG", "LC_ALL", "LC_CTYPE", "TZ", "HOME", "TMPDIR", "PYTHONPATH")
"""Names in the environment that reading needs; none of them is a secret."""
BEGUN = "FLUCTUS_READS_FILES"


def begin_anew() -> None:
    """Execute this process anew with what is needed alone, unless that has been done."""
    if BEGUN in os.environ:
        return
    bare = {name: os.environ[name] for name in NEEDED if name in os.environ}
    # Its open pipes stay: they are those that it was told to talk by.
    os.execve(sys.executable, sys.orig_argv, bare | {BEGUN: "yes"})  # noqa: S606 - itself


if any("multiprocessing.forkserver" in part for part in sys.orig_argv):
    begin_anew()
