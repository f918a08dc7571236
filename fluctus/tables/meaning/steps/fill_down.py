"""A key that stands only in the first row of its group, as pivots and printed lists have it."""

from dataclasses import replace
from typing import Final

import polars as pl

from fluctus.tables.meaning.dates import looks_like_date, looks_like_year
from fluctus.tables.meaning.location import LocatedTable
from fluctus.tables.meaning.numbers import looks_like_number
from fluctus.tables.meaning.period_parts import Part, is_called
from fluctus.tables.meaning.steps.step import Step
from fluctus.tables.meaning.words import NOTE, as_words

LEAST_BLANK: Final = 0.2
"""Share of the rows whose key is blank; fewer are keys that are missing."""
FEWEST_BLANK: Final = 2
DIFFERENT: Final = 0.75
"""Share of the keys that are different within what stands around them."""
LOOKED_AT: Final = 2_000


def find(table: LocatedTable) -> list[Step]:
    """Find columns of keys, from the left, that go on in the rows below."""
    steps: list[Step] = []
    around = pl.Series([""]).new_from_index(0, len(table))
    for number in range(min(_first_of_values(table), len(table.names) - 1)):
        cells = table.column(number)
        filled = cells.filter(cells != "")
        if len(filled) == len(cells):
            if filled.n_unique() == len(filled):
                break  # Each row has a key of its own: what is right of it is none of a group.
            continue
        if _goes_on(table.names[number], cells, around):
            steps.append(_step(table, number))
            around = around + "\n" + _filled(cells)
    return steps


def _first_of_values(table: LocatedTable) -> int:
    """Return the first column that holds values rather than keys."""
    for number, name in enumerate(table.names):
        sample = [cell for cell in table.column(number).head(LOOKED_AT) if cell]
        numbers = [cell for cell in sample if looks_like_number(cell) and not looks_like_date(cell)]
        key = all(map(looks_like_year, sample)) or any(is_called(part, name) for part in Part)
        if sample and not key and len(numbers) >= len(sample) * 0.6:
            return number
    return len(table.names) - 1


def _goes_on(name: str, cells: pl.Series, around: pl.Series) -> bool:
    blank = int((cells == "").sum())
    if cells[0] == "" or blank < max(FEWEST_BLANK, len(cells) * LEAST_BLANK):
        return False
    if NOTE.search(as_words(name)):
        return False
    keys = pl.DataFrame({"around": around, "key": cells}).filter(pl.col("key") != "")
    return keys.n_unique() >= keys.height * DIFFERENT


def _filled(cells: pl.Series) -> pl.Series:
    return cells.set(cells == "", None).forward_fill().fill_null("")


def _step(table: LocatedTable, number: int) -> Step:
    name = table.names[number]
    blank = int((table.column(number) == "").sum())

    def do(table: LocatedTable) -> LocatedTable:
        at = table.names.index(name)
        filled = _filled(table.column(at)).alias(f"c{at}")
        return replace(table, cells=table.cells.with_columns(filled))

    return Step(
        key=f"fill-down:{name}",
        says=f"{name} is filled down into {blank:,} rows that leave it blank",
        why="It stands only in the first row of each group.",
        do=do,
    )
