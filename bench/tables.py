"""How long tables take from dropped to seen, over HTTP, beside Polars and calamine reading them.

The floor reads the same file's cells as text and does nothing with them. *Opened* is what
Fluctus does for the same: cells as text, with what is hidden and how numbers are shown. *Seen*
is what a person waits for: the upload, the cells, all that is understood of them, and the chart.
Also the most memory that reading a file took, beside the size of what is in it.
"""

import csv
import io
import json
import random
import statistics
import subprocess
import sys
import time
import zipfile
from datetime import date, datetime, timedelta
from http.client import HTTPConnection
from pathlib import Path
from tempfile import TemporaryDirectory

import polars as pl
import python_calamine
import xlsxwriter

from bench.served import PORT, served
from bench.serving import TOKEN, ask
from fluctus.tables.formats.opening import open_into, open_table

TEN_MB = 10_000_000
QUAYS = 40
COLUMNS, DAYS = 400, 1000
ROUNDS = 5
MOST = {"10 MB of CSV": 2, "10 MB of CSV, quoted": 2, "10 MB of XLSX": 5, "400 columns": 1}
"""Seconds from dropped to seen that are asked for."""


def rows_of(draw: random.Random, first: date, count: int) -> list[list[object]]:
    """Return passengers and fuel of each quay on so many days."""
    return [
        [
            first + timedelta(days=day),
            f"Quay {quay}",
            draw.randint(100, 999),
            draw.randint(0, 12),
            round(draw.gauss(60, 9), 2),
        ]
        for day in range(count)
        for quay in range(QUAYS)
    ]


HEADER = ["Day", "Quay", "Passengers", "Late departures", "Fuel (L)"]


def separated(quoting: int) -> bytes:
    """Write 10 MB of CSV."""
    draw, text = random.Random(7), io.StringIO()  # noqa: S311 - sample data
    writer = csv.writer(text, quoting=quoting, lineterminator="\n")  # type: ignore[arg-type]
    writer.writerow(HEADER)
    first = date(2000, 1, 1)
    while text.tell() < TEN_MB:
        writer.writerows(rows_of(draw, first, 30))
        first += timedelta(days=30)
    return text.getvalue().encode()


def workbook(days: int) -> bytes:
    """Write an XLSX of so many days, which are some 9 MB at 8,500."""
    draw, file = random.Random(7), io.BytesIO()  # noqa: S311 - sample data
    book = xlsxwriter.Workbook(file, {"constant_memory": True})
    sheet, shown = book.add_worksheet(), book.add_format({"num_format": "yyyy-mm-dd"})
    sheet.write_row(0, 0, HEADER)
    for at, row in enumerate(rows_of(draw, date(2000, 1, 1), days), 1):
        sheet.write_datetime(at, 0, datetime.combine(row[0], datetime.min.time()), shown)  # type: ignore[arg-type]
        sheet.write_row(at, 1, row[1:])
    book.close()
    return file.getvalue()


def wide() -> bytes:
    """Write a table of 400 columns."""
    draw = random.Random(7)  # noqa: S311 - sample data
    rows = [",".join(["Day", *(f"Machine {n} output" for n in range(COLUMNS))])]
    for day in range(DAYS):
        values = (str(draw.randint(100, 999)) for _ in range(COLUMNS))
        rows.append(",".join([str(date(2020, 1, 1) + timedelta(days=day)), *values]))
    return "\n".join(rows).encode()


def floor(raw: bytes, name: str) -> float:
    """Return the seconds that a library takes to read the cells."""
    start = time.perf_counter()
    if "XLSX" in name:
        python_calamine.CalamineWorkbook.from_filelike(io.BytesIO(raw)).get_sheet_by_index(
            0
        ).to_python()
    else:
        pl.read_csv(io.BytesIO(raw), infer_schema=False)
    return time.perf_counter() - start


def opened(raw: bytes) -> float:
    """Return the seconds that Fluctus takes to read the cells."""
    start = time.perf_counter()
    open_table(raw)
    return time.perf_counter() - start


