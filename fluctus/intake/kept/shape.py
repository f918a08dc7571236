"""The shape of a table, by which another like it is known again: its columns, in any order."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any, Final

from fluctus.intake.understanding.mapping import ColumnRole, Mapping
from fluctus.intake.understanding.reading import Reading
from fluctus.tables.meaning.columns import ColumnKind
from fluctus.tables.meaning.layout import PERIOD, VALUE

ALIKE: Final = 0.6
"""Share of the columns that are used which another table must have to be known again."""
KIND_WORDS: Final = {
    ColumnKind.DATE: "dates",
    ColumnKind.NUMBER: "numbers",
    ColumnKind.TEXT: "words",
}
UNUSED: Final = (ColumnRole.IGNORE, ColumnRole.NOTE)


@dataclass(frozen=True, slots=True)
class ShapeColumn:
    """A column by its heading and by what it holds."""

    name: str
    kind: ColumnKind


def kept_shape(columns: Sequence[ShapeColumn]) -> list[dict[str, str]]:
    """Return the columns of a shape as plain data that JSON can hold."""
    return [{"name": column.name, "kind": column.kind.value} for column in columns]


def shape_from(kept: Iterable[dict[str, Any]]) -> tuple[ShapeColumn, ...]:
    """Read the columns of a shape as ``kept_shape`` wrote them, or as the API took them."""
    return tuple(ShapeColumn(column["name"], ColumnKind(column["kind"])) for column in kept)


def shape_of(reading: Reading) -> tuple[ShapeColumn, ...]:
    """Return the columns of a table as it was read."""
    return tuple(ShapeColumn(column.name, column.kind) for column in reading.table.columns)


def likeness(kept: Sequence[ShapeColumn], mapping: Mapping, found: Sequence[ShapeColumn]) -> float:
    """Return which share of the columns that are used a table has; 0 where it lacks the period."""
    used = [one for one in kept if mapping.roles.get(one.name) not in UNUSED]
    same = [one for one in used if one in found]
    periods = [one for one in used if mapping.roles.get(one.name) is ColumnRole.PERIOD]
    if not used or not all(one in same for one in periods):
        return 0.0
    return len(same) / len(used)


def may_be(kept: Sequence[ShapeColumn], mapping: Mapping, cells: set[str]) -> bool:
    """Tell whether the first cells of a table hold enough of the headings to look closer."""
    used = [
        one.name
        for one in kept
        if mapping.roles.get(one.name) not in UNUSED and one.name not in (PERIOD, VALUE)
    ]
    # Of headings in two rows, each cell has a part.
    there = [name for name in used if name in cells or any(part in cells for part in _parts(name))]
    return len(there) >= len(used) * ALIKE


def _parts(name: str) -> list[str]:
    words = name.split(" ")
    return [" ".join(words[:count]) for count in range(1, len(words))]


def differences(kept: Sequence[ShapeColumn], found: Sequence[ShapeColumn]) -> list[str]:
    """Say what a table has otherwise than the one whose reading was kept."""
    before, now = ({one.name: one.kind for one in columns} for columns in (kept, found))
    gone = [f"Column {name} is not there any more" for name in before if name not in now]
    new = [f"Column {name} is new" for name in now if name not in before]
    other = [
        f"Column {name} holds {KIND_WORDS[kind]}, and held {KIND_WORDS[before[name]]}"
        for name, kind in now.items()
        if before.get(name, kind) is not kind
    ]
    return [*gone, *new, *other]
