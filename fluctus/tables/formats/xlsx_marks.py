"""What an XLSX sheet says of its rows, columns and cells besides their values.

Rows and columns may be hidden, and a cell may be shown as a percentage or an amount of
money, which its number alone does not tell. Office Open XML, ECMA-376 part 1, 18.3 and 18.8.
"""

import re
import zipfile
from posixpath import normpath
from typing import Any

from lxml import etree

from fluctus.tables.formats.sheet_marks import LARGEST_SHEET, MOST_COLUMNS, SheetMarks

MAIN = "{http://schemas.openxmlformats.org/spreadsheetml/2006/main}"
RELATION = "{http://schemas.openxmlformats.org/officeDocument/2006/relationships}id"
PERCENT_FORMATS = {9, 10}
CURRENCIES = re.compile(r"\[\$(?P<code>[^\]\-]+)|(?P<sign>[$\N{POUND SIGN}\N{EURO SIGN}])")
PLACE = re.compile(r"([A-Z]{1,3})(\d+)")


def read_xlsx_marks(archive: zipfile.ZipFile, sheet: str) -> SheetMarks:
    """Return what the archive of an XLSX file says of one of its sheets."""
    marks = SheetMarks()
    path = _path_of(archive, sheet)
    if path is None:
        return marks
    if archive.getinfo(path).file_size > LARGEST_SHEET:
        marks.too_large = True
        return marks
    units_of_styles = _units_of_styles(archive)
    with archive.open(path) as content:
        for _, element in etree.iterparse(
            content,
            events=("end",),
            tag=[
                f"{MAIN}col",
                f"{MAIN}c",
                f"{MAIN}row",
            ],
        ):
            _take(element, marks, units_of_styles)
    return marks


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
        element.clear()
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
