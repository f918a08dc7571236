"""Two at once, stopped at named points: every order of a writer and whoever meets it.

A test names functions that the work of one passes through. It is stopped before each of them in
turn, the other does all of its work then, and the first goes on.
"""

import importlib
import threading
from collections.abc import Callable
from typing import Any

from django.db import connection

LONGEST = 20.0
"""Seconds after which somebody who waits for the other is taken for stuck."""


class Meanwhile:
    """What somebody else does at the moment that a function is called first, on another thread."""

    def __init__(self, monkeypatch: Any, at: str, does: Callable[[], Any]) -> None:
        where, _, name = at.rpartition(".")
        module = importlib.import_module(where)
        real = getattr(module, name)
        self.happened = False
        self.came_of_it: Any = None

        def stopped(*args: Any, **kwargs: Any) -> Any:
            if not self.happened:
                self.happened = True
                self.came_of_it = alone(does)
            return real(*args, **kwargs)

        monkeypatch.setattr(module, name, stopped)


def alone(work: Callable[[], Any]) -> Any:
    """Do some work on a thread and a connection of its own; returns or raises what it does."""
    outcome: dict[str, Any] = {}

    def run() -> None:
        try:
            outcome["value"] = work()
        except BaseException as error:
            outcome["error"] = error
        finally:
            connection.close()

    thread = threading.Thread(target=run)
    thread.start()
    thread.join(LONGEST)
    assert not thread.is_alive(), "they wait for each other"
    if "error" in outcome:
        raise outcome["error"]
    return outcome["value"]
