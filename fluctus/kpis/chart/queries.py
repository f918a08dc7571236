"""Reads of KPIs and their charts, all within the workspaces of the person who asks."""

from dataclasses import dataclass
from datetime import datetime
from functools import lru_cache
from typing import Any

from django.contrib.auth.models import User

from fluctus.core import Aggregation
from fluctus.http.refusals import Issue, NotThereError, RefusalError
from fluctus.kpis.calendar import Grain, coarser_grains
from fluctus.kpis.chart.analysis.chart import Chart, make_chart
from fluctus.kpis.models import Kpi, Segment
from fluctus.kpis.observations.reading import read_stored
from fluctus.kpis.observations.series import Observations, Shown, make_observations
from fluctus.kpis.observations.stored import Stored
from fluctus.kpis.state import ChartState, state_of


@dataclass(frozen=True, slots=True)
class View:
    """How a person looks at a KPI: at which grain, and at one breakdown or the whole."""

    by: Grain | None = None
    breakdown: str | None = None


WHOLE = View()


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


def state_of_kpi(kpi: Kpi) -> ChartState:
    """Read the saved settings of a KPI's chart."""
    return state_of(kpi, list(Segment.objects.filter(kpi=kpi)))


def observations_of(kpi: Kpi, state: ChartState, now: datetime, view: View = WHOLE) -> Observations:
    """Read the values of a KPI and make those of a chart from them.

    Raises RefusalError for a grain finer than the stored one or a breakdown
    that there are no values for.
    """
    refuse_view(kpi, view)
    return observations_in(read_stored(kpi, view.breakdown), kpi, state, now, view)


def observations_in(
    stored: Stored, kpi: Kpi, state: ChartState, now: datetime, view: View = WHOLE
) -> Observations:
    """Make the values of a chart from those that are stored, of a view that there is."""
    shown = Shown(
        stored=Grain(kpi.grain),
        grain=view.by or Grain(kpi.grain),
        calendar=state.calendar,
        how=Aggregation(state.aggregation),
        breakdown=view.breakdown,
        limited=state.target is not None or state.ceiling is not None,
        # A time between events is over when the event comes.
        now=None if kpi.source_id else now,
        irregular=kpi.source_id is not None,
    )
    return make_observations(stored, shown)


def refuse_view(kpi: Kpi, view: View) -> None:
    """Raise RefusalError for a grain or a breakdown that a KPI cannot be shown by."""
    stored = Grain(kpi.grain)
    if view.by is not None and view.by not in coarser_grains(stored):
        raise RefusalError(
            "This grain cannot be shown.",
            Issue(f"The values are stored by {stored}.", f"Choose {stored} or longer.", "by"),
        )
    if view.breakdown is not None and view.breakdown not in kpi.breakdowns:
        raise RefusalError(
            "This breakdown cannot be shown.",
            Issue(
                f"There are no values for {view.breakdown}.", "Choose another part.", "breakdown"
            ),
        )


def chart_of(
    kpi: Kpi, now: datetime, view: View = WHOLE, changes: dict[str, Any] | None = None
) -> Chart:
    """Analyse a KPI as it is saved, but for some ``changes`` of its settings."""
    state = state_of_kpi(kpi).with_changes(changes or {})
    return make_chart(observations_of(kpi, state, now, view), state)


MOST_KEPT = 100_000
"""Values of a KPI up to which those of a preview stay in memory while a hand drags."""


def observations_for_preview(
    kpi: Kpi, state: ChartState, now: datetime, view: View
) -> Observations:
    """Return the values of a chart that is tried again and again without being changed.

    Those of a revision never change, so that the steps of one drag read them once.
    """
    refuse_view(kpi, view)
    if kpi.digest["count"] > MOST_KEPT or len(kpi.breakdowns) > 1:
        return observations_of(kpi, state, now, view)
    return observations_in(_stored_at(kpi.pk, kpi.revision, view.breakdown), kpi, state, now, view)


@lru_cache(maxsize=16)
def _stored_at(pk: int, revision: int, breakdown: str | None) -> Stored:
    return read_stored(Kpi.objects.get(pk=pk), breakdown)
