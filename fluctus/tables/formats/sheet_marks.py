"""What a sheet says of its rows, columns and cells besides their values, whatever its format."""

from collections import Counter
from dataclasses import dataclass, field

LARGEST_SHEET = 40_000_000
"""Bytes of XML; looking through more would take longer than reading the values does."""
MOST_COLUMNS = 1_000
"""Columns looked at: one declaration may claim to hold for all that there could be."""


@dataclass(slots=True)
class SheetMarks:
    """Hidden rows and columns, counted from 0, and the unit each column is shown with."""

    hidden_rows: set[int] = field(default_factory=set)
    hidden_columns: set[int] = field(default_factory=set)
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

    def see_unit(self, column: int, unit: str) -> None:
        """Count a number of a column that is shown with a unit, or with none."""
        self.units_seen.setdefault(column, Counter())[unit] += 1
