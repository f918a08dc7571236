"""Events over HTTP: on the lane of a chart, in the list of all, to and from calendar files."""

from datetime import UTC, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from django.http import HttpResponse
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.queries import workspace_of
from fluctus.http.refusals import Issue, RefusalError
from fluctus.kpis.acts import shapes as story
from fluctus.kpis.chart import shapes
from fluctus.kpis.chart.api import (
    IF_MATCH,
    PROBLEMS,
    checked,
    person_of,
    saved_chart,
    seen_revision,
)
from fluctus.kpis.chart.queries import kpi_of
from fluctus.kpis.events.services import (
    Arrivals,
    bring_events,
    compare_events,
    events_in,
    pins_of,
    take_events_back,
    write_event,
    write_event_beside_charts,
)
from fluctus.kpis.models import Event, Kpi
from fluctus.tables.calendar_file import (
    CalendarEvent,
    CalendarRead,
    NoCalendarError,
    read_calendar,
    write_calendar,
)

MOST_BYTES = 20_000_000
BROKEN_TOLD = 50
REPEATS_AHEAD = timedelta(days=366)


def present_event(event: Event) -> dict[str, Any]:
    """Give an event; its KPIs have been fetched with it."""
    return {
        "id": event.pk,
        "title": event.title,
        "kind": event.kind,
        "text": event.text,
        "first": event.first.isoformat(),
        "last": event.last.isoformat(),
        "everywhere": event.everywhere,
        "kpis": [kpi.slug for kpi in event.kpis.all()],
        "version": event.version,
    }


class LaneView(APIView):
    """The events that are told with a KPI."""

    @extend_schema(
        operation_id="lane", parameters=[story.LaneQuerySerializer],
        responses={200: story.PinSerializer(many=True), **PROBLEMS},
    )  # fmt: skip
    def get(self, request: Request, workspace: str, kpi: str) -> Response:
        """Gather them into pins for a lane of so many pixels."""
        asked = checked(story.LaneQuerySerializer, request.query_params)
        found = kpi_of(person_of(request), workspace, kpi)
        pins = pins_of(found, asked["first"], asked["last"], asked["width"])
        return Response(
            [
                {
                    "first": pin.first.isoformat(),
                    "last": pin.last.isoformat(),
                    "count": pin.count,
                    "events": [present_event(event) for event in pin.events],
                }
                for pin in pins
            ]
        )

    @extend_schema(
        operation_id="add_event", parameters=[IF_MATCH, shapes.WindowSerializer],
        request=story.NewEventSerializer,
        responses={200: shapes.SavedChartSerializer, **PROBLEMS},
    )  # fmt: skip
    def post(self, request: Request, workspace: str, kpi: str) -> Response:
        """Add an event on this chart."""
        changes = checked(story.NewEventSerializer, request.data)
        person, revision = person_of(request), seen_revision(request)
        found = kpi_of(person, workspace, kpi)
        return saved_chart(request, write_event(found, revision, person, changes))


class LaneEventView(APIView):
    """One event that is told with a KPI."""

    @extend_schema(
        operation_id="change_event",
        parameters=[IF_MATCH, shapes.WindowSerializer, story.VersionSeenSerializer],
        request=story.EventInSerializer,
        responses={200: shapes.SavedChartSerializer, **PROBLEMS},
    )
    def patch(self, request: Request, workspace: str, kpi: str, number: int) -> Response:
        """Change it."""
        changes = checked(story.EventInSerializer, request.data)
        return self._write(request, workspace, kpi, number, changes)

    @extend_schema(
        operation_id="remove_event",
        parameters=[IF_MATCH, shapes.WindowSerializer, story.VersionSeenSerializer],
        request=None, responses={200: shapes.SavedChartSerializer, **PROBLEMS},
    )  # fmt: skip
    def delete(self, request: Request, workspace: str, kpi: str, number: int) -> Response:
        """Remove it; undo brings it back."""
        return self._write(request, workspace, kpi, number, None)

    def _write(
        self, request: Request, workspace: str, kpi: str, number: int, changes: Any
    ) -> Response:
        version = checked(story.VersionSeenSerializer, request.query_params)["version"]
        person, revision = person_of(request), seen_revision(request)
        found = kpi_of(person, workspace, kpi)
        saved = write_event(found, revision, person, changes, number, version)
        return saved_chart(request, saved)


