"""What is counted for whoever watches, as Prometheus reads it.

Names are those of operations, never of people or KPIs: so many series there are, however much is
kept. Several processes of a host are added up (``PROMETHEUS_MULTIPROC_DIR``).
"""

import os
from http.server import HTTPServer
from threading import Thread
from typing import Final

from prometheus_client import (
    REGISTRY,
    CollectorRegistry,
    Counter,
    Gauge,
    Histogram,
    start_http_server,
)
from prometheus_client.multiprocess import MultiProcessCollector
from prometheus_client.registry import Collector

REQUESTS: Final = Counter(
    "fluctus_requests", "Requests that were answered.", ["operation", "method", "status"]
)
REQUEST_SECONDS: Final = Histogram(
    "fluctus_request_seconds",
    "How long answers took.",
    ["operation"],
    buckets=(0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1.0, 2.5, 5.0, 10.0, 30.0),
)
UNDER_WAY: Final = Gauge(
    "fluctus_requests_under_way", "Requests being answered.", multiprocess_mode="livesum"
)
ANALYSIS_SECONDS: Final = Histogram(
    "fluctus_analysis_seconds", "How long charts took to be analysed."
)
LOCK_WAITS: Final = Counter(
    "fluctus_lock_waits", "Writes that gave up waiting for what others held."
)
POOL_WAITING: Final = Gauge(
    "fluctus_database_waiting",
    "Requests that wait for a connection to the database.",
    multiprocess_mode="livesum",
)


def serve_metrics(address: str, *more: Collector) -> tuple[HTTPServer, Thread]:
    """Serve what is counted at ``host:port``, with what else is collected when it is asked for."""
    host, _, port = address.rpartition(":")
    registry = REGISTRY
    if "PROMETHEUS_MULTIPROC_DIR" in os.environ:
        registry = CollectorRegistry()
        MultiProcessCollector(registry)  # type: ignore[no-untyped-call]
    for collector in more:
        registry.register(collector)
    server, thread = start_http_server(int(port), host or "127.0.0.1", registry)
    return server, thread
