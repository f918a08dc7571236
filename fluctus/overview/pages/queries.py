"""Reads of pages, all within the workspaces of the person who asks."""

from collections.abc import Iterable

from django.contrib.auth.models import User
from django.db.models import QuerySet

from fluctus.accounts.models import Workspace
from fluctus.http.refusals import NotThereError
from fluctus.kpis.models import ActState, Kpi
from fluctus.overview.models import Page, PageChange
from fluctus.overview.pages.state import PageState

ACTS_TOLD = 40
PAGES_NAMED = 5


def pages_of(workspace: Workspace) -> QuerySet[Page]:
    """Return the pages of a workspace, those changed last first."""
    return Page.objects.filter(workspace=workspace).order_by("-changed_at", "-pk")


def page_of(person: User, workspace: str, number: int) -> Page:
    """Return one page; raises NotThereError for one of another workspace."""
    rows = Page.objects.filter(workspace__slug=workspace, workspace__members=person, pk=number)
    page = rows.select_related("workspace").first()
    if page is None:
        raise NotThereError("page")
    return page


def shown_in_words(kpi: Kpi) -> list[str]:
    """Name the pages that show a KPI; none, nothing."""
    rows = Page.objects.filter(
        workspace=kpi.workspace_id, state__panels__contains=[{"kpis": [kpi.slug]}]
    )
    return [f"The page “{page}” shows {kpi.name}." for page in rows.order_by("pk")[:PAGES_NAMED]]


def names_of(workspace_id: int, slugs: Iterable[str]) -> dict[str, str]:
    """Return the names of those KPIs that there are, by slug."""
    rows = Kpi.objects.filter(workspace=workspace_id, slug__in=set(slugs))
    return dict(rows.values_list("slug", "name"))


def names_on(page: Page) -> dict[str, str]:
    """Return the names of those KPIs of a page that there are, by slug."""
    panels = PageState.from_json(page.state).panels
    return names_of(page.workspace_id, (slug for panel in panels for slug in panel.kpis))


def next_undo_and_redo(page: Page) -> tuple[PageChange | None, PageChange | None]:
    """Return the act that undo would take back and the one that redo would bring back."""
    acts = PageChange.objects.filter(page=page)
    kept = acts.filter(state=ActState.KEPT).order_by("-pk").first()
    undone = acts.filter(state=ActState.UNDONE).order_by("pk").first()
    return kept, undone


def history_of(page: Page) -> list[PageChange]:
    """Return the newest acts on a page, newest first."""
    acts = PageChange.objects.filter(page=page).select_related("author")
    return list(acts.order_by("-pk")[:ACTS_TOLD])
