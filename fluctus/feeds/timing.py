"""When a feed fetches next."""

from datetime import datetime, timedelta
from typing import Final
from zoneinfo import ZoneInfo

from fluctus.feeds.models import Feed
from fluctus.jobs.schedule import Every, Schedule, next_times
from fluctus.kpis.calendar import DAYS_LONG, Grain
from fluctus.kpis.models import Kpi
from fluctus.kpis.observations.arrivals import lags_of, period_end

PAUSES: Final = tuple(timedelta(minutes=m) for m in (2, 5, 15, 60, 180, 360))
"""After a fetch that has failed, and the next ones."""
SHORTEST: Final = timedelta(minutes=5)
TRIED_A_PERIOD: Final = 24
"""How often a period's value is looked for, once it should have come."""


def next_fetch(feed: Feed, now: datetime) -> datetime | None:
    """Return when a feed fetches next by its schedule, spread over the minute.

    What was missed while nothing fetched is made up once: the times before ``now`` are gone.
    """
    schedule = Schedule.from_json(feed.schedule)
    if schedule.every is Every.ARRIVAL:
        moment = _after_arrivals(feed, now)
    else:
        moment = next(iter(next_times(schedule, now, ZoneInfo(feed.time_zone), 1)), None)
    return None if moment is None else moment + timedelta(seconds=feed.pk * 7919 % 60)


def after_failure(feed: Feed, now: datetime, wait: int | None) -> datetime | None:
    """Return when a feed that has failed tries again: after a growing pause, or as it is asked.

    Not later than its schedule has it anyway, unless the source asked for more.
    """
    pause = PAUSES[min(feed.failures, len(PAUSES)) - 1]
    again = now + pause
    planned = next_fetch(feed, now)
    if planned is not None:
        again = min(again, planned)
    return max(again, now + timedelta(seconds=wait)) if wait is not None else again


def _after_arrivals(feed: Feed, now: datetime) -> datetime | None:
    """Return when the next value of the feed's KPIs usually comes; soon where it is overdue."""
    moments = [_expected(row.kpi, now) for row in feed.kpis.select_related("kpi")]
    return min(moments, default=None)


def _expected(kpi: Kpi, now: datetime) -> datetime:
    period = timedelta(days=DAYS_LONG[Grain(kpi.grain)])
    again = now + max(SHORTEST, period / TRIED_A_PERIOD)
    newest = kpi.observations.order_by("-period").values_list("period", flat=True).first()
    if newest is None:
        return again
    lags = lags_of(kpi)
    usual = min(lags) if lags else timedelta()
    expected = period_end(kpi, period_end(kpi, newest)) + usual
    return max(expected, again) if expected <= now else expected
