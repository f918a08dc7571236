"""Pages, as the API answers with them."""

from typing import Any

from fluctus.accounts.queries import name_of
from fluctus.kpis.chart.answers.kpi import history_answer
from fluctus.kpis.models import ActState
from fluctus.overview.models import Page, PageChange
from fluctus.overview.pages import shapes
from fluctus.overview.pages.queries import names_on, next_undo_and_redo
from fluctus.overview.pages.state import PageState
from fluctus.overview.panels.panel import Panel


def page_answer(page: Page) -> shapes.PageDetail:
    """Return a page with its panels, and which of their KPIs are gone."""
    state = PageState.from_json(page.state)
    names = names_on(page)
    return shapes.PageDetail(
        id=page.pk,
        title=state.title,
        revision=page.revision,
        dates=_dates(state.dates),
        equal_axes=state.equal_axes,
        panels=[_panel(panel, names) for panel in state.panels],
        history=history_answer(*next_undo_and_redo(page)),
    )


def row_answer(page: Page) -> shapes.PageRow:
    """Return a page as the list shows it."""
    return shapes.PageRow(
        page.pk, page.title, len(page.state["panels"]), page.changed_at.isoformat()
    )


def act_answer(act: PageChange) -> shapes.PageAct:
    """Return an act on a page."""
    return shapes.PageAct(
        id=act.pk,
        author=name_of(act.author),
        at=act.at.isoformat(),
        summary=act.summary,
        undone=act.state != ActState.KEPT,
    )


def _panel(panel: Panel, names: dict[str, str]) -> shapes.PagePanel:
    options = panel.options
    return shapes.PagePanel(
        key=panel.key,
        kind=panel.kind,
        kpis=list(panel.kpis),
        names=[names.get(slug, old) for slug, old in zip(panel.kpis, panel.names, strict=True)],
        gone=[old for slug, old in zip(panel.kpis, panel.names, strict=True) if slug not in names],
        view=panel.view,
        group=panel.group,
        text=panel.text,
        options=shapes.PanelOptions(
            order=options.get("order", ""),
            measure=options.get("measure", ""),
            goal=options.get("goal"),
            lag=options.get("lag", 0),
            by=options.get("by", ""),
            parts=options.get("parts", []),
            one_plot=options.get("one_plot", False),
        ),
        dates=None if panel.dates is None else _dates(panel.dates),
        x=panel.x,
        y=panel.y,
        w=panel.w,
        h=panel.h,
    )


def _dates(dates: dict[str, Any]) -> shapes.PageDates:
    return shapes.PageDates(dates.get("first"), dates.get("last"), dates.get("weeks"))
