"""The values of a KPI in bulk: read as columns and written by COPY, many times faster than objects.

Everything here runs inside the caller's transaction and knows nothing of who may.
"""

from collections.abc import Callable
from typing import Any

import numpy as np
import polars as pl
from django.db import connection
from django.db.models import F, FloatField, Func
from psycopg import sql

from fluctus.kpis.models import DataChange, Kpi, Observation, PastValue, Value

FRAME: dict[str, pl.DataType | type[pl.DataType]] = {
    "period": pl.Float64,
    "breakdown": pl.String,
    "value": pl.Float64,
    "numerator": pl.Float64,
    "denominator": pl.Float64,
    "target": pl.Float64,
    "rows": pl.Int64,
    "note": pl.String,
    "set_aside": pl.Boolean,
    "reason": pl.String,
}
"""The columns of a frame of values; periods in seconds since 1970."""

DEFAULTS = {
    "breakdown": "", "numerator": None, "denominator": None, "target": None, "rows": 1,
    "note": "", "set_aside": False, "reason": "",
}  # fmt: skip
KEY = ["period", "breakdown"]
CONTENT = ["value", "numerator", "denominator", "target"]
"""What makes two values of one period the same, besides the note."""
COPIED_AT_ONCE = 50_000
Progress = Callable[[float], None]

OBSERVATIONS = Observation._meta.db_table
PAST = PastValue._meta.db_table
COLUMNS = "period, breakdown, value, numerator, denominator, target, rows, note, set_aside, reason"
INCOMING = f"""
    CREATE TEMPORARY TABLE incoming ON COMMIT DROP AS
    SELECT {COLUMNS} FROM {OBSERVATIONS} WITH NO DATA
"""  # noqa: S608 - names of our own tables and columns

SECONDS = Func(
    F("period"), template="EXTRACT(EPOCH FROM %(expressions)s)::float8", output_field=FloatField()
)
"""Periods as numbers, which arrive many times faster than as datetimes."""


def frame_of(rows: list[dict[str, Any]]) -> pl.DataFrame:
    """Build a frame of values; each row needs a period and a value, the rest has defaults."""
    columns = {
        name: pl.Series(name, [row.get(name, DEFAULTS.get(name)) for row in rows], dtype=kind)
        for name, kind in FRAME.items()
    }
    return pl.DataFrame(columns)


def row_of(value: Value) -> dict[str, Any]:
    """Give one value as a row of a frame."""
    return {name: getattr(value, name) for name in FRAME} | {"period": value.period.timestamp()}


NUMBERS = ("instant", "value", "numerator", "denominator", "target", "rows", "set_aside", "noted")
RECORD = np.dtype(
    [("fields", ">i2")]
    + [part for name in NUMBERS for part in ((f"{name}_length", ">i4"), (name, ">f8"))]
)
"""A row of PostgreSQL's binary COPY format: a count of fields, then length and content of each."""
BINARY_HEADER = 19


def read_numbers(kpi: Kpi, breakdown: str | None = None) -> dict[str, np.ndarray[Any, Any]]:
    """Read the numbers of all values in order of period; ``breakdown`` None reads every one.

    Returns columns by the names in ``NUMBERS``; NaN where there is no number.
    """
    fields = ", ".join(
        f"COALESCE({name}, 'NaN')" for name in ("numerator", "denominator", "target")
    )
    only = "" if breakdown is None else "AND breakdown = {breakdown}"
    statement = f"""
        COPY (
            SELECT EXTRACT(EPOCH FROM period)::float8, value, {fields}, rows::float8,
                   set_aside::int::float8, (note <> '')::int::float8
            FROM {OBSERVATIONS} WHERE kpi_id = {{kpi}} {only} ORDER BY period, breakdown
        ) TO STDOUT (FORMAT BINARY)
    """  # noqa: S608 - names of our own tables and columns
    with connection.cursor() as cursor:
        ready = sql.SQL(statement).format(kpi=sql.Literal(kpi.pk), breakdown=sql.Literal(breakdown))
        # As a text: with it, the cursor that counts queries while debugging can do too.
        with cursor.copy(ready.as_string(cursor.cursor)) as copy:
            content = b"".join(bytes(block) for block in copy)
    count = (len(content) - BINARY_HEADER) // RECORD.itemsize
    records = np.frombuffer(content, RECORD, count, BINARY_HEADER)
    return {name: records[name].astype(np.float64) for name in NUMBERS}


