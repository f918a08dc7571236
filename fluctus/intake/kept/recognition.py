"""Which of the readings that are kept is that of a table, and whether it still fits."""

from dataclasses import dataclass, replace
from typing import Final

from fluctus.http.refusals import RefusalError
from fluctus.intake.kept.shape import ALIKE, ShapeColumn, differences, likeness, may_be, shape_of
from fluctus.intake.models import KeptReading, Upload
from fluctus.intake.understanding.mapping import Mapping
from fluctus.intake.understanding.reading import read
from fluctus.tables.grid import Grid
from fluctus.tables.meaning.columns import ColumnKind
from fluctus.tables.meaning.dates import EXAMPLES
from fluctus.tables.meaning.numbers import DecimalMark

TOP: Final = 40
HEAD: Final = 2_000
"""Rows that are read to know a table again."""
MOST_LOOKED_AT: Final = 3
"""Readings by which a table is read for a try."""


MARKS: Final = {DecimalMark.POINT: "a point", DecimalMark.COMMA: "a comma"}


@dataclass(frozen=True, slots=True)
class Recognized:
    """A reading that fits a table, and what the table has otherwise."""

    row: KeptReading
    mapping: Mapping
    differs: tuple[str, ...]


def fitted(mapping: Mapping, grid: Grid) -> tuple[Mapping, list[str]]:
    """Return how another table was read as it fits this one, and what of it does not.

    A table that itself tells how its numbers and dates are written is heeded: read as before,
    ``1.5`` would be fifteen without a word.
    """
    found = replace(mapping, decimal_mark=None, date_style=None)
    try:
        reading = read(_head(grid), found)
    except RefusalError:
        return mapping, []
    told = []
    mark, marks = mapping.decimal_mark, reading.table.marks
    if mark is not None and marks.told and marks.mark is not mark:
        told.append(f"Numbers have {MARKS[marks.mark]} before the fraction, and had {MARKS[mark]}")
        mapping = replace(mapping, decimal_mark=None)
    style = mapping.date_style
    if style is not None and style not in reading.date_styles:
        now = EXAMPLES[reading.date_styles[0]]
        told.append(f"Dates are written as {now}, and were as {EXAMPLES[style]}")
        mapping = replace(mapping, date_style=None)
    return mapping, told


def _head(grid: Grid) -> Grid:
    return Grid(grid.cells.head(HEAD), grid.lines.head(HEAD), grid.named)


def columns_of(row: KeptReading) -> tuple[ShapeColumn, ...]:
    """Return the columns of the table that a reading was kept of."""
    return tuple(ShapeColumn(one["name"], ColumnKind(one["kind"])) for one in row.columns)


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
            mapping, other = fitted(mapping, grid)
            found = shape_of(read(_head(grid), mapping))
        except RefusalError:
            continue
        share = likeness(kept, mapping, found)
        if share >= ALIKE and share > most:
            best = Recognized(row, mapping, (*differences(kept, found), *other))
            most = share
    return best
