"""Which grain a column of moments has, and the period each moment falls in."""

from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

from fluctus.kpis.periods import Grain, start_of_day
from fluctus.tables.dates import gaps

DAYS_APART = ((360, Grain.YEAR), (85, Grain.QUARTER), (27, Grain.MONTH))
"""The least distance in days between successive periods of the coarser grains."""


def propose_grain(moments: list[datetime]) -> Grain:
    """Propose the grain of a series from the distances between its moments."""
    distances = gaps([moment.replace(tzinfo=None) for moment in moments])
    least = min(distances, default=timedelta(days=1))
    if least < timedelta(days=1):
        return Grain.HOUR
    for days, grain in DAYS_APART:
        if least >= timedelta(days=days):
            return grain
    weeks = all(distance % timedelta(days=7) == timedelta(0) for distance in distances)
    return Grain.WEEK if weeks and least >= timedelta(days=7) else Grain.DAY


def period_of(moment: datetime, grain: Grain, zone: ZoneInfo) -> datetime:
    """Return the start of the period that ``moment`` falls in.

    A moment without an offset is a time on a clock in ``zone``. A week starts
    on the day it was given with.
    """
    local = moment.astimezone(zone) if moment.tzinfo else moment.replace(tzinfo=zone)
    if grain is Grain.HOUR:
        return local.replace(minute=0, second=0, microsecond=0).astimezone(UTC)
    day = local.date()
    if grain is Grain.MONTH:
        day = day.replace(day=1)
    elif grain is Grain.QUARTER:
        day = day.replace(month=(day.month - 1) // 3 * 3 + 1, day=1)
    elif grain is Grain.YEAR:
        day = day.replace(month=1, day=1)
    return start_of_day(day, zone)


def second_time_round(moment: datetime, grain: Grain, zone: ZoneInfo) -> datetime | None:
    """Return the second period of a clock time that a clock change repeats; None for others."""
    if grain is not Grain.HOUR or moment.tzinfo:
        return None
    first = period_of(moment, grain, zone)
    second = period_of(moment.replace(fold=1), grain, zone)
    # A time that a clock change skips also differs by fold, but backwards.
    return second if second > first else None
