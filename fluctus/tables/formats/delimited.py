"""CSV and its kin: which delimiter, which quotation marks, and the cells."""

import csv
import io
from collections import Counter
from collections.abc import Iterator

import polars as pl

from fluctus.tables.grid import NOTHING, Grid, TableError, grid_of_parts, make_grid

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
    delimiter, quote = _style(text)
    if quote not in text:
        return _unquoted(text, delimiter), delimiter
    return make_grid(_rows(text, delimiter, quote)), delimiter


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


def _quoted(lines: list[str], quote: str) -> int:
    """Count the lines that begin or end with a quotation mark."""
    return sum(line.startswith(quote) or line.endswith(quote) for line in lines)


def _rows(text: str, delimiter: str, quote: str) -> Iterator[tuple[int, list[str]]]:
    # Read from bytes, as a text that is read by lines takes four of them for each letter.
    lines = io.TextIOWrapper(io.BytesIO(text.encode()), encoding="utf-8", newline="")
    reader = csv.reader(lines, delimiter=delimiter, quotechar=quote, skipinitialspace=True)
    try:
        for row in reader:
            yield reader.line_num, row
    except csv.Error as error:
        raise TableError(
            f"Line {reader.line_num} cannot be read as a row: {error}. "
            "A cell may be far too long, or a quotation mark not closed."
        ) from error
