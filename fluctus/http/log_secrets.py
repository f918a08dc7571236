"""The log without the secrets that stand in addresses."""

import logging
import re

IN_ADDRESS = re.compile(r"(/(?:shared|l|join|reset|followed|unsubscribe)/)[^/\s?#\"']+")
IN_QUERY = re.compile(r"([?&](?:key|token|secret|password)=)[^&\s\"']+")


def without_secrets(text: str) -> str:
    """Return a text with dots where an address has a secret."""
    return IN_QUERY.sub(r"\1…", IN_ADDRESS.sub(r"\1…", text))


class WithoutSecrets(logging.Formatter):
    """Writes what is logged, tracebacks as well, without secrets."""

    def format(self, record: logging.LogRecord) -> str:
        """Write a record."""
        return without_secrets(super().format(record))
