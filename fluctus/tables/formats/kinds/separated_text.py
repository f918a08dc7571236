"""Text whose cells are separated by commas, semicolons, tabs and their kin."""

from fluctus.tables.formats.delimited import DELIMITERS, read_delimited
from fluctus.tables.formats.table_format import Opened, Source, TableFormat


def _read(source: Source, sheet: str | None) -> Opened:
    grid, delimiter = read_delimited(source.text)
    return Opened(grid, f"{DELIMITERS[delimiter]}-separated", source.decoded.encoding)


# Any text may be one: it is the last that is tried.
SEPARATED_TEXT = TableFormat("separated text", (".csv", ".tsv", ".txt"), lambda source: True, _read)
