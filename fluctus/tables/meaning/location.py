"""Finds the table in a sheet: where it begins and ends, its header, and what is no part of it."""

import re
from collections.abc import Collection, Sequence
from dataclasses import dataclass, field, replace

import polars as pl

from fluctus.tables.grid import Grid, TableError
from fluctus.tables.meaning.dates import looks_like_year
from fluctus.tables.meaning.header import (
    are_units,
    complement,
    first_row,
    header_rows_of,
    is_data,
)
from fluctus.tables.meaning.numbers import is_missing
from fluctus.tables.meaning.words import TOTAL_WORDS, is_unit

LOOKED_AT = 200
"""Rows from the top in which the table must begin."""
MOST_HEADER_ROWS = 2
SPARSE = 0.2
"""A column without a name and filled in fewer rows than this share is no column of the table."""
LABEL_COLUMNS = 3
LONGEST_NAME = 110
"""Of a column: a KPI is called so, and copies of a name have a number more."""
CUT = "\N{HORIZONTAL ELLIPSIS}"
FEWEST_WORDS = 4
TOTAL = rf"(?i)^({TOTAL_WORDS}|average|mean|durchschnitt|moyenne|promedio)[^\pL]*$"
LEFT_OUT_SHOWN = 50


@dataclass(frozen=True, slots=True)
class LeftOut:
    """A row that stands in the sheet but is no row of the table."""

    line: int
    why: str
    text: str


@dataclass(frozen=True, slots=True)
class LocatedTable:
    """A table in a sheet.

    ``cells`` has one column of texts per column of the table, named ``c0`` and
    on; ``lines`` the row of the sheet each row came from; ``at`` the column of
    the sheet of each column. ``header_rows`` counts the rows that name the
    columns. ``too_wide`` gives rows with cells past the last column, by line:
    how many cells they have.
    """

    names: tuple[str, ...]
    cells: pl.DataFrame
    lines: pl.Series
    at: tuple[int, ...]
    header_rows: int
    header_line: int | None
    above: tuple[str, ...] = ()
    left_out: tuple[LeftOut, ...] = ()
    left_out_count: int = 0
    too_wide: dict[int, int] = field(default_factory=dict)
    taken_in: frozenset[int] = frozenset()
    """Lines that a person takes for rows of the table, whatever they look like."""

    def column(self, number: int) -> pl.Series:
        """Return the texts of one column."""
        return self.cells.to_series(number)

    def without(self, names: Collection[str]) -> "LocatedTable":
        """Return the table without some of its columns, by their names."""
        kept = [n for n, name in enumerate(self.names) if name not in names]
        return replace(
            self,
            names=tuple(self.names[n] for n in kept),
            at=tuple(self.at[n] for n in kept),
            cells=self.cells.select(pl.col(f"c{n}").alias(f"c{i}") for i, n in enumerate(kept)),
        )

    def with_column(self, name: str, cells: pl.Series, source: int) -> "LocatedTable":
        """Return the table with one more column; ``source`` is one that it was made from."""
        copy, wanted = 2, name
        while name in self.names:
            name, copy = f"{wanted} ({copy})", copy + 1
        return replace(
            self,
            names=(*self.names, name),
            at=(*self.at, self.at[source]),
            cells=self.cells.with_columns(cells.alias(f"c{len(self.names)}")),
        )

    def without_rows(self, out: pl.Series, why: str) -> "LocatedTable":
        """Return the table without the rows that ``out`` tells, which are noted as left out."""
        out = out & ~self.lines.is_in(list(self.taken_in))
        reasons = pl.Series([why]).new_from_index(0, len(out))
        told = left_out_rows(self.cells, self.lines, reasons, out)
        return replace(
            self,
            cells=self.cells.filter(~out),
            lines=self.lines.filter(~out),
            left_out=(*self.left_out, *told)[:LEFT_OUT_SHOWN],
            left_out_count=self.left_out_count + int(out.sum()),
        )

    def __len__(self) -> int:
        return self.cells.height


