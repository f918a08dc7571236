"""Spreadsheet files: XLSX and ODS."""

import io
import zipfile
import zlib
from datetime import date, datetime, time, timedelta

import python_calamine

from fluctus.tables.formats.plain import plain
from fluctus.tables.grid import MAX_ROWS, Grid, TableError, make_grid

MAX_UNPACKED = 400 * 1024 * 1024
MAX_MEMBERS = 5_000
FEW_ROWS = 2
"""A sheet of a title and a few words is a cover, not a table."""
TOO_MUCH = (
    "This file unpacks to more than can be read. Save the sheet that is needed as CSV, "
    "or leave out what is not needed."
)
DAMAGED = "This spreadsheet is damaged, or is not one that can be read (XLSX or ODS)."


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


def read_workbook(raw: bytes, sheet: str | None) -> tuple[Grid, list[str], str]:
    """Read one sheet; returns its cells, the names of all sheets, and which it was.

    ``sheet`` None takes the first one that looks like a table, or holds anything. Formulas count as
    the values they last had.
    """
    try:
        rows, sheets, chosen = _read(raw, sheet)
    except python_calamine.CalamineError as error:
        raise TableError(DAMAGED) from error
    return make_grid(enumerate(rows, 1)), sheets, chosen


def _read(raw: bytes, asked: str | None) -> tuple[list[list[str]], list[str], str]:
    book = python_calamine.CalamineWorkbook.from_filelike(io.BytesIO(raw))
    sheets = [sheet for sheet in book.sheets_metadata
              if sheet.typ == python_calamine.SheetTypeEnum.WorkSheet]  # fmt: skip
    # What is hidden can be asked for by its name, and is never proposed.
    shown = [s.name for s in sheets if s.visible == python_calamine.SheetVisibleEnum.Visible]
    hidden = [sheet.name for sheet in sheets if sheet.name not in shown]
    names = [*shown, *hidden]
    chosen = [asked] if asked in names else shown or names
    first: tuple[list[list[str]], list[str], str] | None = None
    for name in chosen:
        sheet = book.get_sheet_by_name(name)
        rows: list[list[str]] = []
        for row in sheet.iter_rows():
            if len(rows) > MAX_ROWS:
                break
            rows.append([_cell(cell) for cell in row])
        # Rows above the first filled one are left away by the library; they count.
        above = sheet.start[0] if sheet.start else 0
        blank: list[list[str]] = [[] for _ in range(above)]
        answer = (blank + rows, names, name)
        if name == asked or sum(sum(map(bool, row)) > 1 for row in rows) > FEW_ROWS:
            return answer
        if first is None or not any(map(any, first[0])):
            first = answer
    return first or ([], names, "")


def _cell(cell: str | float | bool | datetime | date | time | timedelta) -> str:
    return cell if isinstance(cell, str) else plain(cell)
