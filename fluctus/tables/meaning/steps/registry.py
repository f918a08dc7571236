"""The recognizers, in the order in which they look at a table."""

from collections.abc import Collection
from typing import Final

from fluctus.tables.meaning.location import LocatedTable
from fluctus.tables.meaning.steps import (
    fill_down,
    joined_periods,
    repeated_parts,
    total_columns,
    total_rows,
)
from fluctus.tables.meaning.steps.step import Recognizer, Taken

RECOGNIZERS: Final[tuple[Recognizer, ...]] = (
    total_rows.find,
    fill_down.find,
    repeated_parts.find,
    joined_periods.find,
    total_columns.find,
)


def understood(
    table: LocatedTable, taken_back: Collection[str]
) -> tuple[LocatedTable, tuple[Taken, ...]]:
    """Return a table with all done that is found in it, and what that is.

    ``taken_back`` are the keys of steps that are not wanted: told all the same, so that they
    can be done again.
    """
    told: list[Taken] = []
    for find in RECOGNIZERS:
        for step in find(table):
            done = step.key not in taken_back
            told.append(Taken(step.key, step.says, step.why, done))
            if done:
                table = step.do(table)
    return table, tuple(told)
