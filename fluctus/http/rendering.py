"""JSON by orjson: it writes dataclasses, enums and NumPy arrays as they are, and NaN as null."""

from collections.abc import Mapping
from typing import Any

import orjson
from rest_framework.renderers import BaseRenderer


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
        return b"" if data is None else orjson.dumps(data, option=orjson.OPT_SERIALIZE_NUMPY)
