"""How the log is written: without the secrets and names that stand in addresses."""

import logging
import re
from typing import Any

import structlog

IN_ADDRESS = re.compile(
    r"(/(?:shared|l|join|reset|followed|unsubscribe|workspaces|kpis|pages)/)[^/\s?#\"']+"
)
IN_DETAIL = re.compile(r"(DETAIL:  ?).*?(?=\\n|\n|$)")
"""Where PostgreSQL quotes the row that it refuses."""
IN_QUERY = re.compile(r"([?&](?:key|token|secret|password)=)[^&\s\"']+")


def without_secrets(text: str) -> str:
    """Return a text with dots where an address or a refused row has a secret or a name."""
    for pattern in (IN_ADDRESS, IN_QUERY, IN_DETAIL):
        text = pattern.sub(r"\1…", text)
    return text


class WithoutSecrets(structlog.stdlib.ProcessorFormatter):
    """Writes what is logged, tracebacks as well, without secrets."""

    def format(self, record: logging.LogRecord) -> str:
        """Write a record."""
        return without_secrets(super().format(record))


TOLD = ("operation", "method", "status", "milliseconds")
"""What is told of a request, none of which has names or values in it."""


def formatter(kind: str) -> WithoutSecrets:
    """Return what writes the log: as ``json``, a line each, or for ``people``."""
    renderer = (
        structlog.processors.JSONRenderer()
        if kind == "json"
        else structlog.dev.ConsoleRenderer(
            # Without what stood in variables.
            colors=False,
            exception_formatter=structlog.dev.plain_traceback,
        )
    )
    shared: list[Any] = [
        structlog.contextvars.merge_contextvars,
        structlog.stdlib.add_log_level,
        structlog.stdlib.add_logger_name,
        structlog.stdlib.ExtraAdder(allow=TOLD),
        structlog.processors.TimeStamper(fmt="iso"),
    ]
    if kind == "json":
        shared.append(structlog.processors.format_exc_info)
    last = structlog.stdlib.ProcessorFormatter.remove_processors_meta
    return WithoutSecrets(foreign_pre_chain=shared, processors=[last, renderer])
