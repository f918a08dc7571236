"""Spreadsheet files, XLSX and ODS, read in a process of their own with bounded memory.

What a file claims to hold cannot be trusted: a few kilobytes can unpack to
gigabytes, or name a cell a billion rows down. The reader process may use so
much memory and time and no more; when it does not come back, nothing else is
harmed.
"""

import io
import resource
import subprocess
import sys
import zipfile
from datetime import date, datetime, time, timedelta
from typing import Any

import orjson
import python_calamine

from fluctus.tables.formats.plain import plain
from fluctus.tables.grid import MAX_ROWS, Grid, TableError, make_grid

MAX_UNPACKED = 400 * 1024 * 1024
MAX_MEMBERS = 5_000
READER_MEMORY = 1024 * 1024 * 1024
READER_SECONDS = 120
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
    except (zipfile.BadZipFile, EOFError, NotImplementedError, OSError, ValueError) as error:
        if isinstance(error, TableError):
            raise
        raise TableError(DAMAGED) from error


def read_workbook(raw: bytes, sheet: str | None) -> tuple[Grid, list[str], str]:
    """Read one sheet; returns its cells, the names of all sheets, and which it was.

    ``sheet`` None takes the first one that looks like a table, or holds anything. Formulas count as
    the values they last had.
    """
    try:
        process = subprocess.run(  # noqa: S603 - this module, with the name of a sheet
            [sys.executable, "-m", "fluctus.tables.formats.workbook", sheet or ""],
            input=raw, capture_output=True, timeout=READER_SECONDS, check=False,
        )  # fmt: skip
    except subprocess.TimeoutExpired as error:
        raise TableError(TOO_MUCH) from error
    if process.returncode == 3:
        raise TableError(DAMAGED)
    if process.returncode != 0:
        raise TableError(TOO_MUCH)
    answer = orjson.loads(process.stdout)
    rows = answer["rows"]
    return make_grid(enumerate(rows, 1)), answer["sheets"], answer["sheet"]


def _read(raw: bytes, asked: str) -> dict[str, Any]:
    book = python_calamine.CalamineWorkbook.from_filelike(io.BytesIO(raw))
    names = [sheet.name for sheet in book.sheets_metadata
             if sheet.typ == python_calamine.SheetTypeEnum.WorkSheet]  # fmt: skip
    chosen = [asked] if asked in names else names
    first: dict[str, Any] | None = None
    for name in chosen:
        sheet = book.get_sheet_by_name(name)
        rows: list[list[str]] = []
        for row in sheet.iter_rows():
            if len(rows) > MAX_ROWS:
                break
            rows.append([_cell(cell) for cell in row])
        # Rows above the first filled one are left away by the library; they count.
        above = sheet.start[0] if sheet.start else 0
        answer = {"rows": [[]] * above + rows, "sheets": names, "sheet": name}
        if name == asked or sum(sum(map(bool, row)) > 1 for row in rows) > FEW_ROWS:
            return answer
        if first is None or not any(map(any, first["rows"])):
            first = answer
    return first or {"rows": [], "sheets": names, "sheet": ""}


def _cell(cell: str | float | bool | datetime | date | time | timedelta) -> str:
    return cell if isinstance(cell, str) else plain(cell)


def main() -> int:
    """Read a spreadsheet from the input and write its cells to the output."""
    resource.setrlimit(resource.RLIMIT_AS, (READER_MEMORY, READER_MEMORY))
    try:
        answer = _read(sys.stdin.buffer.read(), sys.argv[1])
    except (python_calamine.CalamineError, ValueError):
        return 3
    except MemoryError:
        return 4
    sys.stdout.buffer.write(orjson.dumps(answer))
    return 0


if __name__ == "__main__":
    sys.exit(main())
