"""What a request may send before anything of it is believed: so much, so fast, and who may more.

Around the application, since Django reads the whole of a body before it knows who sends it.
"""

import asyncio
from collections.abc import Awaitable, Callable, MutableMapping
from http.cookies import CookieError, SimpleCookie
from typing import Any, TypeAlias

from django.conf import settings
from django.contrib.auth import SESSION_KEY
from django.db import DatabaseError, InterfaceError

from fluctus.http.database import READS_WITHIN, answers_within, on_a_thread
from fluctus.site.turns import Turns, whose

Message: TypeAlias = MutableMapping[str, Any]
Receive: TypeAlias = Callable[[], Awaitable[Message]]
Send: TypeAlias = Callable[[Message], Awaitable[None]]
Application: TypeAlias = Callable[[Any, Any, Any], Awaitable[None]]

SMALL = 64 * 1024
"""Bytes of a body that are taken from anybody: enough to sign in."""
ROOM_FOR_FORM = 1024 * 1024
BETWEEN_PARTS = 20.0
"""Seconds after which a request that sends nothing more is given up."""
LONGEST = 300.0
"""Seconds in which a body has to be there."""


TURN_WITHIN = 30.0
"""Seconds after which one that still waits is told to come again."""
BUSY = "Fluctus is busy with the requests of others. Try again in a moment."
AWAY = "Fluctus cannot reach its data just now. Try again."


class _RefusedError(Exception):
    def __init__(self, status: int, title: str) -> None:
        super().__init__(title)
        self.status, self.title = status, title


def limited(application: Application) -> Application:
    """Return an application whose requests are bounded in size and time."""

    # Bound to the loop that first waits for it: a process has one.
    turns = Turns()

    async def answer(scope: Message, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await application(scope, receive, send)
            return
        try:
            body = _Body(scope, receive)
            await body.begin()
        except _RefusedError as refused:
            await _refuse(send, refused)
            return
        began = False

        async def sending(message: Message) -> None:
            nonlocal began
            began = True
            await send(message)

        path = str(scope["path"])
        turn = _Turn(turns, whose(path)) if path.startswith("/api/") else None

        async def receiving() -> Message:
            message = await body.receive()
            if turn is not None and body.complete:
                # By then only: whoever sends a body slowly takes nobody's turn.
                await turn.wait_for()
            return message

        try:
            await application(scope, receiving, sending)
        except _RefusedError as refused:
            if not began:
                await _refuse(send, refused)
        finally:
            if turn is not None:
                turn.give_back()

    return answer


class _Turn:
    """A request's turn to be worked on, of as many as there are at once."""

    def __init__(self, turns: Turns, key: str) -> None:
        self._turns, self._key, self._has_it = turns, key, False

    async def wait_for(self) -> None:
        """Wait for it, once; raises _RefusedError where it does not come in time."""
        if self._has_it:
            return
        try:
            await asyncio.wait_for(self._turns.take(self._key), TURN_WITHIN)
        except TimeoutError:
            raise _RefusedError(503, BUSY) from None
        self._has_it = True

    def give_back(self) -> None:
        """Let the next one have it."""
        if self._has_it:
            self._turns.give_back(self._key)
            self._has_it = False


class _Body:
    """The body of a request, of which no more is taken than whoever sends it may send."""

    def __init__(self, scope: Message, receive: Receive) -> None:
        self._scope, self._receive = scope, receive
        self._most = SMALL
        self._taken = 0
        self.complete = False
        """Whether all of it has been handed on."""
        self._until = asyncio.get_running_loop().time() + LONGEST

    async def begin(self) -> None:
        """Refuse what says of itself that it is too large."""
        announced = _header(self._scope, b"content-length")
        if announced.isdigit() and len(announced) < 20:
            await self._allow(int(announced))

    async def receive(self) -> Message:
        """Return the next part; raises _RefusedError past the limits of size and time."""
        if self.complete:
            return await self._receive()
        left = self._until - asyncio.get_running_loop().time()
        try:
            message = await asyncio.wait_for(self._receive(), max(0.0, min(BETWEEN_PARTS, left)))
        except TimeoutError:
            raise _RefusedError(408, "The request did not come to an end in time.") from None
        if message["type"] == "http.request":
            self._taken += len(message.get("body", b""))
            self.complete = not message.get("more_body", False)
            await self._allow(self._taken)
        return message

    async def _allow(self, size: int) -> None:
        if size <= self._most:
            return
        if self._most == SMALL and await _is_somebody(self._scope):
            self._most = settings.MAX_UPLOAD_BYTES + ROOM_FOR_FORM
        if size > self._most:
            raise _RefusedError(413, "This is too much at once. Sign in, or send less.")


async def _is_somebody(scope: Message) -> bool:
    scheme, _, secret = _header(scope, b"authorization").decode("latin-1").partition(" ")
    try:
        if scheme.lower() == "bearer":
            return await _asked(_is_token, secret.strip())
        return await _is_signed_in(scope)
    except (DatabaseError, InterfaceError):
        raise _RefusedError(503, AWAY) from None


async def _asked(question: Callable[[str], bool], about: str) -> bool:
    def ask() -> bool:
        with answers_within(READS_WITHIN):
            return question(about)

    return await on_a_thread(ask)


def _is_token(secret: str) -> bool:
    from fluctus.accounts.tokens.services import token_of  # noqa: PLC0415 - after set-up
    from fluctus.http import clock  # noqa: PLC0415

    return token_of(secret, clock.now()) is not None


async def _is_signed_in(scope: Message) -> bool:
    try:
        cookies = SimpleCookie(_header(scope, b"cookie").decode("latin-1"))
    except CookieError:
        return False
    cookie = cookies.get(settings.SESSION_COOKIE_NAME)
    if cookie is None:
        return False
    return await _asked(_session_of_somebody, cookie.value)


def _session_of_somebody(key: str) -> bool:
    from django.contrib.sessions.backends.db import SessionStore  # noqa: PLC0415 - after set-up

    return SESSION_KEY in SessionStore(key).load()


def _header(scope: Message, name: bytes) -> bytes:
    return next((value for key, value in scope["headers"] if key == name), b"")


async def _refuse(send: Send, refused: _RefusedError) -> None:
    from fluctus.http.problems import PROBLEM_TYPE, problem  # noqa: PLC0415 - after set-up

    document = problem(refused.status, refused.title)
    headers = [
        (b"content-type", PROBLEM_TYPE.encode()),
        (b"cache-control", b"no-store"),
        (b"connection", b"close"),
    ]
    await send({"type": "http.response.start", "status": refused.status, "headers": headers})
    await send({"type": "http.response.body", "body": document.content})
