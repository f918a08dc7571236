"""Files of each kind: the table that is read of them, and what is refused."""

import contextlib
import csv
import io
import zipfile
from datetime import date, datetime, time, timedelta
from pathlib import Path
from typing import Any

import openpyxl
import orjson
import polars as pl
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from fluctus.tables.formats.delimited import DELIMITERS
from fluctus.tables.formats.opening import open_table
from fluctus.tables.formats.plain import plain
from fluctus.tables.grid import MAX_COLUMNS, Grid, TableError, grid_of, make_grid
from fluctus.tables.meaning.dates import DateStyle, read_dates
from fluctus.tables.meaning.location import locate_table
from fluctus.tables.meaning.numbers import DecimalMark, read_numbers

BOOKS = Path(__file__).parent / "books"


TEXTS = st.text(
    st.characters(codec="utf-8", exclude_categories=("Cc", "Cs", "Zl", "Zp", "Zs")),
    min_size=1,
    max_size=8,
)
TABLES = st.integers(2, 5).flatmap(
    lambda width: st.lists(st.lists(TEXTS, min_size=width, max_size=width), min_size=2, max_size=12)
)


def cells_of(grid: Grid) -> list[list[str]]:
    return [list(row) for row in grid.rows(0, len(grid))]


@given(
    TABLES,
    st.sampled_from(list(DELIMITERS)),
    st.sampled_from(["utf-8", "utf-8-sig", "utf-16"]),
    st.sampled_from([csv.QUOTE_ALL, csv.QUOTE_MINIMAL]),
)
def test_a_delimited_table_written_is_the_table_read(
    rows: list[list[str]], delimiter: str, encoding: str, quoting: Any
) -> None:
    # Free of marks that another delimiter, or another quotation mark, would make of them.
    marks = "\t;|,'" + ("" if quoting == csv.QUOTE_ALL else '"')
    rows = [[cell.translate({ord(m): "x" for m in marks}) for cell in row] for row in rows]
    buffer = io.StringIO()
    csv.writer(buffer, delimiter=delimiter, quoting=quoting).writerows(rows)
    text = buffer.getvalue()
    assume("\x00" not in text and text[0] not in "<[{\ufeff")
    opened = open_table(text.encode(encoding))
    assert opened.format == f"{DELIMITERS[delimiter]}-separated"
    assert cells_of(opened.grid) == rows
    assert opened.grid.lines.to_list() == list(range(1, len(rows) + 1))


@given(TABLES, st.booleans())
def test_records_and_columns_written_are_the_table_read(
    rows: list[list[str]], records: bool
) -> None:
    names = [f"name {n}" for n in range(len(rows[0]))]
    data: Any = [dict(zip(names, row, strict=True)) for row in rows]
    if not records:
        data = {name: [row[n] for row in rows] for n, name in enumerate(names)}
    opened = open_table(orjson.dumps(data))
    assert (opened.format, opened.grid.named) == ("JSON", True)
    assert cells_of(opened.grid) == [names, *rows]
    package = {"resources": [{"name": "one", "data": data}, {"name": "two", "data": []}]}
    opened = open_table(orjson.dumps(package))
    assert (opened.format, opened.sheets) == ("Data Package", ("one", "two"))
    assert cells_of(opened.grid) == [names, *rows]


NUMBERS = st.floats(allow_nan=False, allow_infinity=False)


@given(
    st.lists(
        st.tuples(st.datetimes(datetime(1980, 1, 1), datetime(2060, 1, 1)), NUMBERS, TEXTS),
        min_size=1,
        max_size=12,
    )
)
def test_typed_columns_written_are_the_numbers_and_dates_read(
    rows: list[tuple[datetime, float, str]],
) -> None:
    frame = pl.DataFrame(
        {
            "at": [row[0] for row in rows],
            "value": [row[1] for row in rows],
            "name": [row[2] for row in rows],
        }
    )
    buffer = io.BytesIO()
    frame.write_parquet(buffer)
    opened = open_table(buffer.getvalue())
    assert opened.format == "Parquet"
    body = opened.grid.cells[1:]
    assert [m and m.replace(second=0) for m in read_dates(body["c0"], DateStyle.ISO).values] == [
        row[0].replace(second=0, microsecond=0) for row in rows
    ]
    read = read_numbers(body["c1"], DecimalMark.POINT)
    kept = [None if abs(row[1]) > 1e30 else row[1] for row in rows]
    assert read.values == kept
    assert body["c2"].to_list() == [row[2] for row in rows]


