"""The ways of writing dates: one entry each, with examples of what it reads."""

import re
from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from enum import StrEnum
from typing import Final

from fluctus.tables.meaning.dates.plain_writing import ENGLISH_MONTHS, MONTHS


class DateStyle(StrEnum):
    """A way of writing dates."""

    ISO = "iso"
    DAY_FIRST = "day_first"
    MONTH_FIRST = "month_first"
    DAY_MONTH_NAME = "day_month_name"
    MONTH_NAME_DAY = "month_name_day"
    MONTH_NAME = "month_name"
    YEAR_MONTH = "year_month"
    MONTH_YEAR = "month_year"
    ISO_WEEK = "iso_week"
    QUARTER = "quarter"
    HALF_YEAR = "half_year"
    FISCAL_YEAR = "fiscal_year"
    YEAR = "year"
    COMPACT_DAY = "compact_day"
    COMPACT_MONTH = "compact_month"
    SERIAL = "serial"
    EPOCH_SECONDS = "epoch_seconds"
    EPOCH_MILLISECONDS = "epoch_milliseconds"


NUMBER_STYLES: Final = (
    DateStyle.YEAR,
    DateStyle.COMPACT_DAY,
    DateStyle.COMPACT_MONTH,
    DateStyle.SERIAL,
    DateStyle.EPOCH_SECONDS,
    DateStyle.EPOCH_MILLISECONDS,
)
"""Styles whose cells are plain numbers: only a column's name or its run tells them from values."""

TIME: Final = (
    r"(?:[ T,]+(?P<hour>\d{1,2}):(?P<minute>\d{2})(?::\d{2}(?:[.,]\d+)?)?"
    r"(?P<half>\s*[ap]\.?m\.?)?\s?(?P<zone>Z|UTC|GMT|[+-]\d\d:?(?:\d\d)?)?)?"
)
NAME: Final = rf"(?P<name>{ENGLISH_MONTHS})\.?"
DAY_NAME: Final = r"(?:(?:mon|tue|wed|thu|fri|sat|sun)[a-z]*\.?,?\s+)?"
YEAR: Final = r"(?P<y>\d{4}|\d{2})"
WEEK: Final = r"(?:W|week|wk)[ .]*"

Parts = dict[str, str]
"""What a pattern has found, by the names of its groups."""


@dataclass(frozen=True, slots=True)
class DatePattern:
    """One way of writing dates: what its cells are like, and the first day that one means.

    ``examples`` are cells, each with that day; people are shown the first.
    """

    style: DateStyle
    pattern: str
    first_day: Callable[[int, Parts], date]
    examples: dict[str, str]


def _by_number(year: int, parts: Parts) -> date:
    return date(year, int(parts["m"]), int(parts.get("d") or 1))


def _by_name(year: int, parts: Parts) -> date:
    return date(year, MONTHS.index(parts["name"][:3].lower()) + 1, int(parts.get("d") or 1))


def _by_month(year: int, parts: Parts) -> date:
    return _by_name(year, parts) if parts["name"] else _by_number(year, parts)


def _by_week(year: int, parts: Parts) -> date:
    week = int(parts["w"] or parts["w2"] or parts["w3"])
    return date.fromisocalendar(year, week, int(parts["n"] or 1))


def _by_quarter(year: int, parts: Parts) -> date:
    number = next(int(parts[part]) for part in ("q", "q2", "q3", "q4") if parts[part])
    return date(year, number * 3 - 2, 1)


def _by_half(year: int, parts: Parts) -> date:
    return date(year, int(parts["s"] or parts["s2"]) * 6 - 5, 1)


def _by_fiscal_year(year: int, parts: Parts) -> date:
    """Return a day that is in the year whichever month begins it.

    One year names that in which it ends, two name both. Raises ValueError for two that do not
    follow one another.
    """
    if not parts["end"]:
        return date(year, 1, 1)
    if int(parts["end"]) % 100 != (year + 1) % 100:
        raise ValueError("no two years that follow one another")
    return date(year, 12, 31)


