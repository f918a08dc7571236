"""What each format of a report is made by."""

from datetime import datetime
from typing import Any

from fluctus.reports.asked import Asked
from fluctus.reports.contents import ON_PAPER, ON_SLIDE, Contents, Progress, gather
from fluctus.reports.models import Format, Report
from fluctus.reports.paper.pdf import as_pdf
from fluctus.reports.paper.slides import as_slides


def make(report: Report, now: datetime, progress: Progress) -> dict[str, Any]:
    """Make a report; returns what ``services.keep`` keeps of it."""
    asked = Asked.from_json(report.asked)
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


def shows_of(contents: Contents) -> list[dict[str, object]]:
    """List the KPIs that are shown, with the revision of each."""
    return [
        {"slug": chapter.slug, "name": chapter.name, "revision": chapter.revision}
        for chapter in contents.chapters
        if chapter.slug
    ]
