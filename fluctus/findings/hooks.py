"""Who wants to know of findings that are new or gone, in the same transaction."""

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from fluctus.findings.models import Finding
    from fluctus.kpis.hooks import Charted

Listener = Callable[["Charted", Sequence["Finding"], Sequence["Finding"]], None]
"""Called with a chart, the findings that are new on it, and those that are no longer there."""

listeners: list[Listener] = []
