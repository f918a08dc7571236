"""Periods that are written in parts, in several columns or along both sides: put together."""

import re
from collections.abc import Callable, Mapping, Sequence
from enum import StrEnum
from functools import lru_cache
from typing import Final

import polars as pl

from fluctus.tables.meaning.dates import (
    DateStyle,
    in_digits,
    looks_like_date,
    month_number,
    read_dates,
)
from fluctus.tables.meaning.words import as_words, listed


class Part(StrEnum):
    """A part of a period, as a column or a heading holds it."""

    YEAR = "year"
    QUARTER = "quarter"
    MONTH = "month"
    WEEK = "week"
    WEEKDAY = "weekday"
    DAY = "day"
    DATE = "date"
    MONTH_OF_YEAR = "month of a year"
    WEEK_OF_YEAR = "week of a year"
    TIME = "time"
    HOUR = "hour"


NAMES: Final[dict[Part, frozenset[str]]] = {
    Part.YEAR: listed(
        "year, yr, y, yyyy, cal year, calendar year, iso year, fiscal year, jahr, année, annee, an,"
        "año, ano, anno, jaar, år, ar, rok, vuosi, год, рік, 年"
    ),
    Part.QUARTER: listed(
        "quarter, qtr, q, quartal, trimestre, trimester, kwartaal, kwartał, kvartal, çeyrek,квартал"
    ),
    Part.MONTH: listed(
        "month, mon, mth, m, mm, month no, month number, month name, monthno, cal month, monat,"
        "mois, mes, mês, mese, maand, måned, månad, miesiąc, měsíc, kuukausi, ay, месяц, 月"
    ),
    Part.WEEK: listed(
        "week, wk, w, kw, cw, week no, week number, weekno, iso week, cal week, calendar week, "
        "woche, semaine, semana, settimana, uke, vecka, uge, tydzień, týden, viikko, hafta, неделя"
    ),
    Part.WEEKDAY: listed(
        "weekday, week day, day of week, dow, wochentag, jour de la semaine, día de la semaine,"
        "giorno, weekdag, ukedag, veckodag, ugedag, dzień tygodnia, den v týdnu, viikonpäivä"
    ),
    Part.DAY: listed(
        "day, d, dd, day of month, day no, dayno, tag, jour, día, dia, giorno, dag, dzień, den,"
        "päivä, gün, день, 日"
    ),
    Part.DATE: listed(
        "date, day, reading date, log date, datum, tag, jour, fecha, data, dato, päivä, tarih, дата"
    ),
    Part.TIME: listed(
        "time, time of day, clock, reading time, log time, start time, uhrzeit, zeit, heure, hora,"
        "ora, tijd, tid, klokkeslett, czas, čas, aika, saat, время"
    ),
    Part.HOUR: listed(
        "hour, hr, h, hh, hour of day, hour ending, hour beginning, time, stunde, heure, hora, ora,"
        "uur, timme, godzina, hodina, tunti"
    ),
}
"""What columns of each part are called, in small letters."""

CLOCK: Final = re.compile(
    r"(?P<h>\d{1,2})[:.h](?P<m>\d{2})(?::\d{2}(?:[.,]\d+)?)?(?P<half>\s*[ap]m)?", re.IGNORECASE
)
HOUR: Final = re.compile(
    r"(?P<h>\d{1,2})(?:\s*(?:h|uhr|:00|\.00))?(?:\s*[-\N{EN DASH}]\s*\d{1,2}(?::00)?)?",
    re.IGNORECASE,
)
WHOLE: Final = re.compile(r"(\d+)(?:\.0)?")
QUARTER: Final = re.compile(
    r"(?:[qt]|quarter|quartal|qtr)?\s*([1-4])(?:\.?\s*(?:quarter|quartal|qtr))?", re.IGNORECASE
)
WEEK: Final = re.compile(
    r"(?:w|wk|week|kw|cw|uke|woche|semaine|semana|vecka|s)?\.?\s*(\d{1,2})", re.IGNORECASE
)
WEEKDAY: Final = re.compile(
    r"(mon|tues?|wed(nes)?|thu(rs)?|fri|sat(ur)?|sun)(day)?\.?", re.IGNORECASE
)
MONTHLY: Final = (DateStyle.MONTH_NAME, DateStyle.YEAR_MONTH, DateStyle.MONTH_YEAR)
WEEKDAYS: Final = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")


