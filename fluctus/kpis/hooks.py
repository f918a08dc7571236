"""Who wants to know of writes to charts, in the same transaction.

Apps above this one keep things that rest on charts, such as findings; they
add themselves here when the application starts, so that this one need not
know them.
"""

from collections.abc import Callable
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from fluctus.kpis.calendar import Calendar
    from fluctus.kpis.chart.analysis.chart import Chart
    from fluctus.kpis.models import Kpi

Follower = Callable[["Kpi", "Chart", str], None]
"""Called with the KPI, its chart as it is now, and the act that made it so, in words."""

followers: list[Follower] = []

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
