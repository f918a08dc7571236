"""A KPI by its parts."""

from collections.abc import Sequence

from fluctus.core.words import NumberStyle
from fluctus.kpis.calendar import Grain
from fluctus.kpis.chart.answers.kpi import numbers_style
from fluctus.kpis.chart.queries import View, chart_of
from fluctus.kpis.models import Kpi
from fluctus.overview.compare import shapes
from fluctus.overview.compare.dates import dates_asked
from fluctus.overview.compare.parts import PartOrder, parts_answer
from fluctus.overview.panels.kind import Content, Look, PanelKind, Table
from fluctus.overview.panels.panel import Panel


def answer(panel: Panel, kpis: Sequence[Kpi], look: Look) -> Content:
    """Hold the parts of a KPI side by side, and say whether they differ."""
    kpi, options = kpis[0], panel.options
    by = Grain(options["by"]) if options.get("by") else None
    dates = dates_asked([chart_of(kpi, look.now, View(by))], look.dates)
    order = PartOrder(options.get("order") or PartOrder.NAME)
    parts = parts_answer(kpi, look.now, options.get("parts", []), by, dates, order)
    more = f"{len(parts.rest):,} more parts are not shown." if parts.rest else ""
    return Content(f"{parts.name}: {parts.answer}", more, parts, _table(parts))


def _table(parts: shapes.Parts) -> Table:
    numbers = numbers_style(parts.numbers)
    return Table(
        ("Part", "Average", "Limits", "Values", "Findings"),
        tuple(
            (
                part.name,
                "" if part.average is None else numbers.level(part.average),
                _limits(part, numbers),
                f"{part.n:,}",
                f"{part.findings:,}",
            )
            for part in parts.parts
        ),
    )


def _limits(part: shapes.ComparedPart, numbers: NumberStyle) -> str:
    if part.lower is None or part.upper is None:
        return ""
    return f"{numbers.level(part.lower)} to {numbers.level(part.upper)}"


PARTS = PanelKind("parts", (1, 1), 10, shapes.Parts, answer)
