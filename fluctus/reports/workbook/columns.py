"""Where things are on the sheet of a KPI, and how its formulas name them."""

from dataclasses import dataclass

from xlsxwriter.utility import xl_col_to_name

HEAD = 3
"""Rows above the table of segments: name, sentence, bounds."""
PERIOD, VALUE, ASIDE, SEGMENT, JUDGED, RANGE, AVERAGE, LOWER, UPPER, RANGE_LIMIT = range(10)
FACTOR, AMOUNT = 10, 11
"""What limits follow: drawn = level times factor plus amount; empty where level."""
TAKEN, PLACE, DISTANCE = 12, 13, 14
"""What that is worked out from: the values that take part, the place of each in the season, and
its distance in time from the middle of them; empty where limits follow nothing."""
NUMERATOR, DENOMINATOR = 15, 16
"""What the value of a ratio is made of; empty where it is none."""
RULES = 17
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
    "Takes part",
    "Place in the season",
    "Periods from the middle",
    "Numerator",
    "Denominator",
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
    "Rise a period",
]
SEASON = ["Season of segment", "Place", "Mean", "By the mean of all", "Times", "Plus"]
"""The table of the seasons that segments follow: a row for each place."""
N_SEGMENT, N_PLACE, N_MEAN, N_RATIO, N_TIMES, N_PLUS = range(6)

S_NAME, S_FIRST, S_LAST, S_COUNT, S_AVERAGE, S_SPREAD, S_LOWER, S_UPPER, S_RANGE, S_SIGMA = range(
    10
)
S_LOWER_HELD, S_UPPER_HELD, S_RISE = 10, 11, 12


@dataclass(frozen=True, slots=True)
class Layout:
    """The rows of a sheet, counted from 0: its segments, the places of their seasons, its values.

    ``seasons`` has how many places each segment's season has, 0 where it follows none.
    """

    segments: int
    values: int
    seasons: tuple[int, ...] = ()

    @property
    def first_segment(self) -> int:
        """The row of the first segment."""
        return HEAD + 2

    @property
    def first_value(self) -> int:
        """The row of the first value."""
        places = sum(self.seasons)
        return self.first_segment + self.segments + 2 + (places + 2 if places else 0)

    def season_row(self, number: int, slot: int) -> int:
        """Return the row of a place in the season of a segment."""
        before = sum(self.seasons[:number])
        return self.first_segment + self.segments + 2 + before + slot

    def of_season(self, column: int, number: int, slot: int) -> str:
        """Name a number of a place in the season of a segment: ``$E$16``."""
        return f"${xl_col_to_name(column)}${self.season_row(number, slot) + 1}"

    def season_stretch(self, column: int, number: int) -> str:
        """Name the cells of a column for all places of a segment's season."""
        last = self.seasons[number] - 1
        return f"{self.of_season(column, number, 0)}:{self.of_season(column, number, last)}"

    def row(self, position: int) -> int:
        """Return the row of a value."""
        return self.first_value + position

    def of_segment(self, number: int, column: int) -> str:
        """Name a number of a segment: ``$E$6``."""
        return f"${xl_col_to_name(column)}${self.first_segment + number + 1}"

    def cell(self, column: int, position: int) -> str:
        """Name the cell of a value: ``E12``."""
        return f"{xl_col_to_name(column)}{self.row(position) + 1}"

    def held_stretch(self, column: int, first: int, last: int) -> str:
        """Name the same cells so that they stay the same wherever the formula goes."""
        name = f"${xl_col_to_name(column)}"
        return f"{name}${self.row(first) + 1}:{name}${self.row(last) + 1}"

    def stretch(self, column: int, first: int, last: int) -> str:
        """Name the cells of a column from one value to another: ``E12:E20``."""
        return f"{self.cell(column, first)}:{self.cell(column, last)}"


FLOOR, CEILING = "$B$3", "$D$3"
"""The cells of the natural bounds."""


def above(value: str, level: str) -> str:
    """Say that a value is above a level, where a difference in the last digits is a tie."""
    return f"{value}-{level}>1E-9*MAX(ABS({value}),ABS({level}))"
