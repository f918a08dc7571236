"""Who wants to know of findings that are new or gone, in the same transaction."""

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from fluctus.findings.models import Finding
    from fluctus.kpis.models import Kpi

Listener = Callable[["Kpi", Sequence["Finding"], Sequence["Finding"]], None]
"""Called with a KPI, the findings that are new on it, and those that are no longer there."""

listeners: list[Listener] = []
