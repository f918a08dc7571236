"""Each request counted, timed and logged under a number of its own."""

import logging
import time
from collections.abc import Callable
from typing import TypeAlias

from django.conf import settings
from django.db import connection
from django.http import HttpRequest, HttpResponse
from structlog.contextvars import bound_contextvars

from fluctus.http import metrics
from fluctus.http.spans import answering
from fluctus.http.tracing import HEADER, number_for

GetResponse: TypeAlias = Callable[[HttpRequest], HttpResponse]

log = logging.getLogger("fluctus.requests")
NO_OPERATION = "page"


def numbered(get_response: GetResponse) -> GetResponse:
    """Give each request a number, and tell how it was answered.

    What is told has the name of the operation and no address, in which names stand.
    """

    def middleware(request: HttpRequest) -> HttpResponse:
        given = request.headers.get(HEADER, "") if settings.TRUSTED_PROXIES else ""
        number = number_for(given)
        began = time.perf_counter()
        metrics.UNDER_WAY.inc()
        with bound_contextvars(request=number), answering(request.method or "", number) as told:
            try:
                response = get_response(request)
            finally:
                metrics.UNDER_WAY.dec()
            response[HEADER] = number
            seconds = time.perf_counter() - began
            operation = _operation(request)
            told(operation, response.status_code)
            metrics.REQUESTS.labels(operation, request.method, response.status_code).inc()
            metrics.REQUEST_SECONDS.labels(operation).observe(seconds)
            metrics.POOL_WAITING.set(_waiting())
            log.info(
                "answered",
                extra={
                    "operation": operation,
                    "method": request.method,
                    "status": response.status_code,
                    "milliseconds": round(seconds * 1000, 1),
                },
            )
        return response

    return middleware


def _operation(request: HttpRequest) -> str:
    match = request.resolver_match
    return (match.url_name if match is not None else None) or NO_OPERATION


def _waiting() -> int:
    pool = getattr(connection, "pool", None)
    return 0 if pool is None else int(pool.get_stats().get("requests_waiting", 0))
