"""Cells, columns and files: what is read of each, and what is refused."""

import contextlib
import csv
import io
import zipfile
from datetime import UTC, date, datetime, time, timedelta
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
from fluctus.tables.meaning.columns import ColumnKind, understand
from fluctus.tables.meaning.dates import NUMBER_STYLES, DateStyle, looks_like_date, read_dates
from fluctus.tables.meaning.location import locate_table
from fluctus.tables.meaning.numbers import DecimalMark, looks_like_number, read_numbers

BOOKS = Path(__file__).parent / "books"


@pytest.mark.parametrize(
    ("cells", "mark", "values", "decimals"),
    [
        (["1.5", "2", "n/a", ""], "point", [1.5, 2, None, None], 1),
        (["1,5", "2,25"], "comma", [1.5, 2.25], 2),
        (["1,234", "5,678"], "point", [1234, 5678], 0),
        (["1,234.5", "12,345,678.25"], "point", [1234.5, 12345678.25], 2),
        (["1.234,5", "2.345"], "comma", [1234.5, 2345], 1),
        (["1 234,5", "2\u00a0345,25"], "comma", [1234.5, 2345.25], 2),
        (["1\u202f234.5", "12'345.5", "12\u2019345.5"], "point", [1234.5, 12345.5, 12345.5], 1),
        (["\u22121.5", "-2", "+3"], "point", [-1.5, -2, 3], 1),
        (["95 %", "96.5%"], "point", [95, 96.5], 1),
        (["1e3", "2.5E-2"], "point", [1000, 0.025], 1),
        ([".5", "5."], "point", [0.5, 5], 1),
        (["(1.5)", "2.5-", "\u00a33", "4 kr", "USD 5"], "point", [-1.5, -2.5, 3, 4, 5], 1),
        (["1.2k", "3M", "0.5bn"], "point", [1200, 3e6, 5e8], 0),
        (["0:12:30", "-1:00:00"], "point", [12.5, -60], 1),
        (["None", "NULL", "\u2013", "-", "#N/A", "missing"], "point", [None] * 6, 0),
    ],
)
def test_numbers_as_people_write_them(
    cells: list[str], mark: str, values: list[float | None], decimals: int
) -> None:
    read = read_numbers(cells)
    assert (read.mark, read.values, read.misfits) == (mark, values, [])
    assert read.decimals == decimals
    assert read.missing == values.count(None)


@pytest.mark.parametrize(
    "cell",
    [
        "twelve",
        "1.2.3",
        "1,2,3",
        "12,34.5",
        "--5",
        "-5-",
        "5 m",
        "1e999",
        "inf",
        "0x10",
        "=1+1",
        ".",
    ],
)
def test_what_is_no_number_is_a_misfit(cell: str) -> None:
    read = read_numbers(["1.5", cell, "2.5"], DecimalMark.POINT)
    assert read.values[1] is None
    assert read.misfits == ([] if cell == "." else [1])


def test_the_decimal_mark_can_be_given_against_the_looks() -> None:
    assert read_numbers(["1,234"]).values == [1234]
    assert read_numbers(["1,234"], DecimalMark.COMMA).values == [1.234]


@given(st.floats(-1e15, 1e15), st.integers(0, 6), st.sampled_from(["", ",", ".", " ", "'"]))
def test_a_number_written_is_the_number_read(value: float, decimals: int, thousands: str) -> None:
    mark = "," if thousands == "." else "."
    text = f"{value:,.{decimals}f}".replace(",", "T").replace(".", mark).replace("T", thousands)
    chosen = DecimalMark.COMMA if mark == "," else DecimalMark.POINT
    assert read_numbers([text], chosen).values == [float(f"{value:.{decimals}f}")]


WRITTEN = {
    DateStyle.ISO: "%Y-%m-%d",
    DateStyle.DAY_FIRST: "%d/%m/%Y",
    DateStyle.MONTH_FIRST: "%m/%d/%Y",
    DateStyle.DAY_MONTH_NAME: "%d %B %Y",
    DateStyle.MONTH_NAME_DAY: "%b %d, %Y",
    DateStyle.ISO_WEEK: "%G-W%V",
}


