"""A table whose columns are read: dates as dates, numbers as numbers, each with its role."""

from collections.abc import Collection
from dataclasses import dataclass, replace

import polars as pl

from fluctus.intake.understanding.happenings import Happenings, happenings_in
from fluctus.intake.understanding.mapping import ColumnRole, Mapping
from fluctus.intake.understanding.roles import settle_roles, with_finest_breakdown
from fluctus.tables.meaning.columns import Column, understand_all
from fluctus.tables.meaning.dates import DateColumn, in_zone_of_heading, read_dates
from fluctus.tables.meaning.layout import LongTable
from fluctus.tables.meaning.location import LocatedTable
from fluctus.tables.meaning.numbers import (
    ClockChoice,
    DecimalMark,
    MarkChoice,
    NumberColumn,
    decide_clock,
    decide_mark,
    read_numbers,
    read_plain,
)
from fluctus.tables.meaning.steps.step import Taken

LOOKED_AT = 2_000
NUMBER_ROLES = (
    ColumnRole.VALUE,
    ColumnRole.NUMERATOR,
    ColumnRole.DENOMINATOR,
    ColumnRole.TARGET,
    ColumnRole.TARGET_HIGH,
)


@dataclass(frozen=True, slots=True)
class ReadTable:
    """A table as it stands in its sheet, in rows of one period each, and what these hold.

    ``roles`` are those of the columns of ``long``; ``numbers`` are its columns of
    numbers, by their place.
    """

    located: LocatedTable
    long: LongTable
    columns: tuple[Column, ...]
    roles: list[ColumnRole]
    dates: DateColumn
    numbers: dict[int, NumberColumn]
    marks: MarkChoice
    undecided_clock: str
    """A duration that may be hours and minutes or minutes and seconds; "" where all is told."""
    happenings: Happenings | None
    """What was made of a list of single happenings; None for other tables."""
    steps: tuple[Taken, ...]
    """What was understood of the table before its columns were looked at."""

    @classmethod
    def of(
        cls, located: LocatedTable, long: LongTable, mapping: Mapping, steps: tuple[Taken, ...]
    ) -> "ReadTable":
        """Read the columns by ``mapping`` where it says and by their looks elsewhere.

        Raises RefusalError where no column holds dates, or none numbers.
        """
        columns = _understood(long, mapping.missing_words)
        told = happenings_in(long, columns, mapping.counted)
        if told is not None:
            long = told.long
            columns = _understood(long, mapping.missing_words)
        roles = settle_roles(columns, _with_roles_of(told, mapping))
        period = roles.index(ColumnRole.PERIOD)
        dates = read_dates(long.cells.to_series(period), mapping.date_style)
        dates = in_zone_of_heading(dates, long.names[period])
        if told is None:
            roles = with_finest_breakdown(roles, long, columns, dates.wall, mapping)
        of_numbers = [n for n, role in enumerate(roles) if role in NUMBER_ROLES]
        marks = decide_mark([long.cells.to_series(n) for n in of_numbers])
        if mapping.decimal_mark is not None:
            marks = replace(marks, mark=mapping.decimal_mark)
        plain = read_plain(long.cells.select(f"c{n}" for n in of_numbers), marks.mark)
        clocks = {n: _clock(long, n) for n in of_numbers if f"c{n}" not in plain}
        numbers = {
            n: _numbers(long.cells.to_series(n), marks.mark, clocks[n], mapping)
            if n in clocks
            else plain[f"c{n}"]
            for n in of_numbers
        }
        undecided = next((one.undecided for one in clocks.values() if one.undecided), "")
        steps = (*steps, *_words_known(long, of_numbers, mapping))
        return cls(located, long, columns, roles, dates, numbers, marks, undecided, told, steps)

    @property
    def period(self) -> int:
        """The place of the column of periods."""
        return self.roles.index(ColumnRole.PERIOD)

    def has(self, role: ColumnRole) -> bool:
        """Tell whether a column has this role."""
        return role in self.roles

    def texts(self, role: ColumnRole) -> pl.Series:
        """Return the cells of the column with a role; empty ones where there is none."""
        if not self.has(role):
            return pl.Series([""]).new_from_index(0, len(self.long.lines))
        return self.long.cells.to_series(self.roles.index(role))

    def amounts(self, role: ColumnRole) -> pl.Series:
        """Return the numbers of the column with a role; null where there is none."""
        if not self.has(role):
            return pl.Series([None], dtype=pl.Float64).new_from_index(0, len(self.long.lines))
        return self.numbers[self.roles.index(role)].numbers

    def sheet_column(self, column: int) -> int:
        """Return the column of the sheet that one of the long table came from; -1 for none."""
        located, long = self.located, self.long
        if long.sources is None:
            # Columns that were made of others stand behind those of the sheet.
            return located.at[column] if column < len(located.at) else -1
        if column >= len(long.names) - 2:
            return -1
        return located.at[located.names.index(long.names[column])]

    def sheet_columns(self, column: int, rows: pl.Series) -> list[tuple[str, int]]:
        """Return name and column of the sheet of the cells of some rows of a column."""
        located, long = self.located, self.long
        if long.sources is None or column < len(long.names) - 1:
            return [(long.names[column], self.sheet_column(column))] * len(rows)
        return [(located.names[source], located.at[source]) for source in long.sources.gather(rows)]


def _understood(long: LongTable, absent: Collection[str]) -> tuple[Column, ...]:
    return understand_all(long.names, long.cells, absent)


def _with_roles_of(told: Happenings | None, mapping: Mapping) -> Mapping:
    """Leave columns alone that became numbers, unless a person says what they are for."""
    answered = () if told is None else told.answered
    return replace(mapping, roles=dict.fromkeys(answered, ColumnRole.IGNORE) | mapping.roles)


def word_key(word: str) -> str:
    """Return what the step is known by that takes a word for no value."""
    return f"no value:{word}"


def _words_known(long: LongTable, of_numbers: list[int], mapping: Mapping) -> list[Taken]:
    """Say which words stand for a value that is not there."""
    counts: dict[str, int] = {}
    for number in of_numbers if mapping.missing_words else ():
        cells = long.cells.to_series(number).str.to_lowercase()
        for word in mapping.missing_words:
            counts[word] = counts.get(word, 0) + int((cells == word).sum())
    quoted = "\N{LEFT DOUBLE QUOTATION MARK}{}\N{RIGHT DOUBLE QUOTATION MARK} is no value ({:,})"
    return [
        Taken(word_key(word), quoted.format(word, count), "That was answered.", done=True)
        for word, count in counts.items()
        if count
    ]


def _clock(long: LongTable, number: int) -> ClockChoice:
    cells = long.cells.to_series(number)
    colons = cells.filter(cells.str.contains(":", literal=True)).unique().head(LOOKED_AT)
    return decide_clock(long.names[number], colons.to_list())


def _numbers(
    cells: pl.Series, mark: DecimalMark, told: ClockChoice, mapping: Mapping
) -> NumberColumn:
    """Read a column of numbers; of several units only that of most, unless they are converted."""
    clock = mapping.clock if told.undecided and mapping.clock else told.clock
    column = read_numbers(cells, mark, clock, absent=mapping.missing_words)
    if len(column.units) < 2:
        return column
    if mapping.convert and column.converts:
        return read_numbers(cells, mark, clock, column.unit, mapping.missing_words)
    return column.of_one_unit()
