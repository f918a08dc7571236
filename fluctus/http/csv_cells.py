"""CSV that people open in spreadsheets: no cell of it can run as a formula."""

import csv
import io
from collections.abc import Iterable

from django.http import HttpResponse

FORMULA_STARTS = ("=", "+", "-", "@", "\t", "\r")


def as_text(cell: str) -> str:
    """Keep a spreadsheet from taking a text for a formula: such a text gets an apostrophe."""
    return f"'{cell}" if cell.lstrip().startswith(FORMULA_STARTS) else cell


def csv_line(cells: list[str]) -> str:
    """Write one line of a CSV file."""
    buffer = io.StringIO()
    csv.writer(buffer).writerow(cells)
    return buffer.getvalue()


def csv_file(lines: Iterable[str], name: str) -> HttpResponse:
    """Answer with lines of CSV as a file to keep."""
    # A byte-order mark, so that spreadsheets read the names as UTF-8.
    content = "\ufeff" + "".join(lines)
    response = HttpResponse(content.encode(), content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="{name}.csv"'
    return response
