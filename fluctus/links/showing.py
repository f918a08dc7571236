"""What a link shows, gathered from what it names and nothing else."""

from dataclasses import replace
from datetime import datetime
from typing import Any

import orjson

from fluctus.http.refusals import Issue, RefusalError
from fluctus.http.snapshots import one_snapshot
from fluctus.kpis.events.queries import Told
from fluctus.kpis.models import Kpi
from fluctus.links.models import Beside, Link, LinkKind
from fluctus.links.shapes import SharedThing
from fluctus.overview.models import Page
from fluctus.overview.pages.answers import left_out
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
        return [_chart(link.kpi, link.view, now, link.shows)]
    if link.kind == LinkKind.PAGE:
        if link.page is None:
            raise gone()
        return _of_page(link.page, now, link.shows)
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


def _of_page(page: Page, now: datetime, shows: list[str]) -> list[SharedThing]:
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
            things.append(_text(panel.text))
            continue
        if missing := left_out(panel):
            things.append(_text(missing))
            continue
        for slug, name in zip(panel.kpis, panel.names, strict=False):
            if slug in kpis:
                view = panel.view if panel.kind == PanelKind.CHART else ""
                things.append(_chart(kpis[slug], view, now, shows))
            else:
                things.append(_text(f"Left out: {name} has been deleted."))
    return things


def _text(text: str) -> SharedThing:
    return SharedThing(text, "", None, [], None)


def _chart(kpi: Kpi, view: str, now: datetime, shows: list[str]) -> SharedThing:
    """Return a chart with what is shown beside it, and nothing that names another KPI."""
    told = Told(own=Beside.EVENTS in shows, everywhere=Beside.EVERYWHERE in shows)
    shown = viewed(kpi, view, now, WIDTH, told=told)
    chart = replace(shown.answer, kpi=replace(shown.answer.kpi, source=None))
    if Beside.NOTES not in shows:
        chart = replace(chart, notes=[])
    if Beside.REASONS not in shows:
        chart = replace(
            chart,
            segments=[replace(part, what_changed="", review={}) for part in chart.segments],
            set_aside=[replace(value, reason="") for value in chart.set_aside],
            kept_limits=[replace(kept, reason="", review={}) for kept in chart.kept_limits],
        )
    pins = [
        replace(pin, events=[replace(event, kpis=[kpi.slug]) for event in pin.events])
        for pin in shown.pins
    ]
    return SharedThing("", shown.view.name if shown.view else "", chart, pins, shown.hidden)
