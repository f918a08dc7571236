"""Which days comparisons are over, and what of a chart is on them."""

from collections.abc import Iterable
from datetime import date
from typing import Any

import numpy as np

from fluctus.core.arrays import Bools, Ints
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.observations.series import Observations
from fluctus.overview.compare import shapes
from fluctus.overview.strips.drawing import Dates, places_in


def days_of(data: Observations, position: int) -> str:
    """Return the day that the period at a position begins on."""
    return data.text(position)[:10]


def span_of_charts(charts: Iterable[Chart]) -> tuple[date, date] | None:
    """Return the first and the last day that any of some charts has a value of."""
    filled = [chart.observations for chart in charts if len(chart.observations)]
    if not filled:
        return None
    first = min(days_of(data, 0) for data in filled)
    last = max(days_of(data, -1) for data in filled)
    return date.fromisoformat(first), date.fromisoformat(last)


def dates_asked(charts: Iterable[Chart], query: dict[str, Any]) -> Dates:
    """Return the days that a query asks for: days, the newest weeks, or all that there are."""
    return Dates.asked(span_of_charts(charts), query)


def shown_days(charts: Iterable[Chart], dates: Dates) -> shapes.ComparedDates:
    """Return the days shown, of those that there are values of."""
    span = span_of_charts(charts)
    if span is None:
        return shapes.ComparedDates(None, None, None, None)
    first, last = dates.first or span[0], dates.last or span[1]
    return shapes.ComparedDates(*(day.isoformat() for day in (first, last, *span)))


def included_on(chart: Chart, dates: Dates) -> Bools:
    """Tell which values take part on some days, shape (n,)."""
    start, stop = places_in(chart.observations, dates)
    included = chart.analysis.series.included.copy()
    included[:start] = False
    included[stop:] = False
    return included


def segments_at(chart: Chart, positions: Ints) -> Ints:
    """Return the number of the segment that each of some positions is in."""
    starts = [segment.start for segment in chart.analysis.segments]
    return np.searchsorted(starts, positions, side="right") - 1


def raised_on(chart: Chart, dates: Dates) -> Bools:
    """Tell which happenings of a chart are findings that reach into some days, shape (h,)."""
    happenings = chart.happenings
    start, stop = places_in(chart.observations, dates)
    return happenings.raised_by(chart.raising) & happenings.reaching_into(start, stop)
