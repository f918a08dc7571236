"""All KPIs, or a group of them, as strips."""

from collections.abc import Sequence

from fluctus.kpis.models import Kpi
from fluctus.overview.panels.kind import Content, Look, PanelKind, Table
from fluctus.overview.panels.panel import Panel
from fluctus.overview.strips import shapes
from fluctus.overview.strips.answers import overview_answer
from fluctus.overview.strips.queries import Listed, Order, Viewer

MOST = 60
"""Strips in a panel: more are looked at in the overview itself."""


def answer(panel: Panel, kpis: Sequence[Kpi], look: Look) -> Content:
    """Return the strips of a group, or of all KPIs, and how they stand."""
    # New to whom is no matter of a page: it is the same for all who look.
    viewer = Viewer(None, look.workspace, look.now, None)
    wanted = Listed(order=Order.GROUP, group=panel.group or None)
    overview = overview_answer(viewer, wanted, look.dates, rows=MOST)
    name = f"{panel.group}: " if panel.group else ""
    more = overview.count - len(overview.rows)
    detail = f"The first {len(overview.rows)} of {overview.count:,} KPIs." if more > 0 else ""
    rows = tuple((row.name, row.latest, row.what) for row in overview.rows)
    table = Table(("KPI", "Newest value", "What to know"), rows)
    return Content(f"{name}{overview.sentence}", detail, overview, table)


OVERVIEW = PanelKind("overview", (0, 0), 9, shapes.Overview, answer)
