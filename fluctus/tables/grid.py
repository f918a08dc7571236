"""Cells as they were found in a file, before anything is understood of them."""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import TypeAlias

import polars as pl

from fluctus.tables.unreadable import UnreadableError

MAX_ROWS = 2_000_000
MAX_COLUMNS = 4_000
MAX_CELLS = 20_000_000
"""Rows times columns: a table is as large as its widest row makes it."""
MAX_CELL = 32_767
"""The longest text of a cell; no spreadsheet holds a longer one either."""
AT_ONCE = 1_000_000
"""Cells that are built up before they are laid into columns."""
TOO_LONG = f"The table has more than {MAX_ROWS:,} rows. Split it."
NOTHING = "There is nothing here. Paste a table with a column of dates and one of values."


Row: TypeAlias = tuple[int, Sequence[str]]
"""The line a row is in, and its cells."""


class TableError(UnreadableError):
    """There is no table to be read; the first sentence says why, the others what to do."""

    @property
    def what(self) -> str:
        """What is wrong, and where."""
        return str(self).partition(". ")[0].removesuffix(".") + "."

    @property
    def remedy(self) -> str:
        """What to do about it."""
        return str(self).partition(". ")[2]


@dataclass(frozen=True, slots=True)
class Grid:
    """Texts in rows and columns, without blank rows.

    ``cells`` has one column of texts for each column of the file, "" where a
    cell is empty; ``lines`` gives the line or row each came from, counted from
    1 as a person would. ``named`` tells that the first row is known to hold
    the names of the columns, as formats with fields have them.
    """

    cells: pl.DataFrame
    lines: pl.Series
    named: bool = False

    def rows(self, start: int, stop: int) -> list[tuple[str, ...]]:
        """Return some rows as plain tuples."""
        return self.cells[start:stop].rows()

    def __len__(self) -> int:
        return self.cells.height

    @property
    def width(self) -> int:
        """How many columns there are."""
        return self.cells.width


def make_grid(rows: Iterable[Row], named: bool = False) -> Grid:
    """Build a grid from lines and their cells, a stretch at a time.

    Raises TableError for nothing at all, and past the limits of size.
    """
    frames: list[pl.DataFrame] = []
    lines: list[pl.Series] = []
    for chunk in _chunks(rows):
        frame = _frame([cells for _, cells in chunk])
        numbers = pl.Series("line", [line for line, _ in chunk], dtype=pl.Int64)
        filled = frame.select(pl.any_horizontal(pl.all() != "")).to_series()
        frames.append(frame.filter(filled))
        lines.append(numbers.filter(filled))
    return _joined(frames, lines, named)


def _joined(frames: list[pl.DataFrame], lines: list[pl.Series], named: bool) -> Grid:
    if not frames:
        raise TableError(NOTHING)
    # An unusually wide stretch widens the others: what they lack is empty.
    cells = pl.concat(frames, how="diagonal").fill_null("").rechunk()
    if cells.height == 0:
        raise TableError(NOTHING)
    return _checked(Grid(cells, pl.concat(lines), named))


def _chunks(rows: Iterable[Row]) -> Iterator[list[Row]]:
    """Yield rows in stretches that fit into memory with as many cells in each row as in one.

    Raises TableError past the limits of size.
    """
    chunk: list[Row] = []
    widest = widest_line = chunk_width = 0
    for count, (line, cells) in enumerate(rows, 1):
        if len(cells) > widest:
            widest, widest_line = len(cells), line
        _check_growing(count, widest, widest_line)
        chunk_width = max(chunk_width, len(cells))
        if chunk and (len(chunk) + 1) * chunk_width > AT_ONCE:
            yield chunk
            chunk, chunk_width = [], len(cells)
        chunk.append((line, cells))
    if chunk:
        yield chunk


def grid_of_parts(blocks: Iterable[pl.Series], delimiter: str) -> Grid:
    """Build a grid from texts that hold cells with a delimiter between them, one for each line.

    Raises TableError for nothing at all, and past the limits of size.
    """
    frames: list[pl.DataFrame] = []
    lines: list[pl.Series] = []
    count = widest = widest_line = 0
    for rows in blocks:
        most = rows.str.count_matches(delimiter, literal=True)
        width = int(most.max() or 0) + 1  # type: ignore[arg-type]
        if width > widest:
            widest, widest_line = width, count + int(most.arg_max() or 0) + 1
        _check_growing(count + len(rows), widest, widest_line)
        parts = rows.str.split_exact(delimiter, width - 1).struct.unnest()
        parts.columns = _names(width)
        cells = parts.select(pl.all().fill_null("").str.strip_chars())
        numbers = pl.Series("line", range(count + 1, count + len(rows) + 1), dtype=pl.Int64)
        filled = cells.select(pl.any_horizontal(pl.all() != "")).to_series()
        frames.append(cells.filter(filled))
        lines.append(numbers.filter(filled))
        count += len(rows)
    return _joined(frames, lines, named=False)


