"""Long or wide: a row for each period, or a column for each."""

from dataclasses import dataclass
from enum import StrEnum

import polars as pl

from fluctus.tables.meaning.dates import looks_like_date, looks_like_year, read_dates
from fluctus.tables.meaning.location import LocatedTable
from fluctus.tables.meaning.numbers import looks_like_number

FEWEST_PERIODS = 2
PERIOD, VALUE = "Period", "Value"


class TableLayout(StrEnum):
    """How periods and values lie in a table."""

    LONG = "long"
    WIDE = "wide"


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
    periods = period_columns(table)
    if len(periods) < FEWEST_PERIODS:
        return TableLayout.LONG
    others = [n for n in range(len(table.names)) if n not in periods]
    has_dates = any(_mostly_dates(table.column(n)) for n in others)
    return TableLayout.LONG if has_dates or len(others) > len(periods) + 3 else TableLayout.WIDE


def lay_long(table: LocatedTable, layout: TableLayout) -> LongTable:
    """Put a table into rows of one period each."""
    periods = period_columns(table) if layout is TableLayout.WIDE else []
    if not periods:
        return LongTable(table.names, table.cells, table.lines, None)
    labels = [n for n in range(len(table.names)) if n not in periods]
    frame = table.cells.with_columns(table.lines.alias("line"))
    long = frame.unpivot(
        on=[f"c{n}" for n in periods],
        index=["line", *(f"c{n}" for n in labels)],
        variable_name="source",
        value_name="value",
    )
    sources = long["source"].str.slice(1).cast(pl.Int64)
    period = sources.replace_strict({n: table.names[n] for n in periods})
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
