"""A chart in one of its views."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date

from fluctus.http.shapes import Shape
from fluctus.kpis.chart import shapes
from fluctus.kpis.events.shapes import Pin
from fluctus.kpis.models import Kpi
from fluctus.overview.panels.kind import Content, Look, PanelKind
from fluctus.overview.panels.panel import Panel
from fluctus.overview.panels.viewed import Viewed, viewed


@dataclass(frozen=True, slots=True)
class ChartPanel(Shape):
    """A chart with what happened; ``hidden`` are the lines that its view hides, if it has one."""

    chart: shapes.Chart
    view: str
    pins: list[Pin]
    hidden: list[str] | None


def answer(panel: Panel, kpis: Sequence[Kpi], look: Look) -> Content:
    """Return the chart of a KPI with its sentence, as the audience may see it."""
    shown = shown_to(kpis[0], panel.view, look)
    sentence = shown.answer.sentence
    return Content(
        sentence.headline,
        sentence.detail,
        ChartPanel(
            _for(look, shown.answer),
            shown.view.name if shown.view else "",
            [_alone(pin, kpis[0]) for pin in shown.pins]
            if not look.audience.member
            else shown.pins,
            shown.hidden,
        ),
    )


def shown_to(kpi: Kpi, view: str, look: Look) -> Viewed:
    """Return a chart in a view, on the dates looked at."""
    first, last = (look.dates.get(name) for name in ("first", "last"))
    days = (_text(first), _text(last), look.dates.get("weeks"))
    return viewed(kpi, view, look.now, look.width, days, look.audience.told)


def _text(day: date | None) -> str | None:
    return None if day is None else day.isoformat()


def _for(look: Look, chart: shapes.Chart) -> shapes.Chart:
    """Leave out what the audience is not told, and what names another KPI."""
    audience = look.audience
    if not audience.member:
        chart = replace(chart, kpi=replace(chart.kpi, derivation=None))
    if not audience.notes:
        chart = replace(chart, notes=[])
    if not audience.reasons:
        chart = replace(
            chart,
            segments=[replace(part, what_changed="", review={}) for part in chart.segments],
            set_aside=[replace(value, reason="") for value in chart.set_aside],
            kept_limits=[replace(kept, reason="", review={}) for kept in chart.kept_limits],
        )
    return chart


def _alone(pin: Pin, kpi: Kpi) -> Pin:
    return replace(pin, events=[replace(event, kpis=[kpi.slug]) for event in pin.events])


CHART = PanelKind("chart", (1, 1), 9, ChartPanel, answer, whole_chapter=True)
