"""Who wants to know of writes to charts, in the same transaction.

Apps above this one keep things that rest on charts, such as findings; they
add themselves here when the application starts, so that this one need not
know them.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from datetime import datetime

    from fluctus.kpis.calendar import Calendar
    from fluctus.kpis.chart.analysis.chart import Chart
    from fluctus.kpis.models import Kpi


@dataclass(frozen=True, slots=True)
class Charted:
    """A locked KPI with its chart as it is now, and the act that made it so, in words."""

    kpi: "Kpi"
    chart: "Chart"
    why: str
    at: "datetime"
    """When it could first be known: of a write now, of a period its end."""


Follower = Callable[[Sequence[Charted]], None]
"""Called with the charts that are new: one of a write, many as periods end."""

followers: list[Follower] = []

Drawer = Callable[["Kpi", "Chart", "datetime"], None]
"""Called with a KPI and its chart once the write that made it is certain."""

drawers: list[Drawer] = []

Mover = Callable[["Kpi", "Calendar", "Calendar"], None]
"""Called with a KPI whose periods begin by the second calendar, no longer by the first."""

movers: list[Mover] = []

Releaser = Callable[["Kpi"], None]
"""Called with a KPI of whose values some were typed, and may be replaced from now on."""

releasers: list[Releaser] = []

Feeder = Callable[["Kpi"], bool]
"""Called with a KPI; tells whether something brings values of it by itself."""

feeders: list[Feeder] = []

Writing = Callable[["Kpi"], list[str]]
"""Called with a KPI; returns what people have written of it elsewhere, each in words."""

writings: list[Writing] = []
"""Asked before a KPI goes with what is written of it."""
