"""Columns of dates: which way they are written is decided from the whole column."""

import re
from collections.abc import Callable
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from enum import StrEnum
from itertools import pairwise

MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")
FIRST_YEAR, LAST_YEAR = 1900, 2100


class DateStyle(StrEnum):
    """A way of writing dates."""

    ISO = "iso"
    DAY_FIRST = "day_first"
    MONTH_FIRST = "month_first"
    DAY_MONTH_NAME = "day_month_name"
    MONTH_NAME_DAY = "month_name_day"
    MONTH_NAME = "month_name"
    YEAR_MONTH = "year_month"
    ISO_WEEK = "iso_week"
    QUARTER = "quarter"


EXAMPLES = {
    DateStyle.ISO: "2026-05-18",
    DateStyle.DAY_FIRST: "18/5/2026",
    DateStyle.MONTH_FIRST: "5/18/2026",
    DateStyle.DAY_MONTH_NAME: "18 May 2026",
    DateStyle.MONTH_NAME_DAY: "May 18, 2026",
    DateStyle.MONTH_NAME: "May 2026",
    DateStyle.YEAR_MONTH: "2026-05",
    DateStyle.ISO_WEEK: "2026-W21",
    DateStyle.QUARTER: "2026 Q2",
}
"""How a style is shown to people."""

TIME = (
    r"(?:[ T,]+(?P<hour>\d{1,2}):(?P<minute>\d{2})(?::\d{2}(?:\.\d+)?)?"
    r"(?P<zone>Z|[+-]\d\d:?\d\d)?)?"
)
NAME = r"(?P<name>jan|feb|mar|apr|may|jun|jul|aug|sep|oct|nov|dec)[a-z]*\.?"
PATTERNS = {
    DateStyle.ISO: r"(?P<y>\d{4})[-/.](?P<m>\d{1,2})[-/.](?P<d>\d{1,2})",
    DateStyle.DAY_FIRST: r"(?P<d>\d{1,2})[-/.](?P<m>\d{1,2})[-/.](?P<y>\d{4}|\d{2})",
    DateStyle.MONTH_FIRST: r"(?P<m>\d{1,2})[-/.](?P<d>\d{1,2})[-/.](?P<y>\d{4}|\d{2})",
    DateStyle.DAY_MONTH_NAME: rf"(?P<d>\d{{1,2}})[- .]*{NAME}[- ,]*(?P<y>\d{{4}}|\d{{2}})",
    DateStyle.MONTH_NAME_DAY: rf"{NAME}[- ]*(?P<d>\d{{1,2}}),?[- ]+(?P<y>\d{{4}})",
    DateStyle.MONTH_NAME: rf"{NAME}[- ]*(?P<y>\d{{4}})",
    DateStyle.YEAR_MONTH: r"(?P<y>\d{4})[-/](?P<m>\d{1,2})",
    DateStyle.ISO_WEEK: r"(?P<y>\d{4})[- ]?W(?P<w>\d{1,2})",
    DateStyle.QUARTER: r"(?P<y>\d{4})[- ]?Q(?P<q>[1-4])",
}
COMPILED = {style: re.compile(pattern + TIME, re.IGNORECASE) for style, pattern in PATTERNS.items()}


@dataclass(frozen=True, slots=True)
class DateColumn:
    """The cells of a column as moments: None where a cell does not fit the style.

    Moments are without zone, as a clock on the wall shows them, unless the
    cell names an offset.
    """

    style: DateStyle
    values: list[datetime | None]
    misfits: list[int]
    others: tuple[DateStyle, ...]
    """Other styles that fit as many cells: the column does not tell them apart."""


def looks_like_date(cell: str) -> bool:
    """Tell whether a cell is a date in any style."""
    return any(_parse(cell, style) is not None for style in DateStyle)


def read_dates(cells: list[str], style: DateStyle | None = None) -> DateColumn:
    """Read a column; ``style`` None takes the one that most cells fit."""
    if style is not None:
        return _read(cells, style, ())
    sample = cells[:2000]
    fits = {one: sum(_parse(cell, one) is not None for cell in sample) for one in DateStyle}
    best = max(DateStyle, key=lambda one: fits[one])
    others = tuple(one for one in DateStyle if one is not best and fits[one] == fits[best])
    return _read(cells, best, others if fits[best] else ())


def _read(cells: list[str], style: DateStyle, others: tuple[DateStyle, ...]) -> DateColumn:
    values = [_parse(cell, style) for cell in cells]
    return DateColumn(style, values, [n for n, v in enumerate(values) if v is None], others)


def _parse(cell: str, style: DateStyle) -> datetime | None:
    match = COMPILED[style].fullmatch(cell.strip())
    if match is None:
        return None
    parts = match.groupdict()
    try:
        year = _year(parts["y"])
        day = BUILDERS[style](year, parts)
        if not FIRST_YEAR <= day.year <= LAST_YEAR:
            return None
        clock = time(int(parts["hour"] or 0), int(parts["minute"] or 0))
        moment = datetime.combine(day, clock)
        if parts["zone"]:
            offset = parts["zone"].upper().replace("Z", "+00:00")
            return datetime.fromisoformat(f"{moment.isoformat()}{offset}")
    except ValueError:
        return None
    return moment


def _year(text: str) -> int:
    return int(text) if len(text) == 4 else 2000 + int(text) if int(text) < 70 else 1900 + int(text)


def _by_number(year: int, parts: dict[str, str]) -> date:
    return date(year, int(parts["m"]), int(parts.get("d") or 1))


def _by_name(year: int, parts: dict[str, str]) -> date:
    return date(year, MONTHS.index(parts["name"][:3].lower()) + 1, int(parts.get("d") or 1))


def _by_week(year: int, parts: dict[str, str]) -> date:
    return date.fromisocalendar(year, int(parts["w"]), 1)


def _by_quarter(year: int, parts: dict[str, str]) -> date:
    return date(year, int(parts["q"]) * 3 - 2, 1)


BUILDERS: dict[DateStyle, Callable[[int, dict[str, str]], date]] = {
    DateStyle.ISO: _by_number,
    DateStyle.DAY_FIRST: _by_number,
    DateStyle.MONTH_FIRST: _by_number,
    DateStyle.DAY_MONTH_NAME: _by_name,
    DateStyle.MONTH_NAME_DAY: _by_name,
    DateStyle.MONTH_NAME: _by_name,
    DateStyle.YEAR_MONTH: _by_number,
    DateStyle.ISO_WEEK: _by_week,
    DateStyle.QUARTER: _by_quarter,
}


def gaps(moments: list[datetime]) -> list[timedelta]:
    """Return the distances between successive different moments, in order of time."""
    ordered = sorted(set(moments))
    return [later - earlier for earlier, later in pairwise(ordered)]
