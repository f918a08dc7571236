"""Which rows of a table can be read, and what is wrong with the others."""

from collections.abc import Collection

import polars as pl

from fluctus.intake.understanding import row_problems
from fluctus.intake.understanding.mapping import ColumnRole
from fluctus.intake.understanding.read_table import ReadTable
from fluctus.intake.understanding.row_problems import Problems
from fluctus.intake.understanding.shares import above_their_whole


def readable_rows(
    table: ReadTable, columns_of_numbers: Collection[int], problems: Problems, *, share: bool
) -> pl.Series:
    """Return where a row can be read, and add to ``problems`` what is wrong with the others.

    ``columns_of_numbers`` are the places of those that will be brought in; ``share`` tells that
    a numerator is never above its denominator.
    """
    lines = table.long.lines
    bad = _too_wide(table, problems)
    _note_bad_dates(table, bad, problems)
    bad |= table.dates.wall.is_null()
    for n, column in table.numbers.items():
        if n not in columns_of_numbers:
            continue
        if len(column.units) > 1 and column.of_most_only:
            _note_other_units(table, n, bad, problems)
        # The other cells of the row still count: each column is a KPI, or a part, of its own.
        rows = (column.unfit & ~bad).arg_true()
        problems.add(
            len(rows),
            row_problems.bad_numbers(
                lines.gather(rows),
                table.long.cells.to_series(n).gather(rows),
                table.sheet_columns(n, rows),
                column.mark,
            ),
        )
    if share and table.has(ColumnRole.NUMERATOR):
        bad |= _above_whole(table, bad, problems)
    return ~bad


def _note_other_units(table: ReadTable, number: int, bad: pl.Series, problems: Problems) -> None:
    column = table.numbers[number]
    other = (column.own_units != "") & (column.own_units != column.unit) & ~bad
    rows = other.arg_true()
    problems.add(
        len(rows),
        row_problems.other_units(
            table.long.lines.gather(rows),
            table.long.cells.to_series(number).gather(rows),
            table.sheet_columns(number, rows),
            column,
        ),
    )


def _above_whole(table: ReadTable, bad: pl.Series, problems: Problems) -> pl.Series:
    above = above_their_whole(table) & ~bad
    rows = above.arg_true()
    part, whole = (
        table.roles.index(role) for role in (ColumnRole.NUMERATOR, ColumnRole.DENOMINATOR)
    )
    found = row_problems.above_whole(
        table.long.lines.gather(rows),
        table.long.cells.to_series(part).gather(rows),
        table.long.cells.to_series(whole).gather(rows),
        table.long.names[part],
        table.long.names[whole],
        table.sheet_column(part),
    )
    problems.add(len(rows), found)
    return above


def _too_wide(table: ReadTable, problems: Problems) -> pl.Series:
    """Return which rows have cells past the last column."""
    too_wide, width = table.located.too_wide, len(table.located.names)
    if too_wide:
        problems.add(len(too_wide), row_problems.too_wide(too_wide, width))
    return table.long.lines.is_in(list(too_wide))


def _note_bad_dates(table: ReadTable, bad: pl.Series, problems: Problems) -> None:
    long, period = table.long, table.period
    without_date = table.dates.wall.is_null() & ~bad
    if long.sources is not None:
        # An empty cell of a wide table is no value, whatever its column is called.
        without_date &= long.cells.to_series(len(long.names) - 1) != ""
    rows = without_date.arg_true()
    problems.add(
        len(rows),
        row_problems.bad_dates(
            long.lines.gather(rows),
            long.cells.to_series(period).gather(rows),
            long.names[period],
            table.sheet_column(period),
            table.dates.style,
        ),
    )