def locate_table(
    grid: Grid,
    header_rows: int | None = None,
    take_in: frozenset[int] = frozenset(),
    between: tuple[int | None, int | None] = (None, None),
) -> LocatedTable:
    """Find the table in ``grid``.

    ``header_rows`` None finds out how many rows name the columns; ``take_in``
    are lines that belong to the table though they look like totals or notes;
    ``between`` the first line of the table and its last, where they are known.
    Raises TableError where nothing is left.
    """
    first_line, last_line = between
    inside = (grid.lines >= (first_line or 0)) & (grid.lines <= (last_line or grid.lines.max()))
    grid = Grid(grid.cells.filter(inside), grid.lines.filter(inside), grid.named)
    top = grid.rows(0, LOOKED_AT)
    if not top:
        raise TableError("There are no rows between those chosen. Choose others.")
    start = 0 if grid.named or first_line is not None else first_row(top)
    headers = header_rows_of(top[start:], grid.named) if header_rows is None else header_rows
    first = start + headers
    if first >= len(grid):
        raise TableError(
            "There is a header, but no rows below it. Add rows with dates and values."
            if headers
            else "There are no rows. Add some with dates and values."
        )
    body, lines = grid.cells[first:], grid.lines[first:]
    header = [list(row) for row in top[start:first]]
    keep, extra = _columns(header, body)
    if extra and keep and extra[0] > keep[-1] and _mostly_words(body, keep[-1]):
        # A note at the end that has the delimiter in it, and no quotation marks.
        parts = [pl.when(pl.col(f"c{n}") != "").then(pl.col(f"c{n}")) for n in (keep[-1], *extra)]
        note = pl.concat_str(parts, separator=", ", ignore_nulls=True).alias(f"c{keep[-1]}")
        body, extra = body.with_columns(note), []
    too_wide = _too_wide(body, lines, extra, len(keep)) if extra else {}
    names = _names(header, keep, top[start - 1] if start else ())
    cells = body.select(pl.col(f"c{at}").alias(f"c{n}") for n, at in enumerate(keep))
    labels = list(dict.fromkeys(cell for row in header for cell in row if cell))
    why = _no_rows_of_the_table(cells, header[-1:], keep, has_header=bool(labels))
    out = why.is_not_null() & ~lines.is_in(list(take_in))
    left_out = left_out_rows(cells, lines, why, out)
    cells, lines = cells.filter(~out), lines.filter(~out)
    if cells.is_empty():
        raise TableError("There is a header, but no rows below it. Add rows with dates and values.")
    return LocatedTable(
        names=names,
        cells=cells,
        lines=lines,
        at=tuple(keep),
        header_rows=headers,
        header_line=int(grid.lines[start]) if headers else None,
        above=tuple(", ".join(cell for cell in row if cell) for row in top[:start]),
        left_out=left_out,
        left_out_count=int(out.sum()),
        taken_in=take_in,
        too_wide={line: n for line, n in too_wide.items() if line in set(lines)},
    )


def _columns(header: list[list[str]], body: pl.DataFrame) -> tuple[list[int], list[int]]:
    """Return the columns of the table, and those that only hold stray cells."""
    filled = body.select((pl.all() != "").sum()).row(0)
    named = [any(row[n] for row in header) for n in range(body.width)]
    keep, extra = [], []
    for number, count in enumerate(filled):
        stray = header and not named[number] and count < max(2, body.height * SPARSE)
        if count and stray:
            extra.append(number)
        elif count or named[number]:
            keep.append(number)
    return keep, extra


def _mostly_words(body: pl.DataFrame, number: int) -> bool:
    cells = [cell for cell in body.to_series(number).head(LOOKED_AT) if cell]
    return bool(cells) and sum(is_data(cell) for cell in cells) < len(cells) * 0.4


def _too_wide(body: pl.DataFrame, lines: pl.Series, extra: list[int], width: int) -> dict[int, int]:
    columns = [pl.col(f"c{n}") != "" for n in extra]
    over = body.select(pl.sum_horizontal(columns)).to_series()
    return {
        int(line): width + int(count)
        for line, count in zip(lines.filter(over > 0), over.filter(over > 0), strict=True)
    }


def _names(header: list[list[str]], keep: list[int], above: Sequence[str]) -> tuple[str, ...]:
    """Name the columns; what a merged cell names holds until the next name.

    A column that its header leaves without a name has that which stands ``above``.
    """
    rows = []
    two = len(header) == MOST_HEADER_ROWS
    apart, units = two and complement(*header), two and are_units(header[1])
    for number, row in enumerate(header):
        carried, full = "", []
        for at in range(len(row)):
            over = number < len(header) - 1 and not apart
            carried = row[at] or (carried if over and at and header[-1][at] else "")
            full.append(carried)
        rows.append(full)
    names: list[str] = []
    for number, at in enumerate(keep):
        parts = list(dict.fromkeys(row[at] for row in rows if row[at] and not is_missing(row[at])))
        parts = parts[-1:] if apart else parts
        if len(parts) == 2 and looks_like_year(parts[0]):
            parts.reverse()  # "Jan 2026", as a month is written
        if len(parts) == 2 and (units or is_unit(parts[1])) and not parts[1].startswith(("(", "[")):
            parts[1] = f"({parts[1]})"
        own = shortened(" ".join(parts)) or _name_above(above, at, header)
        name = own or f"Column {number + 1}"
        base, copy = name, 2
        while name in names:
            name, copy = f"{base} ({copy})", copy + 1
        names.append(name)
    return tuple(names)


