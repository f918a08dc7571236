"""Several KPIs, or people, against a goal."""

from collections.abc import Sequence

from fluctus.core.words import percent_of_all
from fluctus.kpis.chart.answers.kpi import numbers_style
from fluctus.kpis.models import Kpi
from fluctus.overview.compare import shapes
from fluctus.overview.compare.goal import goal_answer
from fluctus.overview.compare.requests import MOST_COMPARED
from fluctus.overview.panels.kind import Content, Look, PanelKind, Table
from fluctus.overview.panels.panel import Panel


def answer(panel: Panel, kpis: Sequence[Kpi], look: Look) -> Content:
    """Put KPIs of one unit on one plot, with the goal that holds for them."""
    there = {kpi.slug for kpi in kpis}
    gone = [name for slug, name in zip(panel.kpis, panel.names, strict=False) if slug not in there]
    query = dict(look.dates)
    if panel.options.get("goal") is not None:
        query["goal"] = panel.options["goal"]
    held = goal_answer(kpis, gone, look.now, query)
    goal = held.panels[0].goal_text if held.panels else ""
    title = ", ".join(kpi.name for kpi in kpis) + (f" against {goal}" if goal else "")
    return Content(title, "", held, _table(held))


def _table(held: shapes.AgainstGoal) -> Table:
    rows = []
    for unit in held.panels:
        numbers = numbers_style(unit.numbers)
        rows += [
            (
                line.name,
                "" if line.average is None else numbers.level(line.average),
                "" if line.share_met is None else percent_of_all(line.share_met),
                line.judged_by or "nothing",
                f"{line.n:,}",
            )
            for line in unit.lines
        ]
    return Table(("KPI", "Average", "Meets", "Judged by", "Values"), tuple(rows))


GOAL = PanelKind("goal", (1, MOST_COMPARED), 9, shapes.AgainstGoal, answer, does_without=True)
