"""Files made to do harm: each is refused within its bounds, and harms nobody but itself."""

import io
import json
import os
import time
import zipfile
from collections.abc import Callable
from pathlib import Path

import openpyxl
import polars as pl
import pytest

from fluctus.tables.formats.opening import open_table
from fluctus.tables.grid import MAX_CELLS, TableError
from fluctus.tables.isolation import TooMuchError, TooSlowError, run_isolated
from fluctus.tables.meaning.dates import looks_like_date, read_dates
from fluctus.tables.meaning.numbers import read_numbers


def bomb() -> bytes:
    """A small spreadsheet whose sheet unpacks to gigabytes."""
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED, compresslevel=9) as archive:
        archive.writestr("xl/workbook.xml", b"<workbook/>")
        with archive.open("xl/worksheets/sheet1.xml", "w", force_zip64=True) as sheet:
            for _ in range(500):
                sheet.write(b" " * 1024 * 1024)
    return buffer.getvalue()


def far_cell() -> bytes:
    """A spreadsheet that names a cell in its last row and column."""
    book = openpyxl.Workbook()
    book.active.cell(1_048_576, 16_384, 1)
    book.active.cell(1, 1, 1)
    buffer = io.BytesIO()
    book.save(buffer)
    return buffer.getvalue()


def repeated_parquet() -> bytes:
    """A Parquet file that says once what it has two million times, in each of twelve columns."""
    column = pl.repeat(1, 2_000_000, dtype=pl.Int8, eager=True)
    buffer = io.BytesIO()
    pl.DataFrame({f"c{n}": column for n in range(12)}).write_parquet(buffer)
    return buffer.getvalue()


def one_wide_record() -> bytes:
    records = [{"a": 1}] * 200_000 + [{f"f{n}": n for n in range(900)}]
    return json.dumps(records).encode()


def package_that_unpacks() -> bytes:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED, compresslevel=9) as archive:
        archive.writestr("datapackage.json", json.dumps({"resources": [{"path": "t.csv"}]}))
        archive.writestr("t.csv", b"," * 120_000_000)
    return buffer.getvalue()


def flipped_bit() -> bytes:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("xl/workbook.xml", bytes(range(256)) * 40)
    damaged = bytearray(buffer.getvalue())
    damaged[60] ^= 1
    return bytes(damaged)


@pytest.mark.parametrize(
    "make",
    [
        bomb,
        far_cell,
        repeated_parquet,
        one_wide_record,
        package_that_unpacks,
        flipped_bit,
        lambda: b"a,b\n" + b"1,2\n" * 400_000 + b"," * 900,
        lambda: b'a,"b"\n' + b"1,2\n" * 400_000 + b"," * 900,
        lambda: b"<table>" + b"<a><div>" * 30_000,
        lambda: b"<table><!a",
        lambda: b"<table><tr>" + b"<td colspan=50>" * 400,
        lambda: b"{" * 100_000,
        lambda: b"[" * 100_000,
    ],
)
def test_what_is_made_to_take_too_much_is_refused(make: Callable[[], bytes]) -> None:
    with pytest.raises((TableError, TooMuchError, TooSlowError)) as refused:
        run_isolated(width_of, make())
    if isinstance(refused.value, TableError):
        assert refused.value.what.endswith(".")
        assert refused.value.remedy


def test_a_row_that_is_far_too_wide_is_named() -> None:
    with pytest.raises(TableError, match="row 200,002 is the widest"):
        open_table(b"a,b\n" + b"1,2\n" * 200_000 + b"," * 900)
    # As wide throughout, so many cells are read.
    rows = MAX_CELLS // 1000 // 10
    assert (
        len(open_table(b"1" + b",1" * 899 + (b"\n" + b"2" + b",2" * 899) * rows).grid) == rows + 1
    )


def test_a_colspan_without_end_fills_no_more_than_a_table_holds() -> None:
    page = b"<table><tr><td colspan=" + b"9" * 5000 + b">Day</td><td>1</td></tr></table>"
    assert run_isolated(width_of, page) == 51


def width_of(raw: bytes) -> int:
    return open_table(raw).grid.width


def surroundings(names: list[str]) -> list[str]:
    """What the process was begun with and has now, as far as it is named so."""
    begun = Path("/proc/self/environ").read_bytes().decode().split("\0")
    return [line for line in [*begun, *os.environ] if line.partition("=")[0] in names]


def test_a_reading_process_has_no_secret_and_is_believed_nothing() -> None:
    secrets = ["SECRET_KEY", "DATABASE_URL", "EMAIL_URL"]
    assert os.environ.get("SECRET_KEY")
    assert run_isolated(surroundings, secrets) == []
    with pytest.raises(TooMuchError):
        run_isolated(liar, 1)


def liar(number: int) -> list[int]:
    return ["no number"]  # type: ignore[list-item]


def test_what_is_wanted_no_more_is_not_waited_for() -> None:
    asked = 0

    def still_wanted() -> None:
        nonlocal asked
        asked += 1
        if asked > 1:
            raise LookupError

    began = time.monotonic()
    with pytest.raises(LookupError):
        run_isolated(exhaust, "time", seconds=30, still_wanted=still_wanted)
    assert time.monotonic() - began < 10


def exhaust(kind: str) -> int:
    if kind == "time":
        time.sleep(60)
    if kind == "memory":
        bytearray(3 * 1024**3)
    if kind == "library":
        raise RuntimeError
    return len(kind)


@pytest.mark.parametrize(
    ("kind", "error"),
    [("time", TooSlowError), ("memory", TooMuchError), ("library", TooMuchError)],
)
def test_work_apart_is_bounded(kind: str, error: type[Exception]) -> None:
    with pytest.raises(error):
        run_isolated(exhaust, kind, seconds=1 if kind == "time" else 30)
    assert run_isolated(exhaust, "three") == 5


@pytest.mark.parametrize(
    "cell", ["1" * 30_000 + "x", "1d " * 10_000, "5 " * 15_000 + "h", "Jan " * 8_000 + "2026"]
)
def test_a_long_cell_is_no_date_and_no_number(cell: str) -> None:
    # A pattern that tried all ways to part such a text would not come to an end.
    assert read_numbers([cell]).misfits == [0]
    assert read_dates([cell]).misfits == [0]
    assert not looks_like_date(cell)
