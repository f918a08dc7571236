"""What is done to a table before its columns are looked at: said, and taken back one by one."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import TypeAlias

from fluctus.tables.meaning.location import LocatedTable


@dataclass(frozen=True, slots=True)
class Step:
    """One thing that was understood of a table, and the table with it done.

    ``key`` is what it is known by from one table of a layout to the next.
    """

    key: str
    says: str
    why: str
    do: Callable[[LocatedTable], LocatedTable]


Recognizer: TypeAlias = Callable[[LocatedTable], list[Step]]
"""Looks for one kind of thing in a table; returns a step for each that it finds."""


@dataclass(frozen=True, slots=True)
class Taken:
    """A step as it is told: what, why, and whether it is done or a person has taken it back."""

    key: str
    says: str
    why: str
    done: bool
