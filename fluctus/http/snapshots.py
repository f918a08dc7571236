"""Reads of one moment: what others write meanwhile is seen whole, or not at all."""

from collections.abc import Iterator
from contextlib import contextmanager

from django.db import connection, transaction


@contextmanager
def one_snapshot() -> Iterator[None]:
    """Let all reads within see the database as it was when the first of them was made.

    Within a transaction that is there already, such as that of a write which holds what it
    reads, nothing changes.
    """
    if connection.in_atomic_block:
        yield
        return
    with transaction.atomic():
        with connection.cursor() as cursor:
            cursor.execute("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ")
        yield
