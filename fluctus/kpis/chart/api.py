"""KPIs and their charts over HTTP."""

from typing import Any
from zoneinfo import ZoneInfo

from django.contrib.auth.models import User
from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.queries import workspace_of
from fluctus.core import Rule
from fluctus.core.judgment.false_alarms import false_alarms
from fluctus.http.refusals import Issue, NotThereError, RefusalError
from fluctus.kpis.calendar import Calendar, Grain, from_text
from fluctus.kpis.chart import services, shapes
from fluctus.kpis.chart.analysis.chart import Chart, make_chart, with_aside, with_values
from fluctus.kpis.chart.answers.chart import (
    Known,
    present_chart,
    present_false_alarms,
    present_history,
    present_kpi,
    present_next,
    present_row,
)
from fluctus.kpis.chart.csv_export import analysis_as_csv
from fluctus.kpis.chart.queries import (
    View,
    chart_of,
    kpi_of,
    kpis_of,
    last_period_of,
    next_undo_and_redo,
    observations_of,
    state_of_kpi,
    values_of,
    versions_of,
)
from fluctus.kpis.models import Kpi
from fluctus.kpis.values.answers import present_value, present_versions
from fluctus.kpis.values.services import Edit, edit_values, set_aside

IF_MATCH = OpenApiParameter(
    "If-Match", str, OpenApiParameter.HEADER, required=True,
    description="The revision that the change was made on.",
)  # fmt: skip
PROBLEMS = {
    404: shapes.ProblemSerializer,
    412: shapes.ProblemSerializer,
    422: shapes.ProblemSerializer,
}


def person_of(request: Request) -> User:
    """Return who asks; the permission classes have seen that it is somebody."""
    assert isinstance(request.user, User), "views with this are for people who are signed in"
    return request.user


def seen_revision(request: Request) -> int:
    """Read the revision that a write names; raises RefusalError where it names none."""
    text = request.headers.get("If-Match", "").strip().strip('"')
    if not text.isdecimal():
        raise RefusalError(
            "A change must name the revision it was made on.",
            Issue("The If-Match header is missing or not a number.", "Send the revision you saw."),
            status=428,
        )
    return int(text)


def checked(shape: type[shapes.Plain], data: Any) -> dict[str, Any]:
    """Check input against its shape; what is wrong goes to the problem handler."""
    form = shape(data=data)
    form.is_valid(raise_exception=True)
    return dict(form.validated_data)


class KpisView(APIView):
    """All KPIs of a workspace."""

    @extend_schema(operation_id="kpis", responses=shapes.KpiRowSerializer(many=True))
    def get(self, request: Request, workspace: str) -> Response:
        """List them as the rail shows them."""
        rows = kpis_of(person_of(request), workspace)
        if not rows:
            workspace_of(person_of(request), workspace)
        return Response([present_row(kpi) for kpi in rows])


class KpiView(APIView):
    """One KPI: its details and the settings of its chart."""

    @extend_schema(
        operation_id="change_chart",
        parameters=[IF_MATCH, shapes.WindowSerializer],
        request=shapes.ChartSettingsSerializer,
        responses={200: shapes.SavedChartSerializer, **PROBLEMS},
    )
    def patch(self, request: Request, workspace: str, kpi: str) -> Response:
        """Change some settings."""
        changes = checked(shapes.ChartSettingsSerializer, request.data)
        person, revision = person_of(request), seen_revision(request)
        found = kpi_of(person, workspace, kpi)
        return saved_chart(request, services.change_chart(found, revision, changes, person))

    @extend_schema(
        operation_id="delete_kpi", parameters=[IF_MATCH, shapes.DeleteSerializer],
        request=None, responses={204: None, **PROBLEMS},
    )  # fmt: skip
    def delete(self, request: Request, workspace: str, kpi: str) -> Response:
        """Delete it, with its name typed as confirmation."""
        name = checked(shapes.DeleteSerializer, request.query_params)["name"]
        found = kpi_of(person_of(request), workspace, kpi)
        services.delete_kpi(found, seen_revision(request), name)
        return Response(status=204)


