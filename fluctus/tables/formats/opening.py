"""From the bytes of a file, or a paste, to a grid of cells, whatever the format."""

from dataclasses import dataclass
from pathlib import Path

from fluctus.tables.formats.delimited import DELIMITERS, read_delimited
from fluctus.tables.formats.records import read_json, read_package, read_parquet
from fluctus.tables.formats.text import NotTextError, decode
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


def open_file(path: Path, sheet: str | None = None) -> Opened:
    """Read a file in whatever format it is; raises as ``open_table`` does."""
    return open_table(path.read_bytes(), sheet)


def open_table(raw: bytes, sheet: str | None = None) -> Opened:
    """Read ``raw`` in whatever format it is; ``sheet`` chooses among several tables.

    Raises TableError when it holds no table, is damaged, or is past the limits.
    """
    if raw.startswith(b"PAR1"):
        return Opened(read_parquet(raw), "Parquet")
    if raw.startswith(b"PK\x03\x04"):
        return _archive(raw, sheet)
    try:
        decoded = decode(raw)
    except NotTextError as error:
        raise TableError(str(error)) from error
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
