"""Cells and columns: what is read of each, and what is refused."""

from datetime import UTC, date, datetime, timedelta

import polars as pl
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from fluctus.tables.meaning.columns import ColumnKind, understand
from fluctus.tables.meaning.dates import NUMBER_STYLES, DateStyle, looks_like_date, read_dates
from fluctus.tables.meaning.numbers import (
    Clock,
    ClockChoice,
    DecimalMark,
    decide_clock,
    looks_like_number,
    read_numbers,
)
from fluctus.tables.meaning.numbers.writing import (
    NUMBER_PATTERNS,
    Amount,
    NumberPattern,
    Way,
    read_amount,
)


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
        (["1,00,000", "12,34,567.5"], "point", [100000, 1234567.5], 1),
        (["\u0661\u066c\u0662\u0663\u0664\u066b\u0665"], "point", [1234.5], 1),
        (["412 kg", "5.5 kg"], "point", [412, 5.5], 1),
        (["Rs 1,200", "R$ 3", "z\u0142 4", "5 \u00b0C"], "point", [1200, 3, 4, 5], 0),
        (["1h 25m", "45m", "PT2H"], "point", [85, 45, 120], 1),
        (["5 boxes", "7 boxes", "9 boxes"], "point", [5, 7, 9], 0),
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
        ("FY2026", DateStyle.FISCAL_YEAR, date(2026, 1, 1)),
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


def test_what_a_duration_is_is_told_by_heading_seconds_or_nothing() -> None:
    assert decide_clock("Worked (h)", ["7:30"]) == ClockChoice(Clock.HOURS)
    assert decide_clock("Overtime", ["7:30"]) == ClockChoice(Clock.HOURS)
    assert decide_clock("Cycle, mm:ss", ["7:30"]) == ClockChoice(Clock.MINUTES)
    assert decide_clock("Wait", ["7:30", "1:02:03"]) == ClockChoice(Clock.MINUTES)
    assert decide_clock("Wait", ["7:30"]) == ClockChoice(Clock.MINUTES, "7:30")
    assert read_numbers(["7:30", "8:15"], clock=Clock.HOURS).values == [7.5, 8.25]
    assert read_numbers(["7:30"], clock=Clock.HOURS).unit == "h"


@pytest.mark.parametrize(
    ("cells", "units", "converts", "values"),
    [
        (["94 %", "0.943", "95 %"], {"%": 2, "a fraction": 1}, True, [94, 94.3, 95]),
        (["12 kg", "500 g", "3 kg"], {"kg": 2, "g": 1}, True, [12, 0.5, 3]),
        (["\u20ac 5", "$ 6", "$ 7"], {"$": 2, "\u20ac": 1}, False, [None, 6, 7]),
        (["EUR 5", "\u20ac 6", "7"], {"EUR": 2}, True, [5, 6, 7]),
        (["94 %", "93.5", "95 %"], {"%": 2}, True, [94, 93.5, 95]),
    ],
)
def test_units_that_cells_carry_are_counted_and_converted_where_that_is_sure(
    cells: list[str], units: dict[str, int], converts: bool, values: list[float | None]
) -> None:
    read = read_numbers(cells)
    assert (read.units, read.converts) == (units, converts)
    if len(units) > 1:
        assert read_numbers(cells, to=read.unit).values == [
            value if value is None else pytest.approx(value) for value in values
        ]
    else:
        assert read.values == values


@pytest.mark.parametrize("pattern", NUMBER_PATTERNS, ids=lambda pattern: pattern.name)
def test_each_way_of_writing_a_number_reads_its_examples(pattern: NumberPattern) -> None:
    for mark, examples in (
        (DecimalMark.POINT, pattern.examples),
        (DecimalMark.COMMA, pattern.with_comma),
    ):
        for cell, (value, unit) in examples.items():
            assert read_amount(cell, Way(mark)) == Amount(value, unit), cell
