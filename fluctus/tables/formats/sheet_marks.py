"""What a sheet says of its rows, columns and cells besides their values, whatever its format."""

from collections import Counter
from dataclasses import dataclass, field

MOST_COLUMNS = 4_000
"""Columns looked at: one declaration may claim to hold for all that there could be."""


@dataclass(slots=True)
class SheetMarks:
    """Hidden rows and columns, counted from 0, and the unit each column is shown with."""

    hidden_rows: set[int] = field(default_factory=set)
    hidden_columns: set[int] = field(default_factory=set)
    without_result: int = 0
    """Formulas whose result is not in the file."""
    first_without_result: str = ""
    units_seen: dict[int, Counter[str]] = field(default_factory=dict)
    """How often each unit is shown in a column, "" for numbers without one."""

    @property
    def units(self) -> dict[int, str]:
        """``%`` or a currency, for columns most of whose numbers are shown so."""
        commonest = {column: seen.most_common(1)[0] for column, seen in self.units_seen.items()}
        return {
            column: unit
            for column, (unit, count) in commonest.items()
            if unit and count > self.units_seen[column].total() / 2
        }

    def see_without_result(self, place: str) -> None:
        """Count a formula whose result is not in the file; ``place`` is its cell, as ``B7``."""
        self.without_result += 1
        self.first_without_result = self.first_without_result or place

    def see_unit(self, column: int, unit: str) -> None:
        """Count a number of a column that is shown with a unit, or with none."""
        self.units_seen.setdefault(column, Counter())[unit] += 1


def letter(column: int) -> str:
    """Return the letters of a column that is counted from 0."""
    letters = ""
    column += 1
    while column:
        column, rest = divmod(column - 1, 26)
        letters = chr(65 + rest) + letters
    return letters


def counted(count: int, noun: str) -> str:
    """Say how many there are of something."""
    return f"{count:,} {noun}{'' if count == 1 else 's'}"
