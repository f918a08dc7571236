"""Reports over HTTP."""

from typing import Any

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiResponse, extend_schema
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.access import refuse_of_others
from fluctus.accounts.models import Role
from fluctus.accounts.queries import name_of, workspace_of
from fluctus.accounts.record.exports import note_export
from fluctus.http import clock
from fluctus.http.problems import PROBLEMS
from fluctus.http.refusals import Issue, RefusalError
from fluctus.http.requests import LIST_PAGE, checked, person_of
from fluctus.http.shapes import schema_of
from fluctus.intake.answers import import_answer
from fluctus.intake.queries import import_of
from fluctus.intake.shapes import Import as ImportShape
from fluctus.intake.uploads import keep_upload
from fluctus.jobs import life
from fluctus.jobs.models import JobStatus
from fluctus.kpis.actor import actor_of
from fluctus.reports import models, requests, services, shapes
from fluctus.reports.asked import Asked
from fluctus.reports.jobs import order
from fluctus.reports.models import Format
from fluctus.reports.outputs.registry import OUTPUTS, output_of
from fluctus.reports.package.services import plan_package
from fluctus.reports.queries import file_name_of, file_of, report_of, reports_of

BYTES = OpenApiResponse(OpenApiTypes.BINARY, description="The file.")
TAKEN: dict[tuple[int, str], OpenApiResponse] = {
    (200, output.media_type): BYTES for output in OUTPUTS.values()
}
"""How the description of the API tells of the file of a report."""


class ReportsView(APIView):
    """The reports of a workspace."""

    @extend_schema(
        operation_id="reports",
        parameters=[requests.ReportsSerializer],
        responses={200: schema_of(shapes.Reports), **PROBLEMS},
    )
    def get(self, request: Request, workspace: str) -> Response:
        """Return a stretch of them, newest first."""
        start = requests.ReportsSerializer.of(request)["start"]
        rows = reports_of(workspace_of(person_of(request), workspace))
        found = [report_answer(row) for row in rows[start : start + LIST_PAGE]]
        return Response(shapes.Reports(rows.count(), start, found))

    @extend_schema(
        operation_id="make_report",
        request=requests.NewReportSerializer,
        responses={202: schema_of(shapes.Report), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str) -> Response:
        """Ask for one; it is made in the background."""
        person, form = person_of(request), checked(requests.NewReportSerializer, request.data)
        workspace_row, asked = workspace_of(person, workspace), requests.asked_of(form)
        report = order(
            lambda: services.ask_for(
                workspace_row, person, form["title"], Format(form["format"]), asked, clock.now()
            )
        )
        return Response(report_answer(report), status=202)


class PackagesView(APIView):
    """Data packages that come in."""

    parser_classes = [MultiPartParser]

    @extend_schema(
        operation_id="bring_package",
        request={"multipart/form-data": requests.PackageSerializer},
        responses={202: schema_of(ImportShape), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str) -> Response:
        """Bring one in, all of it or nothing, in the background; it is an import like others."""
        person = person_of(request)
        workspace_row = workspace_of(person, workspace)
        file = checked(requests.PackageSerializer, request.data)["file"]
        upload = keep_upload(workspace_row, person, file.name or "", file.chunks())
        planned = plan_package(upload, actor_of(request))
        return Response(import_answer(import_of(person, workspace, planned.pk)), status=202)


class ReportView(APIView):
    """One report."""

    @extend_schema(operation_id="report", responses={200: schema_of(shapes.Report), **PROBLEMS})
    def get(self, request: Request, workspace: str, number: int) -> Response:
        """Return how far it is, and what it shows."""
        return Response(report_answer(report_of(person_of(request), workspace, number)))

    @extend_schema(operation_id="delete_report", responses={204: None, **PROBLEMS})
    def delete(self, request: Request, workspace: str, number: int) -> Response:
        """Delete it; who is no editor, their own."""
        person = person_of(request)
        report = report_of(person, workspace, number)
        refuse_of_others(request, report.person_id, Role.EDITOR, "Deleting reports of others")
        services.delete(report, person, clock.now())
        return Response(status=204)


class CancelReportView(APIView):
    """A report on its way."""

    @extend_schema(
        operation_id="cancel_report",
        request=None,
        responses={200: schema_of(shapes.Report), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, number: int) -> Response:
        """Ask it to stop; who is no editor, their own."""
        person = person_of(request)
        report = report_of(person, workspace, number)
        refuse_of_others(request, report.person_id, Role.EDITOR, "Cancelling reports of others")
        life.cancel(report, "report", "Delete it instead.")
        return Response(report_answer(report_of(person, workspace, number)))


class ReportAgainView(APIView):
    """A report to be made again."""

    @extend_schema(
        operation_id="make_report_again",
        request=None,
        responses={202: schema_of(shapes.Report), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, number: int) -> Response:
        """Make it with the data of today, as a report of its own."""
        person = person_of(request)
        before = report_of(person, workspace, number)
        report = order(lambda: services.ask_again(before, person, clock.now()))
        return Response(report_answer(report), status=202)


class ReportFileView(APIView):
    """The file of a report."""

    @extend_schema(
        operation_id="report_file",
        responses=TAKEN | PROBLEMS,
    )
    def get(self, request: Request, workspace: str, number: int) -> HttpResponse:
        """Return it, to be saved."""
        person = person_of(request)
        report = report_of(person, workspace, number)
        answer = file_response(report)
        note_export(request, report.workspace, f"“{report.title}”")
        return answer


class ReportPageView(APIView):
    """A page of a report, as a picture."""

    @extend_schema(operation_id="report_page", responses={(200, "image/png"): BYTES} | PROBLEMS)
    def get(self, request: Request, workspace: str, number: int, page: int) -> HttpResponse:
        """Return it; the first is page 1."""
        return page_response(report_of(person_of(request), workspace, number), page)


def file_response(report: models.Report) -> HttpResponse:
    """Answer with the file of a report."""
    return HttpResponse(
        file_of(report),
        content_type=output_of(report.format).media_type,
        headers={"Content-Disposition": f'attachment; filename="{file_name_of(report)}"'},
    )


def page_response(report: models.Report, page: int) -> HttpResponse:
    """Answer with a picture of a page."""
    if not output_of(report.format).previewed:
        raise RefusalError(
            "This report has no pages to look at.",
            Issue("Only a PDF has.", "Take the file, and open it."),
            status=409,
        )
    return HttpResponse(services.picture_of(report, page), content_type="image/png")


def report_answer(report: models.Report) -> shapes.Report:
    """Return a report as the list shows it."""
    asked, problem = Asked.from_json(report.asked), report.problem
    return shapes.Report(
        id=report.pk,
        title=report.title,
        format=Format(report.format),
        scope=asked.scope,
        paper=asked.paper,
        person=name_of(report.person),
        at=report.at,
        status=JobStatus(report.status),
        stage=report.stage,
        progress=report.progress,
        problem=problem and _problem(problem),
        pages=report.pages,
        shows=[shapes.ShownKpi(**shown) for shown in report.shows],
        left_out=report.left_out,
    )


def _problem(kept: dict[str, Any]) -> shapes.ReportProblem:
    return shapes.ReportProblem(kept["title"], [Issue(**issue) for issue in kept["issues"]])
