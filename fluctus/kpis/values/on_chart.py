"""What the chart knows of each value: its moving range, signals, segment and target."""

from collections.abc import Sequence
from datetime import datetime
from enum import StrEnum

import numpy as np
from django.db.models import Q
from django.db.models.expressions import RawSQL

from fluctus.core import Signal
from fluctus.core.analysis import RULES
from fluctus.core.arrays import Bools
from fluctus.core.words import explain
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.answers.comparison import segment_name
from fluctus.kpis.values import shapes


class Only(StrEnum):
    """Which values are looked for."""

    MARKED = "marked"
    OFF_TARGET = "off_target"
    ASIDE = "aside"
    NOTED = "noted"
    MISSING = "missing"


OF_THE_CHART = frozenset({Only.MARKED, Only.OFF_TARGET})
"""Those that the chart tells, the others stand with the value."""


def chosen_by(only: Only | None, by: str | None, chart: Chart | None) -> Q:
    """Return what chooses the values that are looked for; ``chart`` for those that it tells."""
    person = Q(written_by__author__username=by) if by else Q()
    if only is Only.ASIDE:
        return person & Q(set_aside=True)
    if only is Only.NOTED:
        return person & ~Q(note="")
    if only in OF_THE_CHART and chart is not None:
        instants = chart.observations.instants[_chosen(chart, only)].tolist()
        # One array however many: a list of parameters has an end.
        at = RawSQL("SELECT to_timestamp(unnest(%s::float8[]))", [instants])
        return person & Q(period__in=at)
    return person


def _chosen(chart: Chart, only: Only | None) -> Bools:
    """Tell which points of a chart are looked for, shape (n,)."""
    chosen = np.zeros(len(chart.observations), np.bool_)
    if only is Only.MARKED:
        signals = chart.analysis.signals
        chosen[signals.points_of(np.arange(len(signals)))] = True
    elif (met := chart.target_met) is not None:
        chosen = ~met & ~chart.observations.no_part
    return chosen


def values_on_chart(chart: Chart, periods: Sequence[datetime]) -> list[shapes.ValueOnChart | None]:
    """Return what a chart says of the points at some periods; None of one that it does not show."""
    positions = [chart.observations.position_of(period) for period in periods]
    signals = _signals_at(chart, [position for position in positions if position is not None])
    # Of the whole chart, once: a long one has a million of them.
    met, no_part = chart.target_met, chart.observations.no_part
    starts = np.array([segment.start for segment in chart.analysis.segments])

    def say(position: int) -> shapes.ValueOnChart:
        moving_range = float(chart.analysis.moving_ranges[position])
        at = signals[position]
        segment = int(np.searchsorted(starts, position, side="right")) - 1
        return shapes.ValueOnChart(
            period=chart.observations.text(position),
            position=position,
            moving_range=None if np.isnan(moving_range) else moving_range,
            mark=RULES[at[0].rule].mark if at else None,
            says=[explain(signal, chart.words).title for signal in at],
            segment=segment_name(chart, segment),
            met=None if met is None or no_part[position] else bool(met[position]),
        )

    return [None if position is None else say(position) for position in positions]


def _signals_at(chart: Chart, positions: Sequence[int]) -> dict[int, list[Signal]]:
    """Return the signals at each of some points, the weightiest first."""
    found: dict[int, list[Signal]] = {position: [] for position in positions}
    if not found:
        return found
    signals = chart.analysis.signals
    for number in signals.reaching_into(min(found), max(found) + 1).tolist():
        signal = signals[number]
        for point in signal.points:
            if point in found:
                found[point].append(signal)
    for at in found.values():
        at.sort(key=lambda signal: RULES[signal.rule].weight)
    return found
