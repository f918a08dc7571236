"""Rows that sum those above them: subtotals by their names, and sums that have none."""

from typing import Final

import numpy as np
import polars as pl
from numpy.typing import NDArray

from fluctus.tables.meaning.dates import looks_like_date
from fluctus.tables.meaning.location import LABEL_COLUMNS, LocatedTable
from fluctus.tables.meaning.numbers import looks_like_number, read_numbers
from fluctus.tables.meaning.steps.step import Step
from fluctus.tables.meaning.words import TOTAL

TOLERANCE: Final = 0.006
WHY: Final = "total"
LOOKED_AT: Final = 5_000
"""Rows of a table that is looked through for sums; longer ones come from programs."""
FEWEST: Final = 2


def find(table: LocatedTable) -> list[Step]:
    """Find rows that are totals of others, by what they are called or by what they add up to."""
    steps: list[Step] = []
    named = _named(table)
    if named.any():
        steps.append(_step(table.lines.filter(named), "called so"))
        table = table.without_rows(named, WHY)
    if nameless := _nameless_sums(table):
        steps.append(_step(pl.Series(nameless), "the sum of the rows above, without a name"))
    return steps


def _named(table: LocatedTable) -> pl.Series:
    """Return which rows are called the total of something that stands above them."""
    out = pl.Series([False]).new_from_index(0, len(table))
    for number in range(min(LABEL_COLUMNS, len(table.names))):
        cells = table.column(number)
        known = set(cells.unique())
        if len(known) > LOOKED_AT:
            continue  # So many different labels name things, and no groups of them.
        totals = [
            cell for cell in known if (cell and _is_total_of(cell, known)) or TOTAL.fullmatch(cell)
        ]
        if totals and len(totals) < len(known):
            out = out | cells.is_in(totals)
    several = table.cells.select(pl.sum_horizontal(pl.all() != "") > 1).to_series()
    return out & several


def _is_total_of(cell: str, known: set[str]) -> bool:
    """Tell whether a label is "North total" or "Total North" where there is a North."""
    words = cell.split()
    if len(words) < 2:
        return False
    first, last = words[0].lower(), words[-1].lower()
    if TOTAL.fullmatch(last):
        return " ".join(words[:-1]).rstrip(":,-") in known
    return bool(TOTAL.fullmatch(first)) and " ".join(words[1:]).lstrip(":- ") in known


def _nameless_sums(table: LocatedTable) -> list[int]:
    """Return the lines of rows without a name that sum those above them, or all of them."""
    if not FEWEST < len(table) <= LOOKED_AT:
        return []
    rows = table.cells.rows()
    numbers = [n for n in range(len(table.names)) if looks_like_number(rows[-1][n])]
    labels = [n for n in range(len(table.names)) if n not in numbers]
    if not numbers or not any(row[n] for row in rows for n in labels):
        return []
    # Among the numbers of a total there is none that reads as a date, as a year does.
    nameless = [
        at
        for at, row in enumerate(rows)
        if not any(row[n] for n in labels) and not any(looks_like_date(row[n]) for n in numbers)
    ]
    if not nameless:
        return []
    values = np.array([read_numbers(table.column(n)).numbers.to_numpy() for n in numbers], float)
    found: list[int] = []
    start = 0
    for at in nameless:
        above = values[:, start:at]
        whole = np.delete(values[:, :at], found, axis=1) if found else above
        last = at == len(rows) - 1
        if _adds_up(above, values[:, at]) or (last and _adds_up(whole, values[:, at])):
            found.append(at)
            start = at + 1
    return [int(table.lines[at]) for at in found]


def _adds_up(above: NDArray[np.float64], total: NDArray[np.float64]) -> bool:
    """Tell whether each column above sums to its total."""
    told = ~np.isnan(total)
    filled = (~np.isnan(above)).sum(axis=1)
    if not told.any() or (filled[told] < FEWEST).any() or not np.nan_to_num(above)[told].any():
        return False
    room = TOLERANCE * filled + 1e-9 * np.nansum(np.abs(above), axis=1)
    return bool((np.abs(np.nansum(above, axis=1) - total) <= room)[told].all())


def _step(lines: pl.Series, why: str) -> Step:
    count = len(lines)
    rows = "One row is a total" if count == 1 else f"{count:,} rows are totals"

    def do(table: LocatedTable) -> LocatedTable:
        return table.without_rows(table.lines.is_in(lines.implode()), WHY)

    return Step(
        key=f"total-rows:{why}",
        says=f"{rows} of others, and left out",
        why=f"{'It is' if count == 1 else 'They are'} {why}.",
        do=do,
    )
