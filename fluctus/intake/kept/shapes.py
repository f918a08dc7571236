"""What the API answers with of readings that are kept."""

from dataclasses import dataclass
from typing import Literal

from fluctus.accounts.queries import name_of
from fluctus.http.shapes import Shape
from fluctus.intake.kept.recognition import Recognized, columns_of
from fluctus.intake.kept.shape import ShapeColumn
from fluctus.intake.models import KeptReading as Row
from fluctus.intake.understanding.mapping import Mapping

FORMAT: Literal["fluctus-reading"] = "fluctus-reading"
VERSION: Literal[1] = 1


@dataclass(frozen=True, slots=True)
class KeptReading(Shape):
    """A reading as the list shows it."""

    id: int
    name: str
    at: str
    person: str
    columns: tuple[str, ...]
    """The names of the columns by which a table is known again."""


@dataclass(frozen=True, slots=True)
class ReadingFile(Shape):
    """A reading as a file: what ``POST`` takes again, here or elsewhere."""

    format: Literal["fluctus-reading"]
    version: Literal[1]
    name: str
    columns: tuple[ShapeColumn, ...]
    mapping: Mapping


@dataclass(frozen=True, slots=True)
class RecognizedReading(Shape):
    """The reading by which a table is known again."""

    id: int
    name: str
    says: str
    """By whom it was kept, and when."""


def kept_answer(row: Row) -> KeptReading:
    """Return a reading as the list shows it."""
    names = tuple(column.name for column in columns_of(row))
    return KeptReading(row.pk, row.name, row.at.isoformat(), name_of(row.person), names)


def file_answer(row: Row) -> ReadingFile:
    """Return a reading as a file."""
    mapping = Mapping.from_json(row.mapping)
    return ReadingFile(FORMAT, VERSION, row.name, columns_of(row), mapping)


def recognized_answer(found: Recognized) -> RecognizedReading:
    """Return the reading by which a table was known again."""
    row = found.row
    person = name_of(row.person)
    says = f"kept by {person}, {row.at:%-d %b %Y}" if person else f"kept {row.at:%-d %b %Y}"
    return RecognizedReading(row.pk, row.name, says)
