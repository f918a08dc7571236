"""Periods as people write them: read, or refused with what is wrong and what to do."""

import re
from collections.abc import Sequence
from datetime import UTC, datetime
from zoneinfo import ZoneInfo

from fluctus.http.refusals import Issue, RefusalError
from fluctus.kpis.calendar import Grain, from_text, label
from fluctus.tables.days import FIRST_DAY, LAST_DAY, SPAN

MOST_NAMED = 3


def named(instants: Sequence[float], grain: Grain, zone: ZoneInfo) -> str:
    """Name some periods, the newest of many: ``18 May 2026 is``, ``25 May 2026 and 4 more are``."""
    told = [
        label(datetime.fromtimestamp(instant, UTC), grain, zone)
        for instant in instants[-MOST_NAMED:]
    ]
    more = len(instants) - len(told)
    text = ", ".join(reversed(told))
    if more:
        return f"{text} and {more:,} more are"
    return f"{text} {'is' if len(told) == 1 else 'are'}"


def read_period(text: str, grain: Grain, zone: ZoneInfo, what: str, field: str = "") -> datetime:
    """Return the start of a period in UTC; raises RefusalError titled ``what`` where it is none."""
    try:
        return from_text(text, grain, zone)
    except (ValueError, OverflowError):
        raise RefusalError(what, no_period(text, field)) from None


def no_period(text: str, field: str = "") -> Issue:
    """Say why a text is no period."""
    year = re.match(r"\d{4,}", text)
    if year and not FIRST_DAY.year <= int(year[0][:9]) <= LAST_DAY.year:
        detail, remedy = f"The year {year[0][:9]} cannot be kept.", f"Write one of {SPAN}."
    else:
        detail, remedy = "This is not a period.", "Write a date, as in 2026-05-18."
    return Issue(detail, remedy, field, found=text[:200])
