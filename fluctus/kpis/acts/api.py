"""Undo, redo, trials and the history of a chart over HTTP."""

from django.http import HttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.access import not_allowed, role_of
from fluctus.accounts.models import Role
from fluctus.accounts.queries import name_of
from fluctus.http.problems import PROBLEMS
from fluctus.http.requests import checked, person_of
from fluctus.http.revisions import IF_MATCH
from fluctus.http.shapes import schema_of
from fluctus.http.snapshots import one_snapshot
from fluctus.kpis.acts import requests, services, shapes
from fluctus.kpis.acts.trials import Trial, keep_trial
from fluctus.kpis.chart.queries import kpi_of
from fluctus.kpis.chart.requests import WindowSerializer
from fluctus.kpis.chart.responses import answer_write
from fluctus.kpis.chart.shapes import SavedChart
from fluctus.kpis.models import ActState, ChartChange
from fluctus.kpis.record.queries import history_of, next_undo_and_redo


def _refuse_of_others(request: Request, workspace: str, kpi: str, *, back: bool) -> None:
    """Let a contributor turn only what they did themselves, and only values and events.

    Between this and the write nothing else can become the next act: it would raise the
    revision, which the write names.
    """
    if role_of(request).includes(Role.EDITOR):
        return
    person = person_of(request)
    to_undo, to_redo = next_undo_and_redo(kpi_of(person, workspace, kpi))
    act = to_undo if back else to_redo
    if act is None:
        return
    if act.author_id != person.pk or (act.data is None and act.event is None):
        what = f"{'Undoing' if back else 'Redoing'} “{act.summary}”"
        raise not_allowed(role_of(request), Role.EDITOR, what)


class UndoView(APIView):
    """The latest change of a chart."""

    @extend_schema(
        operation_id="undo",
        parameters=[IF_MATCH, WindowSerializer],
        request=None,
        responses={200: schema_of(SavedChart), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, kpi: str) -> HttpResponse:
        """Take it back."""
        _refuse_of_others(request, workspace, kpi, back=True)
        return answer_write(request, workspace, kpi, services.undo)


class RedoView(APIView):
    """The change that was undone last."""

    @extend_schema(
        operation_id="redo",
        parameters=[IF_MATCH, WindowSerializer],
        request=None,
        responses={200: schema_of(SavedChart), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, kpi: str) -> HttpResponse:
        """Bring it back."""
        _refuse_of_others(request, workspace, kpi, back=False)
        return answer_write(request, workspace, kpi, services.redo)


class TrialView(APIView):
    """A trial to keep."""

    @extend_schema(
        operation_id="keep_trial",
        parameters=[IF_MATCH, WindowSerializer],
        request=requests.TrialSerializer,
        responses={200: schema_of(SavedChart), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, kpi: str) -> HttpResponse:
        """Save all of it as one act."""
        trial = Trial(**checked(requests.TrialSerializer, request.data))
        return answer_write(
            request,
            workspace,
            kpi,
            lambda row, revision, actor: keep_trial(row, revision, trial, actor),
        )


class HistoryView(APIView):
    """What has been done to a chart."""

    @extend_schema(
        operation_id="chart_history",
        parameters=[requests.HistoryQuerySerializer],
        responses={200: schema_of(shapes.Acts), **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str, kpi: str) -> Response:
        """List the acts, newest first."""
        query = requests.HistoryQuerySerializer.of(request)
        row = kpi_of(person_of(request), workspace, kpi)
        acts, older = history_of(row, query.get("before"))
        return Response(shapes.Acts([_act_answer(act) for act in acts], older))

    @extend_schema(
        operation_id="restore",
        parameters=[IF_MATCH, WindowSerializer],
        request=requests.RestoreSerializer,
        responses={200: schema_of(SavedChart), **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, kpi: str) -> HttpResponse:
        """Bring the settings back that the chart had after an act."""
        number = checked(requests.RestoreSerializer, request.data)["act"]
        return answer_write(
            request,
            workspace,
            kpi,
            lambda row, revision, actor: services.restore(row, revision, number, actor),
        )


def _act_answer(act: ChartChange) -> shapes.Act:
    return shapes.Act(
        id=act.pk,
        at=act.at.isoformat(),
        author=name_of(act.author),
        summary=act.summary,
        state=ActState(act.state),
        turned_by=name_of(act.turned_by),
        turned_at=None if act.turned_at is None else act.turned_at.isoformat(),
        settings=act.before != act.after,
    )
