"""How a report is made: by way of pictures, or from its charts as they are kept."""

from collections.abc import Sequence
from datetime import datetime
from typing import Any

from fluctus.http.snapshots import one_snapshot
from fluctus.jobs.life import Progress
from fluctus.kpis.chart.queries import chart_of
from fluctus.kpis.models import Kpi
from fluctus.reports.asked import Asked
from fluctus.reports.contents import Chapter, gather
from fluctus.reports.entries import entries_of, kpi_of_entry, kpis_in, nothing_to_show
from fluctus.reports.models import Report
from fluctus.reports.outputs.output import FromCharts, FromPictures
from fluctus.reports.outputs.registry import output_of


def make(report: Report, now: datetime, progress: Progress) -> dict[str, Any]:
    """Make a report; returns what ``services.keep`` keeps of it."""
    asked, way = Asked.from_json(report.asked), output_of(report.format).way
    if isinstance(way, FromCharts):
        with one_snapshot():
            return _from_charts(report, asked, way, now, progress)
    return _from_pictures(report, asked, way, now, progress)


def _from_pictures(
    report: Report, asked: Asked, way: FromPictures, now: datetime, progress: Progress
) -> dict[str, Any]:
    with one_snapshot():
        contents = gather(report, now, way.size, progress)
    progress(way.setting, 0.85)
    content, pages = way.make(contents, asked)
    charts = [chapter for chapter in contents.chapters if chapter.slug]
    return {
        "content": content,
        "pages": pages,
        "shows": _shows(charts),
        "left_out": list(contents.left_out),
    }


def _from_charts(
    report: Report, asked: Asked, way: FromCharts, now: datetime, progress: Progress
) -> dict[str, Any]:
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
    content = way.make(report, asked, charts, now, progress)
    return {"content": content, "pages": len(kpis), "shows": _shows(kpis), "left_out": left_out}


def _shows(shown: Sequence[Kpi | Chapter]) -> list[dict[str, object]]:
    """List what is shown, with the revision of each."""
    return [{"slug": one.slug, "name": one.name, "revision": one.revision} for one in shown]