WRITTEN: Final = (
    DatePattern(
        DateStyle.ISO,
        r"(?P<y>\d{4})[-/.] ?(?P<m>\d{1,2})[-/.] ?(?P<d>\d{1,2})\.?",
        _by_number,
        {"2026-05-18": "2026-05-18", "2026/5/18": "2026-05-18", "2026. 05. 18.": "2026-05-18"},
    ),
    DatePattern(
        DateStyle.DAY_FIRST,
        rf"(?P<d>\d{{1,2}})[-/.] ?(?P<m>\d{{1,2}})[-/.] ?{YEAR}",
        _by_number,
        {"18/5/2026": "2026-05-18", "18.05.26": "2026-05-18", "18. 5. 2026": "2026-05-18"},
    ),
    DatePattern(
        DateStyle.MONTH_FIRST,
        rf"(?P<m>\d{{1,2}})[-/.](?P<d>\d{{1,2}})[-/.]{YEAR}",
        _by_number,
        {"5/18/2026": "2026-05-18", "05-18-26": "2026-05-18"},
    ),
    DatePattern(
        DateStyle.DAY_MONTH_NAME,
        rf"(?P<d>\d{{1,2}})(?:st|nd|rd|th|er|\.|\u00ba)?[- .]*{NAME}[- ,]*'?{YEAR}",
        _by_name,
        {
            "18 May 2026": "2026-05-18",
            "18th of May, 2026": "2026-05-18",
            "18. Mai 2026": "2026-05-18",
            "18 de mayo de 2026": "2026-05-18",
            "18 \u043c\u0430\u044f 2026 \u0433.": "2026-05-18",
        },
    ),
    DatePattern(
        DateStyle.MONTH_NAME_DAY,
        rf"{NAME}[- ]*(?P<d>\d{{1,2}})(?:st|nd|rd|th)?,?[- ]+(?P<y>\d{{4}})",
        _by_name,
        {"May 18, 2026": "2026-05-18"},
    ),
    DatePattern(
        DateStyle.MONTH_NAME,
        rf"{NAME}[-/, ]*'?{YEAR}",
        _by_name,
        {"May 2026": "2026-05-01", "May-26": "2026-05-01", "mars 2026": "2026-03-01"},
    ),
    DatePattern(
        DateStyle.YEAR_MONTH,
        r"(?P<y>\d{4})[-/. ]?(?:(?<=\d)M(?P<m>\d{2})|(?<=[-/. ])(?P<m2>\d{1,2})|(?<=[-/. ])?"
        + NAME
        + ")",
        lambda year, parts: _by_month(year, parts | {"m": parts["m"] or parts["m2"]}),
        {
            "2026-05": "2026-05-01",
            "2026M05": "2026-05-01",
            "2026 May": "2026-05-01",
            "2026\u5e745\u6708": "2026-05-01",
        },
    ),
    DatePattern(
        DateStyle.MONTH_YEAR,
        r"(?P<m>\d{1,2})[-/] ?(?P<y>\d{4})",
        _by_number,
        {"05/2026": "2026-05-01", "5-2026": "2026-05-01"},
    ),
    DatePattern(
        DateStyle.ISO_WEEK,
        rf"(?:(?P<y>\d{{4}})[-/., ]*{WEEK}(?P<w>\d{{1,2}})(?:-(?P<n>[1-7]))?"
        rf"|(?:{WEEK}(?P<w2>\d{{1,2}})|(?P<w3>\d{{1,2}})\.? ?{WEEK})"
        r"[-/., ]*'?(?P<y2>\d{4}|(?<=[-/., '])\d{2}))",
        _by_week,
        {
            "2026-W21": "2026-05-18",
            "2026-W21-3": "2026-05-20",
            "KW 21 2026": "2026-05-18",
            "week 21, 2026": "2026-05-18",
            "2026 uke 21": "2026-05-18",
            "W21/26": "2026-05-18",
            "21. week 2026": "2026-05-18",
        },
    ),
    DatePattern(
        DateStyle.QUARTER,
        r"(?:(?P<y>\d{4})[-/ ]?[QT](?P<q>[1-4])|[QT] ?(?P<q2>[1-4])[-/ ]*'?(?P<y2>\d{4}|\d{2})"
        r"|(?P<q3>[1-4])\.? ?[QT]\.?[-/ ]*'?(?P<y3>\d{4}|\d{2})"
        r"|(?P<y4>\d{4})[-/ ](?P<q4>[1-4]) ?[QT])",
        _by_quarter,
        {
            "2026 Q2": "2026-04-01",
            "2Q26": "2026-04-01",
            "T2 2026": "2026-04-01",
            "2. Quartal 2026": "2026-04-01",
        },
    ),
    DatePattern(
        DateStyle.HALF_YEAR,
        r"(?:(?P<y>\d{4})[-/ ]?H(?P<s>[12])|H(?P<s2>[12])[-/ ]*'?(?P<y2>\d{4}|\d{2}))",
        _by_half,
        {"H2 2026": "2026-07-01", "2026 H2": "2026-07-01"},
    ),
    DatePattern(
        DateStyle.FISCAL_YEAR,
        r"(?:FY ?(?P<y>\d{4}|\d{2})(?:[-/](?P<end>\d{4}|\d{2}))?"
        r"|(?P<y2>\d{4})/(?P<end2>\d{4}|\d{2}))",
        lambda year, parts: _by_fiscal_year(year, parts | {"end": parts["end"] or parts["end2"]}),
        {"FY2026": "2026-01-01", "2025/26": "2025-12-31", "FY25/26": "2025-12-31"},
    ),
)
"""Styles that are no plain numbers, in the order in which they are tried."""

EXAMPLES: Final = {entry.style: next(iter(entry.examples)) for entry in WRITTEN} | {
    DateStyle.YEAR: "2026",
    DateStyle.COMPACT_DAY: "20260518",
    DateStyle.COMPACT_MONTH: "202605, or 05.2026",
    DateStyle.SERIAL: "46160 (spreadsheet days)",
    DateStyle.EPOCH_SECONDS: "1779062400 (seconds since 1970)",
    DateStyle.EPOCH_MILLISECONDS: "1779062400000 (milliseconds)",
}
"""How a style is shown to people."""

COMPILED: Final = {
    entry.style: re.compile(DAY_NAME + entry.pattern + TIME, re.IGNORECASE) for entry in WRITTEN
}
FIRST_DAYS: Final = {entry.style: entry.first_day for entry in WRITTEN}
