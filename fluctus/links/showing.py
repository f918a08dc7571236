"""What a link shows, gathered from what it names and nothing else."""

from dataclasses import replace
from datetime import datetime
from typing import Any

import orjson

from fluctus.http.refusals import Issue, RefusalError
from fluctus.http.snapshots import one_snapshot
from fluctus.kpis.events.queries import Told
from fluctus.links.models import Extra, Link, LinkKind
from fluctus.overview.pages.state import PageState
from fluctus.overview.panels.contents import PanelContent, contents_of, days_kept
from fluctus.overview.panels.kind import Audience, Look
from fluctus.overview.panels.kinds.chart import CHART
from fluctus.overview.panels.panel import Panel

WIDTH = 1_000
"""Pixels that charts are made for: those of a laptop."""


def things_of(link: Link, now: datetime) -> list[PanelContent] | list[dict[str, Any]]:
    """Return what a link shows, in order: charts, and texts between them.

    Raises RefusalError (410) where what it names has been deleted.
    """
    if link.frozen is not None:
        return list(link.frozen)
    with one_snapshot():
        return _things_now(link, now)


def _things_now(link: Link, now: datetime) -> list[PanelContent]:
    look = Look(link.workspace, now, {}, WIDTH, _audience(link.shows))
    if link.kind == LinkKind.CHART:
        if link.kpi is None:
            raise gone()
        kpi = link.kpi
        return contents_of([Panel("chart", CHART.name, (kpi.slug,), (kpi.name,), link.view)], look)
    if link.kind == LinkKind.PAGE:
        if link.page is None:
            raise gone()
        page = PageState.from_json(link.page.state)
        return contents_of(page.in_reading_order(), replace(look, dates=days_kept(page.dates)))
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


def _audience(shows: list[str]) -> Audience:
    """Return what those who have a link are told, by what it shows."""
    return Audience(
        member=False,
        notes=Extra.NOTES in shows,
        reasons=Extra.REASONS in shows,
        told=Told(of_the_chart=Extra.EVENTS in shows, everywhere=Extra.EVERYWHERE in shows),
    )
