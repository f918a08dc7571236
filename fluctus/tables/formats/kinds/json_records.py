"""JSON: records, rows or columns."""

from fluctus.tables.formats.records import read_json
from fluctus.tables.formats.table_format import Opened, Source, TableFormat


def _read(source: Source, sheet: str | None) -> Opened:
    return Opened(read_json(source.text), "JSON", source.decoded.encoding)


JSON_RECORDS = TableFormat(
    "JSON",
    (".json", ".jsonl", ".ndjson"),
    lambda source: source.text.lstrip()[:1] in ("{", "["),
    _read,
)
