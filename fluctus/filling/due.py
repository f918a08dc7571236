"""Which values are due: periods that are over, of KPIs that no feed and no other KPI brings."""

from collections.abc import Sequence
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
    Expression,
    ExpressionWrapper,
    OuterRef,
    Q,
    QuerySet,
    Value,
)
from django.db.models import When as SqlWhen

from fluctus.accounts.models import Workspace
from fluctus.core import MadeFrom
from fluctus.feeds.models import FeedKpi, FeedState
from fluctus.kpis.calendar import Calendar, Grain
from fluctus.kpis.models import Kpi, Observation

SHORTEST: Final = {Grain.DAY: 1, Grain.WEEK: 7, Grain.MONTH: 28, Grain.QUARTER: 90, Grain.YEAR: 365}
"""Days of the shortest period of each grain that is typed; hours come from tables."""
MOST_BEHIND: Final = 6
"""Periods that one KPI is asked for; one that is further behind rests."""
MOST_RESTING: Final = 100
LOOKED_BACK: Final = 40
"""Newest values that tell on which weekdays there are any, and of which parts."""
CLOCK_CHANGE: Final = timedelta(hours=2)

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


@dataclass(frozen=True, slots=True)
class DueKpis:
    """What is due: of how many KPIs, a stretch of them, and some that rest."""

    count: int
    stretch: list[DueKpi]
    resting: list[DueKpi]


def due_in(workspace: Workspace, now: datetime, start: int, most: int) -> DueKpis:
    """Return a stretch of the KPIs of a workspace whose next period is over, by group and name.

    Which they are follows from what is kept with them; values are read of the stretch, and of
    those by the day, which may have none on some weekdays.
    """
    asked = _with_newest(_candidates(workspace, now))
    _read_newest([each for each in asked if each.kpi.grain == Grain.DAY])
    due = [each for each in asked if _periods(each, now, most=1)]
    stretch = due[start : start + most]
    _read_newest([each for each in stretch if not each.latest])
    for each in stretch:
        each.periods = _periods(each, now, most=MOST_BEHIND)
    resting = _with_newest(_resting(workspace, now)[:MOST_RESTING])
    return DueKpis(len(due), stretch, resting)


def _typed(workspace: Workspace) -> QuerySet[Kpi]:
    """Return the KPIs that have values, which no feed and no other KPI brings."""
    fed = FeedKpi.objects.filter(
        kpi=OuterRef("pk"), feed__state__in=[FeedState.ON, FeedState.STOPPED]
    )
    return (
        Kpi.objects.filter(workspace=workspace, grain__in=list(SHORTEST))
        .exclude(~Q(made_by=""), source__isnull=False)
        .exclude(made_by=MadeFrom.TIME_BETWEEN)
        .filter(~Exists(fed), summary__newest__isnull=False)
        .select_related("filled_by", "summary")
        .defer("summary__strip")
        .order_by("group", "name")
    )


def _candidates(workspace: Workspace, now: datetime) -> QuerySet[Kpi]:
    """Return those whose next period may be over, and that do not rest."""
    two_periods_ago = _ago(now + CLOCK_CHANGE, 2)
    return _typed(workspace).filter(
        summary__newest__lte=two_periods_ago,
        summary__newest__gt=_ago(now, MOST_BEHIND + 2),
    )


def _resting(workspace: Workspace, now: datetime) -> QuerySet[Kpi]:
    return _typed(workspace).filter(summary__newest__lte=_ago(now, MOST_BEHIND + 2))


def _with_newest(kpis: QuerySet[Kpi]) -> list[DueKpi]:
    told = ((kpi, kpi.summary.newest) for kpi in kpis)
    return [DueKpi(kpi, newest) for kpi, newest in told if newest is not None]


def _ago(now: datetime, periods: int) -> Expression:
    """Return the time that is so many periods ago, of the grain of each KPI."""
    lengths = SqlCase(
        *(SqlWhen(grain=grain, then=Value(timedelta(days=n))) for grain, n in SHORTEST.items()),
        output_field=DurationField(),
    )
    return ExpressionWrapper(Value(now) - lengths * periods, output_field=DateTimeField())


def _read_newest(asked: Sequence[DueKpi]) -> None:
    found = {each.kpi.pk: each for each in asked}
    with connection.cursor() as cursor:
        cursor.execute(NEWEST, {"kpis": list(found), "most": LOOKED_BACK})
        for pk, period, breakdown, value in cursor.fetchall():
            each = found[pk]
            each.weekdays.add(period.astimezone(ZoneInfo(each.kpi.time_zone)).weekday())
            if period == each.newest:
                each.latest[breakdown] = value


def _periods(each: DueKpi, now: datetime, most: int) -> list[datetime]:
    """Return the first periods after the newest value that are over; of days, those that count."""
    kpi, grain = each.kpi, Grain(each.kpi.grain)
    zone = ZoneInfo(kpi.time_zone)
    calendar = Calendar(zone, each.newest.astimezone(zone).weekday(), kpi.first_month)
    periods: list[datetime] = []
    period = calendar.following(each.newest, grain)
    while len(periods) < most and (end := calendar.following(period, grain)) <= now:
        if grain is not Grain.DAY or period.astimezone(zone).weekday() in each.weekdays:
            periods.append(period)
        period = end
    return periods
