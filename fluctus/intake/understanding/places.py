"""Where the parts of a table are, where it has columns of latitude and longitude."""

from fluctus.intake.understanding.mapping import ColumnRole
from fluctus.intake.understanding.read_table import ReadTable
from fluctus.tables.place_table import PlaceRow, place_rows

NEEDED = (ColumnRole.BREAKDOWN, ColumnRole.LATITUDE, ColumnRole.LONGITUDE)


def places_in(table: ReadTable) -> list[PlaceRow]:
    """Return the place of each part that has one; rows without coordinates say nothing."""
    if not all(table.has(role) for role in NEEDED):
        return []
    names, norths, easts = (table.texts(role).to_list() for role in NEEDED)
    return place_rows(table.long.lines.to_list(), names, norths, easts).places
