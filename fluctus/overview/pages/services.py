"""Writes to pages, each one transaction, kept in the record so that it can be taken back."""

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from django.db import transaction
from django.utils.crypto import get_random_string

from fluctus.accounts.models import Workspace
from fluctus.accounts.queries import name_of
from fluctus.accounts.record.log import AuditEvent, note
from fluctus.http.refusals import Issue, NotThereError, RefusalError
from fluctus.kpis.actor import Actor
from fluctus.kpis.models import ActState
from fluctus.overview.models import Page, PageChange
from fluctus.overview.pages.queries import names_of, next_undo_and_redo
from fluctus.overview.pages.state import MOST_PAGES, MOST_PANELS, PageState, describe
from fluctus.overview.panels.contents import named_kpis
from fluctus.overview.panels.panel import Panel
from fluctus.overview.panels.registry import KINDS

NOT_KEPT = "The page was not changed."


@transaction.atomic
def create_page(workspace: Workspace, title: str, panels: Sequence[dict[str, Any]]) -> Page:
    """Make a page, empty or with panels; raises RefusalError where these cannot be."""
    Workspace.objects.select_for_update(no_key=True).get(pk=workspace.pk)
    if Page.objects.filter(workspace=workspace).count() >= MOST_PAGES:
        raise RefusalError(
            "The page was not made.",
            Issue(f"There are {MOST_PAGES:,} pages already.", "Delete some of them first."),
        )
    state = PageState(title)
    for panel in panels:
        state = state.with_panel(_new_panel(panel))
    state = _checked(state, workspace.pk, known=frozenset())
    return Page.objects.create(workspace=workspace, title=title, state=state.to_json())


@transaction.atomic
def add_panel(page: Page, panel: dict[str, Any], actor: Actor) -> Page:
    """Put a panel below the others; whatever else has changed meanwhile stays."""
    page = _locked(page)
    return _keep(page, PageState.from_json(page.state).with_panel(_new_panel(panel)), actor)


@transaction.atomic
def change_page(page: Page, revision: int, changes: dict[str, Any], actor: Actor) -> Page:
    """Change a page; raises RefusalError (412) when it is no longer at ``revision``."""
    page = _locked(page, revision)
    before = PageState.from_json(page.state)
    if "panels" in changes:
        changes = changes | {"panels": tuple(Panel(**panel) for panel in changes["panels"])}
    return _keep(page, replace(before, **changes), actor)


@transaction.atomic
def delete_page(page: Page, revision: int, actor: Actor) -> None:
    """Delete a page with its record."""
    page = _locked(page, revision)
    note(page.workspace, actor.person, actor.now, AuditEvent.DELETION, f"Deleted the page {page}")
    page.delete()


@transaction.atomic
def turn(page: Page, revision: int, *, back: bool) -> Page:
    """Take back the latest act on a page, or bring back the one that was undone last."""
    page = _locked(page, revision)
    undo, redo = next_undo_and_redo(page)
    act = undo if back else redo
    if act is None:
        raise RefusalError(f"There is nothing to {'undo' if back else 'redo'}.", status=409)
    act.state = ActState.UNDONE if back else ActState.KEPT
    act.save(update_fields=["state"])
    _write(page, PageState.from_json(act.before if back else act.after))
    return page


def _locked(page: Page, revision: int | None = None) -> Page:
    row = Page.objects.select_for_update(of=("self",), no_key=True).filter(pk=page.pk).first()
    if row is None:
        raise NotThereError("page")
    if revision is not None and row.revision != revision:
        last = PageChange.objects.filter(page=row).select_related("author").order_by("-pk").first()
        who = name_of(last.author) or "somebody" if last else ""
        meanwhile = f"{who}: {last.summary}" if last else "it changed"
        raise RefusalError(
            "This page has changed since you opened it.",
            Issue(
                f"Meanwhile: {meanwhile}.",
                "Nothing was changed. Look at the page as it is now, then do it again.",
            ),
            status=412,
            revision=row.revision,
        )
    return row


def _keep(page: Page, after: PageState, actor: Actor) -> Page:
    """Keep a page as it is to be, with the act in the record."""
    before = PageState.from_json(page.state)
    known = frozenset(slug for panel in before.panels for slug in panel.kpis)
    after = _checked(after, page.workspace_id, known)
    if after == before:
        return page
    PageChange.objects.filter(page=page, state=ActState.UNDONE).update(state=ActState.REPLACED)
    PageChange.objects.create(
        page=page,
        author=actor.person,
        summary=describe(before, after) or "Changed the page",
        before=before.to_json(),
        after=after.to_json(),
        revision=page.revision + 1,
    )
    _write(page, after)
    return page


def _write(page: Page, state: PageState) -> None:
    page.state, page.title = state.to_json(), state.title
    page.revision += 1
    page.save()


def _new_panel(panel: dict[str, Any]) -> Panel:
    return Panel(**panel | {"key": get_random_string(10)})


def _checked(state: PageState, workspace_id: int, known: frozenset[str]) -> PageState:
    """Return a page with the names of its KPIs; raises RefusalError where it cannot be.

    KPIs that are ``known`` to have been on it may be gone.
    """
    panels = state.panels
    if len(panels) > MOST_PANELS:
        raise RefusalError(
            NOT_KEPT,
            Issue(
                f"It would have {len(panels):,} panels.",
                f"A page has {MOST_PANELS} at the most: make another page for the others.",
                "panels",
            ),
        )
    names = names_of(workspace_id, (slug for panel in panels for slug in panel.kpis))
    checked = []
    for number, panel in enumerate(panels):
        _refuse_panel(panel, number, panels[:number], known | set(names))
        named = [names.get(slug, old) for slug, old in named_kpis(panel)]
        checked.append(replace(panel, names=tuple(named)))
    return replace(state, panels=tuple(checked))


def _refuse_panel(
    panel: Panel, number: int, before: Sequence[Panel], known: frozenset[str]
) -> None:
    field = f"panels.{number}"
    kind = KINDS[panel.kind]
    if not kind.takes(len(panel.kpis)):
        wanted = f"A panel of this kind shows {kind.kpis_in_words}."
        raise RefusalError(NOT_KEPT, Issue(wanted, "Choose others.", f"{field}.kpis"))
    unknown = [slug for slug in panel.kpis if slug not in known]
    if unknown:
        raise RefusalError(
            NOT_KEPT,
            Issue(f"There is no KPI {unknown[0]} here.", "Choose one of the list.", field),
        )
    if any(panel.key == other.key for other in before):
        raise RefusalError(NOT_KEPT, Issue("Two panels have one key.", "Give each its own.", field))
    if not kind.repeats and any(map(panel.shows_the_same_as, before)):
        raise RefusalError(
            NOT_KEPT,
            Issue(
                "This panel is on the page already.",
                "Give one of them other dates or another view, or leave it out.",
                field,
            ),
            status=409,
        )
