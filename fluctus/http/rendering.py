"""JSON by orjson: it writes dataclasses, enums and NumPy arrays as they are, and NaN as null.

What the database keeps as JSON comes back through ``NumberDecoder``: it stores a number
of 2e19 as a whole one, which is more than an answer can carry as such.
"""

import json
from collections.abc import Mapping
from typing import Any

import orjson
from rest_framework.renderers import BaseRenderer


class NumberDecoder(json.JSONDecoder):
    """Reads whole numbers of more than 63 bits as the doubles that they were."""

    def __init__(self, **options: Any) -> None:
        """Read everything else as it is read without this."""
        super().__init__(**options, parse_int=_whole_number)


def _whole_number(text: str) -> int | float:
    number = int(text) if len(text) < 25 else float(text)
    return number if abs(number) < 2**63 else float(number)


def as_json(data: Any) -> bytes:
    """Write what the API returns as JSON."""
    return orjson.dumps(data, option=orjson.OPT_SERIALIZE_NUMPY)


def written(content: bytes) -> Any:
    """Return what ``as_json`` has made, to go into an answer in the place of what it is of."""
    return orjson.Fragment(content)


class OrjsonRenderer(BaseRenderer):
    """Renders what the API returns."""

    media_type = "application/json"
    format = "json"
    charset = None

    def render(
        self,
        data: Any,
        accepted_media_type: str | None = None,
        renderer_context: Mapping[str, Any] | None = None,
    ) -> bytes:
        """Write ``data`` as JSON; nothing for an answer without content."""
        return b"" if data is None else as_json(data)
