"""KPIs and their charts over HTTP."""

from typing import Any

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.queries import workspace_of
from fluctus.accounts.record.exports import note_export
from fluctus.core import Rule
from fluctus.core.judgment import false_alarms
from fluctus.http import clock
from fluctus.http.conditional import answer_once, tag_of
from fluctus.http.csv_cells import csv_file
from fluctus.http.problems import PROBLEMS
from fluctus.http.refusals import NotThereError
from fluctus.http.requests import checked, person_of
from fluctus.http.revisions import IF_MATCH, seen_revision
from fluctus.http.shapes import schema_of, schema_of_list
from fluctus.http.snapshots import one_snapshot
from fluctus.kpis.actor import actor_of
from fluctus.kpis.chart import asked_shapes, kpi_shapes, requests, services, shapes
from fluctus.kpis.chart.analysis.before_after import cut_at
from fluctus.kpis.chart.analysis.chart import Chart, make_chart
from fluctus.kpis.chart.analysis.tried import with_aside, with_values
from fluctus.kpis.chart.answers.asked import (
    false_alarms_answer,
    how_soon_answer,
    reach_answer,
)
from fluctus.kpis.chart.answers.chart import chart_answer, levels_answer, shown_stretch
from fluctus.kpis.chart.answers.comparison import comparison_answer
from fluctus.kpis.chart.answers.kpi import kpis_answer
from fluctus.kpis.chart.answers.offers import offers_answer
from fluctus.kpis.chart.answers.selection import summaries_answer
from fluctus.kpis.chart.csv_export import analysis_as_csv
from fluctus.kpis.chart.proposals import evidence_of
from fluctus.kpis.chart.queries import (
    chart_of,
    chart_with,
    kpi_of,
    kpis_of,
    observations_tried,
    state_of_kpi,
)
from fluctus.kpis.chart.responses import Look, answer_saved, answer_write, shown_kpi
from fluctus.kpis.models import Kpi
from fluctus.kpis.stamps import stamp_of_kpis


