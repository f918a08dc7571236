"""Several tables on one sheet, below or beside one another: told apart, and read one by one."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import polars as pl

from fluctus.tables.grid import Grid
from fluctus.tables.meaning.dates import looks_like_date
from fluctus.tables.meaning.header import is_data
from fluctus.tables.meaning.numbers import is_missing

FEWEST_ROWS: Final = 3
"""Rows of a table with its header."""
LOOKED_AT: Final = 20_000
"""Rows of a sheet that is looked through; longer ones come from programs and hold one table."""
MOST_CELLS: Final = 200_000
MOST: Final = 20
MOSTLY: Final = 0.6
PAGE: Final = re.compile(
    r"\b(page|seite|blatt|pagina|p\u00e1gina|sheet|sida|side|strona|continued|fortsetzung)\b"
    r"|\d+\s*(of|/|von|de|sur|di)\s*\d+",
    re.IGNORECASE,
)
"""What stands above names that come again, and tells which page it is."""

Row = Sequence[str]


@dataclass(frozen=True, slots=True)
class Block:
    """A part of a sheet that is a table of its own: its lines and columns, and how it is told."""

    first_line: int
    last_line: int
    columns: tuple[int, ...]
    says: str

    def of(self, grid: Grid) -> Grid:
        """Return what of a sheet is this table; its columns stay where they are."""
        inside = (grid.lines >= self.first_line) & (grid.lines <= self.last_line)
        others = [n for n in range(grid.width) if n not in self.columns]
        blank = [pl.lit("").alias(f"c{n}") for n in others]
        cells = grid.cells.filter(inside).with_columns(blank)
        filled = cells.select(pl.any_horizontal(pl.all() != "")).to_series()
        return Grid(cells.filter(filled), grid.lines.filter(inside).filter(filled), grid.named)


def blocks_of(grid: Grid) -> list[Block]:
    """Return the tables of a sheet where it holds several; none where it holds one."""
    small = FEWEST_ROWS < len(grid) <= LOOKED_AT and len(grid) * grid.width <= MOST_CELLS
    if grid.named or not small:
        return []
    rows = grid.rows(0, len(grid))
    parts = _below_one_another(rows, grid.lines.to_list())
    blocks = [block for first, last in parts for block in _side_by_side(rows, grid, first, last)]
    return blocks[:MOST] if len(blocks) > 1 else []


def _below_one_another(rows: list[tuple[str, ...]], lines: list[int]) -> list[tuple[int, int]]:
    """Return the first row of each table and the row behind it, told apart by blank lines.

    What comes behind a blank line is a table of its own where it has a header of its own.
    """
    starts = [0, *(n for n in range(1, len(lines)) if lines[n] > lines[n - 1] + 1)]
    ends = [*starts[1:], len(rows)]
    parts: list[tuple[int, int]] = []
    headers: list[tuple[Row, str]] = []
    begun: int | None = None
    for start, end in zip(starts, ends, strict=True):
        header = _header_in(rows[start:end])
        title = "" if header is None else _title_above(header, rows[start:end])
        if header is not None and _is_another(header, title, headers):
            headers.append((header, title))
            parts.append((start if begun is None else begun, end))
            begun = None
        elif header is None and end - start < FEWEST_ROWS and end < len(rows):
            # A title, or a few lines of words, goes with what comes below it.
            begun = start if begun is None else begun
        elif parts:
            parts[-1] = (parts[-1][0], end)
            begun = None
        else:
            begun = start if begun is None else begun
    return parts if len(parts) > 1 else [(0, len(rows))]


def _header_in(rows: list[tuple[str, ...]]) -> Row | None:
    """Return the row of names that a table begins with, with data in the rows below it."""
    for number, row in enumerate(rows[:FEWEST_ROWS]):
        texts = [cell for cell in row if cell]
        below = rows[number + 1 : number + 4]
        if len(texts) > 1 and not any(map(_is_data, texts)):
            told = sum(sum(map(_is_data, filter(None, other))) > 0 for other in below)
            dated = any(looks_like_date(cell) for other in below for cell in other if cell)
            return row if below and told == len(below) and dated else None
    return None


def _is_another(header: Row, title: str, headers: list[tuple[Row, str]]) -> bool:
    """Tell whether what has a header is a table of its own, beside those with other ``headers``.

    The same names again are the next page of a table, but below a title of their own.
    """
    known = [other for names, other in headers if names == header]
    return not known or (title != "" and title not in known)


def _title_above(header: Row, rows: list[tuple[str, ...]]) -> str:
    """Return the one cell above a header that tells what the table is of; "" where none does."""
    above = rows[: rows.index(tuple(header))]
    titles = [[cell for cell in row if cell] for row in above]
    title = titles[-1][0] if titles and len(titles[-1]) == 1 else ""
    return "" if _is_data(title) or PAGE.search(title) else title


def _is_data(cell: str) -> bool:
    return is_data(cell) or is_missing(cell)


def _side_by_side(rows: list[tuple[str, ...]], grid: Grid, first: int, last: int) -> list[Block]:
    """Return the tables that stand side by side: with blank columns between, each with dates."""
    some = rows[first:last]
    filled = [any(row[n] for row in some) for n in range(grid.width)]
    runs: list[list[int]] = []
    for number, is_filled in enumerate(filled):
        if is_filled and number and filled[number - 1] and runs:
            runs[-1].append(number)
        elif is_filled:
            runs.append([number])
    tables = [run for run in runs if len(run) > 1 and any(_holds_dates(some, n) for n in run)]
    if len(tables) < 2 or len(tables) < len(runs):
        tables = [list(range(grid.width))]
    lines = grid.lines
    return [_block(some, int(lines[first]), int(lines[last - 1]), run) for run in tables]


def _holds_dates(rows: list[tuple[str, ...]], column: int) -> bool:
    cells = [row[column] for row in rows[1:200] if row[column]]
    return bool(cells) and sum(map(looks_like_date, cells)) >= len(cells) * MOSTLY


def _block(rows: list[tuple[str, ...]], first: int, last: int, columns: list[int]) -> Block:
    inside = [[row[n] for n in columns if row[n]] for row in rows]
    top = next((cells for cells in inside if cells), [])
    name = ", ".join(top)[:60]
    return Block(first, last, tuple(columns), f"Rows {first} to {last}: {name}")
