"""Writes of KPIs and the settings of their charts, each one transaction."""

from typing import Any

import polars as pl
from django.db import IntegrityError, transaction
from django.utils.text import slugify

from fluctus.accounts.models import Workspace
from fluctus.accounts.record.log import AuditEvent, note
from fluctus.accounts.room.kinds import Kind
from fluctus.accounts.room.services import refuse_beyond
from fluctus.core.words import in_a_row
from fluctus.http.refusals import Issue, RefusalError
from fluctus.kpis.actor import Actor
from fluctus.kpis.calendar import Grain
from fluctus.kpis.chart.keeping import (
    Kept,
    keep_looks,
    keep_settings,
    keep_values,
    kept_chart,
    locked,
    move_periods,
    name_taken,
    observations_written,
    take_name,
)
from fluctus.kpis.chart.queries import state_of_kpi
from fluctus.kpis.models import DataChange, Kpi, Segment
from fluctus.kpis.observations.stored import Stored
from fluctus.kpis.observations.writing import Progress, add_values
from fluctus.kpis.origin import OF_ITS_OWN, Origin
from fluctus.kpis.record.description import describe
from fluctus.kpis.record.log import record
from fluctus.kpis.state import DETAILS, ChartState, segment_rows


@transaction.atomic
def create_kpi(
    workspace: Workspace,
    state: ChartState,
    grain: Grain,
    frame: pl.DataFrame,
    actor: Actor,
    summary: str = "Came with the KPI",
    progress: Progress = lambda share: None,
    origin: Origin = OF_ITS_OWN,
) -> tuple[Kpi, DataChange]:
    """Save a new KPI with its values: all of it, or nothing; ``origin`` is what it is made from."""
    refuse_beyond(workspace, Kind.KPIS, 1)
    refuse_beyond(workspace, Kind.VALUES, frame.height)
    kpi = _inserted(
        workspace,
        state.name,
        grain=grain,
        rules=list(state.rules),
        **state.kept_as_json(),
        revision=0,
        digest={},
        source=origin.source,
        second=origin.second,
        made_by=origin.made_by or "",
        times=origin.times,
        left_out=list(origin.left_out),
        **{name: getattr(state, name) for name in DETAILS},
    )
    Segment.objects.bulk_create(segment_rows(kpi, state))
    change = DataChange.objects.create(
        kpi=kpi, author=actor.person, summary=summary[:200], added=frame.height
    )
    add_values(kpi, change, frame, progress)
    keep_values(kpi, actor, summary, Stored.of(frame))
    return kpi, change


@transaction.atomic
def change_chart(kpi: Kpi, revision: int, changes: dict[str, Any], actor: Actor) -> Kept:
    """Change some settings of a chart and keep what they were: a shift, a target, a name.

    Raises StaleError when the chart is no longer at ``revision``, RefusalError
    when the settings cannot be drawn; then nothing has changed.
    """
    kpi = locked(kpi, revision)
    before = state_of_kpi(kpi)
    after = before.with_changes(changes)
    if after == before:
        return kept_chart(kpi, actor.now)
    _refuse_of_sources(kpi, before, after)
    take_name(kpi, after.name)
    summary = describe(before, after, Grain(kpi.grain))
    if after.computes_as(before):
        kept = keep_looks(kpi, before, after, actor.now)
        record(kpi, actor, summary, before, after)
        return kept
    move_periods(kpi, before.time_zone, after.time_zone)
    kept = keep_settings(kpi, after, summary, observations_written(kpi, after, actor.now))
    record(kpi, actor, summary, before, after)
    return kept


OF_SOURCES = {
    "aggregation": "how several values become one",
    "time_zone": "its time zone",
    "first_weekday": "where its weeks begin",
    "first_month": "where its years begin",
}
"""Settings that a KPI which follows others has from these."""


def _refuse_of_sources(kpi: Kpi, before: ChartState, after: ChartState) -> None:
    """Raise RefusalError for a setting that a KPI has from those it follows."""
    for name, what in OF_SOURCES.items():
        if kpi.follows and getattr(before, name) != getattr(after, name):
            names = in_a_row([source.name for source in kpi.follows])
            issue = Issue(f"{kpi.name} has {what} from {names}.", "Change it there.", name)
            raise RefusalError("This was not changed.", issue, status=409)


@transaction.atomic
def delete_kpi(kpi: Kpi, revision: int, confirmed_name: str, actor: Actor) -> None:
    """Delete a KPI with all that belongs to it, once its name has been typed."""
    kpi = locked(kpi, revision)
    if confirmed_name != kpi.name:
        raise RefusalError(
            "The KPI was not deleted.",
            Issue("The name typed is not the KPI's.", f"Type {kpi.name} to delete it.", "name"),
        )
    note(kpi.workspace, actor.person, actor.now, AuditEvent.DELETION, f"Deleted the KPI {kpi.name}")
    kpi.delete()


def _inserted(workspace: Workspace, called: str, /, **columns: Any) -> Kpi:
    """Insert a KPI by a slug of its own; raises RefusalError where its name is taken.

    The database says what is taken, and nobody waits who makes another one meanwhile.
    """
    while True:
        slug = _free_slug(workspace, called)
        try:
            with transaction.atomic():
                return Kpi.objects.create(workspace=workspace, slug=slug, **columns)
        except IntegrityError as error:
            cause: Any = error.__cause__
            if cause.diag.constraint_name != "kpi_slug_once":
                raise name_taken(called) from error


def _free_slug(workspace: Workspace, name: str) -> str:
    base = slugify(name)[:70] or "kpi"
    in_use = set(
        Kpi.objects.filter(workspace=workspace, slug__startswith=base).values_list(
            "slug", flat=True
        )
    )
    slug, number = base, 2
    while slug in in_use:
        slug, number = f"{base}-{number}", number + 1
    return slug
