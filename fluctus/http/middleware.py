"""What holds for every answer: whose address it is asked at, whether it may be kept, and health."""

from collections.abc import Callable
from typing import TypeAlias

import psycopg
from django.db import connection
from django.http import HttpRequest, HttpResponse, JsonResponse

from fluctus.http.database import BoundedConnection, answers_within

GetResponse: TypeAlias = Callable[[HttpRequest], HttpResponse]


PERMISSIONS = "camera=(), microphone=(), geolocation=(), payment=(), usb=()"
"""What no page of ours ever asks a browser for."""


def hosts_and_caches(get_response: GetResponse) -> GetResponse:
    """Refuse requests for other hosts, and let no cache keep an answer of the API."""

    def middleware(request: HttpRequest) -> HttpResponse:
        # Raises DisallowedHost. Files and the start page would not ask for it.
        request.get_host()
        response = get_response(request)
        response["Permissions-Policy"] = PERMISSIONS
        if request.path.startswith("/api/"):
            response["Cache-Control"] = "no-store"
        return response

    return middleware


def health(get_response: GetResponse) -> GetResponse:
    """Answer ``/health/live`` whenever the server runs, and ``/health`` by whether it can serve.

    Before anything else, so that whoever watches need not know the host or speak TLS.
    """

    def middleware(request: HttpRequest) -> HttpResponse:
        if request.path == "/health/live":
            return JsonResponse({"live": True})
        if request.path == "/health":
            parts = _parts()
            ready = parts["database"]
            return JsonResponse(
                {"live": True, "ready": ready, "parts": parts}, status=200 if ready else 503
            )
        return get_response(request)

    return middleware


HEALTH_WITHIN = 3.0
"""Seconds that the database has to answer whoever watches; with the rest, they hear in four."""
SEEN_WITHIN = 30
"""Seconds in which a worker that lives has given a sign of it."""


def _parts() -> dict[str, bool]:
    """Tell which parts do what they are for: requests can be answered without the workers.

    Asked over a connection of its own: for one of the pool it might wait twice as long.
    """
    try:
        with (
            answers_within(HEALTH_WITHIN),
            BoundedConnection.connect(**connection.get_connection_params()) as asked,
        ):
            workers = asked.execute(
                "SELECT EXISTS (SELECT FROM procrastinate_workers "
                "WHERE last_heartbeat > now() - make_interval(secs => %s))",
                [SEEN_WITHIN],
            ).fetchone()
    except psycopg.Error:
        return {"database": False, "workers": False}
    return {"database": True, "workers": bool(workers and workers[0])}
