"""Long or wide: a row for each period, or a column for each."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import polars as pl

from fluctus.tables.meaning.dates import looks_like_date, looks_like_year, read_dates
from fluctus.tables.meaning.location import LocatedTable
from fluctus.tables.meaning.numbers import looks_like_number
from fluctus.tables.meaning.period_parts import (
    FEWEST_BARE,
    FEWEST_IN_A_RUN,
    Part,
    holds,
    is_called,
    put_together,
    reads,
)
from fluctus.tables.meaning.words import as_words

FEWEST_PERIODS = 2
PERIOD, VALUE = "Period", "Value"


class TableLayout(StrEnum):
    """How periods and values lie in a table."""

    LONG = "long"
    WIDE = "wide"
    CROSS = "cross"
    """A part of the period at the side, as the year, and the rest of it at the top."""


@dataclass(frozen=True, slots=True)
class LongTable:
    """A table with a row for each period, whatever it was.

    ``sources`` gives for each row the column of the found table that its
    value stands in, where it was wide; null for a table that was long.
    """

    names: tuple[str, ...]
    cells: pl.DataFrame
    lines: pl.Series
    sources: pl.Series | None


def period_columns(table: LocatedTable) -> list[int]:
    """Return the columns whose names are periods."""
    if not table.header_rows:
        return []
    named = [
        n for n, name in enumerate(table.names) if looks_like_date(name) or looks_like_year(name)
    ]
    # One style for all, so that a column called "May 2026 target" or an odd year is no period.
    if len(named) < FEWEST_PERIODS:
        return []
    read = read_dates([table.names[n] for n in named])
    return [n for n, fits in zip(named, read.wall.is_not_null(), strict=True) if fits]


def propose_layout(table: LocatedTable) -> TableLayout:
    """Tell which layout a table has: wide where most columns of numbers are named by periods."""
    if crossing_of(table):
        return TableLayout.CROSS
    periods = period_columns(table)
    if len(periods) < FEWEST_PERIODS:
        return TableLayout.LONG
    others = [n for n in range(len(table.names)) if n not in periods]
    has_dates = any(_mostly_dates(table.column(n)) for n in others)
    return TableLayout.LONG if has_dates or len(others) > len(periods) + 3 else TableLayout.WIDE


def possible_layouts(table: LocatedTable) -> list[TableLayout]:
    """Return the layouts that a table can be read in; rows of one period each are always one."""
    wide = [TableLayout.WIDE] if len(period_columns(table)) >= FEWEST_PERIODS else []
    cross = [TableLayout.CROSS] if crossing_of(table) else []
    return [TableLayout.LONG, *wide, *cross]


@dataclass(frozen=True, slots=True)
class Crossing:
    """A table with a part of its periods at the side, and the rest of it at the top.

    ``side`` is the column of the one, ``top`` the columns whose names are the other.
    """

    side: int
    side_part: Part
    top: tuple[int, ...]
    top_part: Part


CROSSINGS = (
    (Part.YEAR, Part.MONTH),
    (Part.YEAR, Part.QUARTER),
    (Part.YEAR, Part.WEEK),
    # A month of a year is a date as well: what lies across from it is a day, and no hour.
    (Part.MONTH_OF_YEAR, Part.DAY),
    (Part.WEEK_OF_YEAR, Part.WEEKDAY),
    (Part.DATE, Part.HOUR),
    (Part.DATE, Part.TIME),
)
"""Which parts go with one another: either may be at the side."""


def crossing_of(table: LocatedTable) -> Crossing | None:
    """Find the parts of periods at the side and at the top of a table; None for none."""
    if not table.header_rows:
        return None
    ways = [pair for way in CROSSINGS for pair in (way, way[::-1])]
    for side_part, top_part in ways:
        # What a column of years is called is the name of June in some language.
        named = ["" if is_called(side_part, name) else name for name in table.names]
        top = _named_so(named, top_part)
        if len(top) < FEWEST_IN_A_RUN:
            continue
        side = next(
            (n for n in range(min(top)) if _is_side(table.names[n], table.column(n), side_part)),
            None,
        )
        if side is not None:
            return Crossing(side, side_part, tuple(top), top_part)
    return None


def _named_so(names: Sequence[str], part: Part) -> list[int]:
    """Return the columns whose names are parts of a period, each another and next to each other."""
    fitting = [(n, reads(part, name)) for n, name in enumerate(names)]
    found = [(n, text) for n, text in fitting if text is not None]
    bare = sum(names[n].strip().isdecimal() for n, _ in found)
    alike = len({text for _, text in found}) < len(found)
    if alike or 0 < bare < FEWEST_BARE.get(part, FEWEST_IN_A_RUN):
        return []
    return [n for n, _ in found]


def _is_side(name: str, cells: pl.Series, part: Part) -> bool:
    """Tell whether a column holds parts of periods, by what is in it and what it is called."""
    if not holds(part, cells):
        return False
    sure = part in (Part.DATE, Part.MONTH_OF_YEAR, Part.WEEK_OF_YEAR, Part.TIME)
    words = not cells.head(20).str.contains(r"^\s*\d+(\.0)?\s*$").any()
    years = part is Part.YEAR and all(map(looks_like_year, cells.filter(cells != "").head(50)))
    return sure or words or years or is_called(part, name) or not as_words(name).strip()


def lay_long(table: LocatedTable, layout: TableLayout) -> LongTable:
    """Put a table into rows of one period each."""
    crossing = crossing_of(table) if layout is TableLayout.CROSS else None
    periods = period_columns(table) if layout is TableLayout.WIDE else []
    periods = list(crossing.top) if crossing else periods
    if not periods:
        return LongTable(table.names, table.cells, table.lines, None)
    labels = [n for n in range(len(table.names)) if n not in periods]
    if crossing:
        labels.remove(crossing.side)
    frame = table.cells.with_columns(table.lines.alias("line"))
    long = frame.unpivot(
        on=[f"c{n}" for n in periods],
        index=["line", *(f"c{n}" for n in labels), *([f"c{crossing.side}"] if crossing else [])],
        variable_name="source",
        value_name="value",
    )
    sources = long["source"].str.slice(1).cast(pl.Int64)
    period = sources.replace_strict({n: table.names[n] for n in periods})
    if crossing:
        sides = {crossing.side_part: long[f"c{crossing.side}"], crossing.top_part: period}
        period = put_together(sides)
    columns = [long[f"c{n}"].alias(f"c{i}") for i, n in enumerate(labels)]
    columns += [
        period.cast(pl.String).alias(f"c{len(labels)}"),
        long["value"].alias(f"c{len(labels) + 1}"),
    ]
    names = [*(table.names[n] for n in labels), PERIOD, VALUE]
    return LongTable(tuple(names), pl.DataFrame(columns), long["line"], sources)


def _mostly_dates(cells: pl.Series) -> bool:
    sample = [cell for cell in cells.head(50) if cell]
    fits = sum(looks_like_date(cell) and not looks_like_number(cell) for cell in sample)
    return bool(sample) and fits >= len(sample) * 0.6
