"""Which values are due: periods that are over, of KPIs that no feed and no other KPI brings."""

from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import Final
from zoneinfo import ZoneInfo

from django.db import connection
from django.db.models import Case as SqlCase
from django.db.models import (
    DateTimeField,
    DurationField,
    Exists,
    ExpressionWrapper,
    F,
    OuterRef,
    Q,
    Value,
)
from django.db.models import When as SqlWhen

from fluctus.accounts.models import Workspace
from fluctus.core import MadeFrom
from fluctus.feeds.models import FeedKpi, FeedState
from fluctus.kpis.calendar import Calendar, Grain
from fluctus.kpis.models import Kpi, Observation
from fluctus.kpis.observations.arrivals import period_end

SHORTEST: Final = {Grain.DAY: 1, Grain.WEEK: 7, Grain.MONTH: 28, Grain.QUARTER: 90, Grain.YEAR: 365}
"""Days of the shortest period of each grain that is typed; hours come from tables."""
MOST_BEHIND: Final = 6
"""Periods that one KPI is asked for; one that is further behind rests, and has one more."""
LOOKED_BACK: Final = 40
"""Newest values that tell on which weekdays there are any, and of which parts."""

NEWEST: Final = f"""
SELECT asked.id, value.period, value.breakdown, value.value
FROM unnest(%(kpis)s::bigint[]) AS asked (id)
CROSS JOIN LATERAL (
    SELECT period, breakdown, value FROM {Observation._meta.db_table}
    WHERE kpi_id = asked.id ORDER BY period DESC, breakdown DESC LIMIT %(most)s
) AS value
ORDER BY asked.id, value.period DESC, value.breakdown
"""  # noqa: S608 - a name of ours


@dataclass(slots=True)
class DueKpi:
    """A KPI with periods that are over and have no value, oldest first, and what it has."""

    kpi: Kpi
    newest: datetime
    periods: list[datetime] = field(default_factory=list)
    latest: dict[str, float] = field(default_factory=dict)
    """The values of the newest period by part; of the whole by ""."""
    weekdays: set[int] = field(default_factory=set)
    """On which there have been values lately."""


def due_in(workspace: Workspace, now: datetime) -> list[DueKpi]:
    """Return the KPIs of a workspace whose next period is over, by group and name.

    Those that may be are found by what is kept with them, and only of these values are read.
    """
    lengths = SqlCase(
        *(SqlWhen(grain=grain, then=Value(timedelta(days=2 * n))) for grain, n in SHORTEST.items()),
        output_field=DurationField(),
    )
    fed = FeedKpi.objects.filter(
        kpi=OuterRef("pk"), feed__state__in=[FeedState.ON, FeedState.STOPPED]
    )
    candidates = (
        Kpi.objects.filter(workspace=workspace, grain__in=list(SHORTEST))
        .exclude(~Q(made_by=""), source__isnull=False)
        .exclude(made_by=MadeFrom.TIME_BETWEEN)
        .filter(~Exists(fed), summary__newest__isnull=False)
        .annotate(last=F("summary__newest"))
        # A clock change makes a day an hour shorter.
        .filter(
            last__lte=ExpressionWrapper(
                Value(now + timedelta(hours=2)) - lengths, output_field=DateTimeField()
            )
        )
        .select_related("filled_by")
        .order_by("group", "name")
    )
    found = {kpi.pk: DueKpi(kpi, kpi.last) for kpi in candidates}
    _read_newest(found)
    for each in found.values():
        each.periods = _periods(each, now)
    return [each for each in found.values() if each.periods]


def _read_newest(found: dict[int, DueKpi]) -> None:
    with connection.cursor() as cursor:
        cursor.execute(NEWEST, {"kpis": list(found), "most": LOOKED_BACK})
        for pk, period, breakdown, value in cursor.fetchall():
            each = found[pk]
            each.weekdays.add(period.astimezone(ZoneInfo(each.kpi.time_zone)).weekday())
            if period == each.newest:
                each.latest[breakdown] = value


def _periods(each: DueKpi, now: datetime) -> list[datetime]:
    """Return the periods after the newest value that are over; of days, those that count."""
    kpi, grain = each.kpi, Grain(each.kpi.grain)
    zone = ZoneInfo(kpi.time_zone)
    calendar = Calendar(zone, each.newest.astimezone(zone).weekday(), kpi.first_month)
    periods: list[datetime] = []
    period = each.newest
    while len(periods) <= MOST_BEHIND:
        period = calendar.following(period, grain)
        if period_end(kpi, period) > now:
            break
        if grain is not Grain.DAY or period.astimezone(zone).weekday() in each.weekdays:
            periods.append(period)
    return periods
