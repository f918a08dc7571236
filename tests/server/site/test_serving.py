"""The process that serves: turns, deadlines towards the database, and a loop that is watched."""

import asyncio
import os
import signal
import threading
import time
from collections.abc import Iterator
from typing import Any

import psycopg
import pytest
from django.db import connection
from django.test import Client

from fluctus.http.database import BoundedConnection, answers_within
from fluctus.site import limits, server
from fluctus.site.turns import AT_ONCE
from tests.loops import in_a_loop


def test_so_many_requests_are_worked_on_at_once_and_others_wait_their_turn(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr(limits, "TURN_WITHIN", 0.3)
    busy = most = 0

    async def application(scope: Any, receive: Any, send: Any) -> None:
        nonlocal busy, most
        await receive()
        busy += 1
        most = max(most, busy)
        await asyncio.sleep(0.05 if scope["path"] != "/api/slow" else 1.0)
        busy -= 1
        await send({"type": "http.response.start", "status": 200, "headers": []})
        await send({"type": "http.response.body", "body": b""})

    async def ask(answer: Any, path: str) -> int:
        said: list[int] = []

        async def receive() -> dict[str, Any]:
            return {"type": "http.request", "body": b"", "more_body": False}

        async def send(message: dict[str, Any]) -> None:
            if message["type"] == "http.response.start":
                said.append(message["status"])

        await answer({"type": "http", "path": path, "headers": []}, receive, send)
        return said[0]

    async def all_of_it() -> tuple[list[int], list[int]]:
        answer = limits.limited(application)
        quick = await asyncio.gather(*(ask(answer, "/api/quick") for _ in range(3 * AT_ONCE)))
        held = [asyncio.create_task(ask(answer, "/api/slow")) for _ in range(AT_ONCE)]
        await asyncio.sleep(0.05)
        # One more has to come again; what needs no turn is answered meanwhile.
        late = [await ask(answer, "/api/quick"), await ask(answer, "/health/live")]
        await asyncio.gather(*held)
        return list(quick), late

    quick, late = in_a_loop(all_of_it)
    assert set(quick) == {200}
    assert most <= AT_ONCE + 1
    assert late == [503, 200]


def test_a_loop_that_comes_round_is_left_alone_and_one_that_does_not_is_ended(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    ended = threading.Event()
    monkeypatch.setattr("fluctus.site.server.time.sleep", lambda seconds: real_sleep(seconds / 50))
    monkeypatch.setattr("fluctus.site.server.signal.raise_signal", lambda name: ended.set())
    monkeypatch.setattr("fluctus.site.server.faulthandler.dump_traceback", lambda file: None)

    async def lively() -> None:
        loop = asyncio.get_running_loop()
        threading.Thread(target=server.watch_loop, args=(loop, 5), daemon=True).start()
        await asyncio.sleep(0.6)

    in_a_loop(lively)
    assert not ended.is_set()

    async def stuck() -> None:
        loop = asyncio.get_running_loop()
        threading.Thread(target=server.watch_loop, args=(loop, 5), daemon=True).start()
        await asyncio.sleep(0.05)
        ended.wait(5)

    in_a_loop(stuck)
    assert ended.is_set()


real_sleep = time.sleep


@pytest.fixture
def frozen(django_db_blocker: Any, db: None) -> Iterator[psycopg.Connection[Any]]:
    """A connection whose backend is there, and stopped."""
    with connection.cursor() as cursor:
        parameters = connection.get_connection_params()
        assert cursor is not None
    parameters.pop("cursor_factory", None)
    parameters.pop("context", None)
    made = BoundedConnection.connect(**parameters)
    pid = made.info.backend_pid
    os.kill(pid, signal.SIGSTOP)
    yield made
    os.kill(pid, signal.SIGCONT)
    made.close()


@pytest.mark.skipif(os.geteuid() != 0, reason="only root may stop the database's processes")
def test_a_database_that_is_there_and_answers_nothing_is_left_alone(
    frozen: psycopg.Connection[Any],
) -> None:
    began = time.monotonic()
    with pytest.raises(psycopg.OperationalError, match="did not answer"), answers_within(0.5):
        frozen.execute("SELECT 1")
    assert time.monotonic() - began < 3
    assert frozen.closed


@pytest.mark.parametrize(
    "error", [psycopg.OperationalError("gone"), psycopg.InterfaceError("closed")]
)
def test_whoever_watches_is_told_whatever_the_driver_says(
    db: None, monkeypatch: pytest.MonkeyPatch, error: Exception
) -> None:
    def gone(**params: Any) -> None:
        raise error

    with monkeypatch.context() as patched:
        patched.setattr("fluctus.http.middleware.BoundedConnection.connect", gone)
        answer = Client().get("/health")
    assert (answer.status_code, answer.json()) == (
        503,
        {"live": True, "ready": False, "parts": {"database": False, "workers": False}},
    )
