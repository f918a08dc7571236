"""Spreadsheet files: XLSX and ODS."""

import io
import zipfile
import zlib
from dataclasses import dataclass
from typing import Any

import polars as pl
import python_calamine
from lxml import etree

from fluctus.tables.formats.ods_marks import read_ods_marks
from fluctus.tables.formats.plain import typed_texts
from fluctus.tables.formats.sheet_marks import SheetMarks, counted, letter
from fluctus.tables.formats.xlsx_marks import read_xlsx_marks
from fluctus.tables.grid import MAX_ROWS, NOTHING, Grid, TableError, check_size, grid_of_columns

MAX_UNPACKED = 400 * 1024 * 1024
MAX_MEMBERS = 5_000
HIDDEN = " (hidden)"
FILLED = (pl.all() != "").any()
HAS_DIGIT = pl.all().str.contains(r"\d")
MOST_TOLD = 5
FEW_ROWS = 2
"""A sheet of a title and a few words is a cover, not a table ..."""
FEW_DATED = 5
"""... and so is one of a few lines that say of what and when, before one that holds more."""
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
    """The cells of a sheet, with the lines they are in."""

    name: str
    cells: pl.DataFrame
    lines: pl.Series
    remarks: tuple[str, ...] = ()
    """What of the sheet is left out, or cannot be read."""

    @property
    def full_rows(self) -> int:
        """How many rows have several cells, and one of them a digit in it."""
        if self.is_empty:
            return 0
        full = pl.sum_horizontal(pl.all() != "") > 1
        return int(self.cells.select((full & pl.any_horizontal(HAS_DIGIT)).sum()).item())

    @property
    def is_empty(self) -> bool:
        """Whether nothing is in it."""
        return not self.cells.width or not self.cells.select(pl.any_horizontal(FILLED)).item()


@dataclass(frozen=True, slots=True)
class ReadSheet:
    """The cells of one sheet, the names of all sheets, which it was, and what is left out of it."""

    grid: Grid
    sheets: tuple[str, ...]
    sheet: str
    remarks: tuple[str, ...]


def read_workbook(raw: bytes, sheet: str | None) -> ReadSheet:
    """Read one sheet.

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
    if read is None or read.is_empty:
        raise TableError(NOTHING)
    grid = grid_of_columns(read.cells, read.lines)
    return ReadSheet(grid, tuple(every), shown, read.remarks)


def _chosen(book: Any, raw: bytes, names: list[str]) -> Sheet | None:
    """Read the first sheet with a table of some length, else that which looks most like one."""
    best: Sheet | None = None
    for name in names:
        read = _read(book, raw, name)
        if read.full_rows >= FEW_DATED or len(names) == 1:
            return read
        if best is None or best.is_empty or read.full_rows > max(best.full_rows, FEW_ROWS):
            best = read
    return best


def _read(book: Any, raw: bytes, name: str) -> Sheet:
    sheet = book.get_sheet_by_name(name)
    marks = _marks_of(raw, name)
    units = marks.units
    # Rows above the first filled one are left away by the library; they count.
    above, left = sheet.start or (0, 0)
    rows = sheet.to_python(nrows=MAX_ROWS + 1)
    check_size(len(rows), max(1, len(rows[0]) if rows else 1))
    cells = pl.DataFrame(
        [
            typed_texts(column, units.get(left + at, "")).alias(f"c{at}")
            for at, column in enumerate(zip(*rows, strict=True))
            if left + at not in marks.hidden_columns
        ]
    )
    cells.columns = [f"c{n}" for n in range(cells.width)]
    lines = pl.Series("line", range(above + 1, above + 1 + len(rows)), dtype=pl.Int64)
    hidden = lines.filter((lines - 1).is_in(list(marks.hidden_rows)))
    kept = ~lines.is_in(hidden.implode())
    if cells.width:
        cells = cells.filter(kept)
    return Sheet(name, cells, lines.filter(kept), _remarks(marks, hidden.to_list()))


def _remarks(marks: SheetMarks, hidden_rows: list[int]) -> tuple[str, ...]:
    """Say what of a sheet is left out, or cannot be read: how much, and where it begins."""
    told = []
    if hidden_rows:
        told.append(
            f"{counted(len(hidden_rows), 'row')} hidden in the file, from row "
            f"{hidden_rows[0]:,} on, left out"
        )
    if marks.hidden_columns:
        letters = ", ".join(letter(n) for n in sorted(marks.hidden_columns)[:MOST_TOLD])
        told.append(
            f"{counted(len(marks.hidden_columns), 'column')} hidden in the file left out: {letters}"
        )
    if marks.without_result:
        told.append(
            f"{counted(marks.without_result, 'formula')} without a result, the first in "
            f"{marks.first_without_result}: open the file where it was made and save it again"
        )
    return tuple(told)


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