def read_frame(kpi: Kpi) -> pl.DataFrame:
    """Read all values of a KPI as a frame, with who wrote each in ``written_by``."""
    rows = (
        Observation.objects.filter(kpi=kpi)
        .annotate(instant=SECONDS)
        .order_by("period", "breakdown")
        .values_list("instant", *list(FRAME)[1:], "written_by_id")
    )
    schema = FRAME | {"written_by": pl.Int64}
    return pl.DataFrame(list(rows), schema=schema, orient="row")


def add_values(
    kpi: Kpi, change: DataChange, frame: pl.DataFrame, progress: Progress = lambda share: None
) -> None:
    """Add values of periods that have none yet, telling ``progress`` the share that is done."""
    statement = f"COPY {OBSERVATIONS} (kpi_id, written_by_id, {COLUMNS}) FROM STDIN (FORMAT CSV)"
    _copy(statement, frame, [kpi.pk, change.pk], progress)


def put_values(kpi: Kpi, change: DataChange, frame: pl.DataFrame) -> None:
    """Put values in the place of those of the same periods, which become past ones."""
    if frame.is_empty():
        return
    _remove(kpi, change, frame)
    add_values(kpi, change, frame)


def remove_values(kpi: Kpi, change: DataChange, keys: pl.DataFrame) -> None:
    """Remove the values of some periods, which become past ones."""
    if keys.is_empty():
        return
    rows = keys.select(KEY).with_columns(
        pl.lit(DEFAULTS.get(name, 0.0), dtype=kind).alias(name)
        for name, kind in FRAME.items()
        if name not in KEY
    )
    _remove(kpi, change, rows)


def _remove(kpi: Kpi, change: DataChange, rows: pl.DataFrame) -> None:
    with connection.cursor() as cursor:
        cursor.execute("DROP TABLE IF EXISTS incoming")
        cursor.execute(INCOMING)
    _copy(f"COPY incoming ({COLUMNS}) FROM STDIN (FORMAT CSV)", rows, [])
    _run(
        f"""
        WITH gone AS (
            DELETE FROM {OBSERVATIONS} o USING incoming i
            WHERE o.kpi_id = %s AND o.period = i.period AND o.breakdown = i.breakdown
            RETURNING o.*
        )
        INSERT INTO {PAST} (kpi_id, replaced_by_id, written_by_id, {COLUMNS})
        SELECT kpi_id, %s, written_by_id, {COLUMNS} FROM gone
        """,  # noqa: S608 - names of our own tables and columns
        [kpi.pk, change.pk],
    )


def take_back(kpi: Kpi, change: DataChange, act: DataChange, *, later_too: bool) -> None:
    """Take back what ``change`` wrote, as ``act``: remove it and restore what it replaced.

    Periods that a later act has written again stay as they are, or with
    ``later_too`` go back as well.
    """
    written = "o.written_by_id = %(change)s"
    if later_too:
        written = f"""({written} OR EXISTS (
            SELECT FROM {PAST} p WHERE p.kpi_id = %(kpi)s AND p.written_by_id = %(change)s
            AND p.period = o.period AND p.breakdown = o.breakdown))"""
    names = {"kpi": kpi.pk, "change": change.pk, "act": act.pk}
    _run(
        f"""
        WITH gone AS (
            DELETE FROM {OBSERVATIONS} o WHERE o.kpi_id = %(kpi)s AND {written} RETURNING o.*
        )
        INSERT INTO {PAST} (kpi_id, replaced_by_id, written_by_id, {COLUMNS})
        SELECT kpi_id, %(act)s, written_by_id, {COLUMNS} FROM gone
        """,  # noqa: S608 - names of our own tables and columns
        names,
    )
    # What stands there by now, where it was kept, is later and wins.
    _run(
        f"""
        INSERT INTO {OBSERVATIONS} (kpi_id, written_by_id, {COLUMNS})
        SELECT kpi_id, written_by_id, {COLUMNS} FROM {PAST} WHERE replaced_by_id = %(change)s
        ON CONFLICT DO NOTHING
        """,  # noqa: S608 - names of our own tables and columns
        names,
    )


