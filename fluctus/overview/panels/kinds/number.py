"""The newest value of a KPI as one large number."""

from collections.abc import Sequence
from dataclasses import dataclass

from fluctus.http.shapes import Shape
from fluctus.kpis.models import Kpi
from fluctus.overview.panels.kind import Content, Look, PanelKind
from fluctus.overview.panels.kinds.chart import shown_to
from fluctus.overview.panels.panel import Panel


@dataclass(frozen=True, slots=True)
class NumberPanel(Shape):
    """The newest value on the dates shown, and the period that it is of; "" without any."""

    kpi: str
    name: str
    text: str
    period: str


def answer(panel: Panel, kpis: Sequence[Kpi], look: Look) -> Content:
    """Return the newest value of a KPI, with its sentence."""
    kpi = kpis[0]
    shown = shown_to(kpi, "", look)
    points, sentence = shown.answer.points, shown.answer.sentence
    text = period = ""
    if points.period:
        text = shown.chart.words.numbers.amount(float(points.value[-1]))
        period = shown.chart.observations.label(int(points.position[-1]))
    return Content(
        sentence.headline, sentence.detail, NumberPanel(kpi.slug, kpi.name, text, period)
    )


NUMBER = PanelKind("number", (1, 1), 3, NumberPanel, answer)
