"""The recognizers, in the order in which they look at a table."""

from collections.abc import Collection
from typing import Final

from fluctus.tables.meaning.location import LocatedTable
from fluctus.tables.meaning.steps.fill_down import FILL_DOWN
from fluctus.tables.meaning.steps.joined_periods import JOINED_PERIODS
from fluctus.tables.meaning.steps.repeated_parts import REPEATED_PARTS
from fluctus.tables.meaning.steps.step import Recognizer, Taken
from fluctus.tables.meaning.steps.total_columns import TOTAL_COLUMNS
from fluctus.tables.meaning.steps.total_rows import TOTAL_ROWS

RECOGNIZERS: Final[tuple[Recognizer, ...]] = (
    TOTAL_ROWS,
    FILL_DOWN,
    REPEATED_PARTS,
    JOINED_PERIODS,
    TOTAL_COLUMNS,
)


def understood(
    table: LocatedTable, taken_back: Collection[str]
) -> tuple[LocatedTable, tuple[Taken, ...]]:
    """Return a table with all done that is found in it, and what that is.

    ``taken_back`` are the keys of steps that are not wanted: told all the same, so that they
    can be done again.
    """
    told: list[Taken] = []
    for recognizer in RECOGNIZERS:
        for step in recognizer.find(table):
            done = step.key not in taken_back
            told.append(Taken(step.key, step.says, step.why, done))
            if done:
                table = step.do(table)
    return table, tuple(told)