@given(
    st.lists(st.dates(date(1990, 1, 1), date(2069, 12, 31)), min_size=1, max_size=30),
    st.sampled_from(list(WRITTEN)),
)
def test_dates_written_in_a_style_are_read_in_it(days: list[date], style: DateStyle) -> None:
    cells = [day.strftime(WRITTEN[style]) for day in days]
    wanted = days
    if style is DateStyle.ISO_WEEK:
        wanted = [day - timedelta(days=day.weekday()) for day in days]
        assume(all(day.year >= 1990 for day in wanted))
    read = read_dates(cells)
    assert style in (read.style, *read.others)
    again = read_dates(cells, style)
    assert again.misfits == []
    assert [moment.date() for moment in again.values if moment] == wanted


@given(st.datetimes(datetime(1970, 1, 1), datetime(2069, 12, 31)))
def test_times_are_read_to_the_minute(moment: datetime) -> None:
    wanted = moment.replace(second=0, microsecond=0)
    for written in ("%Y-%m-%d %H:%M", "%Y-%m-%dT%H:%M:%S", "%d.%m.%Y, %H:%M", "%d %b %Y %H:%M:%S"):
        assert read_dates([moment.strftime(written)]).values == [wanted]


@pytest.mark.parametrize(
    ("cell", "style", "wanted"),
    [
        ("18 May 26", DateStyle.DAY_MONTH_NAME, date(2026, 5, 18)),
        ("18-may-2026", DateStyle.DAY_MONTH_NAME, date(2026, 5, 18)),
        ("May 2026", DateStyle.MONTH_NAME, date(2026, 5, 1)),
        ("Sept. 2026", DateStyle.MONTH_NAME, date(2026, 9, 1)),
        ("2026-05", DateStyle.YEAR_MONTH, date(2026, 5, 1)),
        ("2026 Q2", DateStyle.QUARTER, date(2026, 4, 1)),
        ("2026-W53", DateStyle.ISO_WEEK, date(2026, 12, 28)),
        ("2026W05", DateStyle.ISO_WEEK, date(2026, 1, 26)),
        ("29.02.2024", DateStyle.DAY_FIRST, date(2024, 2, 29)),
        ("2026/5/8", DateStyle.ISO, date(2026, 5, 8)),
        ("3 Aug 1871", DateStyle.DAY_MONTH_NAME, date(1871, 8, 3)),
        ("2150-01-31", DateStyle.ISO, date(2150, 1, 31)),
        ("1/2/69", DateStyle.DAY_FIRST, date(2069, 2, 1)),
        ("1/2/70", DateStyle.DAY_FIRST, date(1970, 2, 1)),
        ("Jan 26", DateStyle.MONTH_NAME, date(2026, 1, 1)),
        ("Week 5, 2026", DateStyle.ISO_WEEK, date(2026, 1, 26)),
        ("Q3 2025", DateStyle.QUARTER, date(2025, 7, 1)),
        ("Mon 18 May 2026", DateStyle.DAY_MONTH_NAME, date(2026, 5, 18)),
        ("FY2026", DateStyle.YEAR, date(2026, 1, 1)),
        ("46160", DateStyle.SERIAL, date(2026, 5, 18)),
        ("1779062400000", DateStyle.EPOCH_MILLISECONDS, date(2026, 5, 18)),
        ("29 Dec \u2013 4 Jan 2026", DateStyle.DAY_MONTH_NAME, date(2025, 12, 29)),
        ("2026-01-05/2026-01-11", DateStyle.ISO, date(2026, 1, 5)),
        ("05/01/2026 - 11/01/2026", DateStyle.DAY_FIRST, date(2026, 1, 5)),
    ],
)
def test_periods_in_many_styles(cell: str, style: DateStyle, wanted: date) -> None:
    read = read_dates([cell], style)
    assert [moment.date() for moment in read.values if moment] == [wanted]