EVENTS_AT_ONCE = 100


class EventsView(APIView):
    """All events of a workspace."""

    @extend_schema(
        operation_id="events",
        parameters=[
            OpenApiParameter("start", int), OpenApiParameter("search", str),
        ],
        responses={200: story.EventsSerializer, **PROBLEMS},
    )  # fmt: skip
    def get(self, request: Request, workspace: str) -> Response:
        """Give a stretch of them, newest first."""
        start = _whole(request.query_params.get("start", "0"))
        found = workspace_of(person_of(request), workspace)
        rows = events_in(found, request.query_params.get("search", "")[:120])
        page = rows.order_by("-first", "-pk")[start : start + EVENTS_AT_ONCE]
        events = [present_event(event) for event in page.prefetch_related("kpis")]
        return Response({"count": rows.count(), "start": start, "events": events})

    @extend_schema(
        operation_id="add_event_beside_charts", request=story.NewEventSerializer,
        responses={201: story.EventSerializer, **PROBLEMS},
    )  # fmt: skip
    def post(self, request: Request, workspace: str) -> Response:
        """Add an event, told with the KPIs that it names."""
        person = person_of(request)
        found = workspace_of(person, workspace)
        changes = checked(story.NewEventSerializer, request.data)
        event = write_event_beside_charts(found, person, changes)
        return Response(present_event(event), status=201)


class EventView(APIView):
    """One event of a workspace."""

    @extend_schema(
        operation_id="change_event_beside_charts", parameters=[story.VersionSeenSerializer],
        request=story.EventInSerializer, responses={200: story.EventSerializer, **PROBLEMS},
    )  # fmt: skip
    def patch(self, request: Request, workspace: str, number: int) -> Response:
        """Change it."""
        changes = checked(story.EventInSerializer, request.data)
        return Response(present_event(self._write(request, workspace, number, changes)))

    @extend_schema(
        operation_id="remove_event_beside_charts", parameters=[story.VersionSeenSerializer],
        request=None, responses={204: None, **PROBLEMS},
    )  # fmt: skip
    def delete(self, request: Request, workspace: str, number: int) -> Response:
        """Remove it."""
        self._write(request, workspace, number, None)
        return Response(status=204)

    def _write(self, request: Request, workspace: str, number: int, changes: Any) -> Event:
        version = checked(story.VersionSeenSerializer, request.query_params)["version"]
        person = person_of(request)
        found = workspace_of(person, workspace)
        return write_event_beside_charts(found, person, changes, number, version)


def _whole(text: str) -> int:
    if not text.isdecimal():
        raise RefusalError("This is not a place in the list.", Issue("Send a whole number."))
    return int(text)


class EventsFileView(APIView):
    """The events of a workspace as a calendar file."""

    @extend_schema(operation_id="events_file", responses={(200, "text/calendar"): OpenApiTypes.STR})
    def get(self, request: Request, workspace: str) -> HttpResponse:
        """Write them as iCalendar."""
        found = workspace_of(person_of(request), workspace)
        rows = events_in(found).order_by("first", "pk").prefetch_related("kpis")
        events = [
            CalendarEvent(
                one.uid, one.title, one.text, one.kind, one.first, one.last,
                tuple(kpi.slug for kpi in one.kpis.all()),
            )
            for one in rows
        ]  # fmt: skip
        content = write_calendar(events, datetime.now(UTC))
        response = HttpResponse(content, content_type="text/calendar; charset=utf-8")
        response["Content-Disposition"] = f'attachment; filename="{found.slug}-events.ics"'
        return response


