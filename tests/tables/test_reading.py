"""Small awkward tables, and what must be understood of each."""

import csv
import io
from datetime import date, datetime, timedelta

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from fluctus.tables.columns import Kind, understand
from fluctus.tables.dates import DateStyle, gaps, looks_like_date, read_dates
from fluctus.tables.delimited import DELIMITERS, TableError, read_table
from fluctus.tables.numbers import DecimalMark, looks_like_number, read_numbers
from fluctus.tables.text import NotTextError, decode


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
    ["twelve", "1.2.3", "1,2,3", "12,34.5", "--5", "5-", "1e999", "inf", "0x10", "=1+1", "."],
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
        ("1/2/69", DateStyle.DAY_FIRST, date(2069, 2, 1)),
        ("1/2/70", DateStyle.DAY_FIRST, date(1970, 2, 1)),
    ],
)
def test_periods_in_many_styles(cell: str, style: DateStyle, wanted: date) -> None:
    read = read_dates([cell], style)
    assert [moment.date() for moment in read.values if moment] == [wanted]


@pytest.mark.parametrize(
    "cell",
    ["29.02.2025", "2026-13-01", "31/04/2026", "2025-W53", "2026 Q5", "0000-01-01", "9999-01-01",
     "2026-05-18 25:00", "May", "2026", "12", "1,5", "", "next week", "May 18"],
)  # fmt: skip
def test_what_is_no_date_is_none(cell: str) -> None:
    assert not looks_like_date(cell)


def test_offsets_are_kept() -> None:
    (moment,) = read_dates(["2026-05-18T14:00+02:00"]).values
    assert moment
    assert moment.utcoffset() == timedelta(hours=2)
    (moment,) = read_dates(["2026-05-18T14:00Z"]).values
    assert moment
    assert moment.utcoffset() == timedelta(0)


def test_one_cell_decides_between_day_and_month() -> None:
    assert set(read_dates(["3/4/2026", "5/6/2026"]).others) == {DateStyle.MONTH_FIRST}
    assert read_dates(["3/4/2026", "13/6/2026"]).style is DateStyle.DAY_FIRST
    assert read_dates(["3/4/2026", "5/16/2026"]).style is DateStyle.MONTH_FIRST
    assert read_dates(["3/4/2026", "13/6/2026"]).others == ()


def test_gaps_are_between_different_moments_in_order() -> None:
    first = datetime(2026, 1, 5)
    days = [first + timedelta(days=n) for n in (7, 0, 7, 21)]
    assert gaps(days) == [timedelta(days=7), timedelta(days=14)]
    assert gaps([]) == []


PLAIN = st.text(
    st.characters(codec="utf-8", exclude_categories=("Cc", "Cs", "Zl", "Zp", "Zs")),
    min_size=1,
    max_size=8,
)


@given(
    st.sampled_from(list(DELIMITERS)),
    st.lists(st.lists(PLAIN, min_size=3, max_size=3), min_size=4, max_size=12),
    st.sampled_from(["utf-8", "utf-8-sig", "utf-16"]),
)
def test_a_table_written_is_the_table_read(
    delimiter: str, rows: list[list[str]], encoding: str
) -> None:
    # Cells free of marks that another delimiter, or a quote, would make of them.
    marks = '\t;|,"'
    rows = [[cell.translate({ord(m): "x" for m in marks}) for cell in row] for row in rows]
    buffer = io.StringIO()
    csv.writer(buffer, delimiter=delimiter).writerows([["a", "b", "c"], *rows])
    assume("\x00" not in buffer.getvalue())
    table = read_table(decode(buffer.getvalue().encode(encoding)).text)
    assert table.delimiter == delimiter
    assert table.names == ("a", "b", "c")
    assert table.rows == rows
    assert table.lines == list(range(2, len(rows) + 2))


def test_quotes_blank_lines_and_ragged_rows() -> None:
    text = 'Week,"Count, all"\r\n\r\n2026-01-05,"1,234"\r\n2026-01-12\r\n2026-01-19,5,extra\r\n'
    table = read_table(text)
    assert table.names == ("Week", "Count, all")
    assert table.rows == [["2026-01-05", "1,234"], ["2026-01-12", ""], ["2026-01-19", "5"]]
    assert table.lines == [3, 4, 5]
    assert table.too_wide == {5: 3}


def test_headers_are_found_missing_or_doubled() -> None:
    assert not read_table("2026-01-05,1\n2026-01-12,2").has_header
    assert read_table("2026-01-05,1\n2026-01-12,2").names == ("Column 1", "Column 2")
    assert read_table("2026-01-05,1\n2026-01-12,2", has_header=True).names == ("2026-01-05", "1")
    assert read_table("x,x,\n1,2,3").names == ("x", "x (2)", "Column 3")


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "nothing here"),
        ("\n ;\n", "nothing here"),
        ("a,b", "no rows"),
        ("a," * 250 + "\n" + "1," * 250, "at most"),
    ],
)
def test_what_is_no_table_says_why(text: str, says: str) -> None:
    with pytest.raises(TableError, match=says):
        read_table(text)


@pytest.mark.parametrize(
    ("raw", "says"),
    [
        (b"\x89PNG\r\n", "PNG"),
        (b"\xff\xd8\xff\xe0", "JPEG"),
        (b"GIF89a", "GIF"),
        (b"%PDF-1.7", "PDF"),
        (b"PK\x03\x04", "spreadsheet or an archive"),
        (b"\xd0\xcf\x11\xe0", "old spreadsheet"),
        (b"PAR1", "Parquet"),
        (b"\x1f\x8b\x08", "compressed"),
        (b"a,b\n1,\x002", "binary"),
        (b"\xff\xfe1", "utf-16"),
    ],
)
def test_bytes_that_are_no_text_say_what_they_are(raw: bytes, says: str) -> None:
    with pytest.raises(NotTextError, match=says):
        decode(raw)


@pytest.mark.parametrize(
    ("cells", "kind"),
    [
        (["2026-01-05", "2026-01-12", "soon"], Kind.DATE),
        (["1.5", "n/a", "2"], Kind.NUMBER),
        (["Petrel", "Dunlin"], Kind.TEXT),
        (["", "n/a"], Kind.TEXT),
        (["1", "2", "x", "y"], Kind.TEXT),
        (["2024", "2025", "2026"], Kind.NUMBER),
    ],
)
def test_columns_are_taken_for_what_most_cells_are(cells: list[str], kind: Kind) -> None:
    column = understand("c", cells)
    assert column.kind is kind
    assert 0 <= column.share <= 1


def test_a_date_is_never_a_number_and_the_other_way_round() -> None:
    for cell in ("2026-01-05", "5/1/2026", "May 2026"):
        assert looks_like_date(cell)
        assert not looks_like_number(cell)
    for cell in ("1,234.5", "95 %", "-3"):
        assert looks_like_number(cell)
        assert not looks_like_date(cell)
