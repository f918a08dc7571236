"""The body of a request, and what of JSON it may hold: here, once, for every address."""

from collections.abc import Mapping
from typing import IO, Any

import orjson
from rest_framework.exceptions import ParseError, ValidationError
from rest_framework.parsers import BaseParser

DEEPEST = 24
"""So many lists and objects, one in the other, are more than any request has."""
LARGEST_INTEGER = 2**53
"""Beyond it doubles, and with them every browser, leave integers out."""


class BoundedJsonParser(BaseParser):
    """Reads JSON, and refuses what the program, the database or an answer cannot carry."""

    media_type = "application/json"

    def parse(
        self,
        stream: IO[bytes],
        media_type: str | None = None,
        parser_context: Mapping[str, Any] | None = None,
    ) -> Any:
        """Return what the body says; raises ValidationError naming the field that cannot be."""
        body = stream.read()
        try:
            data = orjson.loads(body)
        except orjson.JSONDecodeError as error:
            raise ParseError(f"The body is no JSON that can be read: {error}.") from error
        _refuse_what_cannot_be(data)
        return data


def _refuse_what_cannot_be(data: Any) -> None:
    """Look at everything in ``data``; not by recursion, which nesting would exhaust."""
    waiting: list[tuple[Any, tuple[str, ...]]] = [(data, ())]
    while waiting:
        value, path = waiting.pop()
        if isinstance(value, dict | list):
            if len(path) >= DEEPEST:
                raise _refusal(path, "This is nested too deep.")
            inside = value.items() if isinstance(value, dict) else enumerate(value)
            for name, inner in inside:
                if isinstance(name, str) and "\0" in name:
                    raise _refusal(path, "A name with a NUL character cannot be kept.")
                waiting.append((inner, (*path, str(name))))
        elif isinstance(value, str):
            if "\0" in value:
                raise _refusal(path, "A text with a NUL character cannot be kept.")
        elif isinstance(value, int) and abs(value) > LARGEST_INTEGER:
            raise _refusal(path, f"At most {LARGEST_INTEGER:,} can be kept of a whole number.")


def _refusal(path: tuple[str, ...], text: str) -> ValidationError:
    detail: Any = [text]
    for name in reversed(path):
        detail = {name: detail}
    return ValidationError(detail)
