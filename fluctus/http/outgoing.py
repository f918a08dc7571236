"""Requests that the server itself sends, to addresses that others have written down."""

import ssl
import time
from collections.abc import Iterator
from typing import Final

import httpx

from fluctus.http.guard import checked_addresses
from fluctus.http.refusals import Issue, RefusalError

MOST_REDIRECTS: Final = 5
CONNECT_SECONDS: Final = 10.0
READ_SECONDS: Final = 30.0
AGENT: Final = "Fluctus"
REDIRECTS: Final = frozenset({301, 302, 303, 307, 308})
OURS: Final = frozenset({"user-agent", "accept", "accept-encoding", "connection", "host"})
"""Headers that go along to another host; all others may say who asks."""


class GuardedTransport(httpx.BaseTransport):
    """Connects to addresses that were checked, with the certificate of the name asked for."""

    def __init__(self) -> None:
        # Nothing is kept open: a connection is of one name, and addresses are shared by names.
        self._inner = httpx.HTTPTransport(
            verify=ssl.create_default_context(),
            trust_env=False,
            limits=httpx.Limits(max_keepalive_connections=0),
        )

    def handle_request(self, request: httpx.Request) -> httpx.Response:
        """Send a request; raises RefusalError for an address that must not be reached."""
        url = request.url
        port = url.port or {"http": 80, "https": 443}[url.scheme]
        failed: httpx.TransportError | None = None
        for address in checked_addresses(url.host, port):
            request.url = url.copy_with(host=address)
            request.extensions = {**request.extensions, "sni_hostname": url.host}
            try:
                return self._inner.handle_request(request)
            except httpx.ConnectError as error:
                failed = error
            finally:
                request.url = url
        assert failed is not None, "a host has an address, or is refused"
        raise failed

    def close(self) -> None:
        """Close what is open."""
        self._inner.close()


def client() -> httpx.Client:
    """Return what sends requests, and follows no redirect by itself."""
    return httpx.Client(
        transport=GuardedTransport(),
        timeout=httpx.Timeout(READ_SECONDS, connect=CONNECT_SECONDS),
        headers={"User-Agent": AGENT},
        trust_env=False,
    )


def checked_url(address: str) -> httpx.URL:
    """Read an address; raises RefusalError for what is none that can be fetched."""
    try:
        url = httpx.URL(address.strip())
    except (httpx.InvalidURL, UnicodeError) as error:
        raise no_address(address) from error
    if url.scheme not in ("http", "https") or not url.host:
        raise no_address(address)
    if url.userinfo:
        raise RefusalError(
            "A password does not belong into an address.",
            Issue("It would be shown and logged with it.", "Write it below Sign-in.", "address"),
        )
    return url


def no_address(address: str) -> RefusalError:
    """Return why a text is no address."""
    return RefusalError(
        "This is no address of a table.",
        Issue(
            f"“{address.strip()[:200]}” is none.",
            "Write one that begins with https:// or http://.",
            "address",
        ),
    )


def followed(sender: httpx.Client, request: httpx.Request) -> httpx.Response:
    """Send a request and follow its redirects, each to an address that is checked again.

    What tells who asks goes to no other host, and from https nothing goes on to http. Raises
    RefusalError where that cannot be, and httpx.TransportError.
    """
    for _ in range(MOST_REDIRECTS + 1):
        answer = sender.send(request, stream=True)
        if answer.status_code not in REDIRECTS or "location" not in answer.headers:
            return answer
        answer.close()
        before = request.url
        url = checked_url(str(before.join(answer.headers["location"])))
        if before.scheme == "https" and url.scheme == "http":
            raise RefusalError(
                "This address leads on to one that is not safe.",
                Issue(
                    f"It leads from https to http://{url.host}.",
                    "Give the address that it should lead to.",
                    "address",
                ),
            )
        kept = request.headers
        if (url.scheme, url.host, url.port) != (before.scheme, before.host, before.port):
            kept = httpx.Headers([(n, v) for n, v in kept.multi_items() if n.lower() in OURS])
        kept = httpx.Headers([(n, v) for n, v in kept.multi_items() if n.lower() != "host"])
        request = sender.build_request("GET", url, headers=kept)
    raise RefusalError(
        "This address leads in a circle.",
        Issue(
            f"It has led on {MOST_REDIRECTS} times.",
            "Give the address where the table is.",
            "address",
        ),
    )


def blocks_of(answer: httpx.Response, until: float) -> Iterator[bytes]:
    """Yield what an answer holds, uncompressed; raises RefusalError after ``until``.

    ``until`` is by ``time.monotonic``: a sender that dribbles never runs into a time limit of
    its own.
    """
    for block in answer.iter_bytes(65_536):
        if time.monotonic() > until:
            raise RefusalError(
                "The table did not come in time.",
                Issue("It was still being sent after ten minutes.", "Ask for fewer rows."),
            )
        yield block
