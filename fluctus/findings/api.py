"""Findings over HTTP."""

from typing import Any

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.models import Workspace
from fluctus.accounts.queries import workspace_of
from fluctus.findings import shapes
from fluctus.findings.answers import (
    findings_as_csv,
    present_entry,
    present_finding,
    present_surroundings,
    present_why,
)
from fluctus.findings.models import Finding
from fluctus.findings.queries import (
    AT_ONCE,
    Wanted,
    counts_of,
    entries_of,
    finding_of,
    findings_in,
    in_states,
    people_of,
    surroundings_of,
)
from fluctus.findings.services import add_remark, change_finding
from fluctus.kpis.chart.api import IF_MATCH, PROBLEMS, checked, person_of, seen_revision
from fluctus.kpis.chart.queries import chart_of, kpi_of


class LogView(APIView):
    """The findings of a workspace, across its KPIs."""

    @extend_schema(
        operation_id="findings", parameters=[shapes.LogQuerySerializer],
        responses={200: shapes.LogSerializer, **PROBLEMS},
    )  # fmt: skip
    def get(self, request: Request, workspace: str) -> Response:
        """Give a stretch of those wanted, newest first, with how many there are by state."""
        found = workspace_of(person_of(request), workspace)
        asked, start = _asked(request)
        rows = findings_in(found, asked)
        own = in_states(rows, asked.state)
        counts = counts_of(rows)
        page = own.select_related("kpi", "person")[start : start + AT_ONCE]
        return Response(
            {
                "count": sum(counts[state] for state in asked.state or counts),
                "start": start,
                "counts": counts,
                "findings": [present_finding(one, one.kpi) for one in page],
                "people": people_of(found),
            }
        )


class LogCsvView(APIView):
    """The findings of a workspace as a file."""

    @extend_schema(
        operation_id="findings_csv", parameters=[shapes.LogQuerySerializer],
        responses={(200, "text/csv"): OpenApiTypes.STR},
    )  # fmt: skip
    def get(self, request: Request, workspace: str) -> HttpResponse:
        """Write all of those wanted as CSV."""
        found = workspace_of(person_of(request), workspace)
        asked, _ = _asked(request)
        rows = in_states(findings_in(found, asked), asked.state).select_related("kpi", "person")
        # A byte-order mark, so that spreadsheets read the names as UTF-8.
        text = "\ufeff" + "".join(findings_as_csv(rows.iterator(chunk_size=1000)))
        response = HttpResponse(text.encode(), content_type="text/csv; charset=utf-8")
        response["Content-Disposition"] = f'attachment; filename="{found.slug}-findings.csv"'
        return response


def _asked(request: Request) -> tuple[Wanted, int]:
    query = request.query_params.dict() | {"state": request.query_params.getlist("state")}
    asked = checked(shapes.LogQuerySerializer, query)
    start = asked.pop("start")
    return Wanted(**asked), start


class KpiFindingsView(APIView):
    """The findings of one KPI."""

    @extend_schema(
        operation_id="kpi_findings",
        responses={200: shapes.FindingSerializer(many=True), **PROBLEMS},
    )
    def get(self, request: Request, workspace: str, kpi: str) -> Response:
        """Give the newest, with those that signal no more."""
        found = kpi_of(person_of(request), workspace, kpi)
        rows = Finding.objects.filter(kpi=found).select_related("person")
        newest = rows.order_by("-first", "-pk")[: 2 * AT_ONCE]
        return Response([present_finding(one, found) for one in newest])


class FindingView(APIView):
    """One finding."""

    @extend_schema(
        operation_id="finding", parameters=[shapes.WithinSerializer],
        responses={200: shapes.FindingDetailSerializer, **PROBLEMS},
    )  # fmt: skip
    def get(self, request: Request, workspace: str, number: int) -> Response:
        """Give it with why it is flagged, what was said, and what else was going on."""
        found = finding_of(person_of(request), workspace, number)
        return Response(_detail(found, request))

    @extend_schema(
        operation_id="change_finding", parameters=[IF_MATCH, shapes.WithinSerializer],
        request=shapes.FindingInSerializer,
        responses={200: shapes.FindingDetailSerializer, **PROBLEMS},
    )  # fmt: skip
    def patch(self, request: Request, workspace: str, number: int) -> Response:
        """Change what people make of it."""
        changes = checked(shapes.FindingInSerializer, request.data)
        person, version = person_of(request), seen_revision(request)
        change_finding(finding_of(person, workspace, number), version, changes, person)
        return Response(_detail(finding_of(person, workspace, number), request))


class RemarksView(APIView):
    """What is said of a finding."""

    @extend_schema(
        operation_id="add_remark", request=shapes.RemarkInSerializer,
        responses={201: shapes.EntrySerializer, **PROBLEMS},
    )  # fmt: skip
    def post(self, request: Request, workspace: str, number: int) -> Response:
        """Add a remark."""
        text = checked(shapes.RemarkInSerializer, request.data)["text"]
        person = person_of(request)
        entry = add_remark(finding_of(person, workspace, number), text, person)
        return Response(present_entry(entry), status=201)


def _detail(finding: Finding, request: Request) -> dict[str, Any]:
    within = checked(shapes.WithinSerializer, request.query_params)["within"]
    workspace: Workspace = finding.kpi.workspace
    return present_finding(finding, finding.kpi) | {
        "why": present_why(finding, chart_of(finding.kpi)),
        "entries": [present_entry(entry) for entry in entries_of(finding)],
        "surroundings": present_surroundings(finding, surroundings_of(finding, within)),
        "people": people_of(workspace),
    }
