"""Columns of numbers, in all the ways that people write them.

What others use of it is named here, and reached from here alone.
"""

from fluctus.tables.meaning.numbers.durations import Clock, ClockChoice, decide_clock
from fluctus.tables.meaning.numbers.missing import MISSING, is_missing
from fluctus.tables.meaning.numbers.reading import (
    SMALLEST,
    MarkChoice,
    NumberColumn,
    decide_mark,
    looks_like_number,
    parse_number,
    plain_columns,
    read_numbers,
    read_plain,
)
from fluctus.tables.meaning.numbers.writing import LARGEST, DecimalMark

__all__ = [
    "LARGEST",
    "MISSING",
    "SMALLEST",
    "Clock",
    "ClockChoice",
    "DecimalMark",
    "MarkChoice",
    "NumberColumn",
    "decide_clock",
    "decide_mark",
    "is_missing",
    "looks_like_number",
    "parse_number",
    "plain_columns",
    "read_numbers",
    "read_plain",
]
