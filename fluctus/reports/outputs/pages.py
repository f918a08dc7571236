"""A report on pages: PDF."""

from fluctus.reports.asked import Asked
from fluctus.reports.contents import ON_PAPER, Contents
from fluctus.reports.models import Format
from fluctus.reports.outputs.output import FromPictures, Output


def _make(contents: Contents, asked: Asked) -> tuple[bytes, int]:
    from fluctus.reports.paper.pdf import as_pdf  # noqa: PLC0415 - see FromPictures

    return as_pdf(contents, asked.paper)


PAGES = Output(
    Format.PDF,
    "a report",
    "pdf",
    "application/pdf",
    FromPictures(ON_PAPER, "Setting the pages", _make),
    previewed=True,
)
