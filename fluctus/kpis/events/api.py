"""Events over HTTP: on the lane of a chart, and in the list of all."""

from typing import Any

from django.http import HttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.queries import workspace_of
from fluctus.http import clock
from fluctus.http.problems import PROBLEMS
from fluctus.http.requests import LIST_PAGE, checked, person_of
from fluctus.http.revisions import IF_MATCH
from fluctus.http.shapes import schema_of, schema_of_list
from fluctus.http.snapshots import one_snapshot
from fluctus.kpis.actor import actor_of
from fluctus.kpis.calendar import Grain
from fluctus.kpis.chart.queries import chart_of, kpi_of
from fluctus.kpis.chart.requests import WindowSerializer
from fluctus.kpis.chart.responses import Look, answer_write
from fluctus.kpis.chart.shapes import SavedChart
from fluctus.kpis.events import requests, shapes
from fluctus.kpis.events.answers import event_answer, pin_answer
from fluctus.kpis.events.queries import events_in, pins_of
from fluctus.kpis.events.services import write_event, write_event_beside_charts
from fluctus.kpis.events.states import compare_state, states_in, titles_of
from fluctus.kpis.models import Event, EventKind


class LaneView(APIView):
    """The events that are told with a KPI."""

    @extend_schema(
        operation_id="lane",
        parameters=[requests.LaneQuerySerializer],
        responses={200: schema_of_list(shapes.Pin), **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str, kpi: str) -> Response:
        """Gather them into pins for a lane of so many pixels."""
        query = requests.LaneQuerySerializer.of(request)
        row = kpi_of(person_of(request), workspace, kpi)
        grain = Grain(query.get("by", row.grain))
        pins = pins_of(row, query["first"], query["last"], query["width"], grain)
        return Response([pin_answer(pin) for pin in pins])

    @extend_schema(
        operation_id="add_event",
        parameters=[IF_MATCH, WindowSerializer],
        request=requests.NewEventSerializer,
        responses={200: schema_of(SavedChart), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, kpi: str) -> HttpResponse:
        """Add an event on this chart."""
        changes = checked(requests.NewEventSerializer, request.data)
        return answer_write(
            request,
            workspace,
            kpi,
            lambda row, revision, actor: write_event(row, revision, actor, changes),
        )


class StatesView(APIView):
    """The states of the world that are told with a KPI."""

    @extend_schema(
        operation_id="states",
        parameters=[requests.StatesQuerySerializer],
        responses={200: schema_of(shapes.States), **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str, kpi: str) -> Response:
        """Name them, and compare the KPI in and out of one."""
        query = requests.StatesQuerySerializer.of(request)
        row = kpi_of(person_of(request), workspace, kpi)
        compared = None
        if "state" in query:
            chart = chart_of(row, clock.now(), Look.from_query(query).view)
            compared = compare_state(row, chart, query["state"])
        return Response(shapes.States(titles_of(row), compared))


class LaneEventView(APIView):
    """One event that is told with a KPI."""

    @extend_schema(
        operation_id="change_event",
        parameters=[IF_MATCH, WindowSerializer, requests.VersionSeenSerializer],
        request=requests.EventChangesSerializer,
        responses={200: schema_of(SavedChart), **PROBLEMS},
    )
    def patch(self, request: Request, workspace: str, kpi: str, number: int) -> HttpResponse:
        """Change it."""
        changes = checked(requests.EventChangesSerializer, request.data)
        return self._write(request, workspace, kpi, number, changes)

    @extend_schema(
        operation_id="remove_event",
        parameters=[IF_MATCH, WindowSerializer, requests.VersionSeenSerializer],
        request=None,
        responses={200: schema_of(SavedChart), **PROBLEMS},
    )
    def delete(self, request: Request, workspace: str, kpi: str, number: int) -> HttpResponse:
        """Remove it; undo brings it back."""
        return self._write(request, workspace, kpi, number, None)

    def _write(
        self, request: Request, workspace: str, kpi: str, number: int, changes: Any
    ) -> HttpResponse:
        version = requests.VersionSeenSerializer.of(request)["version"]
        return answer_write(
            request,
            workspace,
            kpi,
            lambda row, revision, actor: write_event(
                row, revision, actor, changes, number, version
            ),
        )


class EventsView(APIView):
    """All events of a workspace."""

    @extend_schema(
        operation_id="events",
        parameters=[requests.EventsQuerySerializer],
        responses={200: schema_of(shapes.Events), **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str) -> Response:
        """Return a stretch of them, newest first; states by themselves, each once."""
        query = requests.EventsQuerySerializer.of(request)
        start = query["start"]
        workspace_row = workspace_of(person_of(request), workspace)
        rows, states = events_in(workspace_row, query["search"]), []
        if query["state"]:
            rows = rows.filter(kind=EventKind.STATE, title=query["state"])
        else:
            rows = rows.exclude(kind=EventKind.STATE)
            states = [
                shapes.StateRow(title, times, since.isoformat(), until.isoformat())
                for title, times, since, until in states_in(workspace_row, query["search"])
            ]
        page = rows.order_by("-first", "-pk")[start : start + LIST_PAGE]
        events = [event_answer(event) for event in page.prefetch_related("kpis")]
        return Response(
            shapes.Events(count=rows.count(), start=start, events=events, states=states)
        )

    @extend_schema(
        operation_id="add_event_beside_charts",
        request=requests.NewEventSerializer,
        responses={201: schema_of(shapes.Event), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str) -> Response:
        """Add an event, told with the KPIs that it names."""
        workspace_row = workspace_of(person_of(request), workspace)
        changes = checked(requests.NewEventSerializer, request.data)
        event = write_event_beside_charts(workspace_row, actor_of(request), changes)
        return Response(event_answer(event), status=201)


class EventView(APIView):
    """One event of a workspace."""

    @extend_schema(
        operation_id="change_event_beside_charts",
        parameters=[requests.VersionSeenSerializer],
        request=requests.EventChangesSerializer,
        responses={200: schema_of(shapes.Event), **PROBLEMS},
    )
    def patch(self, request: Request, workspace: str, number: int) -> Response:
        """Change it."""
        changes = checked(requests.EventChangesSerializer, request.data)
        return Response(event_answer(self._write(request, workspace, number, changes)))

    @extend_schema(
        operation_id="remove_event_beside_charts",
        parameters=[requests.VersionSeenSerializer],
        request=None,
        responses={204: None, **PROBLEMS},
    )
    def delete(self, request: Request, workspace: str, number: int) -> Response:
        """Remove it."""
        self._write(request, workspace, number, None)
        return Response(status=204)

    def _write(self, request: Request, workspace: str, number: int, changes: Any) -> Event:
        version = requests.VersionSeenSerializer.of(request)["version"]
        workspace_row = workspace_of(person_of(request), workspace)
        return write_event_beside_charts(workspace_row, actor_of(request), changes, number, version)
