"""Tables over HTTP: uploads, what is understood of them, and imports."""

from collections.abc import Iterable
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from drf_spectacular.utils import extend_schema
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.queries import workspace_of
from fluctus.http.refusals import RefusalError
from fluctus.intake import services, shapes
from fluctus.intake.answers import present_import, present_reading
from fluctus.intake.jobs import bring_in
from fluctus.intake.models import Import
from fluctus.intake.queries import import_of, imports_of, last_layout
from fluctus.intake.understanding.mapping import Mapping
from fluctus.intake.uploads import forget, keep_upload, opened, upload_of
from fluctus.kpis.chart.api import PROBLEMS, checked, person_of
from fluctus.kpis.chart.queries import kpi_of
from fluctus.kpis.models import Kpi
from fluctus.kpis.values.services import Mode

LOOKED_AT = 200_000
"""So many rows a preview reads; an import reads them all."""


class UploadsView(APIView):
    """Tables that are kept until they are brought in."""

    parser_classes = [MultiPartParser]

    @extend_schema(
        operation_id="upload", request={"multipart/form-data": shapes.UploadRequestSerializer},
        responses={201: shapes.UploadedSerializer, **PROBLEMS},
    )  # fmt: skip
    def post(self, request: Request, workspace: str) -> Response:
        """Keep a table; ``?into=`` names the KPI it is for."""
        person = person_of(request)
        place = workspace_of(person, workspace)
        into = _into(person, workspace, request.query_params.get("into"))
        sent = checked(shapes.UploadRequestSerializer, request.data)
        file = sent.get("file")
        blocks: Iterable[bytes] = (
            file.chunks() if file is not None else [sent.get("text", "").encode()]
        )
        name = file.name or "" if file is not None else ""
        upload = keep_upload(place, person, name, blocks)
        try:
            table = opened(upload, None)
        except RefusalError:
            forget(upload)
            raise
        last = None if into is None else last_layout(into)
        known = last is not None and _fits(last[0], table.grid.rows(0, 40))
        return Response(
            {
                "id": upload.pk,
                "name": upload.name,
                "sheets": table.sheets,
                "last": last[1].for_the_next().to_json() if last and known else None,
                "last_import": f"{last[0]}, {last[0].at:%-d %b %Y}" if last and known else None,
            },
            status=201,
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


def _mapping(data: dict[str, Any], into: Kpi | None) -> Mapping:
    mapping = Mapping.from_json(shapes.plain_mapping(data))
    if into is None:
        return mapping
    # What a KPI has is settled: values come in at its own grain and in its own calendar.
    settled = {
        "grain": into.grain, "time_zone": into.time_zone, "first_weekday": into.first_weekday,
        "first_month": into.first_month, "aggregation": into.aggregation,
    }  # fmt: skip
    return Mapping.from_json(mapping.to_json() | settled)


class ReadView(APIView):
    """An upload as it is understood."""

    @extend_schema(
        operation_id="read_upload", request=shapes.ReadRequestSerializer,
        responses={200: shapes.ReadingSerializer, **PROBLEMS},
    )  # fmt: skip
    def post(self, request: Request, workspace: str, upload: int) -> Response:
        """Say what is understood of it, what is wrong with it, and draw the chart to be."""
        person = person_of(request)
        asked = checked(shapes.ReadRequestSerializer, request.data)
        found = upload_of(person, workspace, upload)
        into = _into(person, workspace, asked["into"])
        mapping = _mapping(asked["mapping"], into)
        reading, table = services.reading_for(found, mapping, LOOKED_AT)
        return Response(present_reading(reading, table, found, into, asked["shown"]))


class ImportsView(APIView):
    """Everything that was brought into a workspace."""

    @extend_schema(
        operation_id="imports", parameters=[shapes.ImportsQuerySerializer],
        responses={200: shapes.ImportSerializer(many=True), **PROBLEMS},
    )  # fmt: skip
    def get(self, request: Request, workspace: str) -> Response:
        """List imports, newest first."""
        person = person_of(request)
        workspace_of(person, workspace)
        asked = checked(shapes.ImportsQuerySerializer, request.query_params)
        rows = imports_of(person, workspace, asked.get("before"))
        return Response([present_import(row) for row in rows])


class BringInView(APIView):
    """An upload to be brought in."""

    @extend_schema(
        operation_id="bring_in", request=shapes.ImportRequestSerializer,
        responses={201: shapes.ImportSerializer, 202: shapes.ImportSerializer, **PROBLEMS},
    )  # fmt: skip
    def post(self, request: Request, workspace: str, upload: int) -> Response:
        """Bring it in, all of it or nothing; a long one in the background (202)."""
        person = person_of(request)
        asked = checked(shapes.ImportRequestSerializer, request.data)
        found = upload_of(person, workspace, upload)
        into = _into(person, workspace, asked["into"])
        mapping = _mapping(asked["mapping"], into)
        mode = Mode(asked["mode"])
        long = services.is_long(found)
        with transaction.atomic():
            one = services.plan_import(found.workspace, person, found, mapping, mode, into)
            if long:
                bring_in.defer(import_id=one.pk)
            else:
                services.carry_out(one)
        row = import_of(person, workspace, one.pk)
        return Response(present_import(row), status=202 if long else 201)


class ImportView(APIView):
    """One import."""

    @extend_schema(operation_id="import", responses={200: shapes.ImportSerializer, **PROBLEMS})
    def get(self, request: Request, workspace: str, number: int) -> Response:
        """Say how far it is, or what came of it."""
        return Response(present_import(import_of(person_of(request), workspace, number)))


class CancelImportView(APIView):
    """An import on its way."""

    @extend_schema(
        operation_id="cancel_import", request=None,
        responses={200: shapes.ImportSerializer, **PROBLEMS},
    )  # fmt: skip
    def post(self, request: Request, workspace: str, number: int) -> Response:
        """Ask it to stop; nothing of it is saved then."""
        person = person_of(request)
        services.ask_to_cancel(import_of(person, workspace, number))
        return Response(present_import(import_of(person, workspace, number)))


class UndoImportView(APIView):
    """An import that is done."""

    @extend_schema(
        operation_id="undo_import", request=shapes.UndoSerializer,
        responses={200: shapes.ImportSerializer, 409: PROBLEMS[404], **PROBLEMS},
    )  # fmt: skip
    def post(self, request: Request, workspace: str, number: int) -> Response:
        """Take back what it did, and give back what it replaced."""
        person = person_of(request)
        later = checked(shapes.UndoSerializer, request.data)["later"]
        services.undo_import(import_of(person, workspace, number), person, later)
        return Response(present_import(import_of(person, workspace, number)))