def grid_of_columns(cells: pl.DataFrame, lines: pl.Series) -> Grid:
    """Build a grid from columns of texts, and the line that each row is in.

    Raises TableError for nothing at all, and past the limits of size.
    """
    check_size(cells.height, cells.width)
    cells = cells.select(pl.all().fill_null("").str.strip_chars())
    filled = cells.select(pl.any_horizontal(pl.all() != "")).to_series()
    if filled.all():
        return _checked(Grid(cells, lines.alias("line"))) if len(filled) else _joined([], [], False)
    return _joined([cells.filter(filled)], [lines.alias("line").filter(filled)], named=False)


def grid_of(cells: pl.DataFrame) -> Grid:
    """Build a grid from columns with names, as formats with fields have them."""
    check_size(cells.height, cells.width)
    names = pl.DataFrame([list(cells.columns)], schema=_names(cells.width), orient="row")
    body = cells.rename(dict(zip(cells.columns, _names(cells.width), strict=True)))
    both = pl.concat([names, body.fill_null("")])
    lines = pl.Series("line", range(both.height), dtype=pl.Int64)
    filled = both.select(pl.any_horizontal(pl.all() != "")).to_series()
    return _checked(Grid(both.filter(filled), lines.filter(filled), named=True))


def _check_growing(rows: int, widest: int, line: int) -> None:
    """Raise TableError where a table has too many rows by now, or cells; ``line`` is the widest."""
    if rows > MAX_ROWS:
        raise TableError(TOO_LONG)
    if widest > MAX_COLUMNS:
        raise TableError(_too_wide(widest))
    if rows * widest > MAX_CELLS:
        raise TableError(_too_many(rows, widest, line))


def check_size(rows: int, columns: int) -> None:
    """Raise TableError where a table of so many rows and columns has none, or too many."""
    if columns > MAX_COLUMNS:
        raise TableError(_too_wide(columns))
    if rows > MAX_ROWS:
        raise TableError(TOO_LONG)
    if rows * columns > MAX_CELLS:
        raise TableError(_too_many(rows, columns))
    if columns == 0:
        raise TableError(NOTHING)


def _frame(rows: list[Sequence[str]]) -> pl.DataFrame:
    width = max(map(len, rows))
    if any(len(row) != width for row in rows):
        rows = [(*row, *[""] * (width - len(row))) for row in rows]
    columns = {
        name: pl.Series(name, column, dtype=pl.String).str.strip_chars()
        for name, column in zip(_names(width), zip(*rows, strict=True), strict=True)
    }
    return pl.DataFrame(columns or {"c0": [""] * len(rows)})


def _names(width: int) -> list[str]:
    return [f"c{number}" for number in range(width)]


def _checked(grid: Grid) -> Grid:
    longest = grid.cells.select(pl.all().str.len_bytes().max()).row(0)
    for number, length in enumerate(longest):
        if length is not None and length > MAX_CELL:
            where = grid.cells.to_series(number).str.len_bytes().arg_max()
            line = grid.lines[where or 0]
            raise TableError(
                f"A cell in row {line}, column {number + 1}, has {length:,} characters; at most "
                f"{MAX_CELL:,} can be read. Look for a quotation mark that is not closed."
            )
    return grid


def _too_many(rows: int, width: int, line: int | None = None) -> str:
    widest = "" if line is None else f" (row {line:,} is the widest)"
    return (
        f"The table has {rows:,} rows or more of up to {width:,} columns{widest}; at most "
        f"{MAX_CELLS:,} cells can be read. Remove cells that are too many in a row, split the "
        "table, or leave out columns."
    )


def _too_wide(width: int) -> str:
    return (
        f"The table has {width:,} columns; at most {MAX_COLUMNS:,} can be read. "
        "Leave out columns that are not needed."
    )