def _whole(cell: str, low: int, high: int) -> int | None:
    found = WHOLE.fullmatch(in_digits(cell.strip()))
    number = int(found[1]) if found and len(found[1]) <= 4 else None
    return number if number is not None and low <= number <= high else None


def _year(cell: str) -> str | None:
    number = _whole(cell, 1900, 2100)
    short = re.fullmatch(r"'?(\d\d)", cell.strip())
    return f"{number}" if number else f"20{short[1]}" if short else None


def _quarter(cell: str) -> str | None:
    found = QUARTER.fullmatch(cell.strip())
    return f"Q{found[1]}" if found else None


def _month(cell: str) -> str | None:
    number = _whole(cell, 1, 12) or month_number(cell)
    return f"{number:02}" if number else None


def _week(cell: str) -> str | None:
    found = WEEK.fullmatch(in_digits(cell.strip()))
    return f"W{int(found[1]):02}" if found and 1 <= int(found[1]) <= 53 else None


def _weekday(cell: str) -> str | None:
    text = cell.strip().lower()
    return f"{WEEKDAYS.index(text[:3]) + 1}" if WEEKDAY.fullmatch(text) else None


def _day(cell: str) -> str | None:
    number = _whole(re.sub(r"(?i)(st|nd|rd|th|\.)$", "", cell.strip()), 1, 31)
    return f"{number:02}" if number else None


def _date(cell: str) -> str | None:
    return cell.strip() if looks_like_date(cell) else None


def _month_of_year(cell: str) -> str | None:
    if not looks_like_date(cell):
        return None
    read = read_dates([cell])
    return read.wall.dt.strftime("%Y-%m")[0] if read.style in MONTHLY else None


def _week_of_year(cell: str) -> str | None:
    if not looks_like_date(cell):
        return None
    read = read_dates([cell])
    return read.wall.dt.strftime("%G-W%V")[0] if read.style is DateStyle.ISO_WEEK else None


def _time(cell: str) -> str | None:
    found = CLOCK.fullmatch(in_digits(cell.strip()))
    if found is None:
        return None
    hour = int(found["h"])
    if found["half"]:
        hour = hour % 12 + (12 if "p" in found["half"].lower() else 0)
    return f"{hour:02}:{found['m']}" if hour < 24 and int(found["m"]) < 60 else None


def _hour(cell: str) -> str | None:
    found = HOUR.fullmatch(in_digits(cell.strip()))
    return f"{int(found['h']):02}:00" if found and int(found["h"]) <= 24 else None


READERS: Final[dict[Part, Callable[[str], str | None]]] = {
    Part.YEAR: _year,
    Part.QUARTER: _quarter,
    Part.MONTH: _month,
    Part.WEEK: _week,
    Part.WEEKDAY: _weekday,
    Part.DAY: _day,
    Part.DATE: _date,
    Part.MONTH_OF_YEAR: _month_of_year,
    Part.WEEK_OF_YEAR: _week_of_year,
    Part.TIME: _time,
    Part.HOUR: _hour,
}
RUNNING: Final = (Part.MONTH, Part.QUARTER, Part.TIME, Part.HOUR, Part.WEEKDAY, Part.WEEK, Part.DAY)
FEWEST_IN_A_RUN: Final = 3
FEWEST_BARE: Final = {
    Part.HOUR: 8,
    Part.DAY: 10,
    Part.WEEK: 8,
    Part.MONTH: 6,
    Part.QUARTER: 4,
}
FIRST: Final = 10
"""Of these cells half must be of a part before all are looked at."""
FITTING: Final = 0.9
"""Share of the filled cells of a column that must be of a part."""


def reads(part: Part, cell: str) -> str | None:
    """Return a cell as this part of a period, in the one way that is put together."""
    return READERS[part](cell)


