"""Spans: what a request or a job spends its time on, told to OpenTelemetry where one is named.

Without OTEL_EXPORTER_OTLP_ENDPOINT spans are made by nobody and cost next to nothing. They have
operations, statuses and statements without their parameters: no name, value, secret or address.
"""

import os
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any, Final

from django.db.backends.signals import connection_created
from opentelemetry import propagate, trace
from opentelemetry.trace import SpanKind, Status, StatusCode

EXPORTER: Final = "OTEL_EXPORTER_OTLP_ENDPOINT"
LONGEST: Final = 600
"""Characters of a statement that are told."""
CARRIED: Final = "traceparent"

tracer = trace.get_tracer("fluctus")


def export_spans(part: str) -> None:
    """Send the spans of this process to the exporter that is named, if one is.

    Called in the process that is to be traced: what sends them is a thread. ``part`` is what the
    process is for, ``web`` or ``worker``.
    """
    if not os.environ.get(EXPORTER):
        return
    # Only where they go somewhere: they take a third of a second to read.
    from opentelemetry.exporter.otlp.proto.http.trace_exporter import (  # noqa: PLC0415
        OTLPSpanExporter,
    )
    from opentelemetry.sdk.trace.export import BatchSpanProcessor  # noqa: PLC0415

    provide(part, BatchSpanProcessor(OTLPSpanExporter()))


def provide(part: str, processor: Any) -> None:
    """Make spans from now on, and hand them to a processor of the SDK."""
    from opentelemetry.sdk.resources import Resource  # noqa: PLC0415
    from opentelemetry.sdk.trace import TracerProvider  # noqa: PLC0415

    named = Resource.create({"service.name": "fluctus", "service.instance.id": part})
    provider = TracerProvider(resource=named)
    provider.add_span_processor(processor)
    trace.set_tracer_provider(provider)
    connection_created.connect(_watch, dispatch_uid="spans")


def _watch(connection: Any, **_: Any) -> None:
    if _statement not in connection.execute_wrappers:
        connection.execute_wrappers.append(_statement)


def _statement(
    execute: Callable[..., Any], sql: Any, params: Any, many: bool, context: dict[str, Any]
) -> Any:
    """Let a statement be a span, told without its parameters."""
    text = sql if isinstance(sql, str) else type(sql).__name__
    with tracer.start_as_current_span("statement", kind=SpanKind.CLIENT) as span:
        span.set_attribute("db.system.name", "postgresql")
        span.set_attribute("db.query.text", text[:LONGEST])
        return execute(sql, params, many, context)


@contextmanager
def answering(method: str, number: str) -> Iterator[Callable[[str, int], None]]:
    """Let an answer be a span; gives what tells its operation and status once they are known."""
    with tracer.start_as_current_span("request", kind=SpanKind.SERVER) as span:
        span.set_attribute("http.request.method", method)
        span.set_attribute("fluctus.request", number)

        def told(operation: str, status: int) -> None:
            span.update_name(operation)
            span.set_attribute("http.response.status_code", status)
            if status >= 500:
                span.set_status(Status(StatusCode.ERROR))

        yield told


def parent() -> str:
    """Return what a job is to know of the span that leaves it; "" where there is none."""
    carrier: dict[str, str] = {}
    propagate.inject(carrier)
    return carrier.get(CARRIED, "")


@contextmanager
def working(job: str, left_by: str) -> Iterator[None]:
    """Let a job be a span, of the trace of the request that left it."""
    context = propagate.extract({CARRIED: left_by}) if left_by else None
    with tracer.start_as_current_span(job, context=context, kind=SpanKind.CONSUMER):
        yield
