"""Comparisons, patterns, trials and the history of a chart over HTTP."""

from dataclasses import replace
from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.queries import name_of
from fluctus.http.refusals import NotThereError
from fluctus.kpis.acts import shapes as story
from fluctus.kpis.acts.trials import Trial, keep_trial
from fluctus.kpis.chart import services, shapes
from fluctus.kpis.chart.analysis.chart import make_chart
from fluctus.kpis.chart.answers.segments import present_comparison
from fluctus.kpis.chart.api import (
    IF_MATCH,
    PROBLEMS,
    checked,
    person_of,
    saved_chart,
    seen_revision,
)
from fluctus.kpis.chart.proposals import evidence_of
from fluctus.kpis.chart.queries import chart_of, history_of, kpi_of, observations_of, state_of_kpi
from fluctus.kpis.models import ChartChange, Kpi


class ComparisonView(APIView):
    """Two stretches of a chart side by side."""

    @extend_schema(
        operation_id="comparison",
        parameters=[story.ComparisonQuerySerializer, shapes.WindowSerializer],
        responses={200: shapes.ComparisonSerializer, **PROBLEMS},
    )
    def get(self, request: Request, workspace: str, kpi: str) -> Response:
        """Compare two segments, or before and after a period within one."""
        asked = checked(story.ComparisonQuerySerializer, request.query_params)
        found = kpi_of(person_of(request), workspace, kpi)
        if "at" in asked:
            return Response(_compare_at(found, asked["at"]))
        chart = chart_of(found)
        last = len(chart.state.segments) - 1
        before = asked.get("before", max(0, last - 1))
        after = asked.get("after", last)
        if max(before, after) > last:
            raise NotThereError("segment")
        return Response(present_comparison(chart, before, after))


def _compare_at(kpi: Kpi, period: str) -> dict[str, Any] | None:
    """Cut the segment that holds a period there, and compare its two parts."""
    state = state_of_kpi(kpi)
    observations = observations_of(kpi, state)
    chart = make_chart(observations, state)
    wanted = [one.start for one in state.segments]
    if period in wanted:
        return present_comparison(chart, wanted.index(period) - 1)
    earlier = [n for n, start in enumerate(wanted) if start is None or start < period]
    number = earlier[-1]
    own = state.segments[number]
    # Both parts have limits of their own, from all of their values.
    parts = (
        replace(own, window=None, follows="level", name=own.name and f"{own.name}, before"),
        replace(own, start=period, window=None, follows="level", name=own.name and "After"),
    )
    segments = (*state.segments[:number], *parts, *state.segments[number + 1 :])
    return present_comparison(make_chart(observations, replace(state, segments=segments)), number)


class PatternsView(APIView):
    """What the limits of the last segment could follow."""

    @extend_schema(
        operation_id="patterns", responses={200: shapes.PatternSerializer(many=True), **PROBLEMS}
    )
    def get(self, request: Request, workspace: str, kpi: str) -> Response:
        """Give what speaks for each pattern, whether it is enough or not."""
        chart = chart_of(kpi_of(person_of(request), workspace, kpi))
        return Response(
            [
                {"follows": one.follows, "proposed": one.proposed, "title": one.title,
                 "text": one.text}
                for one in evidence_of(chart)
            ]
        )  # fmt: skip


class TrialView(APIView):
    """A trial to keep."""

    @extend_schema(
        operation_id="keep_trial", parameters=[IF_MATCH, shapes.WindowSerializer],
        request=story.TrialSerializer,
        responses={200: shapes.SavedChartSerializer, **PROBLEMS},
    )  # fmt: skip
    def post(self, request: Request, workspace: str, kpi: str) -> Response:
        """Save all of it as one act."""
        trial = Trial(**checked(story.TrialSerializer, request.data))
        person, revision = person_of(request), seen_revision(request)
        found = kpi_of(person, workspace, kpi)
        return saved_chart(request, keep_trial(found, revision, trial, person))


class HistoryView(APIView):
    """What has been done to a chart."""

    @extend_schema(
        operation_id="chart_history", parameters=[story.HistoryQuerySerializer],
        responses={200: story.ActsSerializer, **PROBLEMS},
    )  # fmt: skip
    def get(self, request: Request, workspace: str, kpi: str) -> Response:
        """List the acts, newest first."""
        asked = checked(story.HistoryQuerySerializer, request.query_params)
        found = kpi_of(person_of(request), workspace, kpi)
        count, acts = history_of(found, asked.get("before"))
        return Response({"count": count, "acts": [_present_act(act) for act in acts]})

    @extend_schema(
        operation_id="restore", parameters=[IF_MATCH, shapes.WindowSerializer],
        request=story.RestoreSerializer,
        responses={200: shapes.SavedChartSerializer, **PROBLEMS},
    )  # fmt: skip
    def post(self, request: Request, workspace: str, kpi: str) -> Response:
        """Bring the settings back that the chart had after an act."""
        number = checked(story.RestoreSerializer, request.data)["act"]
        person, revision = person_of(request), seen_revision(request)
        found = kpi_of(person, workspace, kpi)
        return saved_chart(request, services.restore(found, revision, number, person))


def _present_act(act: ChartChange) -> dict[str, Any]:
    return {
        "id": act.pk,
        "at": act.at.isoformat(),
        "author": name_of(act.author),
        "summary": act.summary,
        "standing": act.standing,
        "turned_by": name_of(act.turned_by),
        "turned_at": None if act.turned_at is None else act.turned_at.isoformat(),
        "settings": act.before != act.after,
    }