def test_what_is_hidden_in_a_spreadsheet_is_no_data_and_formats_give_units() -> None:
    book = openpyxl.Workbook()
    drafts = book.active
    drafts.title = "Drafts"
    drafts.sheet_state = "hidden"
    for day in range(1, 9):
        drafts.append([f"2026-01-{day:02d}", 1])
    sheet = book.create_sheet("On time")
    sheet.append(["Week", "Working", "On time", "Fuel cost"])
    for week, share in enumerate((0.94, 0.915, 0.96, 0.905)):
        sheet.append([date(2026, 1, 5) + timedelta(weeks=week), 99, share, 320.5])
        sheet.cell(week + 2, 3).number_format = "0.0%"
        sheet.cell(week + 2, 4).number_format = "[$\N{EURO SIGN}-407] #,##0.00"
    sheet.row_dimensions[3].hidden = True
    sheet.column_dimensions["B"].hidden = True
    buffer = io.BytesIO()
    book.save(buffer)
    opened = open_table(buffer.getvalue())
    assert (opened.sheet, opened.sheets) == ("On time", ("On time", "Drafts (hidden)"))
    assert opened.grid.rows(0, 9) == [
        ("Week", "On time", "Fuel cost"),
        ("2026-01-05", "94%", "\N{EURO SIGN} 320.5"),
        ("2026-01-19", "96%", "\N{EURO SIGN} 320.5"),
        ("2026-01-26", "90.5%", "\N{EURO SIGN} 320.5"),
    ]
    # Lines are those of the sheet, with the hidden row counted.
    assert opened.grid.lines.to_list() == [1, 2, 4, 5]
    chosen = open_table(buffer.getvalue(), "Drafts (hidden)")
    assert (chosen.sheet, len(chosen.grid)) == ("Drafts (hidden)", 8)


@pytest.mark.parametrize("kind", ["xlsx", "ods"])
def test_a_spreadsheet_gives_dates_as_dates_and_the_values_of_formulas(kind: str) -> None:
    raw = (BOOKS / f"left-behind.{kind}").read_bytes()
    opened = open_table(raw)
    assert opened.format == f"{kind.upper()} spreadsheet"
    assert opened.sheets == ("Cover", "Left behind")
    assert opened.sheet == "Left behind"
    found = locate_table(opened.grid)
    assert found.names == ("Week", "Quay", "Left behind")
    assert found.cells.rows()[:2] == [
        ("2026-01-05", "Ainsey", "3"),
        ("2026-01-05", "Holmsand", "2.5"),
    ]
    assert found.lines.to_list()[0] == 4
    assert [row.why for row in found.left_out] == ["total"]
    assert open_table(raw, "Cover").grid.rows(0, 1) == [("Quay log of Marrowick Ferries",)]


MANIFEST = (
    '<?xml version="1.0"?><manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:'
    'xmlns:manifest:1.0"/>'
)


def test_what_is_hidden_in_an_open_document_is_no_data_and_formats_give_units() -> None:
    names = {"office": "office:1.0", "table": "table:1.0", "text": "text:1.0"}
    spaces = " ".join(
        f'xmlns:{name}="urn:oasis:names:tc:opendocument:xmlns:{urn}"' for name, urn in names.items()
    )

    def cell(kind: str, value: str) -> str:
        kinds = {
            "string": "",
            "date": f' office:date-value="{value}"',
            "currency": f' office:currency="EUR" office:value="{value}"',
        }
        amount = kinds.get(kind, f' office:value="{value}"')
        return (
            f'<table:table-cell office:value-type="{kind}"{amount}>'
            f"<text:p>{value}</text:p></table:table-cell>"
        )

    def row(*cells: tuple[str, str], hidden: bool = False) -> str:
        seen = ' table:visibility="filter"' if hidden else ""
        return f"<table:table-row{seen}>{''.join(cell(*c) for c in cells)}</table:table-row>"

    rows = [row(*(("string", name) for name in ("Week", "Working", "On time", "Fuel cost")))]
    for week in range(4):
        day = date(2026, 1, 5) + timedelta(weeks=week)
        rows.append(
            row(
                ("date", str(day)),
                ("float", "99"),
                ("percentage", "0.94"),
                ("currency", "320.5"),
                hidden=week == 1,
            )
        )
    content = (
        f'<?xml version="1.0"?><office:document-content {spaces} office:version="1.3">'
        '<office:body><office:spreadsheet><table:table table:name="On time"><table:table-column/>'
        '<table:table-column table:visibility="collapse"/>'
        '<table:table-column table:number-columns-repeated="2"/>'
        f"{''.join(rows)}</table:table></office:spreadsheet></office:body></office:document-content>"
    )
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as archive:
        archive.writestr("mimetype", "application/vnd.oasis.opendocument.spreadsheet")
        archive.writestr("META-INF/manifest.xml", MANIFEST)
        archive.writestr("content.xml", content)
    opened = open_table(buffer.getvalue())
    assert opened.grid.rows(0, 9) == [
        ("Week", "On time", "Fuel cost"),
        ("2026-01-05", "94%", "EUR 320.5"),
        ("2026-01-19", "94%", "EUR 320.5"),
        ("2026-01-26", "94%", "EUR 320.5"),
    ]
    assert opened.grid.lines.to_list() == [1, 2, 4, 5]


