"""The steps of a chart over HTTP."""

from dataclasses import dataclass

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.core.words import BuildUpPart, build_up, explain
from fluctus.http import clock
from fluctus.http.problems import PROBLEMS
from fluctus.http.requests import person_of
from fluctus.http.shapes import Shape, schema_of
from fluctus.http.snapshots import one_snapshot
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.queries import chart_of, kpi_of
from fluctus.kpis.chart.requests import WindowSerializer
from fluctus.kpis.chart.responses import Look
from fluctus.kpis.events.queries import events_of
from fluctus.kpis.models import Kpi

MOST = 50
"""The newest findings and events that are counted."""


@dataclass(frozen=True, slots=True)
class BuildUpStep(Shape):
    """What a step adds to the picture, and the sentence that is said with it."""

    part: BuildUpPart
    text: str


@dataclass(frozen=True, slots=True)
class BuildUp(Shape):
    """A chart step by step, for people who have never seen one."""

    steps: list[BuildUpStep]


class BuildUpView(APIView):
    """A chart, step by step."""

    @extend_schema(
        operation_id="build_up",
        parameters=[WindowSerializer],
        responses={200: schema_of(BuildUp), **PROBLEMS},
    )
    @one_snapshot()
    def get(self, request: Request, workspace: str, kpi: str) -> Response:
        """Return the steps, each with one plain sentence."""
        look, row = Look.of(request), kpi_of(person_of(request), workspace, kpi)
        return Response(build_up_answer(row, chart_of(row, clock.now(), look.view)))


def build_up_answer(kpi: Kpi, chart: Chart) -> BuildUp:
    """Return the steps of a chart."""
    words, data = chart.words, chart.observations
    raised = chart.happenings.raised_by(chart.raising)
    findings = [
        f"{words.label(happening.points[0])}, {_small(explain(happening.signals[0], words).title)}"
        for happening in reversed(chart.happenings.newest(MOST, raised))
    ]
    events: list[str] = []
    if len(data):
        first, last = (data.text(position)[:10] for position in (0, len(data) - 1))
        rows = events_of(kpi).filter(first__lte=last, last__gte=first).order_by("-first", "-pk")
        # What happens often, such as a state of the weather, is told once.
        names = dict.fromkeys(rows.values_list("title", flat=True)[: 10 * MOST])
        events = list(names)[:MOST]
    steps = build_up(chart.analysis, words, chart.verdict, findings, events, decision_of(chart))
    return BuildUp([BuildUpStep(step.part, step.text) for step in steps])


def decision_of(chart: Chart) -> str:
    """Say what was decided on a chart last; empty where nothing was."""
    last = chart.state.segments[-1]
    if last.start is None:
        return ""
    from_when = chart.words.label(chart.analysis.segments[-1].start)
    why = f": {last.what_changed.rstrip('.')}" if last.what_changed else ""
    return f"Limits were recalculated from {from_when}{why}."


def _small(title: str) -> str:
    return title[:1].lower() + title[1:]
