"""An answer told again under another name: nothing of it is made anew that rests on values."""

from dataclasses import asdict
from typing import Any

import orjson

from fluctus.http.rendering import as_json
from fluctus.kpis.chart import kpi_shapes, shapes
from fluctus.kpis.state import ChartState

TOLD = ("name", "group", "value_labels", "dots", "faint")
"""Settings that an answer has as they are."""
DRAWN = ("lines", "bands")
"""Settings that are drawn of values."""


def retold(
    content: bytes,
    before: ChartState,
    after: ChartState,
    revision: int,
    history: kpi_shapes.History,
) -> bytes | None:
    """Return the answer of a chart after its looks have changed; None where values are needed."""
    if any(getattr(before, name) != getattr(after, name) for name in DRAWN):
        return None
    answer: dict[str, Any] = orjson.loads(content)
    answer["kpi"] |= {name: getattr(after, name) for name in TOLD} | {"revision": revision}
    answer["views"] = [shapes.View(**asdict(view)) for view in after.views]
    answer["history"] = history
    # Sentences on a chart begin with its name.
    told, compared = answer["sentence"], answer["comparison"]
    told["headline"] = _renamed(told["headline"], before.name, after.name)
    if compared is not None:
        compared["sentence"] = _renamed(compared["sentence"], before.name, after.name)
    return as_json(answer)


def _renamed(sentence: str, before: str, after: str) -> str:
    return after + sentence.removeprefix(before) if sentence.startswith(before) else sentence
