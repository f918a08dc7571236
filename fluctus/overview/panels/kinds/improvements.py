"""What was done and what came of it: all improvements, or those that are to move some KPIs."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace

from fluctus.core.words import say_improvements
from fluctus.http.refusals import Issue, RefusalError
from fluctus.http.shapes import Shape
from fluctus.improvements import shapes
from fluctus.improvements.answers import improvement_answers, totals_of
from fluctus.improvements.queries import improvements_in
from fluctus.kpis.models import Kpi
from fluctus.overview.panels.kind import Content, Look, PanelKind, Table
from fluctus.overview.panels.panel import Panel

MOST = 40
"""Improvements in a panel: more are looked at in their own list."""


@dataclass(frozen=True, slots=True)
class ImprovementsPanel(Shape):
    """Improvements, those that ask for something first, and what they brought in all."""

    rows: list[shapes.Improvement]
    total: str


def answer(panel: Panel, kpis: Sequence[Kpi], look: Look) -> Content:
    """Return the improvements on the KPIs of a panel, or of the workspace where it names none."""
    found = improvements_in(look.workspace)
    if kpis:
        found = found.filter(aims__kpi__in=kpis).distinct()
    if panel.group:
        found = found.filter(aims__kpi__group=panel.group).distinct()
    rows = improvement_answers(list(found[:MOST]))
    if not rows:
        raise RefusalError(
            "No improvement is written down",
            Issue("Nothing was done to move these yet.", "Write one down among the improvements."),
        )
    total = "; ".join(each.says for each in totals_of(rows))
    if not look.audience.member:
        rows = [_told(row, reasons=look.audience.reasons) for row in rows]
    states = Counter(aim.state for row in rows for aim in row.aims)
    sentence = say_improvements(len(rows), states)
    return Content(sentence, total, ImprovementsPanel(rows, total), _table(rows))


def _table(rows: Sequence[shapes.Improvement]) -> Table:
    head = ("Improvement", "Since", "KPI", "State", "What came of it")
    lines = tuple(
        (row.name, row.began, aim.kpi_name, aim.state_name, aim.says)
        for row in rows
        for aim in row.aims
    )
    return Table(head, lines)


def _told(row: shapes.Improvement, *, reasons: bool) -> shapes.Improvement:
    """Leave out who, and, without reasons, why."""
    return replace(row, owner=None, owner_name="", made_of=None, text=row.text if reasons else "")


IMPROVEMENTS = PanelKind("improvements", (0, 12), 12, ImprovementsPanel, answer, does_without=True)