@pytest.mark.parametrize(
    "cell",
    [
        "29.02.2025",
        "2026-13-01",
        "31/04/2026",
        "2025-W53",
        "2026 Q5",
        "0000-01-01",
        "9999-01-01",
        "2026-05-18 25:00",
        "2026-05-18 13:00 PM",
        "May",
        "2026",
        "12",
        "1,5",
        "",
        "next week",
        "11 - 5 Jan 2026",
    ],
)
def test_what_is_no_date_is_none(cell: str) -> None:
    assert not looks_like_date(cell)


def test_offsets_are_kept() -> None:
    (moment,) = read_dates(["2026-05-18T14:00+02:00"]).values
    assert moment
    assert moment == datetime(2026, 5, 18, 12, tzinfo=UTC)
    (moment,) = read_dates(["2026-05-18T14:00Z"]).values
    assert moment
    assert moment.utcoffset() == timedelta(0)


def test_the_times_of_half_days_are_read() -> None:
    cells = ["2026-05-18 12:30 AM", "2026-05-18 2:05 pm", "2026-05-18 12:00 PM"]
    read = read_dates(cells).values
    assert [(m.hour, m.minute) for m in read if m] == [(0, 30), (14, 5), (12, 0)]


def test_one_cell_decides_between_day_and_month() -> None:
    assert set(read_dates(["3/4/2026", "5/6/2026"]).others) == {DateStyle.MONTH_FIRST}
    assert read_dates(["3/4/2026", "13/6/2026"]).style is DateStyle.DAY_FIRST
    assert read_dates(["3/4/2026", "5/16/2026"]).style is DateStyle.MONTH_FIRST
    assert read_dates(["3/4/2026", "13/6/2026"]).others == ()


def test_plain_numbers_are_dates_only_by_name_or_by_how_they_run() -> None:
    def kind(name: str, cells: list[str]) -> ColumnKind:
        return understand(name, pl.Series(cells)).kind

    assert kind("Year", ["2024", "2024", "2025"]) is ColumnKind.DATE
    assert kind("Fee", ["2024", "2025", "2026"]) is ColumnKind.DATE
    assert kind("Fee", ["2024", "2026", "2025"]) is ColumnKind.NUMBER
    assert kind("Meter", ["18240", "18285", "18330"]) is ColumnKind.NUMBER
    assert kind("x", ["46027", "46034", "46041"]) is ColumnKind.DATE
    assert kind("x", ["1767571200", "1767574800", "1767578400"]) is ColumnKind.DATE
    assert kind("x", ["1767571207", "1767574811", "1767578493"]) is ColumnKind.NUMBER
    for style in NUMBER_STYLES:
        assert read_dates(["soon"], style).misfits == [0]


@pytest.mark.parametrize(
    ("cells", "kind", "share", "exceptions"),
    [
        (["2026-01-05", "2026-01-12", "soon", ""], ColumnKind.DATE, 2 / 3, ("soon",)),
        (["1.5", "n/a", "2"], ColumnKind.NUMBER, 1.0, ()),
        (["1", "2", "x"], ColumnKind.NUMBER, 2 / 3, ("x",)),
        (["Petrel", "Dunlin"], ColumnKind.TEXT, 1.0, ()),
        (["", "n/a"], ColumnKind.TEXT, 0.0, ()),
        (["1", "2", "x", "y"], ColumnKind.TEXT, 1.0, ()),
    ],
)
def test_columns_are_taken_for_what_most_cells_are(
    cells: list[str], kind: ColumnKind, share: float, exceptions: tuple[str, ...]
) -> None:
    column = understand("c", pl.Series(cells))
    assert (column.kind, column.exceptions) == (kind, exceptions)
    assert column.share == pytest.approx(share)


def test_a_date_is_never_a_number_and_the_other_way_round() -> None:
    for cell in ("2026-01-05", "5/1/2026", "May 2026"):
        assert looks_like_date(cell)
        assert not looks_like_number(cell)
    for cell in ("1,234.5", "95 %", "-3"):
        assert looks_like_number(cell)
        assert not looks_like_date(cell)


# Cells as each format can hold them: no blanks at their ends, and no line breaks but in quotes.
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
        (b"a," * 1200 + b"\n" + b"1," * 1200, "1,201 columns"),
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
