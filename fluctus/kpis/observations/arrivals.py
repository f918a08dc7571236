"""How soon after its end the value of a period comes, as far as that is known."""

from collections.abc import Sequence
from datetime import datetime, timedelta
from typing import Final
from zoneinfo import ZoneInfo

from django.db import connection

from fluctus.kpis.calendar import Calendar, Grain
from fluctus.kpis.models import DataChange, Kpi

NEWEST_ACTS: Final = f"""
SELECT asked.id, act.newest, act.at
FROM unnest(%(kpis)s::bigint[]) AS asked (id)
CROSS JOIN LATERAL (
    SELECT id, newest, at FROM {DataChange._meta.db_table}
    WHERE kpi_id = asked.id AND newest IS NOT NULL AND undone_by_id IS NULL
    ORDER BY id DESC LIMIT %(most)s
) AS act
ORDER BY asked.id, act.id DESC
"""  # noqa: S608 - a name of ours

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
    return lags_of_each([kpi])[kpi.pk]


def lags_of_each(kpis: Sequence[Kpi]) -> dict[int, list[timedelta]]:
    """Return the lags of each of some KPIs, read in one query."""
    acts: dict[int, list[tuple[datetime, datetime]]] = {kpi.pk: [] for kpi in kpis}
    with connection.cursor() as cursor:
        # A look into an index for each, whatever its history: no query of the ORM does that.
        cursor.execute(NEWEST_ACTS, {"kpis": list(acts), "most": LOOKED_AT * 4})
        for pk, newest, at in cursor.fetchall():
            acts[pk].append((newest, at))
    return {kpi.pk: _lags(kpi, acts[kpi.pk]) for kpi in kpis}


def _lags(kpi: Kpi, acts: Sequence[tuple[datetime, datetime]]) -> list[timedelta]:
    lags = []
    for newest, at in acts:
        end = period_end(kpi, newest)
        if at - end < (end - newest) * MOST_BEHIND:
            lags.append(max(at - end, timedelta()))
    return lags[:LOOKED_AT]
