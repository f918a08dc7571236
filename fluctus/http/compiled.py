"""Questions that every request asks of the database, of which the SQL is made once.

To write a statement of sixty columns takes the ORM longer than PostgreSQL takes to answer it.
"""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime
from threading import Lock
from typing import Any, Generic, TypeVar

from django.db import connection
from django.db.models import Model, QuerySet

Row = TypeVar("Row", bound=Model)
MARKS: dict[type, Callable[[int], Any]] = {
    int: lambda number: -(2**30) - number,
    str: lambda number: f"\ue000{number}",
    datetime: lambda number: datetime(1, 1, 1 + number, tzinfo=UTC),
}
"""What stands for a parameter while the statement is made, and is nothing else in it."""


@dataclass(frozen=True, slots=True)
class _Given:
    """What is filled in where a statement is asked."""

    name: str


class Compiled(Generic[Row]):
    """A query of few rows, made with marks for its parameters; ``kinds`` are their types."""

    def __init__(self, build: Callable[..., QuerySet[Row]], **kinds: type) -> None:
        """Note how it is built; that is done when it is first asked, once models are there."""
        self._build, self._kinds = build, kinds
        self._made: tuple[type[Row], str, list[Any]] | None = None
        self._lock = Lock()

    def rows(self, **given: Any) -> list[Row]:
        """Return the rows that are found for what is given."""
        model, sql, parameters = self._statement()
        return list(model._default_manager.raw(sql, _filled(parameters, given)))

    def values(self, **given: Any) -> list[tuple[Any, ...]]:
        """Return what a query of values, such as sums, comes to."""
        _, sql, parameters = self._statement()
        with connection.cursor() as cursor:
            cursor.execute(sql, _filled(parameters, given))
            rows: list[tuple[Any, ...]] = cursor.fetchall()
            return rows

    def first(self, **given: Any) -> Row | None:
        """Return the first of them; None without one."""
        return next(iter(self.rows(**given)), None)

    def _statement(self) -> tuple[type[Row], str, list[Any]]:
        with self._lock:
            if self._made is None:
                self._made = self._compile()
        return self._made

    def _compile(self) -> tuple[type[Row], str, list[Any]]:
        marks = {
            name: MARKS[kind](number) for number, (name, kind) in enumerate(self._kinds.items())
        }
        rows = self._build(**marks)
        given = {mark: _Given(name) for name, mark in marks.items()}
        sql, parameters = rows.query.sql_with_params()
        named = [given.get(each, each) for each in parameters]
        assert set(given.values()) <= set(named), "each parameter stands in the statement"
        return rows.model, sql, named


def _filled(parameters: list[Any], given: dict[str, Any]) -> list[Any]:
    return [given[each.name] if isinstance(each, _Given) else each for each in parameters]
