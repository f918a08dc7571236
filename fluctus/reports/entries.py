"""What a report is to show, entry by entry, as the workspace stands now."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from fluctus.accounts.models import Workspace
from fluctus.findings.queries import look_of
from fluctus.http.refusals import Issue, RefusalError
from fluctus.kpis.chart.queries import chart_or_none
from fluctus.kpis.models import Kpi
from fluctus.overview.models import Page
from fluctus.overview.pages.state import PageState
from fluctus.overview.panels.contents import named_kpis
from fluctus.overview.panels.panel import Panel
from fluctus.overview.panels.registry import KINDS
from fluctus.overview.strips.queries import Viewer, has_news
from fluctus.reports.asked import MOST_CHARTS, Asked
from fluctus.reports.models import Report, Scope


@dataclass(frozen=True, slots=True)
class Entry:
    """What is to become a chapter: a chart by the slug of its KPI, or a panel of a page."""

    slug: str = ""
    name: str = ""
    text: str = ""
    view: str = ""
    panel: Panel | None = None


def kpi_of_entry(
    workspace: Workspace, entry: Entry, now: datetime, left_out: list[str]
) -> Kpi | None:
    """Return the KPI of an entry; one that has none to show is added to ``left_out``."""
    kpi = Kpi.objects.filter(workspace=workspace, slug=entry.slug).first()
    if kpi is None:
        left_out.append(f"{entry.name} has been deleted; it is not shown.")
    elif chart_or_none(kpi, now) is None:
        left_out.append(f"{entry.name} cannot be computed; it is not shown.")
        return None
    return kpi


def nothing_to_show(*why: str) -> RefusalError:
    """Say that a report would be empty."""
    return RefusalError(
        "There is nothing to show.",
        *(Issue(text) for text in why),
        Issue("No chart is in it.", "Choose KPIs, or another page or group."),
    )


def entries_of(report: Report, asked: Asked, now: datetime) -> list[Entry]:
    """List what a report is to show, as it stands now; raises RefusalError for too much."""
    if asked.scope == Scope.PAGE:
        entries = _entries_of_page(report.workspace, asked)
    else:
        rows = list(_kpis_of(report, asked, now).values_list("slug", "name"))
        if asked.scope == Scope.KPIS:
            names = dict(rows)
            rows = [(slug, names.get(slug, slug)) for slug in asked.kpis]
        entries = [
            Entry(slug, name, asked.texts.get(slug, ""), asked.views.get(slug, ""))
            for slug, name in rows
        ]
    count = sum(bool(entry.slug or entry.panel) for entry in entries)
    if count > MOST_CHARTS:
        raise RefusalError(
            "This is more than a report holds.",
            Issue(
                f"It would show {count} charts; {MOST_CHARTS} fit.",
                "Choose a group, a page, or what is new.",
                "scope",
            ),
        )
    return entries


def _kpis_of(report: Report, asked: Asked, now: datetime) -> Any:
    rows = Kpi.objects.filter(workspace=report.workspace).order_by("group", "id")
    if asked.scope == Scope.KPIS:
        return rows.filter(slug__in=asked.kpis)
    if asked.scope == Scope.GROUP:
        return rows.filter(group=asked.group)
    if asked.scope == Scope.NEW:
        if report.person is None:
            return rows.none()
        look = look_of(report.person, report.workspace)
        viewer = Viewer(report.person, report.workspace, now, look.since if look else None)
        return rows.filter(has_news(viewer))
    return rows


def _entries_of_page(workspace: Workspace, asked: Asked) -> list[Entry]:
    page = Page.objects.filter(workspace=workspace, pk=asked.page or 0).first()
    if page is None:
        raise RefusalError(
            "The page is gone.",
            Issue("It has been deleted since.", "Choose another page.", "page"),
            status=404,
        )
    entries: list[Entry] = []
    for panel in PageState.from_json(page.state).in_reading_order():
        if not KINDS[panel.kind].whole_chapter:
            entries.append(Entry(name=panel.group or " and ".join(panel.names), panel=panel))
            continue
        for slug, name in named_kpis(panel):
            if all(entry.slug != slug or entry.view != panel.view for entry in entries):
                entries.append(Entry(slug, name, asked.texts.get(slug, ""), panel.view))
    return entries


def kpis_in(entries: Iterable[Entry]) -> list[Entry]:
    """Return the KPIs of entries, each as an entry of its own, for what has no pictures."""
    return [
        entry
        for whole in entries
        for entry in (
            [whole]
            if whole.panel is None
            else [Entry(slug, name) for slug, name in named_kpis(whole.panel)]
        )
    ]
