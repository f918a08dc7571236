"""How soon after its end the value of a period comes, as far as that is known."""

from datetime import datetime, timedelta
from typing import Final
from zoneinfo import ZoneInfo

from fluctus.kpis.calendar import Calendar, Grain
from fluctus.kpis.models import DataChange, Kpi

LOOKED_AT: Final = 8
"""Newest arrivals that tell how soon values come."""
MOST_BEHIND: Final = 3
"""Periods after which what comes is history being brought in, and no arrival."""


def period_end(kpi: Kpi, start: datetime) -> datetime:
    """Return when a period of a KPI that begins at ``start`` is over."""
    zone = ZoneInfo(kpi.time_zone)
    calendar = Calendar(zone, start.astimezone(zone).weekday(), kpi.first_month)
    return calendar.following(start, Grain(kpi.grain), 1)


def lags_of(kpi: Kpi) -> list[timedelta]:
    """Return how long after the end of its period each of the newest arrivals came, newest first.

    One that came before its period was over counts as at its end.
    """
    acts = (
        DataChange.objects.filter(kpi=kpi, newest__isnull=False, undone_by=None)
        .order_by("-pk")
        .values_list("newest", "at")
    )
    lags = []
    for newest, at in acts[: LOOKED_AT * 4]:
        if newest is None:
            continue
        end = period_end(kpi, newest)
        if at - end < (end - newest) * MOST_BEHIND:
            lags.append(max(at - end, timedelta()))
    return lags[:LOOKED_AT]
