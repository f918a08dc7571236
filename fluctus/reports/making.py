"""What each format of a report is made by.

The libraries that set pages, slides and workbooks are loaded when one is made first: most
processes never need them.
"""

from collections.abc import Sequence
from datetime import datetime
from typing import Any

from fluctus.http.snapshots import one_snapshot
from fluctus.jobs.life import Progress
from fluctus.kpis.chart.queries import chart_of
from fluctus.kpis.models import Kpi
from fluctus.reports.asked import Asked
from fluctus.reports.contents import (
    ON_PAPER,
    ON_SLIDE,
    Chapter,
    entries_of,
    gather,
    kpi_of_entry,
    kpis_in,
    nothing_to_show,
)
from fluctus.reports.models import Format, Report
from fluctus.reports.package.writing import as_package


def make(report: Report, now: datetime, progress: Progress) -> dict[str, Any]:
    """Make a report; returns what ``services.keep`` keeps of it."""
    asked = Asked.from_json(report.asked)
    if report.format in (Format.WORKBOOK, Format.PACKAGE):
        with one_snapshot():
            return _from_charts(report, asked, now, progress)
    on_slides = report.format == Format.SLIDES
    with one_snapshot():
        contents = gather(report, now, ON_SLIDE if on_slides else ON_PAPER, progress)
    if on_slides:
        from fluctus.reports.paper.slides import as_slides  # noqa: PLC0415 - see the top

        progress("Setting the slides", 0.85)
        content, pages = as_slides(contents)
    else:
        from fluctus.reports.paper.pdf import as_pdf  # noqa: PLC0415

        progress("Setting the pages", 0.85)
        content, pages = as_pdf(contents, asked.paper)
    charts = [chapter for chapter in contents.chapters if chapter.slug]
    return {
        "content": content,
        "pages": pages,
        "shows": _shows(charts),
        "left_out": list(contents.left_out),
    }


def _from_charts(report: Report, asked: Asked, now: datetime, progress: Progress) -> dict[str, Any]:
    """Make what is written from charts as they are kept, each once."""
    found: dict[str, Kpi] = {}
    left_out: list[str] = []
    for entry in kpis_in(entries_of(report, asked, now)):
        if kpi := kpi_of_entry(report.workspace, entry, now, left_out):
            found[kpi.slug] = kpi
    if not found:
        raise nothing_to_show(*left_out)
    kpis = list(found.values())
    charts = [(kpi, chart_of(kpi, now)) for kpi in kpis]
    if report.format == Format.WORKBOOK:
        named = [(kpi.name, chart) for kpi, chart in charts]
        from fluctus.reports.workbook.book import as_workbook  # noqa: PLC0415

        content = as_workbook(report.title, named, progress)
    else:
        content = as_package(
            report.workspace, charts, report.title, now, progress, names=asked.names
        )
    return {"content": content, "pages": len(kpis), "shows": _shows(kpis), "left_out": left_out}


def _shows(shown: Sequence[Kpi | Chapter]) -> list[dict[str, object]]:
    """List what is shown, with the revision of each."""
    return [{"slug": one.slug, "name": one.name, "revision": one.revision} for one in shown]
