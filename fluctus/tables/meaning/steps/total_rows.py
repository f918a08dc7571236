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
    if (last := _nameless_sum(table)) is not None:
        steps.append(_step(pl.Series([last]), "the sum of the rows above, without a name"))
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


def _nameless_sum(table: LocatedTable) -> int | None:
    """Return the line of a last row that has no name and sums all above it; None for none."""
    if not FEWEST < len(table) <= LOOKED_AT:
        return None
    last = [table.column(n)[-1] for n in range(len(table.names))]
    if any((cell and not looks_like_number(cell)) or looks_like_date(cell) for cell in last):
        return None
    sums = [n for n, cell in enumerate(last) if cell]
    labels = [n for n in range(len(table.names)) if n not in sums]
    if not sums or not any((table.column(n)[:-1] != "").any() for n in labels):
        return None
    return int(table.lines[-1]) if all(_adds_up(table.column(n)) for n in sums) else None


def _adds_up(cells: pl.Series) -> bool:
    values: NDArray[np.float64] = read_numbers(cells).numbers.to_numpy().astype(np.float64)
    above = values[:-1][~np.isnan(values[:-1])]
    if len(above) < FEWEST or np.isnan(values[-1]) or not np.any(above):
        return False
    room = TOLERANCE * len(above) + 1e-9 * float(np.abs(above).sum())
    return bool(abs(above.sum() - values[-1]) <= room)


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
