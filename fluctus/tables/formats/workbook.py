"""Spreadsheet files: XLSX and ODS."""

import io
import zipfile
import zlib
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from typing import Any

import python_calamine
from lxml import etree

from fluctus.tables.formats.ods_marks import read_ods_marks
from fluctus.tables.formats.plain import plain
from fluctus.tables.formats.sheet_marks import SheetMarks
from fluctus.tables.formats.xlsx_marks import read_xlsx_marks
from fluctus.tables.grid import MAX_ROWS, Grid, TableError, make_grid

MAX_UNPACKED = 400 * 1024 * 1024
MAX_MEMBERS = 5_000
HIDDEN = " (hidden)"
FEW_ROWS = 2
"""A sheet of a title and a few words is a cover, not a table."""
TOO_MUCH = (
    "This file unpacks to more than can be read. Save the sheet that is needed as CSV, "
    "or leave out what is not needed."
)
DAMAGED = (
    "This spreadsheet is damaged, or is not one that can be read (XLSX or ODS). "
    "Open it where it was made and save it anew, or as CSV."
)


def check_archive(raw: bytes) -> list[str]:
    """Look into an archive without keeping anything of it; returns the names inside.

    Raises TableError when it unpacks to too much, or is damaged or locked.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(raw)) as archive:
            members = archive.infolist()
            if len(members) > MAX_MEMBERS:
                raise TableError(TOO_MUCH)
            if sum(member.file_size for member in members) > MAX_UNPACKED:
                raise TableError(TOO_MUCH)
            if any(member.flag_bits & 1 for member in members):
                raise TableError("This file is locked with a password. Save it without one.")
            for member in members:
                # Reading to the end proves the size that is claimed: a lie fails its checksum.
                with archive.open(member) as content:
                    while content.read(1024 * 1024):
                        pass
            return [member.filename for member in members]
    except (
        zipfile.BadZipFile,
        EOFError,
        NotImplementedError,
        OSError,
        ValueError,
        zlib.error,
    ) as error:
        if isinstance(error, TableError):
            raise
        raise TableError(DAMAGED) from error


@dataclass(frozen=True, slots=True)
class Sheet:
    """The cells of a sheet, row by row, with the lines they are in."""

    name: str
    rows: list[tuple[int, list[str]]]

    @property
    def looks_like_a_table(self) -> bool:
        """Whether it has more rows of several cells than a cover has."""
        return sum(sum(map(bool, cells)) > 1 for _, cells in self.rows) > FEW_ROWS

    @property
    def is_empty(self) -> bool:
        """Whether nothing is in it."""
        return not any(any(cells) for _, cells in self.rows)


def read_workbook(raw: bytes, sheet: str | None) -> tuple[Grid, list[str], str]:
    """Read one sheet; returns its cells, the names of all sheets, and which it was.

    ``sheet`` None takes the first visible one that looks like a table, or holds anything;
    hidden sheets come last in the names and say so. Rows and columns that are hidden are
    left out. Formulas count as the values they last had.
    """
    try:
        book = python_calamine.CalamineWorkbook.from_filelike(io.BytesIO(raw))
        sheets = [
            part
            for part in book.sheets_metadata
            if part.typ == python_calamine.SheetTypeEnum.WorkSheet
        ]
        visible = python_calamine.SheetVisibleEnum.Visible
        named = {part.name: part.name for part in sheets if part.visible == visible}
        hidden = {f"{part.name}{HIDDEN}": part.name for part in sheets if part.visible != visible}
        every = named | hidden
        read = _chosen(
            book, raw, [every[sheet]] if sheet in every else list((named or every).values())
        )
    except python_calamine.CalamineError as error:
        raise TableError(DAMAGED) from error
    shown = next((label for label, name in every.items() if read and name == read.name), "")
    return make_grid(read.rows if read else []), list(every), shown


def _chosen(book: Any, raw: bytes, names: list[str]) -> Sheet | None:
    """Read the first sheet that looks like a table; where none does, the first with anything."""
    first: Sheet | None = None
    for name in names:
        read = _read(book, raw, name)
        if read.looks_like_a_table or len(names) == 1:
            return read
        if first is None or first.is_empty:
            first = read
    return first


def _read(book: Any, raw: bytes, name: str) -> Sheet:
    sheet = book.get_sheet_by_name(name)
    marks = _marks_of(raw, name)
    units = marks.units
    # Rows above the first filled one are left away by the library; they count.
    above, left = sheet.start or (0, 0)
    rows: list[tuple[int, list[str]]] = []
    for number, row in enumerate(sheet.iter_rows(), above):
        if len(rows) > MAX_ROWS:
            break
        if number in marks.hidden_rows:
            continue
        cells = [
            _cell(cell, units.get(left + at, ""))
            for at, cell in enumerate(row)
            if left + at not in marks.hidden_columns
        ]
        rows.append((number + 1, cells))
    return Sheet(name, rows)


def _marks_of(raw: bytes, sheet: str) -> SheetMarks:
    """Return what a file says of a sheet; nothing where its format says nothing, or too much."""
    try:
        with zipfile.ZipFile(io.BytesIO(raw)) as archive:
            if "content.xml" in archive.namelist():
                return read_ods_marks(archive, sheet)
            return read_xlsx_marks(archive, sheet)
    except (etree.LxmlError, ValueError, KeyError):
        # Its values may be there all the same; they are what counts.
        return SheetMarks()


def _cell(cell: str | float | bool | datetime | date | time | timedelta, unit: str) -> str:
    """Write a cell as text; a number that is shown with a unit has it."""
    if isinstance(cell, str):
        return cell
    if unit and isinstance(cell, float):
        return f"{plain(round(cell * 100, 10))}%" if unit == "%" else f"{unit} {plain(cell)}"
    return plain(cell)
