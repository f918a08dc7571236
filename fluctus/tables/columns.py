"""What a column holds: dates, numbers, or something else."""

from dataclasses import dataclass
from enum import StrEnum

from fluctus.tables.dates import read_dates
from fluctus.tables.numbers import is_missing, read_numbers

ENOUGH = 0.6
"""Share of the filled cells that must fit for a column to be of a kind."""


class Kind(StrEnum):
    """What a column is taken for."""

    DATE = "date"
    NUMBER = "number"
    TEXT = "text"


@dataclass(frozen=True, slots=True)
class Column:
    """A column's name, kind, and the share of its filled cells that fit the kind."""

    name: str
    kind: Kind
    share: float


def understand(name: str, cells: list[str]) -> Column:
    """Find out what the ``cells`` of a column are."""
    filled = [cell for cell in cells if not is_missing(cell)]
    if not filled:
        return Column(name, Kind.TEXT, 0.0)
    dates = 1 - len(read_dates(filled).misfits) / len(filled)
    numbers = 1 - len(read_numbers(filled).misfits) / len(filled)
    if dates >= ENOUGH and dates >= numbers:
        return Column(name, Kind.DATE, dates)
    if numbers >= ENOUGH:
        return Column(name, Kind.NUMBER, numbers)
    return Column(name, Kind.TEXT, 1.0)
