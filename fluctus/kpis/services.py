"""Writes of KPIs, each one transaction."""

from collections.abc import Sequence
from datetime import datetime
from typing import Any

from django.contrib.auth.models import User
from django.db import connection, transaction
from django.utils.text import slugify

from fluctus.accounts.models import Workspace
from fluctus.kpis.charts import make_chart
from fluctus.kpis.digest import digest_of
from fluctus.kpis.history import describe
from fluctus.kpis.models import ChartChange, Kpi, Observation, Segment
from fluctus.kpis.periods import Grain
from fluctus.kpis.queries import chart_of, next_undo_and_redo, observations_of, state_of_kpi
from fluctus.kpis.state import DETAILS, ChartState, segment_rows
from fluctus.refusals import Issue, NotThereError, RefusalError, StaleError

Row = tuple[datetime, float, bool, str]
"""Period, value, whether it is set aside, and why."""


@transaction.atomic
def create_kpi(
    workspace: Workspace, state: ChartState, grain: Grain, time_zone: str, rows: Sequence[Row]
) -> Kpi:
    """Save a new KPI with its observations: all of it, or nothing."""
    # Names are compared and slugs made under the workspace's lock, so that two at once differ.
    Workspace.objects.select_for_update().get(pk=workspace.pk)
    _refuse_taken_name(workspace, state.name)
    kpi = Kpi.objects.create(
        workspace=workspace,
        slug=_free_slug(workspace, state.name),
        grain=grain,
        time_zone=time_zone,
        rules=list(state.rules),
        digest={},
        **{name: getattr(state, name) for name in DETAILS},
    )
    Segment.objects.bulk_create(segment_rows(kpi, state))
    _copy_observations(kpi, rows)
    kpi.digest = digest_of(chart_of(kpi))
    kpi.save(update_fields=["digest"])
    return kpi


@transaction.atomic
def change_chart(kpi: Kpi, revision: int, changes: dict[str, Any], author: User) -> Kpi:
    """Change some settings of a chart and keep what they were.

    Raises StaleError when the chart is no longer at ``revision``, RefusalError
    when the settings cannot be drawn; then nothing has changed.
    """
    kpi = _locked(kpi, revision)
    before = state_of_kpi(kpi)
    after = before.with_changes(changes)
    if after == before:
        return kpi
    if after.name.lower() != before.name.lower():
        _refuse_taken_name(kpi.workspace, after.name)
    _apply(kpi, after)
    standing = ChartChange.Standing
    ChartChange.objects.filter(kpi=kpi, standing=standing.UNDONE).update(standing=standing.REPLACED)
    ChartChange.objects.create(
        kpi=kpi, author=author, summary=describe(before, after)[:200],
        before=before.to_json(), after=after.to_json(),
    )  # fmt: skip
    return kpi


@transaction.atomic
def undo(kpi: Kpi, revision: int) -> Kpi:
    """Take back the latest change of a chart."""
    kpi = _locked(kpi, revision)
    change, _ = next_undo_and_redo(kpi)
    return _step(kpi, change, ChartChange.Standing.UNDONE, "There is nothing to undo.")


@transaction.atomic
def redo(kpi: Kpi, revision: int) -> Kpi:
    """Bring back the change that was undone last."""
    kpi = _locked(kpi, revision)
    _, change = next_undo_and_redo(kpi)
    return _step(kpi, change, ChartChange.Standing.KEPT, "There is nothing to redo.")


@transaction.atomic
def delete_kpi(kpi: Kpi, revision: int, confirmed_name: str) -> None:
    """Delete a KPI with all that belongs to it, once its name has been typed."""
    kpi = _locked(kpi, revision)
    if confirmed_name != kpi.name:
        raise RefusalError(
            "The KPI was not deleted.",
            Issue("The name typed is not the KPI's.", f"Type {kpi.name} to delete it.", "name"),
        )
    kpi.delete()


def _step(
    kpi: Kpi, change: ChartChange | None, standing: ChartChange.Standing, nothing: str
) -> Kpi:
    if change is None:
        raise RefusalError(nothing, status=409)
    back = standing is ChartChange.Standing.UNDONE
    state = ChartState.from_json(change.before if back else change.after)
    if state.name.lower() != kpi.name.lower():
        _refuse_taken_name(kpi.workspace, state.name)
    _apply(kpi, state)
    change.standing = standing
    change.save(update_fields=["standing"])
    return kpi


def _locked(kpi: Kpi, revision: int) -> Kpi:
    locked = (
        Kpi.objects.select_for_update(of=("self",))
        .select_related("workspace")
        .filter(pk=kpi.pk)
        .first()
    )
    if locked is None:
        raise NotThereError("KPI")
    if locked.revision != revision:
        last = ChartChange.objects.filter(kpi=locked).order_by("-id").first()
        raise StaleError(revision, locked.revision, last.summary if last else "its data")
    return locked


def _apply(kpi: Kpi, state: ChartState) -> None:
    chart = make_chart(observations_of(kpi), state)
    for name in DETAILS:
        setattr(kpi, name, getattr(state, name))
    kpi.rules = list(state.rules)
    kpi.revision += 1
    kpi.digest = digest_of(chart)
    kpi.save()
    Segment.objects.filter(kpi=kpi).delete()
    Segment.objects.bulk_create(segment_rows(kpi, state))


def _copy_observations(kpi: Kpi, rows: Sequence[Row]) -> None:
    table = Observation._meta.db_table
    with connection.cursor() as cursor:
        statement = f"COPY {table} (kpi_id, period, value, set_aside, reason) FROM STDIN"
        with cursor.copy(statement) as copy:
            for row in rows:
                copy.write_row((kpi.pk, *row))


def _refuse_taken_name(workspace: Workspace, name: str) -> None:
    if Kpi.objects.filter(workspace=workspace, name__iexact=name).exists():
        raise RefusalError(
            "This name is taken.",
            Issue(f"There is a KPI named {name} already.", "Choose another name.", "name"),
        )


def _free_slug(workspace: Workspace, name: str) -> str:
    base = slugify(name)[:70] or "kpi"
    taken = set(
        Kpi.objects.filter(workspace=workspace, slug__startswith=base).values_list(
            "slug", flat=True
        )
    )
    slug, number = base, 2
    while slug in taken:
        slug, number = f"{base}-{number}", number + 1
    return slug
