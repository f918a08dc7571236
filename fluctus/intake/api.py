"""Tables over HTTP: uploads, what is understood of them, and imports."""

from typing import Any

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
from fluctus.intake.answers import import_answer, reading_answer, sheet_rows
from fluctus.intake.jobs import begin, begin_again, open_later
from fluctus.intake.kept.recognition import as_it_is_written, fitted, recognized
from fluctus.intake.kept.shapes import recognized_answer
from fluctus.intake.models import Import, Upload
from fluctus.intake.queries import import_of, imports_of, last_layout, remembered
from fluctus.intake.readings import HEAD, is_long, look_at
from fluctus.intake.understanding.mapping import Mapping
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
from fluctus.kpis.values.fractions import is_share
from fluctus.kpis.values.services import ImportMode
from fluctus.tables.formats.table_format import Opened
from fluctus.tables.grid import Grid

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
            return Response(_being_read(upload), status=202)
        except RefusalError:
            forget(upload)
            raise
        return Response(_uploaded(upload, table, into), status=201)


def _uploaded(upload: Upload, table: Opened, into: Kpi | None) -> shapes.Uploaded:
    last = None if into is None else last_layout(into)
    if last is not None and not _fits(last[0], table.grid.rows(0, 40)):
        last = None
    known = recognized(upload, table.grid) if last is None else None
    mapping, differs = (known.mapping, known.differs) if known else (None, ())
    if last is not None:
        mapping, differs = _fitted(last[1].for_the_next(), table.grid)
    return shapes.Uploaded(
        id=upload.pk,
        name=upload.name,
        sheets=table.sheets,
        last=mapping,
        last_import=last and f"{last[0]}, {last[0].at:%-d %b %Y}",
        recognized=recognized_answer(known) if known else None,
        differs=differs,
        sheet_rows=sheet_rows(table.grid),
        being_read=False,
    )


def _fitted(last: Mapping, grid: Grid) -> tuple[Mapping, tuple[str, ...]]:
    """Return how the newest table of a KPI was read as it fits this one, if it can be read so."""
    try:
        return fitted(last, as_it_is_written(last, grid))
    except RefusalError:
        return last, ()


def _being_read(upload: Upload) -> shapes.Uploaded:
    return shapes.Uploaded(
        id=upload.pk,
        name=upload.name,
        sheets=(),
        last=None,
        last_import=None,
        recognized=None,
        differs=(),
        sheet_rows=[],
        being_read=True,
    )


def _fits(last: Import, rows: list[tuple[str, ...]]) -> bool:
    """Tell whether a table has the columns of the one that was brought in last."""
    cells = {cell for row in rows for cell in row}
    mapping = Mapping.from_json(last.mapping)
    used = [name for name, role in mapping.roles.items() if role.value not in ("ignore", "note")]
    parts = [name for name in used if name in last.columns]
    return bool(parts) and all(name in cells or name.startswith("Column ") for name in parts)


def _into(person: User, workspace: str, slug: str | None) -> Kpi | None:
    return None if slug is None else kpi_of(person, workspace, slug)


def _mapping(data: dict[str, Any], upload: Upload, into: Kpi | None) -> Mapping:
    mapping = remembered(upload.workspace, Mapping.from_json(requests.plain_mapping(data)))
    if into is None:
        return mapping
    # What a KPI has is settled: values come in at its own grain and in its own calendar.
    settled = {
        "grain": into.grain,
        "time_zone": into.time_zone,
        "first_weekday": into.first_weekday,
        "first_month": into.first_month,
        "aggregation": into.aggregation,
        "times": into.times,
        "share": is_share(into),
    }
    return Mapping.from_json(mapping.to_json() | settled)


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
            return Response(_being_read(row), status=202)
        return Response(_uploaded(row, opened(row, None), into))

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
        mapping = _mapping(form["mapping"], row, into)
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
        mapping, mode = _mapping(form["mapping"], row, into), ImportMode(form["mode"])
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