def bring_back(kpi: Kpi, change: DataChange, act: DataChange) -> None:
    """Put everything back as it was before ``act`` took back ``change``."""
    names = {"kpi": kpi.pk, "change": change.pk, "act": act.pk}
    _run(
        f"""
        DELETE FROM {OBSERVATIONS} o USING {PAST} p
        WHERE o.kpi_id = %(kpi)s AND p.replaced_by_id = %(change)s
        AND p.period = o.period AND p.breakdown = o.breakdown AND p.written_by_id = o.written_by_id
        """,  # noqa: S608 - names of our own tables and columns
        names,
    )
    _run(
        f"""
        INSERT INTO {OBSERVATIONS} (kpi_id, written_by_id, {COLUMNS})
        SELECT kpi_id, written_by_id, {COLUMNS} FROM {PAST} WHERE replaced_by_id = %(act)s
        """,  # noqa: S608 - names of our own tables and columns
        names,
    )


def marks_then(kpi: Kpi, act: int) -> pl.DataFrame:
    """Give the values that were set aside otherwise after ``act``, as they are but for that mark.

    ``act`` is the number of a data change. A value that did not stand there then
    is left out.
    """
    numbers = ", ".join(
        f"o.{name}" for name in list(FRAME)[1:] if name not in ("set_aside", "reason")
    )
    statement = f"""
        SELECT EXTRACT(EPOCH FROM o.period)::float8, {numbers}, was.set_aside, was.reason
        FROM (
            SELECT DISTINCT ON (period, breakdown) period, breakdown, set_aside, reason
            FROM {PAST}
            WHERE kpi_id = %(kpi)s AND written_by_id <= %(act)s AND replaced_by_id > %(act)s
            ORDER BY period, breakdown, written_by_id DESC
        ) AS was
        JOIN {OBSERVATIONS} o ON o.kpi_id = %(kpi)s
            AND o.period = was.period AND o.breakdown = was.breakdown
        WHERE (o.set_aside, o.reason) IS DISTINCT FROM (was.set_aside, was.reason)
        ORDER BY o.period, o.breakdown
    """  # noqa: S608 - names of our own tables and columns
    with connection.cursor() as cursor:
        cursor.execute(statement, {"kpi": kpi.pk, "act": act})
        return pl.DataFrame(cursor.fetchall(), schema=FRAME, orient="row")


def move_to_zone(kpi: Kpi, old: str, new: str) -> None:
    """Let each period start at the same time on the clock of another zone."""
    moved = "period AT TIME ZONE %(old)s AT TIME ZONE %(new)s"
    names = {"kpi": kpi.pk, "old": old, "new": new}
    # In two steps, so that no period lands on the place of one that has yet to move.
    aside = (
        f"UPDATE {OBSERVATIONS} SET period = {moved} + interval '1 second' WHERE kpi_id = %(kpi)s"  # noqa: S608
    )
    _run(aside, names)
    _run(
        f"UPDATE {OBSERVATIONS} SET period = period - interval '1 second' WHERE kpi_id = %(kpi)s",  # noqa: S608
        names,
    )
    _run(f"UPDATE {PAST} SET period = {moved} WHERE kpi_id = %(kpi)s", names)  # noqa: S608


def _copy(
    statement: str,
    frame: pl.DataFrame,
    first: list[int],
    progress: Progress = lambda share: None,
) -> None:
    """COPY a frame, as the CSV that Polars writes; a null is an empty field, "" quoted."""
    moments = pl.from_epoch(pl.col("period").round().cast(pl.Int64), time_unit="s")
    ready = frame.select(
        *(pl.lit(number).alias(f"first{n}") for n, number in enumerate(first)),
        moments.dt.to_string("%Y-%m-%d %H:%M:%S+00").alias("period"),
        *(pl.col(name) for name in list(FRAME)[1:]),
    )
    with connection.cursor() as cursor, cursor.copy(statement) as copy:
        for number, block in enumerate(ready.iter_slices(COPIED_AT_ONCE)):
            progress(number * COPIED_AT_ONCE / ready.height)
            copy.write(
                block.write_csv(
                    include_header=False, quote_style="non_numeric", null_value=""
                ).encode()
            )
    progress(1.0)


def _run(statement: str, arguments: Any) -> None:
    with connection.cursor() as cursor:
        cursor.execute(statement, arguments)
