"""Periods as people write them: read, or refused with what is wrong and what to do."""

import re
from datetime import datetime
from zoneinfo import ZoneInfo

from fluctus.http.refusals import Issue, RefusalError
from fluctus.kpis.calendar import Grain, from_text
from fluctus.tables.days import FIRST_DAY, LAST_DAY, SPAN


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
