"""Calendar files over HTTP: read, brought in, taken back, and written."""

from datetime import datetime, timedelta
from pathlib import Path
from typing import Any
from zoneinfo import ZoneInfo

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.models import Workspace
from fluctus.accounts.queries import workspace_of
from fluctus.accounts.record.exports import note_export
from fluctus.http import clock
from fluctus.http.problems import PROBLEMS
from fluctus.http.refusals import Issue, RefusalError
from fluctus.http.requests import checked, person_of
from fluctus.http.shapes import schema_of
from fluctus.kpis.actor import actor_of
from fluctus.kpis.events import requests, shapes
from fluctus.kpis.events.answers import incoming_answer
from fluctus.kpis.events.calendar_files import bring_events, compare_events, take_events_back
from fluctus.kpis.events.queries import events_in
from fluctus.kpis.models import Kpi
from fluctus.kpis.observations.reading import first_period_in
from fluctus.tables.calendar_file import (
    CalendarEvent,
    CalendarRead,
    Days,
    NoCalendarError,
    read_calendar,
    write_calendar,
)
from fluctus.tables.grid import TableError
from fluctus.tables.isolation import TooMuchError, TooSlowError, run_isolated
from fluctus.tables.state_table import read_states

MOST_BYTES = 20_000_000
TOLD = 50
"""Events, or parts that are none, of which a preview tells."""
LONGEST = 25.0
"""Seconds: as many events as a calendar may hold take some ten where others are at work too."""
BEGINNING = 2_000
"""Bytes among which a calendar says that it is one."""
REPEATS_AHEAD = timedelta(days=366)


class EventsFileView(APIView):
    """The events of a workspace as a calendar file."""

    @extend_schema(
        operation_id="events_file", responses={(200, "text/calendar"): OpenApiTypes.STR, **PROBLEMS}
    )
    def get(self, request: Request, workspace: str) -> HttpResponse:
        """Write them as iCalendar."""
        workspace_row = workspace_of(person_of(request), workspace)
        note_export(request, workspace_row, "the calendar of events")
        content = calendar_of(workspace_row, clock.now())
        response = HttpResponse(content, content_type="text/calendar; charset=utf-8")
        response["Content-Disposition"] = f'attachment; filename="{workspace_row.slug}-events.ics"'
        return response


class ReadCalendarView(APIView):
    """What a calendar file would bring."""

    parser_classes = [MultiPartParser]

    @extend_schema(
        operation_id="read_calendar",
        request=requests.CalendarFileSerializer,
        responses={200: schema_of(shapes.CalendarRead), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str) -> Response:
        """Read it; saves nothing."""
        workspace_row = workspace_of(person_of(request), workspace)
        read, _ = _read(request, workspace_row)
        arrivals = compare_events(workspace_row, read.events)
        sample = (*arrivals.new, *arrivals.changed)[:TOLD]
        return Response(
            shapes.CalendarRead(
                new=len(arrivals.new),
                changed=len(arrivals.changed),
                same=arrivals.same,
                repeated=read.repeated,
                broken=[
                    shapes.BrokenEvent(part.line, part.detail, part.remedy)
                    for part in read.broken[:TOLD]
                ],
                broken_count=len(read.broken),
                sample=[incoming_answer(event) for event in sample],
            )
        )


class BringCalendarView(APIView):
    """A calendar file to bring in."""

    parser_classes = [MultiPartParser]

    @extend_schema(
        operation_id="bring_calendar",
        request=requests.CalendarFileSerializer,
        responses={201: schema_of(shapes.EventImport), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str) -> Response:
        """Bring its events in: all, or with ``skip_broken`` those that can be read."""
        workspace_row = workspace_of(person_of(request), workspace)
        read, form = _read(request, workspace_row)
        if read.broken and not form["skip_broken"]:
            raise RefusalError(
                f"{len(read.broken):,} of the events cannot be read; nothing was brought in.",
                *(
                    Issue(part.detail, part.remedy, "file", row=part.line)
                    for part in read.broken[:TOLD]
                ),
            )
        changed = len(compare_events(workspace_row, read.events).changed)
        name, slugs = form["file"].name, form["kpis"]
        act = bring_events(workspace_row, actor_of(request), read.events, name, slugs)
        return Response(shapes.EventImport(act.pk, act.added, changed), status=201)


class BroughtCalendarView(APIView):
    """A calendar file that was brought in."""

    @extend_schema(
        operation_id="take_calendar_back", request=None, responses={204: None, **PROBLEMS}
    )
    def delete(self, request: Request, workspace: str, number: int) -> Response:
        """Take the events that came with it back, but for those changed since."""
        take_events_back(workspace_of(person_of(request), workspace), number)
        return Response(status=204)


def _read(request: Request, workspace: Workspace) -> tuple[CalendarRead, dict[str, Any]]:
    form = checked(requests.CalendarFileSerializer, request.data)
    if form["file"].size > MOST_BYTES:
        raise RefusalError(
            "This file is too large.",
            Issue("At most 20 MB can be read.", "Export fewer events.", "file"),
        )
    content, days = form["file"].read(), _days_of(workspace)
    try:
        if b"BEGIN:VCALENDAR" in content[:BEGINNING].upper():
            return run_isolated(read_calendar, content, days, seconds=LONGEST), form
        name = Path(form["file"].name).stem.replace("-", " ").replace("_", " ").capitalize()
        return run_isolated(read_states, content, name, seconds=LONGEST), form
    except (NoCalendarError, TableError) as error:
        raise RefusalError(
            "This is neither a calendar nor a table of days.",
            Issue(
                str(error),
                "Choose a calendar (.ics), or a table with the days and the state of each.",
                "file",
            ),
        ) from None
    except (TooSlowError, TooMuchError) as error:
        raise RefusalError(
            "This calendar cannot be read.",
            Issue(
                "It takes too much time or memory to read.",
                "Export fewer events, such as those of the last two years.",
                "file",
            ),
        ) from error


def _days_of(workspace: Workspace) -> Days:
    """Return the days on which repeats are wanted: from the first value to a year ahead."""
    first = Kpi.objects.filter(workspace=workspace).order_by("pk").first()
    zone = ZoneInfo(first.time_zone if first else "UTC")
    today = clock.now().astimezone(zone).date()
    began = first_period_in(workspace)
    since = today - REPEATS_AHEAD if began is None else began.astimezone(zone).date()
    return Days(since, today + REPEATS_AHEAD, zone)


def calendar_of(workspace: Workspace, now: datetime) -> bytes:
    """Write the events of a workspace as iCalendar."""
    rows = events_in(workspace).order_by("first", "pk").prefetch_related("kpis")
    events = [
        CalendarEvent(
            event.uid,
            event.title,
            event.text,
            event.kind,
            event.first,
            event.last,
            tuple(kpi.slug for kpi in event.kpis.all()),
        )
        for event in rows
    ]
    return write_calendar(events, now)
