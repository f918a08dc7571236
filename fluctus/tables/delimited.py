"""CSV and its kin: which delimiter, whether there is a header, and the cells."""

import csv
from collections import Counter
from dataclasses import dataclass

from fluctus.tables.dates import looks_like_date
from fluctus.tables.numbers import looks_like_number

# A comma can also be a decimal mark, so where another delimiter fits as well, it wins.
DELIMITERS = {"\t": "tab", ";": "semicolon", "|": "bar", ",": "comma"}
SAMPLE_LINES = 60
MAX_COLUMNS = 200
MAX_ROWS = 200_000


NOTHING = "There is nothing here. Paste a table with a column of dates and one of values."


class TableError(ValueError):
    """There is no table to be read; the message says why and what to do."""


@dataclass(frozen=True, slots=True)
class Table:
    """Cells as they were found.

    ``rows`` all have as many cells as there are ``names``; ``lines`` gives the
    line each row came from, counted from 1 as a person would.
    """

    names: tuple[str, ...]
    rows: list[list[str]]
    lines: list[int]
    delimiter: str
    has_header: bool
    too_wide: dict[int, int]
    """Rows with more cells than the table is wide, by line: how many they have."""


def read_table(text: str, has_header: bool | None = None) -> Table:
    """Read a delimited text. ``has_header`` None finds out.

    Raises TableError for a text with nothing in it, or too wide or long.
    """
    if not text.strip():
        raise TableError(NOTHING)
    delimiter = _delimiter(text)
    rows, lines = _cells(text, delimiter)
    if not rows:
        raise TableError(NOTHING)
    width = Counter(len(row) for row in rows).most_common(1)[0][0]
    width = max(width, len(rows[0]) if len(rows) == 1 else 1)
    if width > MAX_COLUMNS:
        raise TableError(f"The table has {width:,} columns; at most {MAX_COLUMNS} can be read.")
    header = _is_header(rows[0]) if has_header is None else has_header
    names = _names(rows[0] if header else [], width)
    if header:
        rows, lines = rows[1:], lines[1:]
    if not rows:
        raise TableError("There is a header, but no rows below it.")
    too_wide = {
        line: len(row)
        for line, row in zip(lines, rows, strict=True)
        if any(cell for cell in row[width:])
    }
    squared = [[*row[:width], *[""] * (width - len(row))] for row in rows]
    return Table(names, squared, lines, delimiter, header, too_wide)


def _delimiter(text: str) -> str:
    lines = [line for line in text.splitlines() if line.strip()][:SAMPLE_LINES]

    def fit(delimiter: str) -> tuple[float, bool]:
        try:
            widths = Counter(len(row) for row in csv.reader(lines, delimiter=delimiter))
        except csv.Error:  # reading all of it will say what is wrong, and where
            return (0.0, delimiter != ",")
        width, count = widths.most_common(1)[0]
        return (count / len(lines) if width > 1 else 0.0, delimiter != ",")

    return max(DELIMITERS, key=fit)


def _cells(text: str, delimiter: str) -> tuple[list[list[str]], list[int]]:
    rows: list[list[str]] = []
    lines: list[int] = []
    reader = csv.reader(text.splitlines(keepends=True), delimiter=delimiter, skipinitialspace=True)
    try:
        for row in reader:
            cells = [cell.strip() for cell in row]
            if any(cells):
                rows.append(cells)
                lines.append(reader.line_num)
            if len(rows) > MAX_ROWS:
                raise TableError(f"The table has more than {MAX_ROWS:,} rows. Split it.")
    except csv.Error as error:
        raise TableError(
            f"Line {reader.line_num} cannot be read as a row: {error}. "
            "A cell may be far too long, or a quotation mark not closed."
        ) from error
    return rows, lines


def _is_header(row: list[str]) -> bool:
    return not any(looks_like_number(cell) or looks_like_date(cell) for cell in row)


def _names(header: list[str], width: int) -> tuple[str, ...]:
    names: list[str] = []
    for n in range(width):
        name = (header[n] if n < len(header) else "") or f"Column {n + 1}"
        base, copy = name, 2
        while name in names:
            name, copy = f"{base} ({copy})", copy + 1
        names.append(name)
    return tuple(names)
