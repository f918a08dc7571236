"""From the bytes of a file, or a paste, to a grid of cells, whatever the format."""

from dataclasses import dataclass
from pathlib import Path

import polars as pl

from fluctus.tables.formats.delimited import DELIMITERS, read_delimited
from fluctus.tables.formats.records import read_json, read_package, read_parquet
from fluctus.tables.formats.text import decode
from fluctus.tables.formats.web_page import is_web_page, read_web
from fluctus.tables.formats.workbook import check_archive, read_workbook
from fluctus.tables.grid import Grid, TableError


@dataclass(frozen=True, slots=True)
class Opened:
    """The cells of a file. ``sheets`` are the tables it has, ``sheet`` the one that was read."""

    grid: Grid
    format: str
    encoding: str = ""
    sheets: tuple[str, ...] = ()
    sheet: str = ""


@dataclass(frozen=True, slots=True)
class About:
    """What was opened, but for its cells."""

    format: str
    encoding: str
    sheets: tuple[str, ...]
    sheet: str
    named: bool


def open_into(path: Path, sheet: str | None, cells: Path) -> About:
    """Read a file in whatever format it is and write its cells to another; returns the rest.

    Raises as ``open_table`` does.
    """
    table = open_table(path.read_bytes(), sheet)
    grid = table.grid
    grid.cells.with_columns(grid.lines.alias("line")).write_ipc(cells)
    return About(table.format, table.encoding, table.sheets, table.sheet, grid.named)


def opened_from(cells: Path, about: About) -> Opened:
    """Return what ``open_into`` has read."""
    frame = pl.read_ipc(cells)
    grid = Grid(frame.drop("line"), frame["line"], about.named)
    return Opened(grid, about.format, about.encoding, about.sheets, about.sheet)


def open_table(raw: bytes, sheet: str | None = None) -> Opened:
    """Read ``raw`` in whatever format it is; ``sheet`` chooses among several tables.

    Raises TableError when it holds no table, is damaged, or is past the limits.
    """
    if raw.startswith(b"PAR1"):
        return Opened(read_parquet(raw), "Parquet")
    if raw.startswith(b"PK\x03\x04"):
        return _archive(raw, sheet)
    decoded = decode(raw)
    del raw  # As large as the text; both at once are not needed.
    text = decoded.text
    start = text.lstrip()[:1]
    if start in ("{", "["):
        if '"resources"' in text[:100_000] and start == "{":
            grid, resources = read_package(text.encode(), sheet)
            return Opened(grid, "Data Package", "", tuple(resources), sheet or resources[0])
        return Opened(read_json(text), "JSON", decoded.encoding)
    if is_web_page(text):
        return Opened(read_web(text), "web page table", decoded.encoding)
    grid, delimiter = read_delimited(text)
    return Opened(grid, f"{DELIMITERS[delimiter]}-separated", decoded.encoding)


def _archive(raw: bytes, sheet: str | None) -> Opened:
    names = check_archive(raw)
    if any(name.split("/")[-1] == "datapackage.json" for name in names):
        grid, resources = read_package(raw, sheet)
        return Opened(grid, "Data Package", "", tuple(resources), sheet or resources[0])
    if (
        "xl/workbook.xml" not in names
        and "content.xml" not in names
        and "xl/workbook.bin" not in names
    ):
        raise TableError("This is an archive without a table in it. Upload the table itself.")
    grid, sheets, chosen = read_workbook(raw, sheet)
    kind = "ODS" if "content.xml" in names else "XLSX"
    return Opened(grid, f"{kind} spreadsheet", "", tuple(sheets), chosen)
