"""Where things are on the sheet of a KPI, and how its formulas name them."""

from dataclasses import dataclass

from xlsxwriter.utility import xl_col_to_name

HEAD = 3
"""Rows above the table of segments: name, sentence, bounds."""
PERIOD, VALUE, ASIDE, SEGMENT, JUDGED, RANGE, AVERAGE, LOWER, UPPER, RANGE_LIMIT = range(10)
FACTOR, AMOUNT = 10, 11
"""What limits follow, as numbers: drawn = level times factor plus amount; empty where level."""
RULES = 12
"""The first column of the rules."""
TABLE = [
    "Period",
    "Value",
    "Set aside",
    "Segment",
    "Judged value",
    "Moving range",
    "Average",
    "Lower limit",
    "Upper limit",
    "Upper range limit",
    "Pattern, times",
    "Pattern, plus",
]
SEGMENTS = [
    "Segment",
    "First row",
    "Last row",
    "Values",
    "Average",
    "Average moving range",
    "Lower limit",
    "Upper limit",
    "Upper range limit",
    "Sigma",
    "Lower held",
    "Upper held",
]
S_NAME, S_FIRST, S_LAST, S_COUNT, S_AVERAGE, S_SPREAD, S_LOWER, S_UPPER, S_RANGE, S_SIGMA = range(
    10
)
S_LOWER_HELD, S_UPPER_HELD = 10, 11


@dataclass(frozen=True, slots=True)
class Layout:
    """The rows of a sheet, counted from 0: its segments, then its values."""

    segments: int
    values: int

    @property
    def first_segment(self) -> int:
        """The row of the first segment."""
        return HEAD + 2

    @property
    def first_value(self) -> int:
        """The row of the first value."""
        return self.first_segment + self.segments + 2

    def row(self, position: int) -> int:
        """Return the row of a value."""
        return self.first_value + position

    def of_segment(self, number: int, column: int) -> str:
        """Name a number of a segment: ``$E$6``."""
        return f"${xl_col_to_name(column)}${self.first_segment + number + 1}"

    def cell(self, column: int, position: int) -> str:
        """Name the cell of a value: ``E12``."""
        return f"{xl_col_to_name(column)}{self.row(position) + 1}"

    def stretch(self, column: int, first: int, last: int) -> str:
        """Name the cells of a column from one value to another: ``E12:E20``."""
        return f"{self.cell(column, first)}:{self.cell(column, last)}"


FLOOR, CEILING = "$B$3", "$D$3"
"""The cells of the natural bounds."""


def above(value: str, level: str) -> str:
    """Say that a value is above a level, where a difference in the last digits is a tie."""
    return f"{value}-{level}>1E-9*MAX(ABS({value}),ABS({level}))"
