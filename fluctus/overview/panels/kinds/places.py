"""The parts of a KPI on a map."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from fluctus.http.shapes import Shape
from fluctus.kpis.models import Kpi
from fluctus.overview.compare import shapes
from fluctus.overview.compare.measures import AVERAGE, MEASURES
from fluctus.overview.compare.places import places_answer
from fluctus.overview.models import AreaMap
from fluctus.overview.panels.kind import Content, Look, PanelKind, Table
from fluctus.overview.panels.panel import Panel


@dataclass(frozen=True, slots=True)
class PlacesPanel(Shape):
    """Parts by place, with the areas that some of them are, as GeoJSON features."""

    placed: shapes.PlacedParts
    areas: list[dict[str, Any]]


def answer(panel: Panel, kpis: Sequence[Kpi], look: Look) -> Content:
    """Return where the parts of a KPI are, with a measure of each."""
    measure = MEASURES[panel.options.get("measure") or AVERAGE.name]
    placed = places_answer(kpis[0], look.now, measure, {"part": [], **look.dates})
    areas = AreaMap.objects.filter(workspace=look.workspace).first() if placed.areas_file else None
    rows = sorted(placed.parts, key=lambda part: -(part.value or 0))
    table = Table(
        ("Part", measure.label),
        tuple((part.name, part.text) for part in rows),
    )
    without = f"Without a place: {', '.join(placed.unplaced)}." if placed.unplaced else ""
    shown = PlacesPanel(placed, list(areas.features) if areas else [])
    return Content(f"{placed.name} by place", without, shown, table)


PLACES = PanelKind("places", (1, 1), 9, PlacesPanel, answer)
