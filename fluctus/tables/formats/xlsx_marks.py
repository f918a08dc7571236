"""What an XLSX sheet says of its rows, columns and cells besides their values.

Rows and columns may be hidden, and a cell may be shown as a percentage or an amount of
money, which its number alone does not tell. Office Open XML, ECMA-376 part 1, 18.3 and 18.8.
"""

import re
import zipfile
from collections.abc import Iterator
from posixpath import normpath
from typing import IO, Any

from lxml import etree

from fluctus.tables.formats.sheet_marks import MOST_COLUMNS, SheetMarks

MAIN = "{http://schemas.openxmlformats.org/spreadsheetml/2006/main}"
RELATION = "{http://schemas.openxmlformats.org/officeDocument/2006/relationships}id"
PERCENT_FORMATS = {9, 10}
CURRENCIES = re.compile(r"\[\$(?P<code>[^\]\-]+)|(?P<sign>[$\N{POUND SIGN}\N{EURO SIGN}])")
STRETCH = 1_000_000
"""Bytes of a sheet that are looked at together."""
TAIL = 200_000
STRETCHES_FOR_UNITS = 6
"""How numbers are shown is told by the first rows of a long sheet."""
BEGIN = re.compile(rb"<(?:\w+:)?worksheet\b[^>]*>")
END_OF_ROW = re.compile(rb"</(?:\w+:)?row>")
HIDDEN = re.compile(rb'\bhidden\s*=\s*["\'](?:1|true)')
FORMULA = (b"f>", b"<f ", b":f ")
WITHOUT_RESULT = re.compile(
    rb"(?:</(?:\w+:)?f>|<(?:\w+:)?f\b[^>]*/>)\s*(?:<(?:\w+:)?v\s*/>|<(?:\w+:)?v>\s*</(?:\w+:)?v>)?"
    rb"\s*</(?:\w+:)?c>"
)
TAKEN = (f"{MAIN}col", f"{MAIN}c", f"{MAIN}row")
PLACE = re.compile(r"([A-Z]{1,3})(\d+)")


def read_xlsx_marks(archive: zipfile.ZipFile, sheet: str) -> SheetMarks:
    """Return what the archive of an XLSX file says of one of its sheets."""
    marks = SheetMarks()
    path = _path_of(archive, sheet)
    if path is None:
        return marks
    units_of_styles = _units_of_styles(archive)
    with archive.open(path) as content:
        for number, (begin, rows) in enumerate(_stretches(content)):
            for_units = number < STRETCHES_FOR_UNITS and any(units_of_styles)
            if for_units or _says_something(rows):
                _take_all(begin + rows, marks, units_of_styles)
    return marks


def _stretches(content: IO[bytes]) -> Iterator[tuple[bytes, bytes]]:
    """Yield whole rows of a sheet, some at a time, each with the tag that they are within.

    To parse all of a long sheet takes longer than to read its values, and mostly finds nothing.
    """
    begin, rest = b"", b""
    while block := content.read(STRETCH):
        rest += block
        ends = [found.end() for found in END_OF_ROW.finditer(rest, max(0, len(rest) - TAIL))]
        end = ends[-1] if ends else 0
        if end:
            yield begin, rest[:end]
            begin = begin or _begin_of(rest)
            rest = rest[end:]
    yield begin, rest


def _says_something(rows: bytes) -> bool:
    """Tell whether rows have something hidden in them, or a formula without a result."""
    # To look for a few letters first is ten times as fast as the patterns are.
    if b"hidden" in rows and HIDDEN.search(rows):
        return True
    return any(sign in rows for sign in FORMULA) and WITHOUT_RESULT.search(rows) is not None


def _begin_of(text: bytes) -> bytes:
    found = BEGIN.search(text)
    return found[0] if found else b""


def _take_all(text: bytes, marks: SheetMarks, styles: list[str]) -> None:
    """Take what a part of a sheet says; it is cut off behind a row, which the parser mends."""
    root = etree.fromstring(text, etree.XMLParser(recover=True, resolve_entities=False))
    for element in [] if root is None else root.iter(*TAKEN):
        _take(element, marks, styles)


def _take(element: Any, marks: SheetMarks, styles: list[str]) -> None:
    is_hidden = element.get("hidden") in ("1", "true")
    if element.tag == f"{MAIN}c":
        place = PLACE.fullmatch(element.get("r") or "")
        number = element.get("t", "n") == "n" and element.find(f"{MAIN}v") is not None
        style = int(element.get("s") or 0)
        if element.find(f"{MAIN}f") is not None and not element.findtext(f"{MAIN}v"):
            marks.see_without_result(element.get("r") or "a cell")
        if place and number and style < len(styles):
            marks.see_unit(_column(place[1]), styles[style])
        return
    if element.tag == f"{MAIN}row":
        if is_hidden and (number_text := element.get("r")):
            marks.hidden_rows.add(int(number_text) - 1)
    elif is_hidden:
        first, last = int(element.get("min", 0)), int(element.get("max", 0))
        marks.hidden_columns.update(range(first - 1, min(last, first + MOST_COLUMNS)))


def _path_of(archive: zipfile.ZipFile, sheet: str) -> str | None:
    try:
        book = etree.fromstring(archive.read("xl/workbook.xml"))
        relations = etree.fromstring(archive.read("xl/_rels/workbook.xml.rels"))
    except (KeyError, etree.XMLSyntaxError):
        return None
    number = next(
        (part.get(RELATION) for part in book.iter(f"{MAIN}sheet") if part.get("name") == sheet),
        None,
    )
    target = next((part.get("Target") for part in relations if part.get("Id") == number), None)
    if not target:
        return None
    path = target.lstrip("/") if target.startswith("/") else normpath(f"xl/{target}")
    return path if path in archive.namelist() else None


def _units_of_styles(archive: zipfile.ZipFile) -> list[str]:
    """Return the unit that each style of cells shows; "" for those that show none."""
    try:
        styles = etree.fromstring(archive.read("xl/styles.xml"))
    except (KeyError, etree.XMLSyntaxError):
        return []
    codes = {
        int(part.get("numFmtId", 0)): part.get("formatCode", "")
        for part in styles.iter(f"{MAIN}numFmt")
    }
    cells = styles.find(f"{MAIN}cellXfs")
    return [] if cells is None else [_unit(int(x.get("numFmtId", 0)), codes) for x in cells]


def _unit(number: int, codes: dict[int, str]) -> str:
    code = codes.get(number, "")
    if number in PERCENT_FORMATS or "%" in code:
        return "%"
    currency = CURRENCIES.search(code)
    return (currency["code"] or currency["sign"]).strip() if currency else ""


def _column(letters: str) -> int:
    number = 0
    for letter in letters:
        number = number * 26 + ord(letter) - 64
    return number - 1
