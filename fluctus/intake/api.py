"""Tables over HTTP: uploads, what is understood of them, and imports."""

from django.contrib.auth.models import User
from drf_spectacular.utils import extend_schema
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.access import refuse_below, refuse_of_others
from fluctus.accounts.models import Role
from fluctus.accounts.queries import workspace_of
from fluctus.http.problems import PROBLEMS
from fluctus.http.refusals import Issue, RefusalError
from fluctus.http.requests import checked, person_of
from fluctus.http.shapes import schema_of, schema_of_list
from fluctus.intake import requests, services, shapes
from fluctus.intake.answers import import_answer, reading_answer
from fluctus.intake.jobs import begin, begin_again, open_later
from fluctus.intake.queries import import_of, imports_of
from fluctus.intake.readings import HEAD, is_long, look_at
from fluctus.intake.uploaded import being_read, mapping_of, uploaded_answer
from fluctus.intake.uploads import (
    SlowTableError,
    forget,
    is_opened,
    is_under_way,
    keep_upload,
    opened,
    upload_of,
)
from fluctus.jobs.life import cancel
from fluctus.kpis.actor import actor_of
from fluctus.kpis.chart.queries import kpi_of
from fluctus.kpis.models import Kpi
from fluctus.kpis.values.services import ImportMode

BEING_READ = Issue(
    "It is being read in the background.", "Look again in half a minute, or choose another sheet."
)


