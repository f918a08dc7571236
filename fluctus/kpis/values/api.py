"""The values of a KPI over HTTP."""

from zoneinfo import ZoneInfo

from django.http import HttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.access import refuse_below
from fluctus.accounts.models import Role
from fluctus.accounts.queries import named
from fluctus.http import clock
from fluctus.http.problems import PROBLEMS
from fluctus.http.refusals import NotThereError
from fluctus.http.requests import checked, person_of
from fluctus.http.revisions import IF_MATCH
from fluctus.http.shapes import schema_of, schema_of_list
from fluctus.http.snapshots import one_snapshot
from fluctus.kpis.actor import actor_of
from fluctus.kpis.calendar import Calendar, Grain, from_text
from fluctus.kpis.chart.answers.kpi import next_answer
from fluctus.kpis.chart.queries import View, chart_of, kpi_of
from fluctus.kpis.chart.requests import WindowSerializer
from fluctus.kpis.chart.responses import answer_write
from fluctus.kpis.chart.shapes import SavedChart
from fluctus.kpis.hooks import feeders
from fluctus.kpis.values import requests, shapes
from fluctus.kpis.values.answers import version_answers
from fluctus.kpis.values.on_chart import values_on_chart
from fluctus.kpis.values.queries import last_period_of, versions_of, writers_of
from fluctus.kpis.values.services import Edit, edit_values, set_aside
from fluctus.kpis.values.stretch import stretch_of


class ValuesView(APIView):
    """The values of a KPI as they are stored."""

    @extend_schema(
        operation_id="values",
        parameters=[requests.ValuesQuerySerializer],
        responses={200: schema_of(shapes.Values), **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str, kpi: str) -> Response:
        """Return a stretch of them in order of time."""
        query = requests.ValuesQuerySerializer.of(request)
        row = kpi_of(person_of(request), workspace, kpi)
        stretch = stretch_of(row, query, clock.now())
        calendar = Calendar(ZoneInfo(row.time_zone))
        return Response(
            shapes.Values(
                count=stretch.count,
                start=query["start"],
                values=stretch.answers(row),
                next=next_answer(
                    last_period_of(row, query.get("breakdown")), Grain(row.grain), calendar
                ),
                fed=any(feeds(row) for feeds in feeders),
                writers=[named(writer) for writer in writers_of(row)],
                revision=row.revision,
            )
        )

    @extend_schema(
        operation_id="edit_values",
        request=requests.EditsSerializer,
        responses={200: schema_of(shapes.SavedValues), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, kpi: str) -> Response:
        """Save values written by hand, all or none; each names the version it was made on."""
        edits = checked(requests.EditsSerializer, request.data)["edits"]
        if any(edit["set_aside"] for edit in edits):
            refuse_below(request, Role.EDITOR, "Setting values aside")
        row = kpi_of(person_of(request), workspace, kpi)
        kept = edit_values(row, [Edit(**edit) for edit in edits], actor_of(request))
        return Response(shapes.SavedValues(kept.kpi.revision))


class ValuesOnChartView(APIView):
    """What the chart knows of the values of a KPI."""

    @extend_schema(
        operation_id="values_on_chart",
        parameters=[requests.ValuesQuerySerializer],
        responses={200: schema_of(shapes.ValuesOnChart), **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str, kpi: str) -> Response:
        """Return it of a stretch of them, asked for as the stretch itself is."""
        query = requests.ValuesQuerySerializer.of(request)
        row = kpi_of(person_of(request), workspace, kpi)
        now = clock.now()
        chart = chart_of(row, now, View(breakdown=query.get("breakdown")))
        return Response(
            shapes.ValuesOnChart(
                start=query["start"],
                values=values_on_chart(chart, stretch_of(row, query, now).periods),
                segments=len(chart.analysis.segments),
                revision=row.revision,
            )
        )


class SetAsideView(APIView):
    """A point of a chart that takes no part, or takes part again."""

    @extend_schema(
        operation_id="set_aside",
        parameters=[IF_MATCH, WindowSerializer],
        request=requests.SetAsideSerializer,
        responses={200: schema_of(SavedChart), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, kpi: str) -> HttpResponse:
        """Set its values aside with a reason, or put them back."""
        point = checked(requests.SetAsideSerializer, request.data)
        return answer_write(
            request,
            workspace,
            kpi,
            lambda row, revision, actor: set_aside(row, revision, actor, **point),
        )


class VersionsView(APIView):
    """What a value has been."""

    @extend_schema(
        operation_id="value_history",
        parameters=[requests.VersionQuerySerializer],
        responses={200: schema_of_list(shapes.Version), **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str, kpi: str) -> Response:
        """List its versions, newest first."""
        query = requests.VersionQuerySerializer.of(request)
        row = kpi_of(person_of(request), workspace, kpi)
        try:
            period = from_text(query["period"], Grain(row.grain), ZoneInfo(row.time_zone))
        except (ValueError, OverflowError):
            raise NotThereError("period") from None
        return Response(version_answers(versions_of(row, period, query["breakdown"]), row))