def test_a_package_in_an_archive_is_read_and_nothing_outside_it() -> None:
    def package(path: str, content: bytes = b"week,stops\n2026-01-05,2\n") -> bytes:
        buffer = io.BytesIO()
        with zipfile.ZipFile(buffer, "w") as archive:
            archive.writestr(
                "datapackage.json", orjson.dumps({"resources": [{"name": "s", "path": path}]})
            )
            archive.writestr("data/stops.csv", content)
        return buffer.getvalue()

    assert cells_of(open_table(package("data/stops.csv")).grid) == [
        ["week", "stops"],
        ["2026-01-05", "2"],
    ]
    for path in ("../../etc/passwd", "/etc/passwd", "https://example.org/stops.csv"):
        with pytest.raises(TableError, match="not in the archive"):
            open_table(package(path))


@pytest.mark.parametrize(
    ("raw", "says"),
    [
        (b"", "nothing here"),
        (b"\n ;\n", "nothing here"),
        (b"a," * 4200 + b"\n" + b"1," * 4200, "4,201 columns"),
        (b'Week,x\n2026-01-05,"' + b"9" * 200_000, "cannot be read as a row"),
        (b"Week,x\n2026-01-05," + b"9" * 10_000_000, "characters; at most 32,767"),
        (b"\x89PNG\r\n", "PNG"),
        (b"\xff\xd8\xff\xe0", "JPEG"),
        (b"GIF89a", "GIF"),
        (b"%PDF-1.7", "PDF"),
        (b"PK\x03\x04" + bytes(64), "damaged"),
        (b"\xd0\xcf\x11\xe0", "old spreadsheet"),
        (b"PAR1" + bytes(32), "damaged"),
        (b"\x1f\x8b\x08", "compressed"),
        (b"a,b\n1,\x002", "binary"),
        (b"\xff\xfe1", "utf-16"),
        (b'{"a": 1}', "no table"),
        (b"[1, 2, 3]", "no table"),
        (b'{"a": [1, 2], "b": [1]}', "no table"),
        (b'[{"a": 1}', "cannot be read"),
        (b"<p>No</p><table></table>", "no table"),
    ],
)
def test_what_is_no_table_says_why(raw: bytes, says: str) -> None:
    with pytest.raises(TableError, match=says):
        open_table(raw)


@given(st.binary(max_size=400))
def test_junk_is_read_or_refused_and_never_a_fault(raw: bytes) -> None:
    with contextlib.suppress(TableError):
        locate_table(open_table(raw).grid)


def test_a_grid_keeps_its_bounds() -> None:
    with pytest.raises(TableError, match="columns"):
        make_grid([(1, ["x"] * (MAX_COLUMNS + 1))])
    with pytest.raises(TableError, match="columns"):
        grid_of(pl.DataFrame({f"c{n}": ["x"] for n in range(MAX_COLUMNS + 1)}))
    wide = make_grid([(1, ["a"]), (2, []), (3, ["b", "c"])])
    assert cells_of(wide) == [["a", ""], ["b", "c"]]
    assert wide.lines.to_list() == [1, 3]


def test_cells_with_a_type_are_written_plainly() -> None:
    cells = [
        None,
        True,
        3.0,
        0.1,
        date(2026, 1, 5),
        datetime(2026, 1, 5),
        time(6, 5),
        timedelta(hours=30, seconds=5),
        -timedelta(minutes=1),
        {"a": 1},
        "x",
    ]
    assert [plain(cell) for cell in cells] == [
        "",
        "true",
        "3",
        "0.1",
        "2026-01-05",
        "2026-01-05",
        "06:05:00",
        "30:00:05",
        "-0:01:00",
        "",
        "x",
    ]
