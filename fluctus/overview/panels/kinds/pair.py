"""Two KPIs against each other."""

from collections.abc import Sequence

from fluctus.kpis.models import Kpi
from fluctus.overview.compare import shapes
from fluctus.overview.compare.pair import pair_answer
from fluctus.overview.panels.kind import Content, Look, PanelKind, Table
from fluctus.overview.panels.panel import Panel


def answer(panel: Panel, kpis: Sequence[Kpi], look: Look) -> Content:
    """Pair the values of two KPIs, and fit a line through them."""
    options = panel.options
    query = {"lag": options.get("lag", 0), "as_they_are": False, **look.dates}
    if options.get("by"):
        query["by"] = options["by"]
    pair = pair_answer(kpis[0], kpis[1], look.now, query)
    line = pair.line
    rows = [("Pairs", f"{pair.n:,}")]
    if line is not None:
        rows += [("Line", line.equation), ("R²", f"{line.r_squared:.2f}")]
    off = [pair.points.label[int(n)] for n in pair.points.off]
    rows += [("Off the line", ", ".join(off))] if off else []
    detail = " ".join(filter(None, (pair.caution, pair.warning)))
    return Content(pair.sentence, detail, pair, Table(("", ""), tuple(rows)))


PAIR = PanelKind("pair", (2, 2), 11, shapes.Pair, answer)
