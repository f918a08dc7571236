"""What a trace has: the request, its statements, the jobs it leaves; and nothing of the data."""

import http.server
import os
import subprocess
import sys
import threading
from collections.abc import Iterator
from typing import Any

import pytest
from django.db import connection
from opentelemetry import trace
from opentelemetry.sdk.trace import ReadableSpan
from opentelemetry.sdk.trace.export import SimpleSpanProcessor
from opentelemetry.sdk.trace.export.in_memory_span_exporter import InMemorySpanExporter
from opentelemetry.trace import StatusCode
from opentelemetry.util._once import Once

from fluctus.http.spans import provide
from tests.conftest import Api, join
from tests.jobs import no_jobs, work

SECRET = "tide-table-of-the-harbour-master"


@pytest.fixture
def spans(monkeypatch: pytest.MonkeyPatch) -> Iterator[InMemorySpanExporter]:
    """Return the spans that are made, in a world where none were before."""
    kept = InMemorySpanExporter()
    monkeypatch.setattr(trace, "_TRACER_PROVIDER", None)
    monkeypatch.setattr(trace, "_TRACER_PROVIDER_SET_ONCE", Once())
    provide("tests", SimpleSpanProcessor(kept))
    connection.close()
    # The tracer of the program asks who makes its spans once, and stays with that.
    made = trace.get_tracer("fluctus")
    for name in ("fluctus.http.spans", "fluctus.kpis.chart.analysis.chart"):
        monkeypatch.setattr(f"{name}.tracer", made)
    yield kept
    connection.execute_wrappers.clear()


def named(spans: InMemorySpanExporter, name: str) -> list[ReadableSpan]:
    return [span for span in spans.get_finished_spans() if span.name == name]


def everything(spans: InMemorySpanExporter) -> str:
    return " ".join(span.to_json() for span in spans.get_finished_spans())


@pytest.mark.django_db(transaction=True)
def test_a_request_and_the_job_it_leaves_are_one_trace_without_the_data(
    spans: InMemorySpanExporter, settings: Any
) -> None:
    no_jobs()
    settings.LONG_IMPORT_BYTES = 10
    api = Api(join("isla", "marrowick"), "marrowick")
    begun = api.bring_in(f"Week,{SECRET}\n2026-01-05,3\n2026-01-12,4.8125", {"name": SECRET})
    assert begun.status_code == 202
    work()
    (request,) = named(spans, "bring-in")
    (job,) = named(spans, "bring_in")
    assert request.context.trace_id == job.context.trace_id
    assert dict(request.attributes or {})["http.response.status_code"] == 202
    assert dict(request.attributes or {})["fluctus.request"] == begun.headers["X-Request-Id"]
    of_the_job = {span.name for span in spans.get_finished_spans() if span.parent == job.context}
    assert {"statement", "analysis"} <= of_the_job
    told = everything(spans)
    assert SECRET not in told
    assert "4.8125" not in told
    assert "INSERT INTO" in told


@pytest.mark.django_db(transaction=True)
def test_what_fails_is_marked(spans: InMemorySpanExporter, monkeypatch: pytest.MonkeyPatch) -> None:
    api = Api(join("isla", "marrowick"), "marrowick")
    api.client.raise_request_exception = False
    monkeypatch.setattr("fluctus.kpis.chart.api.kpis_of", lambda *_: 1 / 0)
    assert api.get("/kpis").status_code == 500
    (request,) = named(spans, "kpis")
    assert request.status.status_code is StatusCode.ERROR


def test_they_go_to_the_exporter_that_is_named() -> None:
    came = threading.Event()

    class Collector(http.server.BaseHTTPRequestHandler):
        def do_POST(self) -> None:
            came.set()
            self.send_response(200)
            self.end_headers()

        def log_message(self, *_: Any) -> None:
            pass

    with http.server.HTTPServer(("127.0.0.1", 0), Collector) as server:
        threading.Thread(target=server.serve_forever, daemon=True).start()
        address = f"http://127.0.0.1:{server.server_port}"
        subprocess.run(
            [
                sys.executable,
                "-c",
                "from fluctus.http import spans\n"
                "spans.export_spans('web')\n"
                "with spans.answering('GET', 'n1') as told: told('chart', 200)\n",
            ],
            env=os.environ | {"OTEL_EXPORTER_OTLP_ENDPOINT": address},
            check=True,
            timeout=60,
        )
        server.shutdown()
    assert came.is_set()


def test_without_an_exporter_nothing_of_it_is_read() -> None:
    told = subprocess.run(
        [
            sys.executable,
            "-c",
            "import sys; from fluctus.http import spans; spans.export_spans('web')\n"
            "print([name for name in sys.modules if name.startswith('opentelemetry.sdk')])",
        ],
        env={key: value for key, value in os.environ.items() if not key.startswith("OTEL_")},
        check=True,
        capture_output=True,
        text=True,
        timeout=60,
    )
    assert told.stdout.strip() == "[]"
