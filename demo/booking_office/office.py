"""The office as a server: its tables over HTTP, and a database beside them.

GET  /weekly.csv /weekly.json?page=1 /weekly.xlsx   each table, as CSV, as JSON in pages, as XLSX
GET  /                                              what there is, for people
POST /clock   {"days_a_minute": 1}                  how fast its clock runs; 0 is real time
POST /faults  {"slow": true}                        what goes wrong
POST /hook                                          receives what a webhook sends
GET  /hook                                          what it has received, newest first
"""

import io
import json
import sqlite3
import threading
import time
from collections import deque
from datetime import datetime, timedelta
from hashlib import sha256
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from typing import Any, Final
from urllib.parse import parse_qs, urlsplit
from zoneinfo import ZoneInfo

import xlsxwriter

from demo.booking_office.faults import Faults
from demo.booking_office.figures import TABLES, Figures

ZONE: Final = ZoneInfo("Europe/London")
KEPT_RECEIVED: Final = 5_000
PAGE: Final = 50
"""Records in a page of JSON."""
SLOW_SECONDS: Final = 35.0
RENEWED_EVERY: Final = 10.0
"""Seconds between two looks of the database whether there is something new."""
KINDS: Final = {
    "csv": "text/csv; charset=utf-8",
    "json": "application/json",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
}


class Office:
    """What the office knows, by a clock that may run faster than others."""

    def __init__(self) -> None:
        self.faults = Faults()
        self.days_a_minute = 0.0
        self.received: deque[dict[str, Any]] = deque(maxlen=KEPT_RECEIVED)
        self.answers = 200
        """What a webhook is answered with."""
        self._since, self._at = time.monotonic(), datetime.now(ZONE)

    def now(self) -> datetime:
        """Return the time by its own clock."""
        passed = time.monotonic() - self._since
        return self._at + timedelta(seconds=passed + passed / 60 * self.days_a_minute * 86_400)

    def set_clock(self, days_a_minute: float, at: datetime | None = None) -> None:
        """Let its clock run faster from now on, or from ``at``."""
        self._at, self._since = at or self.now(), time.monotonic()
        self.days_a_minute = days_a_minute

    def table(self, name: str) -> Figures:
        """Return a table as it is now, with the faults that are on."""
        return self.faults.of(TABLES[name](self.now()))

    def write_database(self, file: Path) -> None:
        """Bring a database up to date: a table, and the view that is given to others."""
        figures = self.table("no-shows")
        with sqlite3.connect(file) as database:
            database.execute(
                "CREATE TABLE IF NOT EXISTS sailings "
                "(week TEXT, quay TEXT, no_shows INTEGER, bookings INTEGER, UNIQUE (week, quay))"
            )
            database.execute(
                "CREATE VIEW IF NOT EXISTS no_shows_by_week AS SELECT week AS Week, quay AS Quay,"
                ' no_shows AS "No-shows", bookings AS Bookings FROM sailings ORDER BY week, quay'
            )
            database.executemany(
                "INSERT OR REPLACE INTO sailings VALUES (?, ?, ?, ?)", figures.rows
            )
        database.close()


def server_of(office: Office, port: int) -> ThreadingHTTPServer:
    """Return a server of an office on loopback; port 0 takes one that is free."""

    class Handler(_Handler):
        of = office

    return ThreadingHTTPServer(("127.0.0.1", port), Handler)


