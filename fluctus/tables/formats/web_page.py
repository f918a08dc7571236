"""A table from a web page, as a browser puts it on the clipboard."""

from typing import Any

from lxml import etree, html

from fluctus.tables.grid import MAX_COLUMNS, MAX_ROWS, TOO_LONG, Grid, TableError, make_grid

MAX_SPAN = 50
NO_TABLE = "There is no table on this page. Copy the table itself."


def read_web(text: str) -> Grid:
    """Read the largest table of a page; a cell over several columns fills the first of them.

    Raises TableError where there is none. Nothing that the page links to is fetched.
    """
    # Without huge_tree the parser gives up what is nested deeper than a page ever is.
    parser = html.HTMLParser(no_network=True, remove_comments=True, remove_pis=True)
    try:
        page = html.document_fromstring(text, parser=parser)
    except (etree.LxmlError, ValueError) as error:
        raise TableError(NO_TABLE) from error
    tables = [table for table in map(_rows, page.iter("table")) if table]
    if not tables:
        raise TableError(NO_TABLE)
    rows = max(tables, key=lambda table: sum(map(len, table)))
    return make_grid(enumerate(rows, 1))


def is_web_page(text: str) -> bool:
    """Tell whether a text is a whole web page, or a piece of one with a table."""
    start = text.lstrip()[:20_000].lower()
    return start.startswith(("<!doctype html", "<html")) or (
        start.startswith("<") and "<table" in start
    )


def _rows(table: Any) -> list[list[str]]:
    """Return the cells of a table, without those of tables inside of its cells."""
    rows: list[list[str]] = []
    if table.find("td") is not None or table.find("th") is not None:
        # Cells that stand in no row are one.
        rows.append(_cells(table))
    for row in table.iterchildren("tr", "thead", "tbody", "tfoot"):
        for line in [row] if row.tag == "tr" else row.iterchildren("tr"):
            if len(rows) > MAX_ROWS:
                raise TableError(TOO_LONG)
            rows.append(_cells(line))
    return rows


def _cells(row: Any) -> list[str]:
    cells: list[str] = []
    for cell in row.iterchildren("td", "th"):
        # A line break parts two words as a blank does.
        for mark in cell.iter("br"):
            mark.tail = f" {mark.tail or ''}"
        span = (cell.get("colspan") or "").strip()[:3]
        width = min(int(span), MAX_SPAN) if span.isdecimal() else 1
        cells += [" ".join(cell.text_content().split()), *[""] * (width - 1)]
        if len(cells) > MAX_COLUMNS:
            raise TableError(
                f"The table has more than {MAX_COLUMNS:,} columns. Leave some of them out."
            )
    return cells
