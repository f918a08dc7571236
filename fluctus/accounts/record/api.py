"""The record over HTTP: it is read, and never changed."""

from dataclasses import dataclass
from datetime import datetime

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.models import RecordEntry
from fluctus.accounts.queries import workspace_of
from fluctus.http.problems import PROBLEMS
from fluctus.http.requests import LIST_PAGE, Query, StartField, person_of
from fluctus.http.shapes import Shape, schema_of


@dataclass(frozen=True, slots=True)
class RecordedEvent(Shape):
    """Something that somebody did."""

    id: int
    at: datetime
    person: str
    """Who; "" for somebody without an account."""
    kind: str
    text: str
    address: str
    """The network address that it was asked from, where that was kept."""


@dataclass(frozen=True, slots=True)
class Record(Shape):
    """A stretch of the record, newest first."""

    count: int
    start: int
    audit_events: list[RecordedEvent]


class RecordQuerySerializer(Query):
    """Which stretch."""

    start = StartField()


class RecordView(APIView):
    """Who did what in a workspace."""

    @extend_schema(
        operation_id="record",
        parameters=[RecordQuerySerializer],
        responses={200: schema_of(Record), **PROBLEMS},
    )
    def get(self, request: Request, workspace: str) -> Response:
        """Return a stretch of the record."""
        start = RecordQuerySerializer.of(request)["start"]
        workspace_row = workspace_of(person_of(request), workspace)
        rows = RecordEntry.objects.filter(workspace=workspace_row).order_by("-id")
        audit_events = [
            RecordedEvent(row.pk, row.at, row.person, row.kind, row.text, row.address)
            for row in rows[start : start + LIST_PAGE]
        ]
        return Response(Record(rows.count(), start, audit_events))