class _Handler(BaseHTTPRequestHandler):
    of: Office
    protocol_version = "HTTP/1.1"

    def do_GET(self) -> None:
        """Answer with a table, or with the page of the office."""
        address = urlsplit(self.path)
        if address.path == "/hook":
            self._send(200, KINDS["json"], json.dumps(list(self.of.received)[::-1]).encode())
        elif address.path == "/":
            self._send(200, "text/html; charset=utf-8", _page(self.of).encode())
        elif not self._fails():
            self._send_table(address.path.strip("/"), parse_qs(address.query))

    def do_POST(self) -> None:
        """Switch a fault, or set the clock."""
        body = self.rfile.read(min(int(self.headers.get("Content-Length") or 0), 100_000))
        if self.path == "/hook":
            self.of.received.append({"headers": dict(self.headers), "body": body.decode()})
            return self._send(self.of.answers, "text/plain", b"")
        try:
            told = json.loads(body or b"{}")
        except ValueError:
            told = {name: values[-1] == "on" for name, values in parse_qs(body.decode()).items()}
        if self.path == "/faults":
            self.of.faults.switch(told)
        elif self.path == "/clock":
            self.of.set_clock(min(max(float(told.get("days_a_minute", 0)), 0), 10))
        else:
            return self._send(404, "text/plain", b"There is no such address.")
        answer = {"now": self.of.now().isoformat(), "faults": self.of.faults.told()}
        return self._send(200, KINDS["json"], json.dumps(answer).encode())

    def _fails(self) -> bool:
        """Fail as the faults have it; tells whether an answer has been given."""
        faults = self.of.faults
        if faults.outage:
            self.close_connection = True
            return True
        if faults.slow:
            time.sleep(SLOW_SECONDS)
        if faults.busy:
            self._send(429, "text/plain", b"Too often.", {"Retry-After": "120"})
        elif faults.error:
            self._send(500, "text/plain", b"The office has failed.")
        elif faults.page:
            self._send(200, "text/html", b"<html><p>We are moving house.</p></html>")
        return faults.busy or faults.error or faults.page

    def _send_table(self, path: str, query: dict[str, list[str]]) -> None:
        name, _, kind = path.partition(".")
        if name not in TABLES or kind not in KINDS:
            self._send(404, "text/plain", b"There is no such table.")
            return
        figures = self.of.table(name)
        if kind == "json":
            content = _json(figures, int(query.get("page", ["1"])[0]), path)
        else:
            content = figures.as_csv() if kind == "csv" else _xlsx(figures)
        tag = f'"{sha256(repr(figures).encode()).hexdigest()[:16]}"'
        if self.headers.get("If-None-Match") == tag and kind != "json":
            self._send(304, KINDS[kind], b"", {"ETag": tag})
        else:
            self._send(200, KINDS[kind], content, {"ETag": tag})

    def _send(
        self, status: int, kind: str, content: bytes, headers: dict[str, str] | None = None
    ) -> None:
        self.send_response(status)
        self.send_header("Content-Type", kind)
        self.send_header("Content-Length", str(len(content)))
        for name, value in (headers or {}).items():
            self.send_header(name, value)
        self.end_headers()
        self.wfile.write(content)

    def log_message(self, format: str, *args: Any) -> None:
        """Say nothing of each request."""


def _json(figures: Figures, page: int, path: str) -> bytes:
    part = figures.rows[(page - 1) * PAGE : page * PAGE]
    records = [dict(zip(figures.columns, row, strict=True)) for row in part]
    more = len(figures.rows) > page * PAGE
    return json.dumps(
        {"items": records, "next": f"/{path}?page={page + 1}" if more else None}
    ).encode()


def _xlsx(figures: Figures) -> bytes:
    written = io.BytesIO()
    book = xlsxwriter.Workbook(written, {"in_memory": True})
    sheet = book.add_worksheet("Office")
    for number, row in enumerate([figures.columns, *figures.rows]):
        sheet.write_row(number, 0, row)
    book.close()
    return written.getvalue()


def _page(office: Office) -> str:
    tables = "".join(
        f"<li>{name}: "
        + " ".join(f'<a href="/{name}.{kind}">{kind}</a>' for kind in KINDS)
        + "</li>"
        for name in TABLES
    )
    faults = "".join(
        '<form method="post" action="/faults">'
        f'<button name="{name}" value="{"off" if on else "on"}">'
        f"{name}: {'on' if on else 'off'}</button></form>"
        for name, on in office.faults.told().items()
    )
    return (
        "<!doctype html><html lang=en><meta charset=utf-8><title>Booking office</title>"
        f"<h1>Booking office of Marrowick Ferries</h1><p>By its clock it is {office.now():%c}.</p>"
        f"<h2>Tables</h2><ul>{tables}</ul><h2>Faults</h2>{faults}"
    )


def keep_database(office: Office, file: Path, stopped: threading.Event) -> None:
    """Keep a database up to date until it is stopped."""
    while True:
        office.write_database(file)
        if stopped.wait(RENEWED_EVERY):
            return