def dropped(connection: HTTPConnection, raw: bytes, name: str, cookie: str) -> float:
    """Return the seconds from a file that is dropped to what is seen of it."""
    suffix = "xlsx" if "XLSX" in name else "csv"
    border = "fluctus-bench"
    head = (
        f'--{border}\r\nContent-Disposition: form-data; name="file"; filename="t.{suffix}"\r\n\r\n'
    )
    body = head.encode() + raw + f"\r\n--{border}--\r\n".encode()
    headers = {
        "Content-Type": f"multipart/form-data; boundary={border}",
        "X-CSRFToken": TOKEN,
        "Cookie": f"{cookie}; csrftoken={TOKEN}",
    }
    base = "/api/v1/workspaces/bench/uploads"
    start = time.perf_counter()
    connection.request("POST", base, body, headers)
    answer = connection.getresponse()
    told = json.loads(answer.read())
    if answer.status != 201:
        raise SystemExit(f"{name}: {answer.status} {told}")
    wanted = {"into": None, "shown": None, "mapping": {"time_zone": "Europe/London"}}
    seen = ask(connection, f"{base}/{told['id']}/read", cookie, json.dumps(wanted).encode())
    seconds = time.perf_counter() - start
    if not json.loads(seen)["kpis"]:
        raise SystemExit(f"{name}: no KPI was found")
    connection.request("DELETE", f"{base}/{told['id']}", headers=headers)
    connection.getresponse().read()
    return seconds


def most_memory(raw: bytes) -> float:
    """Return how many bytes more a process takes that opens a file, than one that does not."""
    with TemporaryDirectory() as folder:
        path = Path(folder) / "table"
        path.write_bytes(raw)
        peaks = [
            int(
                subprocess.run(  # noqa: S603 - our own words
                    [sys.executable, "-m", "bench.tables", "--once", *arguments],
                    capture_output=True,
                    check=True,
                ).stdout
            )
            for arguments in ([str(path)], [])
        ]
    return peaks[0] - peaks[1]


def content_of(raw: bytes) -> int:
    """Return how many bytes are in a file: those of what an archive unpacks to."""
    if not raw.startswith(b"PK"):
        return len(raw)
    with zipfile.ZipFile(io.BytesIO(raw)) as archive:
        return sum(member.file_size for member in archive.infolist())


def main() -> None:
    tables = {
        "10 MB of CSV": separated(csv.QUOTE_MINIMAL),
        "10 MB of CSV, quoted": separated(csv.QUOTE_ALL),
        "10 MB of XLSX": workbook(8_500),
        "400 columns": wide(),
    }
    with served() as (cookie_name, value):
        connection = HTTPConnection("127.0.0.1", PORT)
        cookie = f"{cookie_name}={value}"
        for name, raw in tables.items():
            floors, opens, seen = [], [], []
            dropped(connection, raw, name, cookie)
            for _ in range(ROUNDS):
                floors.append(floor(raw, name))
                opens.append(opened(raw))
                seen.append(dropped(connection, raw, name, cookie))
            least, middle = statistics.median(floors), statistics.median(opens)
            print(f"{name}: {len(raw) / 1e6:.1f} MB, {content_of(raw) / 1e6:.0f} MB inside")
            print(f"  read by the library alone      {least:8.2f} s")
            print(f"  opened                         {middle:8.2f} s")
            print(f"  opened / library               {middle / least:8.2f}   (at most 2)")
            print(
                f"  dropped to seen                {statistics.median(seen):8.2f} s"
                f" (at most {MOST[name]})"
            )
            share = most_memory(raw) / content_of(raw)
            print(f"  memory / what is in the file   {share:8.2f}   (at most 3)")


if __name__ == "__main__":
    if "--once" in sys.argv:
        pl.Series(["1"]).cast(pl.Int64)
        for path in sys.argv[2:]:
            open_into(Path(path), None, Path(path).with_suffix(".cells"))
        # Not that of getrusage, which begins with the most that the parent ever had.
        peak = Path("/proc/self/status").read_text().partition("VmHWM:")[2].split()[0]
        print(int(peak) * 1024)
    else:
        main()
