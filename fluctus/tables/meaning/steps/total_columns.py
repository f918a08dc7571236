"""A column that sums or averages others: a total at the right, a quarter among its months."""

from dataclasses import replace
from typing import Final

import numpy as np
from numpy.typing import NDArray

from fluctus.tables.meaning.location import LocatedTable
from fluctus.tables.meaning.numbers import looks_like_number, read_numbers
from fluctus.tables.meaning.period_parts import Part, reads
from fluctus.tables.meaning.steps.step import Step
from fluctus.tables.meaning.words import MEAN, TOTAL, as_words

FITTING: Final = 0.9
"""Share of the rows in which the sum must be right."""
FEWEST_ROWS: Final = 2
MOST_COLUMNS: Final = 200
LOOKED_AT: Final = 2_000
"""Rows that are added up; a table of more columns comes from a program and has no sums."""
FEWEST_PARTS: Final = 2
TOLERANCE: Final = 0.006
"""What rounding to two decimals may make of a sum, for each of its parts."""
NAMELESS: Final = "Column "


def find(table: LocatedTable) -> list[Step]:
    """Find columns of numbers that are made of those beside them, and are called so."""
    if len(table.names) > MOST_COLUMNS or not any(map(_may_be, table.names)):
        return []
    table = replace(table, cells=table.cells.head(LOOKED_AT), lines=table.lines.head(LOOKED_AT))
    numbers = {
        n: read_numbers(table.column(n)).numbers.to_numpy().astype(np.float64)
        for n in range(len(table.names))
        if _is_of_numbers(table, n)
    }
    found: list[tuple[int, list[int], str]] = []
    left: list[int] = []
    for number, values in numbers.items():
        made = _made_of(number, values, numbers, left) if _may_be(table.names[number]) else None
        if made is None:
            left.append(number)
        else:
            found.append((number, *made))
    return [_step(table, number, parts, how) for number, parts, how in found]


def _is_of_numbers(table: LocatedTable, number: int) -> bool:
    sample = [cell for cell in table.column(number).head(200) if cell]
    return bool(sample) and sum(map(looks_like_number, sample)) >= len(sample) * 0.6


def _may_be(name: str) -> bool:
    words = as_words(name)
    coarser = reads(Part.QUARTER, name) is not None and not name.strip().isdecimal()
    return (
        name.startswith(NAMELESS)
        or coarser
        or TOTAL.fullmatch(words) is not None
        or words.lower().endswith((" total", " totals"))
        or MEAN.fullmatch(words) is not None
    )


def _made_of(
    number: int,
    values: NDArray[np.float64],
    numbers: dict[int, NDArray[np.float64]],
    left: list[int],
) -> tuple[list[int], str] | None:
    """Return the columns that one is the sum or the mean of, and which of these; None for none.

    All others, or those right before it as far back as they add up.
    """
    others = [n for n in numbers if n != number]
    runs = [others, left] + [left[-count:] for count in range(len(left) - 1, 1, -1)]
    for parts in runs:
        if len(parts) < FEWEST_PARTS:
            continue
        table = np.array([numbers[n] for n in parts])
        known = ~np.isnan(table).all(axis=0) & ~np.isnan(values)
        if known.sum() < FEWEST_ROWS:
            continue
        total = np.nansum(table, axis=0)
        count = np.maximum((~np.isnan(table)).sum(axis=0), 1)
        room = TOLERANCE * len(parts) + 1e-9 * np.abs(total)
        for made, how in ((total, "sum"), (total / count, "average")):
            if (np.abs(made - values) <= room)[known].mean() >= FITTING and np.ptp(values[known]):
                return parts, how
    return None


def _step(table: LocatedTable, number: int, parts: list[int], how: str) -> Step:
    name = table.names[number]
    names = [table.names[n] for n in parts]
    of = ", ".join(names) if len(names) <= 3 else f"{names[0]} to {names[-1]}"

    def do(table: LocatedTable) -> LocatedTable:
        return table.without([name])

    return Step(
        key=f"total:{name}",
        says=f"{name} is the {how} of {of}, and left out",
        why="It says nothing that the others do not.",
        do=do,
    )
