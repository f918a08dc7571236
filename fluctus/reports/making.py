"""What each format of a report is made by."""

from datetime import datetime
from typing import Any

from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.queries import chart_of
from fluctus.kpis.models import Kpi
from fluctus.reports.asked import Asked
from fluctus.reports.contents import (
    ON_PAPER,
    ON_SLIDE,
    Contents,
    Progress,
    entries_of,
    gather,
    nothing_to_show,
)
from fluctus.reports.models import Format, Report
from fluctus.reports.package.writing import as_package
from fluctus.reports.paper.pdf import as_pdf
from fluctus.reports.paper.slides import as_slides
from fluctus.reports.workbook.book import as_workbook


def make(report: Report, now: datetime, progress: Progress) -> dict[str, Any]:
    """Make a report; returns what ``services.keep`` keeps of it."""
    asked = Asked.from_json(report.asked)
    if report.format in (Format.WORKBOOK, Format.PACKAGE):
        charts, left_out = charts_of(report, asked, now)
        if report.format == Format.WORKBOOK:
            named = [(kpi.name, chart) for kpi, chart in charts]
            content = as_workbook(report.title, named, progress)
        else:
            content = as_package(
                report.workspace, charts, report.title, now, progress, names=asked.names
            )
        shows: list[dict[str, object]] = [
            {"slug": kpi.slug, "name": kpi.name, "revision": kpi.revision} for kpi, _ in charts
        ]
        return {"content": content, "pages": len(charts), "shows": shows, "left_out": left_out}
    if report.format == Format.SLIDES:
        contents = gather(report, now, ON_SLIDE, progress)
        progress("Setting the slides", 0.85)
        content, pages = as_slides(contents)
    else:
        contents = gather(report, now, ON_PAPER, progress)
        progress("Setting the pages", 0.85)
        content, pages = as_pdf(contents, asked.paper)
    return {
        "content": content, "pages": pages, "shows": shows_of(contents),
        "left_out": list(contents.left_out),
    }  # fmt: skip


def charts_of(
    report: Report, asked: Asked, now: datetime
) -> tuple[list[tuple[Kpi, Chart]], list[str]]:
    """Return the charts of a report as they are kept, each once, and what has gone."""
    found: dict[str, tuple[Kpi, Chart]] = {}
    left_out = []
    for entry in entries_of(report, asked, now):
        kpi = Kpi.objects.filter(workspace=report.workspace, slug=entry.slug).first()
        if kpi is not None:
            found[kpi.slug] = kpi, chart_of(kpi, now)
        elif entry.slug:
            left_out.append(f"{entry.name} has been deleted; it is not shown.")
    if not found:
        raise nothing_to_show(*left_out)
    return list(found.values()), left_out


def shows_of(contents: Contents) -> list[dict[str, object]]:
    """List the KPIs that are shown, with the revision of each."""
    return [
        {"slug": chapter.slug, "name": chapter.name, "revision": chapter.revision}
        for chapter in contents.chapters
        if chapter.slug
    ]
