"""Periods: stored as the instant they start, written and read in the KPI's time zone.

A period is written as its date, or for hours as date, time and offset, so that
the hour that a clock change repeats is two periods with two texts.
"""

from datetime import UTC, date, datetime
from enum import StrEnum
from zoneinfo import ZoneInfo, available_timezones

MONTHS = (
    "Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec",
)  # fmt: skip


class Grain(StrEnum):
    """The length of a KPI's periods; also the word for one of them."""

    HOUR = "hour"
    DAY = "day"
    WEEK = "week"
    MONTH = "month"
    QUARTER = "quarter"
    YEAR = "year"


def is_time_zone(name: str) -> bool:
    """Tell whether ``name`` is a time zone that is known here."""
    return name in available_timezones()


def to_text(period: datetime, grain: Grain, zone: ZoneInfo) -> str:
    """Write a period: ``2026-05-18``, or ``2026-05-18T14:00+01:00``."""
    local = period.astimezone(zone)
    if grain is Grain.HOUR:
        return local.isoformat(timespec="minutes")
    return local.date().isoformat()


def from_text(text: str, grain: Grain, zone: ZoneInfo) -> datetime:
    """Read what ``to_text`` wrote; raises ValueError for anything else."""
    if grain is Grain.HOUR:
        moment = datetime.fromisoformat(text)
        if moment.tzinfo is None:
            moment = moment.replace(tzinfo=zone)
        return moment.astimezone(UTC)
    return start_of_day(date.fromisoformat(text), zone)


def start_of_day(day: date, zone: ZoneInfo) -> datetime:
    """Return the instant at which ``day`` starts in ``zone``."""
    return datetime(day.year, day.month, day.day, tzinfo=zone).astimezone(UTC)


def label(period: datetime, grain: Grain, zone: ZoneInfo, beside: datetime) -> str:
    """Name a period for people: ``18 May``, with the year where it is not that of ``beside``."""
    local = period.astimezone(zone)
    month = MONTHS[local.month - 1]
    if grain is Grain.YEAR:
        return str(local.year)
    if grain is Grain.QUARTER:
        return f"Q{(local.month + 2) // 3} {local.year}"
    if grain is Grain.MONTH:
        return f"{month} {local.year}"
    day = f"{local.day} {month}"
    if local.year != beside.astimezone(zone).year:
        day += f" {local.year}"
    return f"{day} {local:%H:%M}" if grain is Grain.HOUR else day
