"""A chart as one of its views shows it, with its events: what a report draws and a link shows."""

from dataclasses import dataclass
from datetime import date, datetime

from fluctus.kpis.calendar import Grain
from fluctus.kpis.chart import shapes
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.answers.chart import OnRecord, Window, chart_answer
from fluctus.kpis.chart.queries import View, chart_of
from fluctus.kpis.chart.responses import shown_kpi
from fluctus.kpis.events import shapes as event_shapes
from fluctus.kpis.events.answers import pin_answer
from fluctus.kpis.events.queries import ALL_TOLD, Told, pins_of
from fluctus.kpis.lines import ViewState
from fluctus.kpis.models import Kpi


@dataclass(frozen=True, slots=True)
class Viewed:
    """A chart in a view, for so many pixels."""

    chart: Chart
    view: ViewState | None
    answer: shapes.Chart
    pins: list[event_shapes.Pin]
    days: tuple[date, date] | None
    """The first and the last day shown; None without values."""

    @property
    def hidden(self) -> list[str] | None:
        """The lines that the view hides; None: the chart as it is kept."""
        return None if self.view is None else list(self.view.hidden)


def viewed(
    kpi: Kpi,
    name: str,
    now: datetime,
    width: int,
    dates: tuple[str | None, str | None, int | None] = (None, None, None),
    told: Told = ALL_TOLD,
) -> Viewed:
    """Return a chart in the view of a name; where there is none, as it is kept.

    ``dates`` are a first and a last day, or the newest weeks; without, those of the view.
    """
    view = next((row for row in chart_of(kpi, now).state.views if row.name == name), None)
    by = Grain(view.by) if view and view.by else None
    chart = chart_of(kpi, now, View(by, view.breakdown if view else None))
    first, last, weeks = dates
    if view and view.first and not (first or weeks):
        first, last = view.first, view.last
    window = Window(width, first, last, weeks)
    answer = chart_answer(shown_kpi(kpi, chart), chart, window, OnRecord.of(kpi, chart, now))
    periods = answer.points.period
    if not periods:
        return Viewed(chart, view, answer, [], None)
    days = date.fromisoformat(periods[0][:10]), date.fromisoformat(periods[-1][:10])
    pins = [pin_answer(pin) for pin in pins_of(kpi, *days, width, chart.observations.grain, told)]
    return Viewed(chart, view, answer, pins, days)