def read_parts(part: Part, cells: pl.Series) -> pl.Series:
    """Return a column as this part of a period, each different cell read once; null for others."""
    different = cells.unique()
    texts = [reads(part, cell) for cell in different]
    return cells.replace_strict(different, texts, return_dtype=pl.String)


def run_of_parts(texts: Sequence[str]) -> Part | None:
    """Return the part of a period that all ``texts`` are, each another; None where they are none.

    Numbers alone may as well be lanes, or crews: it takes more of them.
    """
    bare = all(text.strip().isdecimal() for text in texts)
    for part in RUNNING:
        fewest = FEWEST_BARE.get(part, FEWEST_IN_A_RUN) if bare else FEWEST_IN_A_RUN
        read = [reads(part, text) for text in texts]
        if len(texts) >= fewest and None not in read and len(set(read)) == len(read):
            return part
    return None


@lru_cache(maxsize=20_000)
def is_called(part: Part, name: str) -> bool:
    """Tell whether a column with this name may hold the part."""
    plain = re.sub(r"[(\[].*?[)\]]|[.:#]", " ", as_words(name)).strip().casefold()
    return plain in NAMES.get(part, ())


def holds(part: Part, cells: pl.Series) -> bool:
    """Tell whether nearly all of the filled ``cells`` are of a part."""
    # Most columns are told by their first cells; of wide tables there are thousands.
    first = list(dict.fromkeys(cell for cell in cells.head(4 * FIRST) if cell))[:FIRST]
    if len(first) == FIRST and not _half_read(part, first):
        return False
    filled = cells.filter(cells != "").unique(maintain_order=True).head(500)
    if not _half_read(part, filled.head(FIRST).to_list()):
        return False
    fits = sum(reads(part, cell) is not None for cell in filled)
    return len(filled) > 0 and fits >= len(filled) * FITTING


def _half_read(part: Part, first: Sequence[str]) -> bool:
    return sum(reads(part, cell) is not None for cell in first) * 2 >= len(first)


def _glued(parts: Mapping[Part, pl.Series]) -> list[tuple[str, Part]]:
    """Return what comes before each part where these are written one after the other."""
    day = [("-", Part.MONTH), ("-", Part.DAY)]
    orders = (
        [("", Part.DATE), (" ", Part.TIME)],
        [("", Part.DATE), (" ", Part.HOUR)],
        [("", Part.YEAR), *day, (" ", Part.TIME)],
        [("", Part.YEAR), *day, (" ", Part.HOUR)],
        [("", Part.YEAR), *day],
        [("", Part.YEAR), ("-", Part.MONTH)],
        [("", Part.YEAR), ("-", Part.WEEK), ("-", Part.WEEKDAY)],
        [("", Part.YEAR), ("-", Part.WEEK)],
        [("", Part.YEAR), (" ", Part.QUARTER)],
        [("", Part.MONTH_OF_YEAR), ("-", Part.DAY)],
        [("", Part.WEEK_OF_YEAR), ("-", Part.WEEKDAY)],
    )
    fitting = (order for order in orders if {part for _, part in order} <= set(parts))
    return max(fitting, key=len, default=[])


def parts_used(parts: Mapping[Part, object]) -> list[Part]:
    """Return which of the parts make one period together, in order; none where none do."""
    return [part for _, part in _glued({part: pl.Series() for part in parts})]


def put_together(parts: Mapping[Part, pl.Series]) -> pl.Series:
    """Return the periods that columns of parts name, as text that reads as a date.

    What cannot be read stands as it was written, so that it is no date and its row says so; a
    row that lacks a part lacks its period. Hours that end at 24 are counted from 1.
    """
    columns: list[pl.Series] = []
    for glue, part in _glued(parts):
        read = read_parts(part, parts[part]).fill_null(parts[part])
        if part is Part.HOUR and (read == "24:00").any():
            read = read.replace({f"{hour:02}:00": f"{hour - 1:02}:00" for hour in range(1, 25)})
        columns.append(pl.select(pl.when(read != "").then(pl.lit(glue) + read)).to_series())
    joined = pl.DataFrame([column.alias(f"{n}") for n, column in enumerate(columns)])
    return joined.select(pl.concat_str(pl.all()).fill_null("").alias("period")).to_series()
