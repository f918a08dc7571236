"""Understands a table: which column holds the periods, which the values, and what is wrong."""

import re
from dataclasses import dataclass, replace
from datetime import datetime
from zoneinfo import ZoneInfo

from fluctus.intake.grains import period_of, propose_grain, second_time_round
from fluctus.kpis.periods import Grain
from fluctus.refusals import Issue, RefusalError
from fluctus.tables.columns import Column, Kind, understand
from fluctus.tables.dates import EXAMPLES, DateColumn, DateStyle, read_dates
from fluctus.tables.delimited import DELIMITERS, Table, TableError, read_table
from fluctus.tables.numbers import DecimalMark, NumberColumn, is_missing, read_numbers
from fluctus.tables.text import NotTextError, decode

CANNOT_READ = "This table cannot be read."
MAX_DECIMALS = 4


@dataclass(frozen=True, slots=True)
class Choices:
    """How a person wants a table read; None where Fluctus is to find out."""

    header: bool | None = None
    period: int | None = None
    value: int | None = None
    date_style: DateStyle | None = None
    decimal_mark: DecimalMark | None = None
    grain: Grain | None = None
    time_zone: str = "UTC"
    leave_out: bool = False
    """Whether rows with problems are left out; otherwise they stop the import."""


@dataclass(frozen=True, slots=True)
class Reading:
    """A table as it was understood.

    ``made`` are the choices in force, found or given. ``rows`` are the periods
    and values, in order of time, of the rows without ``problems``.
    """

    table: Table
    encoding: str
    columns: tuple[Column, ...]
    made: Choices
    date_styles: tuple[DateStyle, ...]
    """The style in force, then those that the column cannot be told apart from."""
    rows: list[tuple[datetime, float]]
    problems: list[Issue]
    missing: int
    sorted_here: bool
    """Whether the rows were not in order of time."""
    name: str
    unit: str
    decimals: int


def read(raw: bytes, choices: Choices) -> Reading:
    """Read a table from ``raw``, by ``choices`` where they say and by its looks elsewhere.

    Raises RefusalError when there is no table, or no column of dates or of
    numbers; what is wrong with single rows is in ``problems``.
    """
    try:
        decoded = decode(raw)
        table = read_table(decoded.text, choices.header)
    except (NotTextError, TableError) as error:
        raise RefusalError(CANNOT_READ, Issue(str(error))) from error
    cells = [[row[n] for row in table.rows] for n in range(len(table.names))]
    columns = tuple(understand(name, own) for name, own in zip(table.names, cells, strict=True))
    period = _choose(columns, Kind.DATE, choices.period, "dates", "2026-05-18 or 18 May 2026")
    value = _choose(columns, Kind.NUMBER, choices.value, "numbers", "19.4 or 19,4")
    if period == value:
        raise RefusalError(
            CANNOT_READ, Issue("One column cannot be both the period and the value.")
        )
    dates = read_dates(cells[period], choices.date_style)
    numbers = read_numbers(cells[value], choices.decimal_mark)
    moments = [moment for moment in dates.values if moment is not None]
    grain = choices.grain or propose_grain(moments)
    made = replace(
        choices, header=table.has_header, period=period, value=value,
        date_style=dates.style, decimal_mark=numbers.mark, grain=grain,
    )  # fmt: skip
    rows, problems = _rows(table, made, dates, numbers)
    ordered = sorted(rows)
    name, unit = _name_and_unit(table.names[value] if table.has_header else "")
    return Reading(
        table=table,
        encoding=decoded.encoding,
        columns=columns,
        made=made,
        date_styles=(dates.style, *dates.others),
        rows=ordered,
        problems=problems,
        missing=numbers.missing,
        sorted_here=rows != ordered,
        name=name,
        unit=unit,
        decimals=min(numbers.decimals, MAX_DECIMALS),
    )


def delimiter_name(table: Table) -> str:
    """Name the delimiter of a table for people."""
    return DELIMITERS[table.delimiter]


def _choose(
    columns: tuple[Column, ...], kind: Kind, chosen: int | None, what: str, example: str
) -> int:
    if chosen is not None:
        if not 0 <= chosen < len(columns):
            raise RefusalError(CANNOT_READ, Issue(f"There is no column {chosen + 1}."))
        return chosen
    for number, column in enumerate(columns):
        if column.kind is kind:
            return number
    raise RefusalError(
        CANNOT_READ,
        Issue(f"No column holds {what}.", f"One column must hold {what}, such as {example}."),
    )


def _rows(
    table: Table, made: Choices, dates: DateColumn, numbers: NumberColumn
) -> tuple[list[tuple[datetime, float]], list[Issue]]:
    assert made.grain is not None, "the caller has settled the grain"
    assert made.period is not None, "the caller has settled the columns"
    assert made.value is not None, "the caller has settled the columns"
    zone = ZoneInfo(made.time_zone)
    date_name, value_name = table.names[made.period], table.names[made.value]
    bad_dates, bad_numbers = set(dates.misfits), set(numbers.misfits)
    rows: list[tuple[datetime, float]] = []
    problems: list[Issue] = []
    first_lines: dict[datetime, int] = {}
    for n, (cells, line) in enumerate(zip(table.rows, table.lines, strict=True)):
        if line in table.too_wide:
            problems.append(_too_wide(line, table.too_wide[line], len(table.names)))
            continue
        if n in bad_dates:
            problems.append(_bad_date(line, date_name, cells[made.period], dates.style))
            continue
        if n in bad_numbers:
            problems.append(_bad_number(line, value_name, cells[made.value], numbers.mark))
            continue
        moment, value = dates.values[n], numbers.values[n]
        if moment is None or value is None:
            continue
        period = period_of(moment, made.grain, zone)
        if period in first_lines:
            period = second_time_round(moment, made.grain, zone) or period
        if period in first_lines:
            problems.append(
                _repeated(line, date_name, cells[made.period], first_lines[period], made.grain)
            )
            continue
        first_lines[period] = line
        rows.append((period, value))
    return rows, problems


def _too_wide(line: int, found: int, width: int) -> Issue:
    return Issue(
        f"The row has {found} cells, the table {width} columns.",
        "Put cells that contain the delimiter in quotation marks, or remove what is extra.",
        row=line,
    )


def _bad_date(line: int, column: str, cell: str, style: DateStyle) -> Issue:
    if is_missing(cell):
        return Issue(
            "The date is missing.", "Fill it in, or remove the row.", row=line, column=column
        )
    return Issue(
        f"This is not a date written like the others, as in {EXAMPLES[style]}.",
        "Write it like the others, or choose how dates are written.",
        row=line, column=column, found=cell,
    )  # fmt: skip


def _bad_number(line: int, column: str, cell: str, mark: DecimalMark) -> Issue:
    return Issue(
        f"This is not a number with a decimal {mark}.",
        "Write a number, or leave the cell empty where there is no value.",
        row=line, column=column, found=cell,
    )  # fmt: skip


def _repeated(line: int, column: str, cell: str, first: int, grain: Grain) -> Issue:
    return Issue(
        f"This {grain} has a value in row {first} already.",
        f"Keep one row for each {grain}.",
        row=line, column=column, found=cell,
    )  # fmt: skip


def _name_and_unit(header: str) -> tuple[str, str]:
    """Split ``Turnaround (min)`` into a name and a unit."""
    match = re.fullmatch(r"(?P<name>.+?)\s*[(\[](?P<unit>[^)\]]{1,20})[)\]]", header)
    return (match["name"], match["unit"]) if match else (header, "")
