"""What an ODS sheet says of its rows, columns and cells besides their values.

OpenDocument 1.3, part 3, 9.1 (tables) and 19.385 (value types of cells).
"""

import io
import zipfile

from lxml import etree

from fluctus.tables.formats.sheet_marks import LARGEST_SHEET, MOST_COLUMNS, SheetMarks

TABLE = "{urn:oasis:names:tc:opendocument:xmlns:table:1.0}"
OFFICE = "{urn:oasis:names:tc:opendocument:xmlns:office:1.0}"
HIDDEN = ("collapse", "filter")
CELLS = (f"{TABLE}table-cell", f"{TABLE}covered-table-cell")


def read_ods_marks(archive: zipfile.ZipFile, sheet: str) -> SheetMarks:
    """Return what the archive of an ODS file says of one of its sheets."""
    marks = SheetMarks()
    if archive.getinfo("content.xml").file_size > LARGEST_SHEET:
        marks.too_large = True
        return marks
    content = etree.iterparse(io.BytesIO(archive.read("content.xml")), tag=f"{TABLE}table")
    for _, table in content:
        if table.get(f"{TABLE}name") == sheet:
            _take_columns(table, marks)
            _take_rows(table, marks)
            break
        table.clear()
    return marks


def _take_columns(table: etree._Element, marks: SheetMarks) -> None:
    at = 0
    for column in table.iter(f"{TABLE}table-column"):
        count = int(column.get(f"{TABLE}number-columns-repeated", 1))
        if column.get(f"{TABLE}visibility") in HIDDEN:
            marks.hidden_columns.update(range(at, min(at + count, MOST_COLUMNS)))
        at += count


def _take_rows(table: etree._Element, marks: SheetMarks) -> None:
    at = 0
    for row in table.iter(f"{TABLE}table-row"):
        count = int(row.get(f"{TABLE}number-rows-repeated", 1))
        filled = any(cell.get(f"{OFFICE}value-type") for cell in row.iterchildren(*CELLS))
        if filled and row.get(f"{TABLE}visibility") in HIDDEN:
            marks.hidden_rows.update(range(at, at + min(count, LARGEST_SHEET)))
        at += count
        column = 0
        for cell in row.iterchildren(*CELLS):
            kind = cell.get(f"{OFFICE}value-type")
            unit = {"percentage": "%", "currency": cell.get(f"{OFFICE}currency", "")}.get(kind, "")
            if kind in ("percentage", "currency", "float") and column < MOST_COLUMNS:
                marks.see_unit(column, unit)
            column += int(cell.get(f"{TABLE}number-columns-repeated", 1))
