"""What is read a column at a time is what would be read a cell at a time."""

import csv
import io
from datetime import date, datetime, timedelta

from hypothesis import given
from hypothesis import strategies as st

from fluctus.tables.formats.delimited import read_delimited
from fluctus.tables.formats.plain import plain, typed_texts
from fluctus.tables.meaning.dates import read_dates
from fluctus.tables.meaning.dates.gathering import gathered
from fluctus.tables.meaning.dates.names import KEPT
from fluctus.tables.meaning.dates.styles import DateStyle

ORDERS = {
    DateStyle.ISO: "%Y-%m-%d",
    DateStyle.DAY_FIRST: "%d.%m.%Y",
    DateStyle.MONTH_FIRST: "%m/%d/%Y",
}
MOMENTS = st.datetimes(datetime(1800, 1, 1), datetime(2200, 1, 1)).map(
    lambda moment: moment.replace(second=0, microsecond=0)
)
OFFSETS = st.sampled_from(["", "Z", "+05:30", "-11:00"])


@given(st.lists(st.tuples(MOMENTS, OFFSETS), min_size=1), st.sampled_from(list(ORDERS)))
def test_moments_in_digits_are_those_of_the_pattern(
    written: list[tuple[datetime, str]], style: DateStyle
) -> None:
    cells = [moment.strftime(f"{ORDERS[style]} %H:%M") + zone for moment, zone in written]
    # Two blanks are read by the pattern alone.
    one_by_one = [cell.replace(" ", "  ") for cell in cells]
    at_once, slow = read_dates(cells, style), read_dates(one_by_one, style)
    assert at_once.values == slow.values
    assert None not in at_once.values


def test_what_is_no_day_is_none_however_it_is_read() -> None:
    cells = ["30.02.2026", "01.13.2026", "01.01.1799", "01.01.2201", "01.01.2026 25:00"]
    assert read_dates(cells, DateStyle.DAY_FIRST).values == [None] * len(cells)


CELLS = st.one_of(
    st.floats(allow_nan=False, allow_infinity=False),
    st.integers(-(10**18), 10**18).map(float),
    st.decimals(-1000, 1000, places=3).map(float),
    st.text(max_size=5),
    st.booleans(),
    st.dates(date(1000, 1, 1)),
    st.datetimes(datetime(1000, 1, 1)),
    st.times(),
    st.timedeltas(timedelta(days=-90), timedelta(days=90)),
    st.none(),
)


@given(st.lists(CELLS))
def test_typed_cells_are_written_alike_alone_and_together(cells: list[object]) -> None:
    assert typed_texts(cells).to_list() == [plain(cell) for cell in cells]


SIGNS = st.text(st.sampled_from('ab1 "\n'), max_size=6).map(lambda text: f"x{text}")


@given(st.lists(st.lists(SIGNS, min_size=3, max_size=3), min_size=1, max_size=8))
def test_a_text_is_read_as_the_standard_library_reads_it(rows: list[list[str]]) -> None:
    text = io.StringIO()
    csv.writer(text, delimiter="\t", lineterminator="\n").writerows(rows)
    grid, delimiter = read_delimited(text.getvalue())
    assert delimiter == "\t"
    assert grid.cells.rows() == [tuple(cell.strip() for cell in row) for row in rows]


def test_the_names_of_months_are_those_of_the_edition_of_babel() -> None:
    assert KEPT.read_bytes() == gathered(), "run script/names"
