"""From the bytes of a file, or a paste, to a grid of cells, whatever the format."""

from dataclasses import dataclass
from pathlib import Path

import polars as pl

from fluctus.tables.formats.registry import FORMATS
from fluctus.tables.formats.table_format import Opened, Source
from fluctus.tables.grid import Grid


@dataclass(frozen=True, slots=True)
class About:
    """What was opened, but for its cells."""

    format: str
    encoding: str
    sheets: tuple[str, ...]
    sheet: str
    named: bool
    remarks: tuple[str, ...] = ()


def open_into(path: Path, sheet: str | None, cells: Path) -> About:
    """Read a file in whatever format it is and write its cells to another; returns the rest.

    Raises as ``open_table`` does.
    """
    table = open_table(path.read_bytes(), sheet)
    grid = table.grid
    grid.cells.with_columns(grid.lines.alias("line")).write_ipc(cells)
    told = table.format, table.encoding, table.sheets, table.sheet
    return About(*told, grid.named, table.remarks)


def opened_from(cells: Path, about: About) -> Opened:
    """Return what ``open_into`` has read."""
    frame = pl.read_ipc(cells)
    grid = Grid(frame.drop("line"), frame["line"], about.named)
    told = about.format, about.encoding, about.sheets, about.sheet
    return Opened(grid, *told, about.remarks)


def open_table(raw: bytes, sheet: str | None = None) -> Opened:
    """Read ``raw`` in whatever format it is; ``sheet`` chooses among several tables.

    Raises TableError when it holds no table, is damaged, or is past the limits.
    """
    source = Source(raw)
    del raw
    found = next(format for format in FORMATS if format.recognizes(source))
    return found.read(source, sheet)
