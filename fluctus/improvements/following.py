"""Improvements brought up to date with the charts of their KPIs."""

from collections.abc import Sequence

from fluctus.core.judgment import ImprovementState
from fluctus.core.words import STATE_NAMES
from fluctus.http import clock
from fluctus.improvements.models import Aim, ImprovementAct
from fluctus.improvements.outcomes import outcome_of
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.hooks import Charted


def follow_charts(charted: Sequence[Charted]) -> None:
    """Compute anew what came of the improvements that are to move locked KPIs."""
    charts = {each.kpi.pk: each.chart for each in charted}
    for aim in Aim.objects.filter(kpi__in=charts).select_related("improvement").order_by("pk"):
        keep_outcome(aim, charts[aim.kpi_id])


def keep_outcome(aim: Aim, chart: Chart, *, noted: bool = True) -> None:
    """Keep what came of an aim by now; a state that is another one is noted in its history."""
    state, outcome = outcome_of(aim, chart)
    if noted and state != aim.state:
        aim.state_since = clock.now()
        name = STATE_NAMES[ImprovementState(state)]
        text = f"{aim.kpi.name}: {name[0].lower()}{name[1:]}. {outcome['says']}"
        ImprovementAct.objects.create(improvement=aim.improvement, text=text[:500])
    aim.state, aim.outcome = state, outcome
    aim.save(update_fields=["state", "state_since", "outcome"])