class UploadsView(APIView):
    """Tables that are kept until they are brought in."""

    parser_classes = [MultiPartParser]

    @extend_schema(
        operation_id="upload",
        parameters=[requests.IntoSerializer],
        request={"multipart/form-data": requests.UploadRequestSerializer},
        responses={201: schema_of(shapes.Uploaded), 202: schema_of(shapes.Uploaded), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str) -> Response:
        """Keep a table; ``into`` names the KPI it is for. One that takes long is read later."""
        person = person_of(request)
        workspace_row = workspace_of(person, workspace)
        into = _into(person, workspace, requests.IntoSerializer.of(request).get("into"))
        form = checked(requests.UploadRequestSerializer, request.data)
        file = form.get("file")
        blocks = [form.get("text", "").encode()] if file is None else file.chunks()
        upload = keep_upload(workspace_row, person, "" if file is None else file.name or "", blocks)
        try:
            table = opened(upload, None)
        except SlowTableError:
            open_later(upload, None)
            return Response(being_read(upload), status=202)
        except RefusalError:
            forget(upload)
            raise
        return Response(uploaded_answer(upload, table, into), status=201)


def _into(person: User, workspace: str, slug: str | None) -> Kpi | None:
    return None if slug is None else kpi_of(person, workspace, slug)


class UploadView(APIView):
    """An upload that is not brought in yet."""

    @extend_schema(
        operation_id="uploaded",
        parameters=[requests.IntoSerializer],
        responses={200: schema_of(shapes.Uploaded), 202: schema_of(shapes.Uploaded), **PROBLEMS},
    )
    def get(self, request: Request, workspace: str, upload: int) -> Response:
        """Return what it is; 202 while it is being read."""
        person = person_of(request)
        into = _into(person, workspace, requests.IntoSerializer.of(request).get("into"))
        row = upload_of(person, workspace, upload)
        if not is_opened(row):
            return Response(being_read(row), status=202)
        return Response(uploaded_answer(row, opened(row, None), into))

    @extend_schema(operation_id="drop_upload", request=None, responses={204: None, **PROBLEMS})
    def delete(self, request: Request, workspace: str, upload: int) -> Response:
        """Drop it; an import of it that is on its way keeps it until it has ended."""
        row = upload_of(person_of(request), workspace, upload)
        if not is_under_way(row):
            forget(row)
        return Response(status=204)


class ReadView(APIView):
    """An upload as it is understood."""

    @extend_schema(
        operation_id="read_upload",
        request=requests.ReadRequestSerializer,
        responses={200: schema_of(shapes.Reading), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, upload: int) -> Response:
        """Describe what is understood of it, what is wrong with it, and draw the chart to be."""
        person = person_of(request)
        form = checked(requests.ReadRequestSerializer, request.data)
        row = upload_of(person, workspace, upload)
        into = _into(person, workspace, form["into"])
        mapping = mapping_of(form["mapping"], row, into)
        try:
            reading, table = look_at(row, mapping, None if form["whole"] else HEAD)
        except SlowTableError as slow:
            open_later(row, mapping.sheet)
            raise RefusalError("This sheet takes long to read.", BEING_READ, status=503) from slow
        answer = reading_answer(reading, table, row, into, form["shown"], actor_of(request))
        return Response(answer)


class ImportsView(APIView):
    """Everything that was brought into a workspace."""

    @extend_schema(
        operation_id="imports",
        parameters=[requests.ImportsQuerySerializer],
        responses={200: schema_of_list(shapes.Import), **PROBLEMS},
    )
    def get(self, request: Request, workspace: str) -> Response:
        """List imports, newest first."""
        person = person_of(request)
        workspace_of(person, workspace)
        before = requests.ImportsQuerySerializer.of(request).get("before")
        return Response([import_answer(row) for row in imports_of(person, workspace, before)])


class BringInView(APIView):
    """An upload to be brought in."""

    @extend_schema(
        operation_id="bring_in",
        request=requests.ImportRequestSerializer,
        responses={201: schema_of(shapes.Import), 202: schema_of(shapes.Import), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, upload: int) -> Response:
        """Bring it in, all of it or nothing; a long one in the background (202)."""
        person = person_of(request)
        form = checked(requests.ImportRequestSerializer, request.data)
        if form["into"] is None:
            refuse_below(request, Role.EDITOR, "Making a KPI")
        row = upload_of(person, workspace, upload)
        into = _into(person, workspace, form["into"])
        mapping, mode = mapping_of(form["mapping"], row, into), ImportMode(form["mode"])
        number = begin(row, actor_of(request), mapping, mode, into)
        answer = import_answer(import_of(person, workspace, number))
        return Response(answer, status=202 if is_long(row) else 201)


class ImportView(APIView):
    """One import."""

    @extend_schema(operation_id="import", responses={200: schema_of(shapes.Import), **PROBLEMS})
    def get(self, request: Request, workspace: str, number: int) -> Response:
        """Describe how far it is, or what came of it."""
        return Response(import_answer(import_of(person_of(request), workspace, number)))


class CancelImportView(APIView):
    """An import on its way."""

    @extend_schema(
        operation_id="cancel_import",
        request=None,
        responses={200: schema_of(shapes.Import), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, number: int) -> Response:
        """Ask it to stop; nothing of it is saved then."""
        person = person_of(request)
        cancel(import_of(person, workspace, number), "import", "Undo it instead.")
        return Response(import_answer(import_of(person, workspace, number)))


class BeginAgainView(APIView):
    """An import that has failed."""

    @extend_schema(
        operation_id="begin_import_again",
        request=None,
        responses={202: schema_of(shapes.Import), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, number: int) -> Response:
        """Start it again, in the background."""
        person = person_of(request)
        begin_again(import_of(person, workspace, number))
        return Response(import_answer(import_of(person, workspace, number)), status=202)


class UndoImportView(APIView):
    """An import that is done."""

    @extend_schema(
        operation_id="undo_import",
        request=requests.UndoSerializer,
        responses={200: schema_of(shapes.Import), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, number: int) -> Response:
        """Take back what it did, and give back what it replaced."""
        person = person_of(request)
        later = checked(requests.UndoSerializer, request.data)["later"]
        row = import_of(person, workspace, number)
        others = None if later == "discard" else row.person_id
        refuse_of_others(request, others, Role.EDITOR, "Undoing what others brought in")
        services.undo_import(row, actor_of(request), later)
        return Response(import_answer(import_of(person, workspace, number)))
