"""CSV that people open in spreadsheets: no cell of it can run as a formula."""

import csv
import io
import re
import unicodedata
from codecs import BOM_UTF8
from collections.abc import Iterable, Sequence

from django.http import HttpResponse

FORMULA_STARTS = ("=", "+", "-", "@")
PARTS = re.compile(r"([;\t\r\n])([^;\t\r\n]*)")
"""Where spreadsheets of other countries begin a new cell, within what is one here."""


def as_text(cell: str) -> str:
    """Keep a spreadsheet from taking a text, or a part of it, for a formula.

    Such a text gets an apostrophe, and so does a part behind a mark that begins a
    new cell elsewhere. Full-width signs count as their plain kin, and what has no
    width does not hide them.
    """
    safe = PARTS.sub(lambda part: part[1] + _quoted(part[2]), cell)
    return f"'{safe}" if _begins_formula(cell) else safe


def _quoted(text: str) -> str:
    return f"'{text}" if _begins_formula(text) else text


def _begins_formula(text: str) -> bool:
    seen = "".join(
        letter
        for letter in unicodedata.normalize("NFKC", text)
        if not letter.isspace() and unicodedata.category(letter) not in ("Cf", "Cc", "Mn")
    )
    return seen.startswith(FORMULA_STARTS)


def csv_text(rows: Iterable[Sequence[str]]) -> str:
    """Write rows of cells as CSV."""
    buffer = io.StringIO()
    csv.writer(buffer).writerows(rows)
    return buffer.getvalue()


def csv_file(content: bytes, name: str) -> HttpResponse:
    """Answer with CSV as a file to keep."""
    # A byte-order mark, so that spreadsheets read the names as UTF-8.
    response = HttpResponse([BOM_UTF8, content], content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="{name}.csv"'
    return response
