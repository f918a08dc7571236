"""The mean of each longer period, as steps."""

from typing import Any

from fluctus.core.context import group_means
from fluctus.kpis.calendar import Grain, coarser_grains
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.analysis.lines.kind import LineKind, Overlay, last_shown
from fluctus.kpis.lines import LineSource, LineState, Per


def _coarser_mean(chart: Chart, line: LineState, start: int, stop: int) -> Overlay:
    data, grain = chart.observations, Grain(line.per)
    if grain not in coarser_grains(data.grain) or grain is data.grain:
        note = f"By {data.grain} there is no mean of a {grain}: choose a longer one."
        return Overlay(f"mean of each {grain}", "", None, note=note)
    groups = data.calendar.starts(data.instants, grain)
    means = group_means(data.values, chart.analysis.series.included, groups)
    return Overlay(f"mean of each {grain}", "", last_shown(means, start, stop), means)


def _wrong(form: dict[str, Any]) -> dict[str, str]:
    too_short = form["per"] in (Per.PERIOD, Per.HOUR)
    return {"per": "Choose a day or longer."} if too_short else {}


COARSER_MEAN = LineKind(LineSource.COARSER_MEAN, _coarser_mean, _wrong)
