"""Reads of stored values in bulk: as columns, many times faster than as objects."""

from collections.abc import Sequence
from datetime import datetime
from typing import Any

import numpy as np
import polars as pl
from django.db import connection
from django.db.models import F, FloatField, Func, Min, OuterRef, Q, Subquery
from psycopg import sql

from fluctus.accounts.models import Workspace
from fluctus.kpis.models import Kpi, Observation, PastValue
from fluctus.kpis.observations.blocks import OBSERVATIONS, read_columns, read_rows
from fluctus.kpis.observations.frame import FRAME
from fluctus.kpis.observations.stored import Remark, Stored, told_by_period

PAST = PastValue._meta.db_table

SECONDS = Func(
    F("period"), template="EXTRACT(EPOCH FROM %(expressions)s)::float8", output_field=FloatField()
)
"""Periods as numbers, which arrive many times faster than as datetimes."""


def read_stored(kpi: Kpi, breakdown: str | None = None, *, keep: bool = False) -> Stored:
    """Read the values of a KPI; ``breakdown`` None reads those of every one.

    ``keep`` packs what has been written since it was packed, while the KPI is locked.
    """
    if breakdown is None:
        numbers = read_columns(kpi, keep=keep)
    else:
        numbers = read_rows(kpi, sql.SQL("AND breakdown = {}").format(sql.Literal(breakdown)))
    only = {} if breakdown is None else {"breakdown": breakdown}
    remarks: list[Remark] = []
    if numbers["set_aside"].any() or numbers["noted"].any():
        remarks = _remarks(kpi, **only)
    reasons, notes = told_by_period(remarks, named=breakdown is None)
    return Stored(
        instants=numbers["instant"],
        values=numbers["value"],
        numerators=numbers["numerator"],
        denominators=numbers["denominator"],
        targets=numbers["target"],
        targets_high=numbers["target_high"],
        rows=numbers["rows"].astype(np.intp),
        set_aside=numbers["set_aside"] > 0,
        noted=numbers["noted"] > 0,
        parts=numbers["part"].astype(np.intp),
        breakdowns=("", *kpi.breakdowns),
        reasons=reasons,
        notes=notes,
    )


def parts_of(kpi: Kpi, whole: Stored, names: Sequence[str]) -> dict[str, Stored]:
    """Return the values of some breakdowns of a KPI, taken from those of the ``whole``."""
    remarks: dict[str, list[Remark]] = {name: [] for name in names}
    if whole.set_aside.any() or whole.noted.any():
        for remark in _remarks(kpi, breakdown__in=names):
            remarks[remark[1]].append(remark)
    order = np.argsort(whole.parts, kind="stable")
    numbers = [whole.breakdowns.index(name) for name in names]
    in_order = whole.parts[order]
    starts = np.searchsorted(in_order, numbers).tolist()
    stops = np.searchsorted(in_order, numbers, side="right").tolist()
    return {
        name: whole.only(order[start:stop], *told_by_period(remarks[name], named=False))
        for name, start, stop in zip(names, starts, stops, strict=True)
    }


def _remarks(kpi: Kpi, **only: Any) -> list[Remark]:
    """Read what is said of the values of a KPI that are set aside or have a note."""
    rows = Observation.objects.filter(kpi=kpi, **only).exclude(~Q(set_aside=True), note="")
    return list(
        rows.annotate(instant=SECONDS).values_list(
            "instant", "breakdown", "set_aside", "reason", "note"
        )
    )


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


def marks_then(kpi: Kpi, act: int) -> pl.DataFrame:
    """Return the values that were set aside otherwise after ``act``, as they are but for that mark.

    ``act`` is the number of a data change. A value that did not stand there then
    is left out.
    """
    numbers = ", ".join(
        f"o.{name}" for name in list(FRAME)[1:] if name not in ("set_aside", "reason", "typed")
    )
    statement = f"""
        SELECT EXTRACT(EPOCH FROM o.period)::float8, {numbers}, was.set_aside, was.reason, o.typed
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


def first_period_in(workspace: Workspace) -> datetime | None:
    """Return the oldest period of the KPIs of a workspace; one look at the index for each."""
    oldest = Observation.objects.filter(kpi=OuterRef("pk")).order_by("period").values("period")[:1]
    kpis = Kpi.objects.filter(workspace=workspace).annotate(oldest=Subquery(oldest))
    began: datetime | None = kpis.aggregate(Min("oldest"))["oldest__min"]
    return began