class AnalysisView(APIView):
    """The chart of a KPI as it is saved."""

    @extend_schema(
        operation_id="analysis",
        parameters=[shapes.WindowSerializer],
        responses={200: shapes.SavedChartSerializer, **PROBLEMS},
    )
    def get(self, request: Request, workspace: str, kpi: str) -> Response:
        """Give everything that the chart draws and says."""
        return saved_chart(request, kpi_of(person_of(request), workspace, kpi))


class PreviewView(APIView):
    """The chart of a KPI as it would be."""

    @extend_schema(
        operation_id="preview",
        parameters=[shapes.WindowSerializer],
        request=shapes.PreviewSerializer,
        responses={200: shapes.ChartSerializer, **PROBLEMS},
    )
    def post(self, request: Request, workspace: str, kpi: str) -> Response:
        """Analyse unsaved settings; saves nothing."""
        changes = checked(shapes.PreviewSerializer, request.data)
        aside, values = changes.pop("aside", {}), changes.pop("values", {})
        found = kpi_of(person_of(request), workspace, kpi)
        state = state_of_kpi(found).with_changes(changes)
        observations = with_aside(observations_of(found, state, view_of(request)), aside)
        chart = make_chart(with_values(observations, values), state)
        return Response(_present(request, found, chart))


class SetAsideView(APIView):
    """A point of a chart that takes no part, or takes part again."""

    @extend_schema(
        operation_id="set_aside", parameters=[IF_MATCH, shapes.WindowSerializer],
        request=shapes.SetAsideInSerializer,
        responses={200: shapes.SavedChartSerializer, **PROBLEMS},
    )  # fmt: skip
    def post(self, request: Request, workspace: str, kpi: str) -> Response:
        """Set its values aside with a reason, or put them back."""
        asked = checked(shapes.SetAsideInSerializer, request.data)
        person, revision = person_of(request), seen_revision(request)
        found = kpi_of(person, workspace, kpi)
        return saved_chart(request, set_aside(found, revision, person, **asked))


class UndoView(APIView):
    """The latest change of a chart."""

    @extend_schema(
        operation_id="undo", parameters=[IF_MATCH, shapes.WindowSerializer], request=None,
        responses={200: shapes.SavedChartSerializer, **PROBLEMS},
    )  # fmt: skip
    def post(self, request: Request, workspace: str, kpi: str) -> Response:
        """Take it back."""
        found = kpi_of(person_of(request), workspace, kpi)
        return saved_chart(
            request, services.undo(found, seen_revision(request), person_of(request))
        )


class RedoView(APIView):
    """The change that was undone last."""

    @extend_schema(
        operation_id="redo", parameters=[IF_MATCH, shapes.WindowSerializer], request=None,
        responses={200: shapes.SavedChartSerializer, **PROBLEMS},
    )  # fmt: skip
    def post(self, request: Request, workspace: str, kpi: str) -> Response:
        """Bring it back."""
        found = kpi_of(person_of(request), workspace, kpi)
        return saved_chart(
            request, services.redo(found, seen_revision(request), person_of(request))
        )


class FalseAlarmsView(APIView):
    """What a set of rules costs."""

    @extend_schema(
        operation_id="false_alarms", parameters=[shapes.RuleSetSerializer],
        responses={200: shapes.FalseAlarmsSerializer, **PROBLEMS},
    )  # fmt: skip
    def get(self, request: Request, workspace: str, kpi: str) -> Response:
        """Say how often a process with no change would show a signal in as many points."""
        query = {
            "rules": request.query_params.getlist("rules"),
            "run_length": request.query_params.get("run_length", 8),
        }
        asked = checked(shapes.RuleSetSerializer, query)
        found = kpi_of(person_of(request), workspace, kpi)
        alarms = false_alarms(map(Rule, asked["rules"]), int(asked["run_length"]))
        return Response(present_false_alarms(alarms, found.digest["count"], found.grain))


