"""Several KPIs, or people, against a goal: those of one unit on one plot."""

from collections.abc import Sequence
from datetime import datetime
from typing import Any

from fluctus.core.context import target_of
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.answers.kpi import numbers_answer
from fluctus.kpis.chart.queries import chart_or_none
from fluctus.kpis.models import Kpi
from fluctus.overview.compare import shapes
from fluctus.overview.compare.dates import dates_asked, shown_days
from fluctus.overview.compare.parts import OfDates
from fluctus.overview.strips.drawing import Dates, small_chart


def goal_answer(
    kpis: Sequence[Kpi], gone: list[str], now: datetime, query: dict[str, Any]
) -> shapes.AgainstGoal:
    """Put KPIs on one plot for each unit; a goal that is typed holds for the first of them."""
    found = {kpi.slug: chart_or_none(kpi, now) for kpi in kpis}
    charts = {slug: chart for slug, chart in found.items() if chart is not None}
    uncomputed = [kpi.name for kpi in kpis if kpi.slug not in charts]
    kpis = [kpi for kpi in kpis if kpi.slug in charts]
    dates = dates_asked(charts.values(), query)
    units = list(dict.fromkeys(kpi.unit for kpi in kpis))
    return shapes.AgainstGoal(
        panels=[
            _panel(
                unit,
                {kpi: charts[kpi.slug] for kpi in kpis if kpi.unit == unit},
                dates,
                query.get("goal") if number == 0 else None,
            )
            for number, unit in enumerate(units)
        ],
        gone=gone,
        uncomputed=uncomputed,
        dates=shown_days(charts.values(), dates),
    )


def _panel(
    unit: str, charts: dict[Kpi, Chart], dates: Dates, typed: float | None
) -> shapes.GoalPanel:
    first = next(iter(charts.values()))
    targets = {(chart.words.target, chart.words.target_high) for chart in charts.values()}
    goal = typed
    if goal is None and len(targets) == 1:
        # One target for all of them is the goal; a range is judged by each KPI's own.
        (only,) = targets
        goal = only[0] if only[1] is None else None
    numbers = first.words.numbers
    return shapes.GoalPanel(
        unit=unit,
        numbers=numbers_answer(numbers),
        goal=goal,
        goal_text="" if goal is None else numbers.amount(goal),
        lines=[_line(kpi, chart, dates, goal) for kpi, chart in charts.items()],
    )


def _line(kpi: Kpi, chart: Chart, dates: Dates, goal: float | None) -> shapes.GoalLine:
    of_dates = OfDates.of(chart, dates)
    values, words = of_dates.values, chart.words
    wanted = target_of(goal, None, chart.analysis.settings.direction)
    met = None if wanted is None else wanted.met_by(values)
    judged_by = "" if wanted is None or goal is None else f"goal {words.numbers.amount(goal)}"
    if goal is None and chart.target_met is not None:
        met = chart.target_met[of_dates.included]
        judged_by = f"target {words.target_amount}"
    return shapes.GoalLine(
        kpi=kpi.slug,
        name=kpi.name,
        chart=small_chart(chart, dates),
        n=len(values),
        average=float(values.mean()) if len(values) else None,
        share_met=float(met.mean()) if met is not None and len(met) else None,
        judged_by=judged_by,
    )
