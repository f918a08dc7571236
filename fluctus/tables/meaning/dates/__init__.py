"""Columns of dates, in all the ways that people write them.

What others use of it is named here, and reached from here alone.
"""

from fluctus.tables.meaning.dates.plain_writing import in_digits, month_number
from fluctus.tables.meaning.dates.reading import (
    FIRST_YEAR,
    LAST_YEAR,
    DateColumn,
    in_zone_of_heading,
    looks_like_date,
    looks_like_year,
    may_be_dates,
    read_dates,
)
from fluctus.tables.meaning.dates.styles import EXAMPLES, NUMBER_STYLES, DateStyle

__all__ = [
    "EXAMPLES",
    "FIRST_YEAR",
    "LAST_YEAR",
    "NUMBER_STYLES",
    "DateColumn",
    "DateStyle",
    "in_digits",
    "in_zone_of_heading",
    "looks_like_date",
    "looks_like_year",
    "may_be_dates",
    "month_number",
    "read_dates",
]
