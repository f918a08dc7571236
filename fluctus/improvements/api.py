"""Improvements over HTTP."""

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.models import Workspace
from fluctus.accounts.queries import workspace_of
from fluctus.http import clock
from fluctus.http.problems import PROBLEMS
from fluctus.http.requests import checked, person_of
from fluctus.http.revisions import IF_MATCH, seen_revision
from fluctus.http.shapes import schema_of
from fluctus.http.snapshots import one_snapshot
from fluctus.improvements import requests, shapes
from fluctus.improvements.answers import (
    detail_answer,
    expected_answer,
    improvement_answers,
    totals_of,
)
from fluctus.improvements.models import Aim, Improvement
from fluctus.improvements.queries import improvement_of, improvements_in
from fluctus.improvements.services import (
    bring_back,
    change_improvement,
    create_improvement,
    remove_improvement,
)
from fluctus.kpis.actor import actor_of
from fluctus.kpis.chart.queries import chart_of, kpi_of


def every_aim(workspace: Workspace) -> list[Aim]:
    """Return the aims of all improvements of a workspace that are not removed."""
    rows = Aim.objects.filter(improvement__workspace=workspace, improvement__removed_at=None)
    return list(rows.select_related("improvement").defer("outcome"))


def _detail(row: Improvement, status: int = 200) -> Response:
    answer = detail_answer(row, every_aim(row.workspace))
    return Response(answer, status=status, headers={"ETag": f'"{row.version}"'})


class ImprovementsView(APIView):
    """The improvements of a workspace."""

    @extend_schema(
        operation_id="improvements",
        parameters=[requests.ImprovementsQuerySerializer],
        responses={200: schema_of(shapes.Ledger), **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str) -> Response:
        """List them with what came of each, and the sums of what is worth the same."""
        query = requests.ImprovementsQuerySerializer.of(request)
        row = workspace_of(person_of(request), workspace)
        rows = improvements_in(row)
        every = None
        if "kpi" in query:
            rows = rows.filter(aims__kpi__slug=query["kpi"])
            every = every_aim(row)
        answers = improvement_answers(list(rows), every)
        return Response(shapes.Ledger(answers, totals_of(answers)))

    @extend_schema(
        operation_id="create_improvement",
        request=requests.NewImprovementSerializer,
        responses={201: schema_of(shapes.ImprovementDetail), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str) -> Response:
        """Write one down."""
        form = checked(requests.NewImprovementSerializer, request.data)
        aims = requests.aims_in(form) or []
        row = workspace_of(person_of(request), workspace)
        return _detail(create_improvement(row, form, aims, actor_of(request)), 201)


class ImprovementView(APIView):
    """One improvement."""

    @extend_schema(
        operation_id="improvement", responses={200: schema_of(shapes.ImprovementDetail), **PROBLEMS}
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str, number: int) -> Response:
        """Return it with its history."""
        return _detail(improvement_of(person_of(request), workspace, number))

    @extend_schema(
        operation_id="change_improvement",
        parameters=[IF_MATCH],
        request=requests.ImprovementChangesSerializer,
        responses={200: schema_of(shapes.ImprovementDetail), **PROBLEMS},
    )
    def patch(self, request: Request, workspace: str, number: int) -> Response:
        """Change what is said of it."""
        form = checked(requests.ImprovementChangesSerializer, request.data)
        aims = requests.aims_in(form)
        row = improvement_of(person_of(request), workspace, number)
        version = seen_revision(request)
        return _detail(change_improvement(row, version, form, aims, actor_of(request)))

    @extend_schema(
        operation_id="remove_improvement",
        parameters=[IF_MATCH],
        request=None,
        responses={204: None, **PROBLEMS},
    )
    def delete(self, request: Request, workspace: str, number: int) -> Response:
        """Remove it; it can be brought back."""
        row = improvement_of(person_of(request), workspace, number)
        remove_improvement(row, seen_revision(request), actor_of(request))
        return Response(status=204)


class BringBackView(APIView):
    """A removed improvement."""

    @extend_schema(
        operation_id="bring_back_improvement",
        request=None,
        responses={200: schema_of(shapes.ImprovementDetail), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, number: int) -> Response:
        """Bring it back."""
        row = improvement_of(person_of(request), workspace, number)
        return _detail(bring_back(row, actor_of(request)))


class ExpectedView(APIView):
    """An improvement before it has begun."""

    @extend_schema(
        operation_id="expected_improvement",
        parameters=[requests.ExpectedQuerySerializer],
        responses={200: schema_of(shapes.Expected), **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str) -> Response:
        """Say what it would be held against, and how soon one would know."""
        query = requests.ExpectedQuerySerializer.of(request)
        kpi = kpi_of(person_of(request), workspace, query["kpi"])
        return Response(expected_answer(kpi, chart_of(kpi, clock.now()), query))