class KpisView(APIView):
    """All KPIs of a workspace."""

    @extend_schema(
        operation_id="kpis",
        parameters=[requests.KpisSerializer],
        responses={200: schema_of(kpi_shapes.Kpis), **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str) -> HttpResponse:
        """List a stretch of them as the rail shows them."""
        start = requests.KpisSerializer.of(request)["start"]
        row = workspace_of(person_of(request), workspace)
        tag = tag_of("kpis", row.pk, start, stamp_of_kpis(row))
        return answer_once(request, tag, lambda: kpis_answer(*kpis_of(row, start), start))


class KpiView(APIView):
    """One KPI: its details and the settings of its chart."""

    @extend_schema(
        operation_id="change_chart",
        parameters=[IF_MATCH, requests.WindowSerializer],
        request=requests.ChartSettingsSerializer,
        responses={200: schema_of(shapes.SavedChart), **PROBLEMS},
    )
    def patch(self, request: Request, workspace: str, kpi: str) -> HttpResponse:
        """Change some settings."""
        changes = checked(requests.ChartSettingsSerializer, request.data)
        return answer_write(
            request,
            workspace,
            kpi,
            lambda row, revision, actor: services.change_chart(row, revision, changes, actor),
        )

    @extend_schema(
        operation_id="delete_kpi",
        parameters=[IF_MATCH, requests.DeleteSerializer],
        request=None,
        responses={204: None, **PROBLEMS},
    )
    def delete(self, request: Request, workspace: str, kpi: str) -> Response:
        """Delete it, with its name typed as confirmation."""
        name = requests.DeleteSerializer.of(request)["name"]
        row = kpi_of(person_of(request), workspace, kpi)
        services.delete_kpi(row, seen_revision(request), name, actor_of(request))
        return Response(status=204)


class AnalysisView(APIView):
    """The chart of a KPI as it is saved."""

    @extend_schema(
        operation_id="analysis",
        parameters=[requests.WindowSerializer],
        responses={200: schema_of(shapes.SavedChart), **PROBLEMS},
    )
    def get(self, request: Request, workspace: str, kpi: str) -> HttpResponse:
        """Return everything that the chart draws and says."""
        return answer_saved(request, workspace, kpi)


class PreviewView(APIView):
    """The chart of a KPI as it would be."""

    @extend_schema(
        operation_id="preview",
        parameters=[requests.WindowSerializer],
        request=requests.PreviewSerializer,
        responses={200: schema_of(shapes.Chart), **PROBLEMS},
    )
    @one_snapshot()
    def post(self, request: Request, workspace: str, kpi: str) -> Response:
        """Analyse unsaved settings; saves nothing."""
        look = Look.of(request)
        row = kpi_of(person_of(request), workspace, kpi)
        chart = _tried(request, row, look)
        return Response(chart_answer(shown_kpi(row, chart), chart, look.window))


class PreviewLevelsView(APIView):
    """What of the chart of a KPI would move."""

    @extend_schema(
        operation_id="preview_levels",
        parameters=[requests.WindowSerializer],
        request=requests.PreviewSerializer,
        responses={200: schema_of(shapes.Levels), **PROBLEMS},
    )
    @one_snapshot()
    def post(self, request: Request, workspace: str, kpi: str) -> Response:
        """Analyse unsaved settings under a dragging hand; saves nothing."""
        look = Look.of(request)
        row = kpi_of(person_of(request), workspace, kpi)
        return Response(levels_answer(_tried(request, row, look), look.window))


def _tried(request: Request, kpi: Kpi, look: Look) -> Chart:
    """Analyse a KPI under the settings, and with the values, that a request tries."""
    changes: dict[str, Any] = checked(requests.PreviewSerializer, request.data)
    aside, values = changes.pop("aside", {}), changes.pop("values", {})
    state = state_of_kpi(kpi).with_changes(changes)
    observations = observations_tried(kpi, state, clock.now(), look.view)
    return make_chart(with_values(with_aside(observations, aside), values), state)


class ComparisonView(APIView):
    """Two stretches of a chart side by side."""

    @extend_schema(
        operation_id="comparison",
        parameters=[requests.ComparisonQuerySerializer],
        responses={200: schema_of(shapes.Comparison), **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str, kpi: str) -> Response:
        """Compare two segments, or before and after a period within one."""
        query = requests.ComparisonQuerySerializer.of(request)
        row = kpi_of(person_of(request), workspace, kpi)
        chart = chart_of(row, clock.now(), Look.from_query(query).view)
        if "at" in query:
            chart, before = cut_at(chart, query["at"])
            return Response(comparison_answer(chart, before))
        last = len(chart.state.segments) - 1
        before, after = query.get("before", max(0, last - 1)), query.get("after", last)
        if max(before, after) > last:
            raise NotThereError("segment")
        return Response(comparison_answer(chart, before, after))


class SummaryView(APIView):
    """Selected periods of a chart."""

    @extend_schema(
        operation_id="summary",
        parameters=[requests.SpansSerializer],
        responses={200: schema_of(asked_shapes.Summaries), **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str, kpi: str) -> Response:
        """Summarise each selection, and the rest."""
        query = requests.SpansSerializer.of(request)
        row = kpi_of(person_of(request), workspace, kpi)
        chart = chart_of(row, clock.now(), Look.from_query(query).view)
        spans = [tuple(span.split("/")) for span in query["spans"]]
        return Response(summaries_answer(chart, [(first, last) for first, last in spans]))


class OffersView(APIView):
    """What can be added to a chart."""

    @extend_schema(
        operation_id="offers",
        parameters=[requests.WindowSerializer],
        responses={200: schema_of(asked_shapes.Offers), **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str, kpi: str) -> Response:
        """Return the lines and bands that would say something new, each drawn on its values."""
        look = Look.of(request)
        row = kpi_of(person_of(request), workspace, kpi)
        chart = chart_of(row, clock.now(), look.view)
        return Response(offers_answer(chart, *shown_stretch(chart, look.window)))


class PatternsView(APIView):
    """What the limits of the last segment could follow."""

    @extend_schema(
        operation_id="patterns", responses={200: schema_of_list(shapes.Pattern), **PROBLEMS}
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str, kpi: str) -> Response:
        """Return what speaks for each pattern, whether it is enough or not."""
        row = kpi_of(person_of(request), workspace, kpi)
        return Response(evidence_of(chart_of(row, clock.now())))


class FalseAlarmsView(APIView):
    """What a set of rules costs."""

    @extend_schema(
        operation_id="false_alarms",
        parameters=[requests.RuleSetSerializer],
        responses={200: schema_of(asked_shapes.FalseAlarms), **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str, kpi: str) -> Response:
        """Describe how often a process with no change would show a signal in as many points."""
        query = requests.RuleSetSerializer.of(request)
        row = kpi_of(person_of(request), workspace, kpi)
        alarms = false_alarms(map(Rule, query["rules"]), int(query["run_length"]))
        return Response(false_alarms_answer(alarms, row.digest["count"], row.grain))


class HowSoonView(APIView):
    """What a set of rules finds, and when."""

    @extend_schema(
        operation_id="how_soon",
        parameters=[requests.HowSoonSerializer],
        responses={200: schema_of(asked_shapes.HowSoon), **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str, kpi: str) -> Response:
        """Say by when a lasting change would show, or the smallest that shows in time."""
        row = kpi_of(person_of(request), workspace, kpi)
        query = requests.HowSoonSerializer.of(request)
        rules = {"rules": query["rules"], "run_length": int(query["run_length"])}
        chart = chart_with(row, clock.now(), rules)
        return Response(how_soon_answer(chart, query.get("change"), query.get("within")))


class ReachView(APIView):
    """What a target takes."""

    @extend_schema(
        operation_id="reach",
        parameters=[requests.ReachSerializer],
        responses={200: schema_of(asked_shapes.Reach), **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str, kpi: str) -> Response:
        """Say what it would take for every period to meet a target."""
        row = kpi_of(person_of(request), workspace, kpi)
        target = requests.ReachSerializer.of(request)["target"]
        return Response(reach_answer(chart_of(row, clock.now()), target))


class AnalysisCsvView(APIView):
    """The analysis as a file."""

    @extend_schema(
        operation_id="analysis_csv",
        parameters=[requests.WindowSerializer],
        responses={(200, "text/csv"): OpenApiTypes.STR, **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str, kpi: str) -> HttpResponse:
        """Return values, moving ranges, limits, segments and signals as CSV."""
        look = Look.of(request)
        row = kpi_of(person_of(request), workspace, kpi)
        note_export(request, row.workspace, f"the analysis of {row.name}")
        return csv_file(analysis_as_csv(chart_of(row, clock.now(), look.view)), row.slug)
