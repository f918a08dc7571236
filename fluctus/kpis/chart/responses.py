"""How a person looks at a chart, and the answer that shows it so."""

from collections.abc import Callable
from dataclasses import dataclass, fields, replace
from datetime import datetime
from typing import Any
from zoneinfo import ZoneInfo

from rest_framework.request import Request
from rest_framework.response import Response

from fluctus.http.requests import person_of
from fluctus.http.revisions import seen_revision
from fluctus.http.snapshots import one_snapshot
from fluctus.kpis import models
from fluctus.kpis.actor import Actor, actor_of
from fluctus.kpis.calendar import Grain
from fluctus.kpis.chart import kpi_shapes, shapes
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.answers.chart import OnRecord, Window, chart_answer, refuse_window
from fluctus.kpis.chart.answers.kpi import history_answer, kpi_answer
from fluctus.kpis.chart.keeping import Kept
from fluctus.kpis.chart.queries import WHOLE, View, chart_of, kpi_of, refuse_view
from fluctus.kpis.chart.requests import WindowSerializer
from fluctus.kpis.record.queries import next_undo_and_redo


@dataclass(frozen=True, slots=True)
class Look:
    """What of a chart is looked at: by which grain, which breakdown, and which periods of it."""

    view: View
    window: Window

    @classmethod
    def of(cls, request: Request) -> "Look":
        """Read how a chart is looked at."""
        return cls.from_query(WindowSerializer.of(request))

    @classmethod
    def from_query(cls, query: dict[str, Any]) -> "Look":
        """Take it from a query that has been checked."""
        by = query.get("by")
        return cls(
            View(Grain(by) if by else None, query.get("breakdown")),
            Window(query["width"], query.get("first"), query.get("last"), query.get("weeks")),
        )


def answer_write(
    request: Request,
    workspace: str,
    slug: str,
    write: Callable[[models.Kpi, int, Actor], Kept],
) -> Response:
    """Carry out a write to a KPI, on the revision that the request names.

    Answers with the chart as it is then, looked at as the request does.
    """
    look, actor = Look.of(request), actor_of(request)
    kpi = kpi_of(person_of(request), workspace, slug)
    # What cannot be shown is refused before anything is written.
    refuse_view(kpi, look.view)
    refuse_window(look.window, look.view.by or Grain(kpi.grain), ZoneInfo(kpi.time_zone))
    kept = write(kpi, seen_revision(request), actor)
    if look.view.breakdown not in (None, *kept.kpi.breakdowns):
        # Its last value has gone with the write.
        look = replace(look, view=View(look.view.by))
    if look.view == WHOLE:
        return saved_response(look, kept.kpi, kept.chart, actor.now)
    with one_snapshot():
        newest = kpi_of(person_of(request), workspace, slug)
        return saved_response(look, newest, chart_of(newest, actor.now, look.view), actor.now)


def saved_response(look: Look, kpi: models.Kpi, chart: Chart, now: datetime) -> Response:
    """Answer with a KPI's chart as it is saved."""
    on_record = OnRecord.of(kpi, chart, now)
    answer = chart_answer(shown_kpi(kpi, chart), chart, look.window, on_record)
    saved = shapes.SavedChart(
        **{part.name: getattr(answer, part.name) for part in fields(answer)},
        history=history_answer(*next_undo_and_redo(kpi)),
    )
    return Response(saved, headers={"ETag": f'"{kpi.revision}"'})


def shown_kpi(kpi: models.Kpi, chart: Chart) -> kpi_shapes.Kpi:
    """Return a KPI with the settings that its chart is drawn by."""
    return kpi_answer(
        chart,
        slug=kpi.slug,
        revision=kpi.revision,
        breakdowns=kpi.breakdowns,
        kpi=kpi,
    )
