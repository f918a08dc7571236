"""A table from a web page, as a browser puts it on the clipboard."""

from html.parser import HTMLParser

from fluctus.tables.grid import MAX_COLUMNS, MAX_ROWS, TOO_LONG, Grid, TableError, make_grid

MAX_SPAN = 50


def read_web(text: str) -> Grid:
    """Read the largest table of a page; a cell over several columns fills the first of them.

    Raises TableError where there is none. Nothing that the page links to is fetched.
    """
    parser = _Tables()
    parser.feed(text)
    parser.close()
    tables = [table for table in parser.tables if table]
    if not tables:
        raise TableError("There is no table on this page. Copy the table itself.")
    rows = max(tables, key=lambda table: sum(map(len, table)))
    return make_grid(enumerate(rows, 1))


def is_web_page(text: str) -> bool:
    """Tell whether a text is a piece of a web page with a table."""
    start = text.lstrip()[:20_000].lower()
    return start.startswith("<") and "<table" in start


class _Tables(HTMLParser):
    def __init__(self) -> None:
        super().__init__(convert_charrefs=True)
        self.tables: list[list[list[str]]] = []
        self._open: list[list[list[str]]] = []
        self._cell: list[str] | None = None
        self._span = 1

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        if tag == "table":
            self._open.append([])
            self.tables.append(self._open[-1])
        elif not self._open:
            return
        elif tag == "tr":
            self._end_cell()
            if len(self._open[-1]) > MAX_ROWS:
                raise TableError(TOO_LONG)
            self._open[-1].append([])
        elif tag in ("td", "th"):
            self._end_cell()
            if not self._open[-1]:
                self._open[-1].append([])
            self._cell = []
            span = dict(attrs).get("colspan") or "1"
            self._span = min(int(span), MAX_SPAN) if span.isdecimal() else 1
        elif tag == "br" and self._cell is not None:
            self._cell.append(" ")

    def handle_endtag(self, tag: str) -> None:
        if tag in ("td", "th", "tr"):
            self._end_cell()
        elif tag == "table" and self._open:
            self._end_cell()
            self._open.pop()

    def handle_data(self, data: str) -> None:
        if self._cell is not None:
            self._cell.append(data)

    def _end_cell(self) -> None:
        if self._cell is None or not self._open or not self._open[-1]:
            return
        row = self._open[-1][-1]
        row += [" ".join("".join(self._cell).split()), *[""] * (self._span - 1)]
        if len(row) > MAX_COLUMNS:
            raise TableError(f"The table has more than {MAX_COLUMNS:,} columns.")
        self._cell = None
