"""Columns that repeat a part of the date beside them: the year, the month, the week."""

from typing import Final

import polars as pl

from fluctus.tables.meaning.dates import read_dates
from fluctus.tables.meaning.location import LocatedTable
from fluctus.tables.meaning.period_parts import Part, read_parts
from fluctus.tables.meaning.steps.joined_periods import columns_of_parts, dates_in
from fluctus.tables.meaning.steps.step import Step

AGREEING: Final = 0.95


def find(table: LocatedTable) -> list[Step]:
    """Find columns whose cells all follow from the date of their row."""
    parts = columns_of_parts(table)
    if parts.keys() <= {Part.DATE}:
        return []
    dates = dates_in(table)
    if len(dates) != 1:
        return []
    parts = {part: at for part, at in parts.items() if at != dates[0]}
    if not parts:
        return []
    wall = read_dates(table.column(dates[0])).wall
    repeated = [at for part, at in parts.items() if _agrees(part, table.column(at), wall)]
    if not repeated:
        return []
    names = [table.names[number] for number in repeated]
    text = " and ".join(names)

    def do(table: LocatedTable) -> LocatedTable:
        return table.without(names)

    return [
        Step(
            key=f"repeats:{text}",
            says=f"{text} {'repeats' if len(names) == 1 else 'repeat'} what "
            f"{table.names[dates[0]]} says, and {'is' if len(names) == 1 else 'are'} left out",
            why="All rows agree.",
            do=do,
        )
    ]


def _agrees(part: Part, cells: pl.Series, wall: pl.Series) -> bool:
    written = {
        Part.YEAR: wall.dt.strftime("%Y"),
        Part.QUARTER: "Q" + wall.dt.quarter().cast(pl.String),
        Part.MONTH: wall.dt.strftime("%m"),
        Part.WEEK: "W" + wall.dt.strftime("%V"),
        Part.WEEKDAY: wall.dt.weekday().cast(pl.String),
        Part.DAY: wall.dt.strftime("%d"),
        Part.HOUR: wall.dt.strftime("%H:00"),
    }.get(part)
    if written is None:
        return False
    read = read_parts(part, cells)
    both = read.is_not_null() & written.is_not_null()
    return int(both.sum()) > 0 and int((read == written).filter(both).sum()) >= AGREEING * int(
        both.sum()
    )
