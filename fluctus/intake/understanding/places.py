"""Where the parts of a table are, where it has columns of latitude and longitude."""

import polars as pl

from fluctus.intake.understanding.mapping import ColumnRole
from fluctus.intake.understanding.read_table import ReadTable
from fluctus.tables.place_table import PlaceRow, place_rows

NEEDED = (ColumnRole.BREAKDOWN, ColumnRole.LATITUDE, ColumnRole.LONGITUDE)


def places_in(table: ReadTable) -> list[PlaceRow]:
    """Return the place of each part that has one; rows without coordinates say nothing."""
    if not all(table.has(role) for role in NEEDED):
        return []
    # A table repeats its places with every period; each is read once.
    rows = pl.DataFrame({role.value: table.texts(role) for role in NEEDED})
    rows = rows.with_columns(line=table.long.lines).unique(
        [role.value for role in NEEDED], keep="first", maintain_order=True
    )
    names, norths, easts = (rows[role.value].to_list() for role in NEEDED)
    return place_rows(rows["line"].to_list(), names, norths, easts).places
