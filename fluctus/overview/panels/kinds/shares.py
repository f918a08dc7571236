"""Shares of a total."""

from collections.abc import Sequence

from fluctus.core.words import percent_of_all
from fluctus.kpis.chart.answers.kpi import numbers_style
from fluctus.kpis.models import Kpi
from fluctus.overview.compare import shapes
from fluctus.overview.compare.shares import shares_answer
from fluctus.overview.panels.kind import Content, Look, PanelKind, Table
from fluctus.overview.panels.panel import Panel


def answer(panel: Panel, kpis: Sequence[Kpi], look: Look) -> Content:
    """Return what each part of a KPI adds to its total."""
    shares = shares_answer(kpis[0], look.now, {"part": [], **look.dates})
    numbers = numbers_style(shares.numbers)
    rows = tuple(
        (part.name, percent_of_all(part.share), numbers.amount(part.total)) for part in shares.parts
    )
    table = Table(("Part", "Share", "Total"), rows)
    return Content(f"{shares.name}: {shares.sentence}", "", shares, table)


SHARES = PanelKind("shares", (1, 1), 8, shapes.Shares, answer)
