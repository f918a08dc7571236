"""A table of a web page, as it is pasted or saved."""

from fluctus.tables.formats.table_format import Opened, Source, TableFormat
from fluctus.tables.formats.web_page import is_web_page, read_web


def _read(source: Source, sheet: str | None) -> Opened:
    return Opened(read_web(source.text), "web page table", source.decoded.encoding)


WEB_TABLE = TableFormat(
    "web page table", (".html", ".htm"), lambda source: is_web_page(source.text), _read
)
