"""The formats of tables there are. A new one is a module of ``kinds``, and its line here."""

from typing import Final

from fluctus.tables.formats.kinds.archived_package import ARCHIVED_PACKAGE
from fluctus.tables.formats.kinds.described_package import DESCRIBED_PACKAGE
from fluctus.tables.formats.kinds.json_records import JSON_RECORDS
from fluctus.tables.formats.kinds.parquet import PARQUET
from fluctus.tables.formats.kinds.separated_text import SEPARATED_TEXT
from fluctus.tables.formats.kinds.spreadsheet import SPREADSHEET
from fluctus.tables.formats.kinds.web_table import WEB_TABLE
from fluctus.tables.formats.table_format import TableFormat

FORMATS: Final[tuple[TableFormat, ...]] = (
    PARQUET,
    ARCHIVED_PACKAGE,
    SPREADSHEET,
    # From here on the file is read as text.
    DESCRIBED_PACKAGE,
    JSON_RECORDS,
    WEB_TABLE,
    SEPARATED_TEXT,
)
"""In the order they are tried: the first that recognizes a file reads it."""
