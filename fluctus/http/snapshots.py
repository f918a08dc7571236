"""Reads of one moment: what others write meanwhile is seen whole, or not at all."""

from collections.abc import Iterator
from contextlib import contextmanager

from django.db import connection, transaction
from psycopg import IsolationLevel


@contextmanager
def one_snapshot() -> Iterator[None]:
    """Let all reads within see the database as it was when the first of them was made.

    Within a transaction that is there already, such as that of a write which holds what it
    reads, nothing changes.
    """
    if connection.in_atomic_block:
        yield
        return
    connection.ensure_connection()
    session = connection.connection
    # It then begins so; to say it afterwards would take a statement of its own.
    session.isolation_level = IsolationLevel.REPEATABLE_READ
    try:
        with transaction.atomic():
            yield
    finally:
        if not session.closed:
            session.isolation_level = None
