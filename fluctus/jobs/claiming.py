"""Rows that are due, each taken by one of those who look, in a transaction of its own."""

from collections.abc import Callable
from typing import TypeVar

from django.db import transaction
from django.db.models import Model, QuerySet

Row = TypeVar("Row", bound=Model)


def claimed(rows: QuerySet[Row]) -> Row | None:
    """Lock the first of some rows that nobody else holds until the transaction ends."""
    return rows.select_for_update(of=("self",), skip_locked=True).first()


def for_each(rows: QuerySet[Row], act: Callable[[Row], int]) -> int:
    """Do something with each of some rows until none is left; returns the sum of what came of it.

    ``act`` lets the row be one of them no more. Looked for anew each time, so that several who
    look share them.
    """
    done = 0
    while True:
        with transaction.atomic():
            row = claimed(rows)
            if row is None:
                return done
            done += act(row)