class ValuesView(APIView):
    """The values of a KPI as they are stored."""

    @extend_schema(
        operation_id="values", parameters=[shapes.ValuesQuerySerializer],
        responses={200: shapes.ValuesSerializer, **PROBLEMS},
    )  # fmt: skip
    def get(self, request: Request, workspace: str, kpi: str) -> Response:
        """Give a stretch of them in order of time."""
        asked = checked(shapes.ValuesQuerySerializer, request.query_params)
        found = kpi_of(person_of(request), workspace, kpi)
        count, rows = values_of(found, asked["start"], asked.get("breakdown"))
        return Response(
            {
                "count": count,
                "start": asked["start"],
                "values": [present_value(row, found) for row in rows],
                "next": present_next(
                    last_period_of(found, asked.get("breakdown")),
                    Grain(found.grain),
                    Calendar(ZoneInfo(found.time_zone)),
                ),
                "revision": found.revision,
            }
        )

    @extend_schema(
        operation_id="edit_values", request=shapes.EditsSerializer,
        responses={200: shapes.SavedValuesSerializer, **PROBLEMS},
    )  # fmt: skip
    def post(self, request: Request, workspace: str, kpi: str) -> Response:
        """Save values written by hand, all or none; each names the version it was made on."""
        edits = [Edit(**one) for one in checked(shapes.EditsSerializer, request.data)["edits"]]
        person = person_of(request)
        saved = edit_values(kpi_of(person, workspace, kpi), edits, person)
        return Response({"revision": saved.revision})


class VersionsView(APIView):
    """What a value has been."""

    @extend_schema(
        operation_id="value_history", parameters=[shapes.VersionQuerySerializer],
        responses={200: shapes.VersionSerializer(many=True), **PROBLEMS},
    )  # fmt: skip
    def get(self, request: Request, workspace: str, kpi: str) -> Response:
        """List its versions, newest first."""
        asked = checked(shapes.VersionQuerySerializer, request.query_params)
        found = kpi_of(person_of(request), workspace, kpi)
        try:
            period = from_text(asked["period"], Grain(found.grain), ZoneInfo(found.time_zone))
        except (ValueError, OverflowError):
            raise NotThereError("period") from None
        return Response(present_versions(versions_of(found, period, asked["breakdown"]), found))


class AnalysisCsvView(APIView):
    """The analysis as a file."""

    @extend_schema(
        operation_id="analysis_csv",
        parameters=[shapes.WindowSerializer],
        responses={(200, "text/csv"): OpenApiTypes.STR},
    )
    def get(self, request: Request, workspace: str, kpi: str) -> HttpResponse:
        """Give values, moving ranges, limits, segments and signals as CSV."""
        found = kpi_of(person_of(request), workspace, kpi)
        # A byte-order mark, so that spreadsheets read the names as UTF-8.
        text = "\ufeff" + "".join(analysis_as_csv(chart_of(found, view_of(request))))
        response = HttpResponse(text.encode(), content_type="text/csv; charset=utf-8")
        response["Content-Disposition"] = f'attachment; filename="{found.slug}.csv"'
        return response


def saved_chart(request: Request, kpi: Kpi) -> Response:
    """Answer with a KPI's chart as it is saved now."""
    view = view_of(request)
    chart = chart_of(kpi, view)
    whole = chart.observations.grain is chart.observations.stored and not view.breakdown
    known = Known(kpi.proposals, kpi.unexplained) if whole else None
    body = _present(request, kpi, chart, known)
    body["history"] = present_history(*next_undo_and_redo(kpi))
    return Response(body, headers={"ETag": f'"{kpi.revision}"'})


def view_of(request: Request) -> View:
    """Read how a chart is looked at."""
    asked = checked(shapes.WindowSerializer, request.query_params)
    by = asked.get("by")
    return View(Grain(by) if by else None, asked.get("breakdown"))


def _present(
    request: Request, kpi: Kpi, chart: Chart, known: Known | None = None
) -> dict[str, Any]:
    window = checked(shapes.WindowSerializer, request.query_params)
    own = present_kpi(
        chart.state, chart.observations, slug=kpi.slug, revision=kpi.revision,
        breakdowns=kpi.breakdowns,
    )  # fmt: skip
    first, last = window.get("first"), window.get("last")
    return present_chart(own, chart, window["width"], first, last, known)
