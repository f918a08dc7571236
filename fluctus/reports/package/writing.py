"""A package written from charts as they are kept."""

import json
from collections.abc import Iterable, Sequence
from datetime import datetime
from io import BytesIO
from itertools import chain
from typing import Any
from zipfile import ZIP_DEFLATED, ZipFile
from zoneinfo import ZoneInfo

import polars as pl

from fluctus.accounts.models import Workspace
from fluctus.accounts.queries import name_of
from fluctus.findings.models import Finding, FindingPresence
from fluctus.http.csv_cells import as_text, csv_text
from fluctus.jobs.life import Progress
from fluctus.kpis.calendar import Grain, to_text
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.events.queries import events_of
from fluctus.kpis.models import Event, Kpi
from fluctus.kpis.observations.reading import read_frame
from fluctus.reports.package.fields import (
    DESCRIPTOR,
    EVENTS,
    FINDINGS,
    FORMAT,
    IMPROVEMENTS,
    IMPROVEMENTS_FILE,
    LIMITS,
    NUMBER,
    TEXT,
    VALUES,
    resource,
)
from fluctus.reports.package.improvements import improvement_rows


def as_package(
    workspace: Workspace,
    charts: Sequence[tuple[Kpi, Chart]],
    title: str,
    now: datetime,
    progress: Progress,
    *,
    names: bool,
) -> bytes:
    """Write the values, settings, limits, events and findings of some KPIs.

    ``names`` tells whether people are named. No cell can run as a formula: what had to be
    changed for that stands as it was in the descriptor.
    """
    made = BytesIO()
    escaped: dict[str, str] = {}
    resources: list[dict[str, Any]] = []
    with ZipFile(made, "w", ZIP_DEFLATED) as files:
        for number, (kpi, chart) in enumerate(charts):
            progress(f"Writing {kpi.name}", 0.95 * number / len(charts))
            folder = f"kpis/{kpi.slug}"
            files.writestr(f"{folder}/values.csv", _values(kpi, chart, escaped))
            files.writestr(f"{folder}/limits.csv", _lines(LIMITS, _limits(chart)))
            resources += [
                resource(
                    f"{kpi.slug}-values", f"{folder}/values.csv", VALUES, **_about(kpi, chart)
                ),
                resource(
                    f"{kpi.slug}-limits",
                    f"{folder}/limits.csv",
                    dict.fromkeys(LIMITS, NUMBER) | {"segment": TEXT, "start": TEXT},
                    title=f"Limits of {kpi.name}, computed from its values",
                ),
            ]
        kpis = [kpi for kpi, _ in charts]
        files.writestr("events.csv", _lines(EVENTS, _events(workspace, kpis), escaped))
        files.writestr("findings.csv", _lines(FINDINGS, _findings(kpis, names=names), escaped))
        improvements = _lines(IMPROVEMENTS, improvement_rows(kpis), escaped)
        files.writestr(IMPROVEMENTS_FILE, improvements)
        resources += [
            resource(
                "improvements",
                IMPROVEMENTS_FILE,
                dict.fromkeys(IMPROVEMENTS, TEXT) | {"amount": NUMBER, "worth": NUMBER},
                title="What was done, and what came of it",
            ),
            resource("events", "events.csv", dict.fromkeys(EVENTS, TEXT), title="What happened"),
            resource("findings", "findings.csv", dict.fromkeys(FINDINGS, TEXT), title="Findings"),
        ]
        descriptor = {
            "name": workspace.slug,
            "title": title,
            "created": now.isoformat(),
            "resources": resources,
            "fluctus": {"format": FORMAT, "as_it_was": escaped},
        }
        files.writestr(DESCRIPTOR, json.dumps(descriptor, ensure_ascii=False, indent=1))
    return made.getvalue()


def _about(kpi: Kpi, chart: Chart) -> dict[str, Any]:
    """Describe a KPI: what it is, and all settings of its chart."""
    return {
        "title": kpi.name,
        "fluctus": {
            "slug": kpi.slug,
            "grain": kpi.grain,
            "unit": kpi.unit,
            "time_zone": kpi.time_zone,
            "revision": kpi.revision,
            "settings": chart.state.to_json(),
            "source": kpi.source.slug if kpi.source else None,
            "second": kpi.second.slug if kpi.second else None,
            "made_by": kpi.made_by,
            "times": kpi.times,
            "left_out": kpi.left_out,
        },
    }


def _values(kpi: Kpi, chart: Chart, escaped: dict[str, str]) -> str:
    zone = chart.state.calendar.zone
    frame = read_frame(kpi).select(list(VALUES))
    periods = [
        datetime.fromtimestamp(instant, zone).isoformat() for instant in frame["period"].to_list()
    ]
    texts = [
        pl.Series(name, [_safe(text or "", escaped) for text in frame[name].to_list()], pl.String)
        for name in ("breakdown", "note", "reason")
    ]
    return frame.with_columns(pl.Series("period", periods, pl.String), *texts).write_csv()


def _limits(chart: Chart) -> Iterable[list[Any]]:
    for segment, state in zip(chart.analysis.segments, chart.state.segments, strict=True):
        yield [
            state.name,
            state.start or "",
            segment.n,
            segment.average,
            segment.spread,
            segment.lower,
            segment.upper,
            segment.range_limit,
        ]


def _events(workspace: Workspace, kpis: Sequence[Kpi]) -> Iterable[list[Any]]:
    slugs = {kpi.pk: kpi.slug for kpi in kpis}
    told = {event.pk for kpi in kpis for event in events_of(kpi)}
    rows = Event.objects.filter(workspace=workspace, pk__in=told).prefetch_related("kpis")
    for event in rows.order_by("first", "pk"):
        with_kpis = " ".join(slugs[kpi.pk] for kpi in event.kpis.all() if kpi.pk in slugs)
        yield [
            event.uid,
            event.title,
            event.kind,
            event.text,
            event.first.isoformat(),
            event.last.isoformat(),
            "yes" if event.everywhere else "",
            with_kpis,
        ]


def _findings(kpis: Sequence[Kpi], *, names: bool) -> Iterable[list[Any]]:
    rows = Finding.objects.filter(kpi__in=kpis, presence=FindingPresence.PRESENT)
    for row in rows.select_related("kpi", "person").order_by("kpi", "first", "pk"):
        grain, zone = Grain(row.kpi.grain), ZoneInfo(row.kpi.time_zone)
        yield [
            row.kpi.slug,
            row.rule,
            to_text(row.first, grain, zone),
            to_text(row.last, grain, zone),
            row.title,
            row.state,
            row.cause,
            row.action,
            name_of(row.person) if names else "",
            row.due.isoformat() if row.due else "",
            row.text,
        ]


def _lines(
    head: list[str], rows: Iterable[list[Any]], escaped: dict[str, str] | None = None
) -> str:
    kept = {} if escaped is None else escaped

    def written(cell: Any) -> str:
        if isinstance(cell, str):
            return _safe(cell, kept)
        return "" if cell is None else repr(cell)

    return csv_text(chain([head], (list(map(written, row)) for row in rows)))


def _safe(text: str, escaped: dict[str, str]) -> str:
    """Keep a text from running as a formula, remembering what it was."""
    safe = as_text(text)
    if safe != text:
        escaped[safe] = text
    return safe
