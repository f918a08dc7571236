"""Which of the readings that are kept is that of a table, and whether it still fits."""

from dataclasses import dataclass, replace
from typing import Final

from fluctus.http.refusals import RefusalError
from fluctus.intake.kept.shape import (
    ALIKE,
    ShapeColumn,
    differences,
    likeness,
    may_be,
    shape_from,
    shape_of,
)
from fluctus.intake.models import KeptReading, Upload
from fluctus.intake.understanding.mapping import Mapping
from fluctus.intake.understanding.reading import Reading, read
from fluctus.intake.understanding.sentences import MARK_NAMES
from fluctus.tables.grid import Grid
from fluctus.tables.meaning.dates import EXAMPLES

TOP: Final = 40
HEAD: Final = 2_000
"""Rows that are read to know a table again."""
MOST_LOOKED_AT: Final = 3
"""Readings by which a table is read for a try."""


@dataclass(frozen=True, slots=True)
class Recognized:
    """A reading that fits a table, and what the table has otherwise."""

    row: KeptReading
    mapping: Mapping
    differs: tuple[str, ...]


def as_it_is_written(mapping: Mapping, grid: Grid) -> Reading:
    """Read the head of a table by a mapping, but for how its numbers and dates are written.

    Raises RefusalError as ``read`` does.
    """
    return read(grid, replace(mapping, decimal_mark=None, date_style=None), HEAD)


def fitted(mapping: Mapping, found: Reading) -> tuple[Mapping, tuple[str, ...]]:
    """Return how another table was read as it fits this one, and what of it does not.

    ``found`` is this one as it is written. Where it tells that, it is heeded: read as before,
    ``1.5`` would be fifteen without a word.
    """
    told: list[str] = []
    mark, marks = mapping.decimal_mark, found.table.marks
    if mark is not None and marks.told and marks.mark is not mark:
        now, before = MARK_NAMES[marks.mark], MARK_NAMES[mark]
        told.append(f"Numbers have {now} before the fraction, and had {before}")
        mapping = replace(mapping, decimal_mark=None)
    style = mapping.date_style
    if style is not None and style not in found.date_styles:
        written = EXAMPLES[found.date_styles[0]]
        told.append(f"Dates are written as {written}, and were as {EXAMPLES[style]}")
        mapping = replace(mapping, date_style=None)
    return mapping, tuple(told)


def columns_of(row: KeptReading) -> tuple[ShapeColumn, ...]:
    """Return the columns of the table that a reading was kept of."""
    return shape_from(row.columns)


def recognized(upload: Upload, grid: Grid) -> Recognized | None:
    """Return the reading that fits a table best; None where none fits."""
    cells = {cell for row in grid.rows(0, TOP) for cell in row}
    rows = KeptReading.objects.filter(workspace=upload.workspace).select_related("person")
    tried, best, most = 0, None, 0.0
    for row in rows.order_by("-at"):
        kept, mapping = columns_of(row), Mapping.from_json(row.mapping)
        if not may_be(kept, mapping, cells):
            continue
        tried += 1
        if tried > MOST_LOOKED_AT:
            break
        try:
            reading = as_it_is_written(mapping, grid)
        except RefusalError:
            continue
        found = shape_of(reading)
        share = likeness(kept, mapping, found)
        if share >= ALIKE and share > most:
            mapping, other = fitted(mapping, reading)
            best = Recognized(row, mapping, (*differences(kept, found), *other))
            most = share
    return best
