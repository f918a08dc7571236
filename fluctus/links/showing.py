"""What a link shows, gathered from what it names and nothing else."""

from datetime import datetime
from typing import Any

import orjson

from fluctus.http.refusals import Issue, RefusalError
from fluctus.http.snapshots import one_snapshot
from fluctus.kpis.models import Kpi
from fluctus.links.models import Link, LinkKind
from fluctus.links.shapes import SharedThing
from fluctus.overview.models import Page
from fluctus.overview.pages.state import PageState, PanelKind
from fluctus.reports.viewed import viewed

WIDTH = 1_000
"""Pixels that charts are made for: those of a laptop."""


def things_of(link: Link, now: datetime) -> list[SharedThing] | list[dict[str, Any]]:
    """Return what a link shows, in order: charts, and texts between them.

    Raises RefusalError (410) where what it names has been deleted.
    """
    if link.frozen is not None:
        return list(link.frozen)
    with one_snapshot():
        return _things_now(link, now)


def _things_now(link: Link, now: datetime) -> list[SharedThing]:
    if link.kind == LinkKind.CHART:
        if link.kpi is None:
            raise gone()
        return [_chart(link.kpi, link.view, now)]
    if link.kind == LinkKind.PAGE:
        if link.page is None:
            raise gone()
        return _of_page(link.page, now)
    if link.report is None:
        raise gone()
    return []


def frozen_now(link: Link, now: datetime) -> list[dict[str, Any]]:
    """Return what a link shows now, as it is kept to be shown later."""
    option = orjson.OPT_SERIALIZE_NUMPY
    kept: list[dict[str, Any]] = orjson.loads(orjson.dumps(things_of(link, now), option=option))
    return kept


def gone() -> RefusalError:
    """Say that what a link names is no longer there."""
    return RefusalError(
        "What this link showed is gone.",
        Issue("It has been deleted.", "Ask whoever sent it to you for another."),
        status=410,
    )


def _of_page(page: Page, now: datetime) -> list[SharedThing]:
    things: list[SharedThing] = []
    panels = PageState.from_json(page.state).in_reading_order()
    kpis = {
        kpi.slug: kpi
        for kpi in Kpi.objects.filter(
            workspace=page.workspace, slug__in={slug for panel in panels for slug in panel.kpis}
        )
    }
    for panel in panels:
        if panel.kind == PanelKind.TEXT:
            things.append(SharedThing(panel.text, "", None, [], None))
        for slug in panel.kpis:
            if slug in kpis:
                view = panel.view if panel.kind == PanelKind.CHART else ""
                things.append(_chart(kpis[slug], view, now))
    return things


def _chart(kpi: Kpi, view: str, now: datetime) -> SharedThing:
    shown = viewed(kpi, view, now, WIDTH)
    return SharedThing("", shown.view.name if shown.view else "", shown.answer, shown.pins,
                       shown.hidden)  # fmt: skip
