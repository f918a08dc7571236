"""Findings over HTTP."""

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.queries import workspace_of
from fluctus.accounts.record.exports import note_export
from fluctus.findings import requests, shapes
from fluctus.findings.answers import detail_answer, entry_answer, finding_answer
from fluctus.findings.csv_export import findings_as_csv
from fluctus.findings.models import Finding
from fluctus.findings.queries import (
    Order,
    Wanted,
    counts_of,
    finding_of,
    findings_in,
    in_order,
    in_states,
    look_of,
    new_since,
    newest_of,
    news_of,
    people_of,
    surroundings_of,
    unexplained_in,
)
from fluctus.findings.services import add_remark, change_finding, change_findings, note_look
from fluctus.http import clock
from fluctus.http.csv_cells import csv_file, csv_text
from fluctus.http.problems import PROBLEMS
from fluctus.http.requests import LIST_PAGE, checked, person_of
from fluctus.http.revisions import IF_MATCH, seen_revision
from fluctus.http.shapes import schema_of, schema_of_list
from fluctus.http.snapshots import one_snapshot
from fluctus.kpis.chart.queries import chart_of, kpi_of


class LogView(APIView):
    """The findings of a workspace, across its KPIs."""

    @extend_schema(
        operation_id="findings",
        parameters=[requests.LogQuerySerializer],
        responses={200: schema_of(shapes.Log), **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str) -> Response:
        """Return a stretch of those wanted, in the order that is asked for."""
        person = person_of(request)
        workspace_row = workspace_of(person, workspace)
        filters, start, order = _wanted(request)
        rows = findings_in(workspace_row, filters)
        counts = counts_of(rows)
        look = look_of(person, workspace_row)
        since = look.since if look else None
        chosen = in_states(rows, filters.state)
        found = in_order(chosen, since, order).select_related("kpi", "person")
        return Response(
            shapes.Log(
                count=sum(counts[state] for state in filters.state or counts),
                start=start,
                counts=shapes.StateCounts(**counts),
                new=chosen.filter(found_at__gt=since).count() if since else 0,
                since=since.isoformat() if since else None,
                findings=[finding_answer(each, since) for each in found[start : start + LIST_PAGE]],
                people=people_of(workspace_row),
            )
        )


class LogCsvView(APIView):
    """The findings of a workspace as a file."""

    @extend_schema(
        operation_id="findings_csv",
        parameters=[requests.LogQuerySerializer],
        responses={(200, "text/csv"): OpenApiTypes.STR, **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str) -> HttpResponse:
        """Write all of those wanted as CSV."""
        workspace_row = workspace_of(person_of(request), workspace)
        filters, _, _ = _wanted(request)
        rows = in_states(findings_in(workspace_row, filters), filters.state).select_related(
            "kpi", "person"
        )
        rows = rows.order_by("-first", "-pk")
        note_export(request, workspace_row, "the log of findings")
        content = csv_text(findings_as_csv(rows.iterator(chunk_size=1000)))
        return csv_file(content.encode(), f"{workspace_row.slug}-findings")


def _wanted(request: Request) -> tuple[Wanted, int, Order]:
    query = requests.LogQuerySerializer.of(request)
    start, order = query.pop("start"), Order(query.pop("order"))
    return Wanted(**query), start, order


class NewView(APIView):
    """What is new of the findings of a workspace, to one person."""

    @extend_schema(operation_id="new_findings", responses={200: schema_of(shapes.New), **PROBLEMS})
    @one_snapshot()
    def get(self, request: Request, workspace: str) -> Response:
        """Count what came since they last looked, and what has no cause."""
        person = person_of(request)
        workspace_row = workspace_of(person, workspace)
        look = look_of(person, workspace_row)
        return Response(
            shapes.New(
                new=new_since(workspace_row, look.at if look else None),
                open=unexplained_in(workspace_row).count(),
            )
        )

    @extend_schema(operation_id="look_at_findings", request=None, responses={204: None, **PROBLEMS})
    def post(self, request: Request, workspace: str) -> Response:
        """Note that the person looks through them now."""
        person = person_of(request)
        note_look(person, workspace_of(person, workspace), clock.now())
        return Response(status=204)


class NewsView(APIView):
    """What is new in each workspace of one person."""

    @extend_schema(operation_id="news", responses={200: schema_of_list(shapes.News), **PROBLEMS})
    def get(self, request: Request) -> Response:
        """Count by workspace what came since they last looked there; only where there is any."""
        news = news_of(person_of(request))
        return Response([shapes.News(slug, count) for slug, count in sorted(news.items())])


class CausesView(APIView):
    """What is made of several findings at once."""

    @extend_schema(
        operation_id="change_findings",
        request=requests.SeveralChangesSerializer,
        responses={200: schema_of_list(shapes.Finding), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str) -> Response:
        """Change all of them, or none."""
        person = person_of(request)
        workspace_row = workspace_of(person, workspace)
        form = checked(requests.SeveralChangesSerializer, request.data)
        seen = {item["id"]: item["version"] for item in form["findings"]}
        findings = change_findings(workspace_row, seen, form["changes"], person)
        return Response([finding_answer(finding) for finding in findings])


class KpiFindingsView(APIView):
    """The findings of one KPI."""

    @extend_schema(
        operation_id="kpi_findings", responses={200: schema_of_list(shapes.Finding), **PROBLEMS}
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str, kpi: str) -> Response:
        """Return the newest, with those that signal no more."""
        row = kpi_of(person_of(request), workspace, kpi)
        return Response([finding_answer(finding) for finding in newest_of(row)])


class FindingView(APIView):
    """One finding."""

    @extend_schema(
        operation_id="finding",
        parameters=[requests.WithinSerializer],
        responses={200: schema_of(shapes.FindingDetail), **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str, number: int) -> Response:
        """Return it with why it is flagged, what was said, and what else was going on."""
        within = requests.WithinSerializer.of(request)["within"]
        return _detail(finding_of(person_of(request), workspace, number), within)

    @extend_schema(
        operation_id="change_finding",
        parameters=[IF_MATCH, requests.WithinSerializer],
        request=requests.FindingChangesSerializer,
        responses={200: schema_of(shapes.FindingDetail), **PROBLEMS},
    )
    def patch(self, request: Request, workspace: str, number: int) -> Response:
        """Change what people make of it."""
        within = requests.WithinSerializer.of(request)["within"]
        changes = checked(requests.FindingChangesSerializer, request.data)
        person, version = person_of(request), seen_revision(request)
        change_finding(finding_of(person, workspace, number), version, changes, person)
        return _detail(finding_of(person, workspace, number), within)


class RemarksView(APIView):
    """What is said of a finding."""

    @extend_schema(
        operation_id="add_remark",
        request=requests.RemarkSerializer,
        responses={201: schema_of(shapes.Entry), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, number: int) -> Response:
        """Add a remark."""
        text = checked(requests.RemarkSerializer, request.data)["text"]
        person = person_of(request)
        entry = add_remark(finding_of(person, workspace, number), text, person)
        return Response(entry_answer(entry), status=201)


def _detail(finding: Finding, within: int) -> Response:
    chart = chart_of(finding.kpi, clock.now())
    return Response(detail_answer(finding, chart, surroundings_of(finding, within)))
