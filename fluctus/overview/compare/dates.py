"""Which days comparisons are over."""

from collections.abc import Iterable
from datetime import date, timedelta
from typing import Any

from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.observations.series import Observations
from fluctus.overview.compare import shapes
from fluctus.overview.strips.drawing import Dates


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
    if "weeks" not in query:
        return Dates(query.get("first"), query.get("last"))
    span = span_of_charts(charts)
    if span is None:
        return Dates()
    back = min(timedelta(weeks=query["weeks"]) - timedelta(days=1), span[1] - span[0])
    return Dates(span[1] - back, span[1])


def shown_days(charts: Iterable[Chart], dates: Dates) -> shapes.ComparedDates:
    """Return the days shown, of those that there are values of."""
    span = span_of_charts(charts)
    if span is None:
        return shapes.ComparedDates(None, None, None, None)
    first, last = dates.first or span[0], dates.last or span[1]
    return shapes.ComparedDates(*(day.isoformat() for day in (first, last, *span)))
