"""CSV and its kin: which delimiter, which quotation marks, and the cells."""

import csv
import io
import re
from collections import Counter
from collections.abc import Iterator

import polars as pl

from fluctus.tables.grid import (
    MAX_CELLS,
    MAX_COLUMNS,
    NOTHING,
    Grid,
    TableError,
    grid_of_columns,
    grid_of_parts,
    make_grid,
)

# A comma can also be a decimal mark, so where another delimiter fits as well, it wins.
DELIMITERS = {"\t": "tab", ";": "semicolon", "|": "bar", ",": "comma"}
SAMPLE_LINES = 60
SAMPLE_LENGTH = 200_000
BLOCK = 4_000_000


def read_delimited(text: str) -> tuple[Grid, str]:
    """Read a delimited text; returns its cells and its delimiter.

    Raises TableError for a text with nothing in it, or past the limits of size.
    """
    if not text.strip():
        raise TableError(NOTHING)
    if _is_lined_up(text):
        text = "\n".join(re.sub(r" {2,}", "\t", line.strip()) for line in text.splitlines())
    delimiter, quote = _style(text)
    if (regular := _regular(text, delimiter, quote)) is not None:
        return regular, delimiter
    if quote not in text:
        return _unquoted(text, delimiter), delimiter
    return make_grid(_rows(text, delimiter, quote)), delimiter


def _is_lined_up(text: str) -> bool:
    """Tell whether blanks alone part the columns: two or more in most of the lines."""
    lines = [line for line in text[:SAMPLE_LENGTH].splitlines() if line.strip()][:SAMPLE_LINES]
    marks = sum(any(mark in line for mark in ("\t", ";", "|")) for line in lines)
    gaps = Counter(len(re.findall(r"(?<=\S) {2,}(?=\S)", line)) for line in lines)
    usual, count = max(gaps.items(), key=lambda item: item[1], default=(0, 0))
    return len(lines) > 2 and marks == 0 and usual > 0 and count > len(lines) / 2


def _regular(text: str, delimiter: str, quote: str) -> Grid | None:
    """Read a text whose rows are as wide as its first ones, and a line each; None for any other.

    Most are so, and then all of it is read many times as fast.
    """
    ends = text.replace("\r\n", "\n").replace("\r", "\n")
    first = ends[:SAMPLE_LENGTH].split("\n")[:SAMPLE_LINES]
    try:
        width = max(map(len, csv.reader(first, delimiter=delimiter, quotechar=quote)), default=0)
        if not 0 < width <= MAX_COLUMNS or (ends.count("\n") + 1) * width > MAX_CELLS:
            return None
        cells = pl.read_csv(
            io.BytesIO(ends.encode()),
            has_header=False,
            separator=delimiter,
            quote_char=quote if quote in ends else None,
            schema={f"c{n}": pl.String for n in range(width)},
        )
    except (csv.Error, pl.exceptions.PolarsError):
        return None
    odd = pl.any_horizontal(pl.all().str.contains_any([quote, "\n"]))
    if quote in ends and cells.select(odd.any()).item():
        return None
    return grid_of_columns(cells, pl.int_range(1, cells.height + 1, eager=True))


def _unquoted(text: str, delimiter: str) -> Grid:
    """Read a text without quotation marks, in which every delimiter is one."""
    return grid_of_parts(_blocks(text), delimiter)


def _blocks(text: str) -> Iterator[pl.Series]:
    """Yield the lines of a text in stretches, which take many times their length to be split."""
    ends = text.replace("\r\n", "\n").replace("\r", "\n")
    start = 0
    while start <= len(ends):
        stop = ends.find("\n", start + BLOCK)
        stop = len(ends) if stop < 0 else stop
        yield pl.Series("row", ends[start:stop].split("\n"), dtype=pl.String)
        start = stop + 1


def _style(text: str) -> tuple[str, str]:
    lines = [line for line in text[:SAMPLE_LENGTH].splitlines() if line.strip()][:SAMPLE_LINES]
    quote = "'" if _quoted(lines, "'") > max(_quoted(lines, '"'), len(lines) // 2) else '"'

    def fit(delimiter: str) -> tuple[float, bool]:
        try:
            reader = csv.reader(lines, delimiter=delimiter, quotechar=quote)
            widths = Counter(len(row) for row in reader)
        except csv.Error:  # reading all of it will say what is wrong, and where
            return (0.0, delimiter != ",")
        # Titles and notes have one cell; the table is where most lines are wider.
        wide = {width: count for width, count in widths.items() if width > 1}
        return (max(wide.values(), default=0) / len(lines), delimiter != ",")

    return max(DELIMITERS, key=fit), quote


def _holds_a_row(cell: str, delimiter: str, first: str) -> bool:
    """Tell whether a cell goes on with what looks like the beginning of another row."""
    shape = _shape(first)
    following = (line.partition(delimiter) for line in cell.split("\n")[1:])
    return any(mark and _shape(begin) == shape for begin, mark, _ in following)


def _shape(text: str) -> str:
    return re.sub(r"[^\W\d]", "a", re.sub(r"\d", "9", text.strip()))


def _quoted(lines: list[str], quote: str) -> int:
    """Count the lines that begin or end with a quotation mark."""
    return sum(line.startswith(quote) or line.endswith(quote) for line in lines)


def _rows(text: str, delimiter: str, quote: str) -> Iterator[tuple[int, list[str]]]:
    # Read from bytes, as a text that is read by lines takes four of them for each letter.
    lines = io.TextIOWrapper(io.BytesIO(text.encode()), encoding="utf-8", newline="")
    reader = csv.reader(lines, delimiter=delimiter, quotechar=quote, skipinitialspace=True)
    began, long_cells = 1, 0
    swallowed: tuple[int, int] | None = None
    try:
        for row in reader:
            lines_in = reader.line_num - began
            if lines_in:
                long_cells += 1
                if any(_holds_a_row(cell, delimiter, row[0]) for cell in row[1:]):
                    swallowed = began, lines_in
            yield reader.line_num, row
            began = reader.line_num + 1
    except csv.Error as error:
        raise TableError(
            f"Row {began} cannot be read as a row. "
            "Look for a cell that is far too long, or a quotation mark that is not closed."
        ) from error
    if swallowed is not None and long_cells == 1:
        # The one cell that goes on over lines has whole rows in it.
        line, count = swallowed
        below = "the row below" if count == 1 else f"the {count} rows below"
        raise TableError(
            f"The quotation mark in row {line} is not closed where it should be: {below} would "
            "be a part of its cell. Close it, or remove it."
        )
