"""Writes of stored values in bulk, by COPY and by statements over sets.

Everything here runs inside the caller's transaction and knows nothing of who may.
"""

from collections.abc import Callable
from typing import Any

import numpy as np
import polars as pl
from django.db import connection

from fluctus.core.arrays import Floats
from fluctus.http.refusals import Issue, RefusalError
from fluctus.kpis.calendar import Calendar
from fluctus.kpis.models import DataChange, Kpi, PastValue
from fluctus.kpis.observations.blocks import INSTANT, OBSERVATIONS, drop_blocks
from fluctus.kpis.observations.frame import DEFAULTS, FRAME, KEY
from fluctus.kpis.observations.reading import PAST

COPIED_AT_ONCE = 50_000
Progress = Callable[[float], None]
"""Told the share that is done."""

COLUMNS = (
    "period, breakdown, value, numerator, denominator, target, target_high, rows, note,"
    " set_aside, reason, typed"
)
INCOMING = f"""
    CREATE TEMPORARY TABLE incoming ON COMMIT DROP AS
    SELECT {COLUMNS} FROM {OBSERVATIONS} WITH NO DATA
"""  # noqa: S608 - names of our own tables and columns


def add_values(
    kpi: Kpi, change: DataChange, frame: pl.DataFrame, progress: Progress = lambda share: None
) -> None:
    """Add values of periods that have none yet, telling ``progress`` the share that is done."""
    drop_blocks(kpi, frame["period"].to_numpy())
    _name_parts(kpi, frame["breakdown"].unique().to_list())
    statement = f"COPY {OBSERVATIONS} (kpi_id, written_by_id, {COLUMNS}) FROM STDIN (FORMAT CSV)"
    _copy(statement, frame, [kpi.pk, change.pk], progress)
    if frame.height > COPIED_AT_ONCE:
        # Until the database has counted them it would look for one value by reading all of them.
        # Where somebody else has it count, there is nothing to wait for.
        _run(f"ANALYZE (SKIP_LOCKED) {OBSERVATIONS}", [])


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
    drop_blocks(kpi, rows["period"].to_numpy())
    with connection.cursor() as cursor:
        cursor.execute("DROP TABLE IF EXISTS incoming")
        cursor.execute(INCOMING)
    _copy(f"COPY incoming ({COLUMNS}) FROM STDIN (FORMAT CSV)", rows, [])
    # Else one row is looked for by reading a million.
    _run("ANALYZE incoming", [])
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
    _drop_touched(
        kpi,
        f"""
        SELECT {INSTANT} FROM {OBSERVATIONS} o WHERE o.kpi_id = %(kpi)s AND {written}
        UNION SELECT {INSTANT} FROM {PAST} WHERE replaced_by_id = %(change)s
        """,  # noqa: S608 - names of our own tables and columns
        names,
    )
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
    _name_past_parts(kpi, change.pk)
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
    _drop_touched(
        kpi,
        f"SELECT {INSTANT} FROM {PAST} WHERE replaced_by_id IN (%(change)s, %(act)s)",  # noqa: S608 - names of our own
        names,
    )
    _run(
        f"""
        DELETE FROM {OBSERVATIONS} o USING {PAST} p
        WHERE o.kpi_id = %(kpi)s AND p.replaced_by_id = %(change)s
        AND p.period = o.period AND p.breakdown = o.breakdown AND p.written_by_id = o.written_by_id
        """,  # noqa: S608 - names of our own tables and columns
        names,
    )
    _name_past_parts(kpi, act.pk)
    _run(
        f"""
        INSERT INTO {OBSERVATIONS} (kpi_id, written_by_id, {COLUMNS})
        SELECT kpi_id, written_by_id, {COLUMNS} FROM {PAST} WHERE replaced_by_id = %(act)s
        """,  # noqa: S608 - names of our own tables and columns
        names,
    )


def _name_parts(kpi: Kpi, names: list[str]) -> None:
    """Note the names of parts that come; those that go are found by whoever reads what is left."""
    kpi.breakdowns = sorted({*kpi.breakdowns, *names} - {""})


def _name_past_parts(kpi: Kpi, replaced_by: int) -> None:
    names = PastValue.objects.filter(kpi=kpi, replaced_by=replaced_by)
    _name_parts(kpi, list(names.values_list("breakdown", flat=True).distinct()))


def _drop_touched(kpi: Kpi, periods: str, names: dict[str, int]) -> None:
    """Drop the blocks of the periods that a statement selects, as seconds since 1970."""
    if not kpi.packed:
        return
    with connection.cursor() as cursor:
        cursor.execute(periods, names)
        drop_blocks(kpi, np.array([instant for (instant,) in cursor.fetchall()], np.float64))


def move_to_zone(kpi: Kpi, old: Calendar, new: Calendar) -> None:
    """Let the periods of a KPI begin with the same days by the clock of another zone.

    Raises RefusalError where two days become one: a zone that changed sides of
    the date line has skipped a day.
    """
    periods = _distinct_periods(kpi, OBSERVATIONS)
    moved = old.moved_to(new, periods)
    drop_blocks(kpi)
    _refuse_skipped_days(periods, moved, old, new)
    _set_periods(kpi, OBSERVATIONS, periods, moved)
    past = _distinct_periods(kpi, PAST)
    _set_periods(kpi, PAST, past, old.moved_to(new, past))


def _distinct_periods(kpi: Kpi, table: str) -> Floats:
    statement = f"SELECT DISTINCT {INSTANT} FROM {table} WHERE kpi_id = %s"  # noqa: S608 - names of our own tables
    with connection.cursor() as cursor:
        cursor.execute(statement, [kpi.pk])
        return np.sort(np.array([instant for (instant,) in cursor.fetchall()], np.float64))


def _refuse_skipped_days(periods: Floats, moved: Floats, old: Calendar, new: Calendar) -> None:
    skipped = np.flatnonzero(np.diff(moved) == 0)
    if len(skipped):
        day = old.local(periods[skipped[:1]]).dt.date()[0]
        raise RefusalError(
            "The time zone was not changed.",
            Issue(
                f"There was no {day:%-d %B %Y} in {new.zone.key}, where the date line moved.",
                "Choose another time zone, or remove the value of that day first.",
                "time_zone",
            ),
        )


def _set_periods(kpi: Kpi, table: str, periods: Floats, moved: Floats) -> None:
    with connection.cursor() as cursor:
        cursor.execute("DROP TABLE IF EXISTS moved")
        cursor.execute("CREATE TEMPORARY TABLE moved (was float8, now float8) ON COMMIT DROP")
        with (
            connection.wrap_database_errors,
            cursor.copy("COPY moved FROM STDIN (FORMAT CSV)") as copy,
        ):
            pairs = pl.DataFrame({"was": periods, "now": moved}).cast(pl.Int64)
            copy.write(pairs.write_csv(include_header=False).encode())
        # In two steps, so that no period lands on the place of one that has yet to move.
        cursor.execute(
            f"""
            UPDATE {table} SET period = to_timestamp(moved.now) + interval '1 second' FROM moved
            WHERE kpi_id = %s AND period = to_timestamp(moved.was)
            """,  # noqa: S608 - names of our own tables
            [kpi.pk],
        )
        cursor.execute(
            f"UPDATE {table} SET period = period - interval '1 second' WHERE kpi_id = %s",  # noqa: S608 - names of our own tables
            [kpi.pk],
        )


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
    # COPY is the driver's own: what goes wrong in it is to look as it does everywhere else.
    with (
        connection.wrap_database_errors,
        connection.cursor() as cursor,
        cursor.copy(statement) as copy,
    ):
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