class ReadCalendarView(APIView):
    """What a calendar file would bring."""

    parser_classes = [MultiPartParser]

    @extend_schema(
        operation_id="read_calendar", request=story.CalendarFileSerializer,
        responses={200: story.CalendarReadSerializer, **PROBLEMS},
    )  # fmt: skip
    def post(self, request: Request, workspace: str) -> Response:
        """Read it; saves nothing."""
        found = workspace_of(person_of(request), workspace)
        read, _ = _read(request, found.pk)
        arrivals = compare_events(found, read.events)
        return Response(_present_read(read, arrivals))


class BringCalendarView(APIView):
    """A calendar file to bring in."""

    parser_classes = [MultiPartParser]

    @extend_schema(
        operation_id="bring_calendar", request=story.CalendarFileSerializer,
        responses={201: story.EventImportSerializer, **PROBLEMS},
    )  # fmt: skip
    def post(self, request: Request, workspace: str) -> Response:
        """Bring its events in: all, or with ``skip_broken`` those that can be read."""
        person = person_of(request)
        found = workspace_of(person, workspace)
        read, asked = _read(request, found.pk)
        if read.broken and not asked["skip_broken"]:
            raise RefusalError(
                f"{len(read.broken):,} of the events cannot be read; nothing was brought in.",
                *(
                    Issue(one.detail, one.remedy, "file", row=one.line)
                    for one in read.broken[:BROKEN_TOLD]
                ),
            )
        arrivals = compare_events(found, read.events)
        act = bring_events(found, person, read.events, asked["file"].name, asked["kpis"])
        changed = len(arrivals.changed)
        return Response({"id": act.pk, "added": act.added, "changed": changed}, status=201)


class BroughtCalendarView(APIView):
    """A calendar file that was brought in."""

    @extend_schema(operation_id="take_calendar_back", request=None,
                   responses={204: None, **PROBLEMS})  # fmt: skip
    def delete(self, request: Request, workspace: str, number: int) -> Response:
        """Take the events that came with it back, but for those changed since."""
        take_events_back(workspace_of(person_of(request), workspace), number)
        return Response(status=204)


def _read(request: Request, workspace: int) -> tuple[CalendarRead, dict[str, Any]]:
    asked = checked(story.CalendarFileSerializer, request.data)
    if asked["file"].size > MOST_BYTES:
        raise RefusalError(
            "This file is too large.",
            Issue("At most 20 MB can be read.", "Export fewer events.", "file"),
        )
    first = Kpi.objects.filter(workspace=workspace).order_by("pk").first()
    zone = ZoneInfo(first.time_zone if first else "UTC")
    until = timezone.now().astimezone(zone).date() + REPEATS_AHEAD
    try:
        return read_calendar(asked["file"].read(), zone, until), asked
    except NoCalendarError as error:
        raise RefusalError(
            "This is not a calendar file.",
            Issue(str(error), "Export the calendar as iCalendar (.ics) and choose that.", "file"),
        ) from None


def _present_read(read: CalendarRead, arrivals: Arrivals) -> dict[str, Any]:
    return {
        "new": len(arrivals.new),
        "changed": len(arrivals.changed),
        "same": arrivals.same,
        "repeated": read.repeated,
        "broken": [
            {"line": one.line, "detail": one.detail, "remedy": one.remedy}
            for one in read.broken[:BROKEN_TOLD]
        ],
        "broken_count": len(read.broken),
        "sample": [
            {
                "id": 0, "title": one.title, "kind": one.kind, "text": one.text,
                "first": one.first.isoformat(), "last": one.last.isoformat(),
                "everywhere": not one.kpis, "kpis": one.kpis, "version": 0,
            }
            for one in (*arrivals.new, *arrivals.changed)[:BROKEN_TOLD]
        ],
    }  # fmt: skip
