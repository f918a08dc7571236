"""Readings that are kept, over HTTP."""

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.queries import workspace_of
from fluctus.http.problems import PROBLEMS
from fluctus.http.requests import checked, person_of
from fluctus.http.shapes import schema_of, schema_of_list
from fluctus.intake.kept import requests, services, shapes
from fluctus.intake.kept.recognition import HEAD
from fluctus.intake.kept.shape import shape_from, shape_of
from fluctus.intake.readings import look_at
from fluctus.intake.requests import plain_mapping
from fluctus.intake.understanding.mapping import Mapping
from fluctus.intake.uploads import upload_of
from fluctus.kpis.actor import actor_of


class KeptReadingsView(APIView):
    """The readings of a workspace."""

    @extend_schema(
        operation_id="kept_readings",
        responses={200: schema_of_list(shapes.KeptReading), **PROBLEMS},
    )
    def get(self, request: Request, workspace: str) -> Response:
        """List them by name."""
        row = workspace_of(person_of(request), workspace)
        rows = row.kept_readings.select_related("person").order_by("name")
        return Response([shapes.kept_answer(one) for one in rows])

    @extend_schema(
        operation_id="bring_reading",
        request=requests.ReadingFileSerializer,
        responses={201: schema_of(shapes.KeptReading), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str) -> Response:
        """Keep one that was written to a file."""
        form = checked(requests.ReadingFileSerializer, request.data)
        row = services.keep(
            workspace_of(person_of(request), workspace),
            actor_of(request),
            form["name"],
            shape_from(form["columns"]),
            Mapping.from_json(plain_mapping(form["mapping"])),
            replace=form["replace"],
        )
        return Response(shapes.kept_answer(row), status=201)


class KeptReadingView(APIView):
    """One of them."""

    @extend_schema(
        operation_id="reading_file",
        responses={200: schema_of(shapes.ReadingFile), **PROBLEMS},
    )
    def get(self, request: Request, workspace: str, number: int) -> Response:
        """Return it as a file."""
        row = services.kept_of(workspace_of(person_of(request), workspace), number)
        headers = {"Content-Disposition": f'attachment; filename="reading-{row.pk}.json"'}
        return Response(shapes.file_answer(row), headers=headers)

    @extend_schema(operation_id="remove_reading", responses={204: None, **PROBLEMS})
    def delete(self, request: Request, workspace: str, number: int) -> Response:
        """Remove it; imports that it was used for stay as they are."""
        services.kept_of(workspace_of(person_of(request), workspace), number).delete()
        return Response(status=204)


class KeepReadingView(APIView):
    """How an upload is read, to be kept."""

    @extend_schema(
        operation_id="keep_reading",
        request=requests.KeepSerializer,
        responses={201: schema_of(shapes.KeptReading), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, upload: int) -> Response:
        """Keep it by a name; the next table of that shape is read the same way."""
        person = person_of(request)
        form = checked(requests.KeepSerializer, request.data)
        row = upload_of(person, workspace, upload)
        mapping = Mapping.from_json(plain_mapping(form["mapping"]))
        reading, _ = look_at(row, mapping, HEAD)
        kept = services.keep(
            workspace_of(person, workspace),
            actor_of(request),
            form["name"],
            shape_of(reading),
            reading.mapping,
            replace=form["replace"],
        )
        return Response(shapes.kept_answer(kept), status=201)
