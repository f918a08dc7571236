"""What can go wrong at the booking office, switched on and off while it runs."""

from dataclasses import asdict, dataclass, fields
from typing import Any

from demo.booking_office.figures import Figures

LATELY = 3
"""Newest rows that are corrected, or sent twice."""


@dataclass(slots=True)
class Faults:
    """The faults that are switched on."""

    slow: bool = False
    """Every answer takes half a minute."""
    error: bool = False
    """Every answer is a failure of the office itself (500)."""
    busy: bool = False
    """Every answer is that it was asked too often (429)."""
    outage: bool = False
    """No answer at all."""
    renamed: bool = False
    """The second column has another name."""
    seconds: bool = False
    """The second column is sixty times what it was, under its name of before."""
    corrected: bool = False
    """The newest rows have other numbers."""
    duplicates: bool = False
    """The newest rows come twice."""
    fewer: bool = False
    """A row in the middle is gone."""
    page: bool = False
    """A web page comes in place of every table."""

    def switch(self, changes: dict[str, Any]) -> None:
        """Switch some on or off; those that are not named stay."""
        names = {field.name for field in fields(self)}
        for name, value in changes.items():
            if name in names:
                setattr(self, name, bool(value))

    def told(self) -> dict[str, bool]:
        """Return which are on."""
        return asdict(self)

    def of(self, figures: Figures) -> Figures:
        """Return a table with the faults that are on."""
        columns, rows = list(figures.columns), [list(row) for row in figures.rows]
        if self.renamed:
            columns[1] = f"{columns[1].split(' (', maxsplit=1)[0]} now"
        if self.seconds:
            rows = [[row[0], *(_times(cell, 60) for cell in row[1:2]), *row[2:]] for row in rows]
        if self.corrected:
            for row in rows[-LATELY:]:
                row[-1] = _times(row[-1], 1.02)
        if self.duplicates:
            rows += [list(row) for row in rows[-LATELY:]]
        if self.fewer:
            del rows[len(rows) // 2]
        return Figures(columns, rows)


def _times(cell: Any, factor: float) -> Any:
    return round(cell * factor, 1) if isinstance(cell, int | float) else cell
