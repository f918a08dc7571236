"""Dates in every way of writing that is known, and in every language that names months."""

from datetime import date, datetime

import polars as pl
import pytest
from babel import localedata
from babel.dates import format_date

from fluctus.tables.meaning.columns import ColumnKind, understand
from fluctus.tables.meaning.dates import read_dates
from fluctus.tables.meaning.dates.styles import WRITTEN, DatePattern

YEAR = [date(2026, month, 28 - month) for month in range(1, 13)]


def _names_months(language: str) -> bool:
    """Tell whether the data has a language's months, long and short."""
    try:
        names = format_date(YEAR[0], "MMMM MMM LLLL LLL", locale=language)
    except KeyError:
        return False
    return not any(sign.isascii() and sign.isdigit() for sign in names)


NAMED = [
    name
    for name in sorted(localedata.locale_identifiers())
    if "_" not in name and _names_months(name)
]


@pytest.mark.parametrize("entry", WRITTEN, ids=lambda entry: entry.style)
def test_each_way_of_writing_reads_its_examples(entry: DatePattern) -> None:
    for cell, day in entry.examples.items():
        read = read_dates([cell], entry.style)
        assert [moment and moment.date().isoformat() for moment in read.values] == [day], cell


def _read(language: str, pattern: str) -> list[bool | None]:
    """Tell of each day of a year, as a language writes it, whether it is read as it was."""
    cells = [format_date(day, pattern, locale=language) for day in YEAR]
    wanted = [day if "d" in pattern else day.replace(day=1) for day in YEAR]
    read = [moment and moment.date() for moment in read_dates(cells).values]
    return [
        None if found is None else found == day for found, day in zip(read, wanted, strict=True)
    ]


ENGLISH_ELSEWHERE = {"bas", "bo", "dua", "dz", "st", "teo"}


@pytest.mark.parametrize("pattern", ["d MMMM y", "d MMM y", "LLLL y", "LLL y", "y MMMM"])
def test_dates_are_read_in_the_languages_of_the_world(pattern: str) -> None:
    assert len(NAMED) > 150
    read = {name: _read(name, pattern) for name in NAMED}
    whole = [name for name, days in read.items() if all(days)]
    assert len(whole) >= len(NAMED) * 0.88
    # Where an abbreviation names one month here and another in English, English is read.
    wrong = {name for name, days in read.items() if False in days}
    assert wrong <= (set() if "MMMM" in pattern or "LLLL" in pattern else ENGLISH_ELSEWHERE)


def test_the_language_of_a_column_decides_what_several_name_differently() -> None:
    assert read_dates(["5 listopada 2026", "6 grudnia 2026"]).values[0] == datetime(2026, 11, 5)
    assert read_dates(["5. listopad 2026", "6. prosinac 2026"]).values[0] == datetime(2026, 10, 5)
    # Rows of several languages are read one by one.
    assert read_dates(["5 mai 2026", "6 giugno 2026", "7 July 2026"]).misfits == []


def test_numbers_are_days_or_months_only_where_they_run_so() -> None:
    months = ["202511", "202512", "202601", "202602"]
    assert understand("Column 1", pl.Series(months)).kind is ColumnKind.DATE
    assert (
        understand("Column 1", pl.Series(["200105", "204002", "199809"])).kind is ColumnKind.NUMBER
    )
    assert understand("rate", pl.Series(["1.2034", "1.1987", "1.2011"])).kind is ColumnKind.NUMBER
    assert understand("Month", pl.Series(["11.2025", "12.2025"])).kind is ColumnKind.DATE
    assert understand("Column 1", pl.Series(["20260507", "20260508"])).kind is ColumnKind.DATE
