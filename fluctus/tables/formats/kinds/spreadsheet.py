"""Spreadsheets: XLSX, XLSB and ODS."""

from fluctus.tables.formats.table_format import Opened, Source, TableFormat
from fluctus.tables.formats.workbook import read_workbook
from fluctus.tables.grid import TableError

OPEN_DOCUMENT = "content.xml"
CONTENTS = {"xl/workbook.xml", "xl/workbook.bin", OPEN_DOCUMENT}


def _read(source: Source, sheet: str | None) -> Opened:
    """Read a sheet; an archive of anything else is none of the others either."""
    if not CONTENTS & set(source.members):
        raise TableError("This is an archive without a table in it. Upload the table itself.")
    read = read_workbook(source.raw, sheet)
    kind = "ODS" if OPEN_DOCUMENT in source.members else "XLSX"
    told = read.sheets, read.sheet, read.remarks
    return Opened(read.grid, f"{kind} spreadsheet", "", *told)


SPREADSHEET = TableFormat(
    "spreadsheet", (".xlsx", ".xlsm", ".xlsb", ".ods"), lambda source: bool(source.members), _read
)
