"""The formats of tables: each recognized as itself, and offered to whoever chooses a file."""

import io
import re
from pathlib import Path

import orjson
import polars as pl
import pytest

from fluctus.tables.formats.registry import FORMATS
from fluctus.tables.formats.table_format import Source, TableFormat
from fluctus.tables.grid import TableError

ROOT = Path(__file__).parents[2]
BOOK = (ROOT / "tests/tables/books/left-behind.xlsx").read_bytes()
RECORDS = [{"week": "2026-01-05", "value": 3}]


def parquet() -> bytes:
    made = io.BytesIO()
    pl.DataFrame(RECORDS).write_parquet(made)
    return made.getvalue()


FILES = {
    "Parquet": parquet(),
    "spreadsheet": BOOK,
    "Data Package": orjson.dumps({"resources": [{"name": "a", "data": RECORDS}]}),
    "JSON": orjson.dumps(RECORDS),
    "web page table": b"<table><tr><td>Week</td><td>Value</td></tr></table>",
    "separated text": b"Week,Value\n2026-01-05,3\n",
}


def found(raw: bytes) -> TableFormat:
    source = Source(raw)
    return next(each for each in FORMATS if each.recognizes(source))


@pytest.mark.parametrize("name", FILES)
def test_each_is_recognized_and_read(name: str) -> None:
    kind = found(FILES[name])
    assert kind.name == name
    assert kind.read(Source(FILES[name]), None).grid.cells.width >= 2


def test_an_archive_of_something_else_says_so() -> None:
    archive = bytearray(BOOK).replace(b"xl/workbook.xml", b"xl/workbook.xxx")
    with pytest.raises(TableError):
        found(bytes(archive)).read(Source(bytes(archive)), None)


def test_all_suffixes_can_be_chosen_in_the_browser() -> None:
    written = (ROOT / "web/src/intake/Source.tsx").read_text()
    match = re.search(r"const KINDS =\s*'([^']*)'", written)
    assert match is not None
    offered = {suffix for suffix in match[1].split(",") if suffix.startswith(".")}
    assert offered == {suffix for each in FORMATS for suffix in each.suffixes}
