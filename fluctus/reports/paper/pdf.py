"""A report on pages: tagged PDF with bookmarks, by WeasyPrint; and pages as pictures, by PDFium.

What is set is our own template, filled with escaped text; nothing is fetched but the
typeface and the pictures that were drawn for it.
"""

from contextlib import closing
from io import BytesIO
from threading import Lock
from typing import Any
from urllib.parse import unquote

import pypdfium2
from django.template.loader import render_to_string
from weasyprint import HTML
from weasyprint.text.fonts import FontConfiguration
from weasyprint.urls import URLFetcher, URLFetcherResponse

from fluctus.core.analysis import FACTORS
from fluctus.reports.asked import Paper
from fluctus.reports.contents import Contents
from fluctus.reports.paper.fonts import font_faces, font_files

PICTURE = "picture:"
_one_at_a_time = Lock()
"""PDFium holds what it does in memory that threads share: two at once end the process."""


class _Shipped(URLFetcher):  # type: ignore[misc]
    """Gives the pictures of a report and the typeface, and refuses everything else."""

    def __init__(self, pictures: list[str]) -> None:
        super().__init__()
        self._pictures = pictures
        self._fonts = {unquote(file.as_uri()): file for file in font_files()}

    def fetch(self, url: str, headers: Any = None) -> URLFetcherResponse:
        """Return what is at an address."""
        address = unquote(url)
        if address.startswith(PICTURE):
            svg = self._pictures[int(address.removeprefix(PICTURE))].encode()
            return URLFetcherResponse(url, svg, {"Content-Type": "image/svg+xml"})
        if address in self._fonts:
            body = self._fonts[address].read_bytes()
            return URLFetcherResponse(url, body, {"Content-Type": "font/woff2"})
        raise ValueError("a report reads nothing from outside")


def as_pdf(contents: Contents, paper: Paper) -> tuple[bytes, int]:
    """Set a report on pages; returns the PDF and how many pages it has."""
    html = render_to_string(
        "reports/report.html",
        {
            "report": contents,
            "paper": paper,
            "fonts": font_faces(),
            "factors": [f"{factor:.3f}" for pair in FACTORS.values() for factor in pair],
        },
    )
    return _set(html, [chapter.svg for chapter in contents.chapters])


def page_as_png(pdf: bytes, page: int, scale: float) -> bytes:
    """Return one page of a PDF as PNG; raises IndexError for a page that it has not."""
    with _one_at_a_time, closing(pypdfium2.PdfDocument(pdf)) as document:
        if not 0 <= page < len(document):
            raise IndexError(page)
        # Each is closed here: what the collector closes, it closes in any thread.
        with closing(document[page]) as found, closing(found.render(scale=scale)) as drawn:
            picture = drawn.to_pil().copy()
    png = BytesIO()
    picture.save(png, "PNG", optimize=True)
    return png.getvalue()


def _set(html: str, pictures: list[str]) -> tuple[bytes, int]:
    document = HTML(string=html, url_fetcher=_Shipped(pictures)).render(
        font_config=FontConfiguration()
    )
    return document.write_pdf(pdf_variant="pdf/ua-1"), len(document.pages)
