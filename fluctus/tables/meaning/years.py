"""Dates without a year: counted on from the year that the table begins in."""

import re
from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import partial
from itertools import pairwise
from typing import Final, TypeAlias

import polars as pl

from fluctus.tables.meaning.dates import looks_like_date, read_dates
from fluctus.tables.meaning.layout import PERIOD
from fluctus.tables.meaning.location import LocatedTable
from fluctus.tables.meaning.numbers import looks_like_number
from fluctus.tables.meaning.period_parts import (
    Part,
    holds,
    is_called,
    put_together,
    read_parts,
    run_of_parts,
)
from fluctus.tables.meaning.steps.joined_periods import columns_of_parts
from fluctus.tables.meaning.words import MEAN, TOTAL

SOME_YEAR: Final = "2000"
"""A leap year, so that 29 February is a day."""
GLUES: Final = (" ", "", "/", "-", ".")
"""What may stand between a date and the year that it lacks."""
COPY: Final = re.compile(r" \(\d+\)$")
"""What tells a heading from another of the same name."""
FITTING: Final = 0.9
FIRST: Final = 50
HALF: Final = 0.5
"""Of a year: what goes back by more begins the next one, what goes on by more the one before."""
LONG_MONTH, DAYS, WEEKS, QUARTERS = 31, 366, 53, 4
NAMED_YEAR: Final = re.compile(r"(?<!\d)(?:19|20)\d\d(?!\d)")
SIDES: Final = (
    {Part.MONTH, Part.DAY},
    {Part.MONTH},
    {Part.WEEK, Part.WEEKDAY},
    {Part.WEEK},
    {Part.QUARTER},
)
"""Parts that make a period once there is a year."""


WithYears: TypeAlias = Callable[[int], LocatedTable]
"""Gives a table whose dates have years, of the year that its first is in."""


def find_yearless(table: LocatedTable) -> WithYears | None:
    """Find dates without a year in a table that has no others; None where there are none.

    They are in a column by themselves, in columns by part, or in the headings.
    """
    for number, name in enumerate(table.names):
        glue = _glue_of(name, table.column(number))
        if glue is not None:
            return partial(_in_a_column, table, number, glue)
    parts = columns_of_parts(table)
    for side in SIDES:
        if side <= parts.keys() and Part.YEAR not in parts:
            return partial(_in_parts, table, {part: parts[part] for part in side})
    named = [COPY.sub("", name) for name in table.names]
    for first in range(min(3, len(named))):
        top = [n for n in range(first, len(named)) if not _is_total(named[n])]
        part = run_of_parts(list(dict.fromkeys(named[n] for n in top)))
        if part in (Part.MONTH, Part.WEEK, Part.QUARTER) and not named[top[0]].isdecimal():
            return partial(_in_headings, table, top, part)
    return None


def _is_total(name: str) -> bool:
    return bool(TOTAL.fullmatch(name) or MEAN.fullmatch(name))


def _glue_of(name: str, cells: pl.Series) -> str | None:
    """Return what stands between the dates of a column and a year; None for no such dates."""
    filled = [cell for cell in cells.unique(maintain_order=True).head(FIRST) if cell]
    letters = sum(any(sign.isalpha() for sign in cell) for cell in filled) > len(filled) / 2
    called = is_called(Part.DATE, name) or is_called(Part.WEEK, name) or is_called(Part.MONTH, name)
    if not filled or (not letters and not called):
        return None
    if not letters and all(map(looks_like_number, filled)) and not is_called(Part.DATE, name):
        return None
    for glue in GLUES:
        fits = sum(looks_like_date(f"{cell}{glue}{SOME_YEAR}") for cell in filled)
        if fits >= len(filled) * FITTING and any(map(str.isdigit, "".join(filled))):
            return glue
    return None


def year_named(table: LocatedTable) -> int | None:
    """Return the year that the lines above a table or its headings name, where they name one."""
    told = " ".join((*table.above, *(name for name in table.names if not looks_like_date(name))))
    years = {int(found) for found in NAMED_YEAR.findall(told)}
    return min(years) if len(years) == 1 else None


def _in_a_column(table: LocatedTable, at: int, glue: str, first_year: int) -> LocatedTable:
    cells = table.column(at)
    moments = read_dates(cells + glue + SOME_YEAR).wall
    share = moments.dt.ordinal_day().cast(pl.Float64) / DAYS
    years = _years(table, [at], share, first_year)
    dated = pl.select(pl.when(cells != "").then(cells + glue + years).otherwise(pl.lit("")))
    return replace(table, cells=table.cells.with_columns(dated.to_series().alias(f"c{at}")))


def _in_parts(table: LocatedTable, parts: dict[Part, int], first_year: int) -> LocatedTable:
    columns = {part: table.column(at) for part, at in parts.items()}
    at = list(parts.values())
    years = _years(table, at, _share_of_year(columns), first_year)
    joined = put_together({Part.YEAR: years, **columns})
    return table.with_column(PERIOD, joined, at[0]).without([table.names[n] for n in at])


def _in_headings(
    table: LocatedTable, top: Sequence[int], part: Part, first_year: int
) -> LocatedTable:
    named = [COPY.sub("", table.names[n]) for n in top]
    share = _share_of_year({part: pl.Series(named)})
    names = list(table.names)
    for n, name, year in zip(top, named, _unwrapped(share.to_list()), strict=True):
        names[n] = f"{name} {first_year + year}"
    return replace(table, names=tuple(names))


def _share_of_year(parts: dict[Part, pl.Series]) -> pl.Series:
    """Return how far in its year each row is; null where that cannot be read."""

    def number(part: Part) -> pl.Series:
        read = read_parts(part, parts[part]).str.strip_chars_start("WQ")
        return read.cast(pl.Float64, strict=False)

    if Part.WEEK in parts:
        return number(Part.WEEK) / WEEKS
    if Part.QUARTER in parts:
        return number(Part.QUARTER) / QUARTERS
    months = number(Part.MONTH) - 1
    days = number(Part.DAY) if Part.DAY in parts else months * 0 + 1
    return (months * LONG_MONTH + days) / (12 * LONG_MONTH)


def _years(table: LocatedTable, at: Sequence[int], share: pl.Series, first_year: int) -> pl.Series:
    """Return the year of each row as text: counted anew for each group that stands by itself."""
    labels = [
        n
        for n in range(len(table.names))
        if n not in at and not holds(Part.DATE, table.column(n)) and _is_of_words(table.column(n))
    ]
    keys = table.cells.select(f"c{n}" for n in labels).rows() if labels else [()] * len(share)
    begin = [n for n, (before, now) in enumerate(pairwise(keys), 1) if before != now]
    runs = [0, *begin, len(keys)]
    apart = len(set(keys)) == len(runs) - 1
    edges = list(pairwise(runs)) if apart else [(0, len(keys))]
    shares = share.to_list()
    years = [year for start, end in edges for year in _unwrapped(shares[start:end])]
    return pl.Series([str(first_year + year) for year in years], dtype=pl.String)


def _is_of_words(cells: pl.Series) -> bool:
    filled = [cell for cell in cells.head(FIRST) if cell]
    return bool(filled) and sum(map(looks_like_number, filled)) < len(filled) * HALF


def _unwrapped(shares: Sequence[float | None]) -> list[int]:
    """Return how many years after the first each is, where they go over its end or its begin."""
    years, year, before = [], 0, None
    for share in shares:
        if share is not None and before is not None and abs(share - before) > HALF:
            year += 1 if share < before else -1
        years.append(year)
        before = before if share is None else share
    return years
