"""Which of the readings that are kept is that of a table."""

from dataclasses import dataclass
from typing import Final

from fluctus.http.refusals import RefusalError
from fluctus.intake.kept.shape import ALIKE, ShapeColumn, differences, likeness, may_be, shape_of
from fluctus.intake.models import KeptReading, Upload
from fluctus.intake.understanding.mapping import Mapping
from fluctus.intake.understanding.reading import read
from fluctus.tables.grid import Grid
from fluctus.tables.meaning.columns import ColumnKind

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


def columns_of(row: KeptReading) -> tuple[ShapeColumn, ...]:
    """Return the columns of the table that a reading was kept of."""
    return tuple(ShapeColumn(one["name"], ColumnKind(one["kind"])) for one in row.columns)


def recognized(upload: Upload, grid: Grid) -> Recognized | None:
    """Return the reading that fits a table best; None where none fits."""
    cells = {cell for row in grid.rows(0, TOP) for cell in row}
    rows = KeptReading.objects.filter(workspace=upload.workspace).select_related("person")
    tried, best, most = 0, None, 0.0
    head = Grid(grid.cells.head(HEAD), grid.lines.head(HEAD), grid.named)
    for row in rows.order_by("-at"):
        kept, mapping = columns_of(row), Mapping.from_json(row.mapping)
        if not may_be(kept, mapping, cells):
            continue
        tried += 1
        if tried > MOST_LOOKED_AT:
            break
        try:
            found = shape_of(read(head, mapping))
        except RefusalError:
            continue
        share = likeness(kept, mapping, found)
        if share >= ALIKE and share > most:
            best = Recognized(row, mapping, tuple(differences(kept, found)))
            most = share
    return best