def shortened(name: str) -> str:
    """Return a name that is no longer than names are kept; what is cut off shows as dots."""
    if len(name) <= LONGEST_NAME:
        return name
    return name[: LONGEST_NAME - 1] + CUT


def is_shortened(name: str) -> bool:
    """Tell whether the end of a name is cut off; a copy of it has a number behind."""
    return name[LONGEST_NAME - 1 :].startswith(CUT)


def _name_above(above: Sequence[str], at: int, header: list[list[str]]) -> str:
    """Return the name above a header that has none for a column; a title is no such name."""
    names = [cell for cell in above if cell]
    if not header or at >= len(above) or is_data(above[at]):
        return ""
    return above[at] if len(names) > 1 or at > 0 else ""


def _no_rows_of_the_table(
    cells: pl.DataFrame, header: list[list[str]], keep: list[int], *, has_header: bool
) -> pl.Series:
    """Return why each row is not one of the table; null for those that are."""
    filled = pl.sum_horizontal(pl.all() != "")
    labels = [pl.col(f"c{n}") for n in range(min(LABEL_COLUMNS, cells.width))]
    total = pl.any_horizontal(label.str.contains(TOTAL) for label in labels)
    texts = [header[0][at] for at in keep] if header else []
    again = (
        pl.all_horizontal(pl.col(f"c{n}") == text for n, text in enumerate(texts))
        if has_header and texts
        else pl.lit(value=False)
    )
    # A note fills one cell of several, and holds words: a date or a number may lack its value.
    wordy = pl.concat_str(pl.all(), ignore_nulls=True)
    words = wordy.str.contains(
        r"[A-Za-z]{3,}.*[ :].*[A-Za-z]{2,}|^(?i)(note|source|remark)"
        r"|^\(?\d+ (?i)(rows?|records?|results?)\b"
    )
    note = (filled == 1) & words & pl.lit(cells.width > 1)
    below = pl.lit(_below_the_data(cells))
    # Drawn with signs, as below the names of the columns in a text.
    ruled = (filled > 0) & pl.all_horizontal(pl.all().str.contains(r"^(\s*|[-:=_+*~|\s]{3,})$"))
    return cells.select(
        pl.when(again)
        .then(pl.lit("header again"))
        .when(ruled)
        .then(pl.lit("line"))
        .when(total & (filled > 1))
        .then(pl.lit("total"))
        .when(note | below)
        .then(pl.lit("note"))
        .alias("why")
    ).to_series()


def _below_the_data(cells: pl.DataFrame) -> pl.Series:
    """Tell which rows below the last one of data are notes, though a delimiter has cut them."""
    below = [False] * cells.height
    if cells.width == 1:
        return pl.Series(below)
    for number in range(cells.height - 1, max(0, cells.height - LOOKED_AT), -1):
        texts = [cell for cell in cells.row(number) if cell]
        words = sum(len(re.findall(r"[^\W\d_]{2,}", cell)) for cell in texts)
        begins = bool(texts) and re.match(
            r"(?i)note|source|remark|\*|\u2020|[\u00b9\u00b2\u00b3]|\d\)", texts[0]
        )
        if any(map(is_data, texts)) or not (words >= FEWEST_WORDS or (begins and words)):
            break
        below[number] = True
    return pl.Series(below)


def left_out_rows(
    cells: pl.DataFrame, lines: pl.Series, why: pl.Series, out: pl.Series
) -> tuple[LeftOut, ...]:
    """Return the first rows that are left out, as they are told."""
    rows = cells.filter(out).head(LEFT_OUT_SHOWN)
    return tuple(
        LeftOut(int(line), str(reason), " ".join(cell for cell in row if cell)[:120])
        for line, reason, row in zip(
            lines.filter(out), why.filter(out), rows.iter_rows(), strict=False
        )
    )
