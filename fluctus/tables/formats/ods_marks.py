"""What an ODS sheet says of its rows, columns and cells besides their values.

OpenDocument 1.3, part 3, 9.1 (tables) and 19.385 (value types of cells).
"""

import zipfile
from typing import IO

from lxml import etree

from fluctus.tables.formats.sheet_marks import MOST_COLUMNS, SheetMarks
from fluctus.tables.grid import MAX_ROWS

TABLE = "{urn:oasis:names:tc:opendocument:xmlns:table:1.0}"
OFFICE = "{urn:oasis:names:tc:opendocument:xmlns:office:1.0}"
HIDDEN = ("collapse", "filter")
CELLS = (f"{TABLE}table-cell", f"{TABLE}covered-table-cell")
COLUMN, ROW, WHOLE = f"{TABLE}table-column", f"{TABLE}table-row", f"{TABLE}table"
CONTENT = "content.xml"
WORDS = (b"visibility", b'"percentage"', b'"currency"')
"""What is looked for: to look for a word takes a small part of what parsing takes."""
BLOCK = 1_000_000


def read_ods_marks(archive: zipfile.ZipFile, sheet: str) -> SheetMarks:
    """Return what the archive of an ODS file says of one of its sheets."""
    marks = SheetMarks()
    with archive.open(CONTENT) as content:
        if not _says_something(content):
            return marks
    inside, columns, rows = False, 0, 0
    with archive.open(CONTENT) as content:
        for event, element in etree.iterparse(
            content, events=("start", "end"), tag=[COLUMN, ROW, WHOLE]
        ):
            if element.tag == WHOLE:
                if event == "end" and inside:
                    break
                inside = element.get(f"{TABLE}name") == sheet
            elif event == "end":
                if inside and element.tag == COLUMN:
                    columns = _take_column(element, columns, marks)
                elif inside:
                    rows = _take_row(element, rows, marks)
                element.clear()
    return marks


def _says_something(content: IO[bytes]) -> bool:
    """Tell whether anything can be hidden, or shown with a unit."""
    tail = b""
    while block := content.read(BLOCK):
        if any(word in tail + block for word in WORDS):
            return True
        tail = block[-max(map(len, WORDS)) :]
    return False


def _take_column(column: etree._Element, at: int, marks: SheetMarks) -> int:
    count = int(column.get(f"{TABLE}number-columns-repeated", 1))
    if column.get(f"{TABLE}visibility") in HIDDEN:
        marks.hidden_columns.update(range(at, min(at + count, MOST_COLUMNS)))
    return at + count


def _take_row(row: etree._Element, at: int, marks: SheetMarks) -> int:
    count = int(row.get(f"{TABLE}number-rows-repeated", 1))
    filled = any(cell.get(f"{OFFICE}value-type") for cell in row.iterchildren(*CELLS))
    if filled and row.get(f"{TABLE}visibility") in HIDDEN:
        marks.hidden_rows.update(range(at, at + min(count, MAX_ROWS)))
    column = 0
    for cell in row.iterchildren(*CELLS):
        kind = cell.get(f"{OFFICE}value-type")
        unit = {"percentage": "%", "currency": cell.get(f"{OFFICE}currency", "")}.get(kind, "")
        if kind in ("percentage", "currency", "float") and column < MOST_COLUMNS:
            marks.see_unit(column, unit)
        column += int(cell.get(f"{TABLE}number-columns-repeated", 1))
    return at + count
