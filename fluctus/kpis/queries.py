"""Reads of KPIs, all within the workspaces of the person who asks."""

from zoneinfo import ZoneInfo

import numpy as np
from django.contrib.auth.models import User
from django.db.models import F, FloatField, Func

from fluctus.kpis.charts import Chart, Observations, make_chart
from fluctus.kpis.models import ChartChange, Kpi, Observation, Segment
from fluctus.kpis.periods import Grain
from fluctus.kpis.state import ChartState, state_of
from fluctus.refusals import NotThereError

SECONDS = Func(
    F("period"), template="EXTRACT(EPOCH FROM %(expressions)s)::float8", output_field=FloatField()
)
"""Periods as numbers, which arrive many times faster than as datetimes."""


def kpis_of(person: User, workspace: str) -> list[Kpi]:
    """List the KPIs of a workspace in the order they came, in one query."""
    rows = Kpi.objects.filter(workspace__slug=workspace, workspace__members=person)
    return list(rows.order_by("id"))


def kpi_of(person: User, workspace: str, slug: str) -> Kpi:
    """Return one KPI; raises NotThereError for one of another workspace."""
    kpi = Kpi.objects.filter(
        workspace__slug=workspace, workspace__members=person, slug=slug
    ).first()
    if kpi is None:
        raise NotThereError("KPI")
    return kpi


def observations_of(kpi: Kpi) -> Observations:
    """Read all observations of a KPI, in time order."""
    rows = list(
        Observation.objects.filter(kpi=kpi)
        .annotate(instant=SECONDS)
        .order_by("period")
        .values_list("instant", "value", "set_aside", "reason")
    )
    return Observations(
        instants=np.array([row[0] for row in rows], dtype=np.float64),
        values=np.array([row[1] for row in rows], dtype=np.float64),
        set_aside=np.array([row[2] for row in rows], dtype=np.bool_),
        reasons={n: row[3] for n, row in enumerate(rows) if row[2]},
        grain=Grain(kpi.grain),
        zone=ZoneInfo(kpi.time_zone),
    )


def state_of_kpi(kpi: Kpi) -> ChartState:
    """Read the saved settings of a KPI's chart."""
    return state_of(kpi, list(Segment.objects.filter(kpi=kpi)))


def chart_of(kpi: Kpi) -> Chart:
    """Analyse a KPI as it is saved."""
    return make_chart(observations_of(kpi), state_of_kpi(kpi))


def next_undo_and_redo(kpi: Kpi) -> tuple[ChartChange | None, ChartChange | None]:
    """Return the change that undo would take back and the one that redo would bring back."""
    standing = ChartChange.Standing
    kept = ChartChange.objects.filter(kpi=kpi, standing=standing.KEPT).order_by("-id")[:1]
    undone = ChartChange.objects.filter(kpi=kpi, standing=standing.UNDONE).order_by("id")[:1]
    both = {change.standing: change for change in kept.union(undone, all=True)}
    return both.get(standing.KEPT), both.get(standing.UNDONE)
