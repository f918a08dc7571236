"""Words of one's own, written in Markdown."""

from collections.abc import Sequence
from dataclasses import dataclass

from fluctus.http.shapes import Shape
from fluctus.kpis.models import Kpi
from fluctus.overview.panels.kind import Content, Look, PanelKind
from fluctus.overview.panels.panel import Panel


@dataclass(frozen=True, slots=True)
class TextPanel(Shape):
    """Words, as they were written."""

    text: str


def answer(panel: Panel, kpis: Sequence[Kpi], look: Look) -> Content:
    """Return the words."""
    return Content("", "", TextPanel(panel.text))


TEXT = PanelKind("text", (0, 0), 3, TextPanel, answer, repeats=True, picture=False)
