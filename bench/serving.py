"""How long answers take over HTTP, beside a bare endpoint with one query.

One run against one server with one worker; the addresses are asked in turn, so
that all meet the same machine. A chart is asked for twice over: when the process
has to read and analyse it ("first"), and when it holds it in memory ("again"), as while
a person moves over it. Shows also that queries and answers of the chart do not grow with
the number of points.
"""

import json
import statistics
import time
from http.client import HTTPConnection

from bench.served import PORT, served

ROUNDS = 100
FEW = 5
"""Rounds of what takes seconds."""
A_MILLION = 1_000_000
TOKEN = "b" * 32


def ask(
    connection: HTTPConnection,
    path: str,
    cookie: str,
    body: bytes | None = None,
    revision: int | None = None,
) -> bytes:
    """Return the content of an answer; a body is sent, and changes what is at a ``revision``."""
    headers = {"Cookie": cookie}
    if body is not None:
        headers |= {
            "Content-Type": "application/json",
            "X-CSRFToken": TOKEN,
            "Cookie": f"{cookie}; csrftoken={TOKEN}",
        }
    method = "GET" if body is None else "POST"
    if revision is not None:
        method, headers["If-Match"] = "PATCH", f'"{revision}"'
    connection.request(method, path, body, headers)
    answer = connection.getresponse()
    content = answer.read()
    if answer.status != 200:
        raise SystemExit(f"{path} answered {answer.status}: {content[:300]!r}")
    return content


def timed(connection: HTTPConnection, path: str, cookie: str, body: bytes | None = None) -> float:
    """Return the milliseconds that an answer takes."""
    start = time.perf_counter()
    ask(connection, path, cookie, body)
    return (time.perf_counter() - start) * 1000


def first(connection: HTTPConnection, path: str, cookie: str, dropping: str = "/forget") -> float:
    """Return the milliseconds that an answer takes of which nothing is in memory."""
    ask(connection, dropping, cookie)
    return timed(connection, path, cookie)


def renamed(connection: HTTPConnection, path: str, cookie: str, name: str) -> float:
    """Return the milliseconds that the answer to a new name takes, of a chart that is open."""
    revision = json.loads(ask(connection, f"{path}/analysis", cookie))["kpi"]["revision"]
    start = time.perf_counter()
    ask(connection, path, cookie, json.dumps({"name": name}).encode(), revision)
    return (time.perf_counter() - start) * 1000


def main() -> None:
    with served(long=A_MILLION) as (name, value):
        measure(f"{name}={value}")


def measure(cookie: str) -> None:
    connection = HTTPConnection("127.0.0.1", PORT)
    base = "/api/v1/workspaces/bench/kpis"
    change = json.dumps(
        {"segments": [{"start": None}, {"start": "2026-03-02", "name": "Moved"}]}
    ).encode()
    charts = {"500": "half-a-thousand", "50,000": "fifty-thousand", "1,000,000": "long"}
    jobs: dict[str, tuple[str, bytes | None]] = {
        "bare endpoint, one query": ("/bare", None),
        "list of KPIs": (base, None),
        "preview of 500 points": (f"{base}/half-a-thousand/preview", change),
        "levels of 50,000 points": (f"{base}/fifty-thousand/preview/levels", change),
        "CSV of 50,000 points": (f"{base}/fifty-thousand/analysis.csv", None),
        **{
            f"{size} points, again": (f"{base}/{slug}/analysis", None)
            for size, slug in charts.items()
        },
    }
    times: dict[str, list[float]] = {name: [] for name in jobs}
    for _ in range(ROUNDS):
        for name, (path, body) in jobs.items():
            times[name].append(timed(connection, path, cookie, body))
    middle = {name: statistics.median(samples[20:]) for name, samples in times.items()}
    for size, slug in charts.items():
        rounds = FEW if size == "1,000,000" else ROUNDS
        path = f"{base}/{slug}/analysis"
        middle[f"{size} points, first"] = statistics.median(
            first(connection, path, cookie) for _ in range(rounds)
        )
        middle[f"{size} points, analysed"] = statistics.median(
            first(connection, path, cookie, "/drop-kept") for _ in range(rounds)
        )
    for size, slug, periods in (
        ("500", "half-a-thousand", [f"2026-11-{day:02d}" for day in range(1, FEW + 1)]),
        ("1,000,000", "long", [f"2026-11-01T{hour:02d}:00" for hour in range(FEW)]),
    ):
        edits = [{"edits": [{"period": text, "value": 21.0, "seen": None}]} for text in periods]
        middle[f"one value added to {size}"] = statistics.median(
            timed(connection, f"{base}/{slug}/values", cookie, json.dumps(edit).encode())
            for edit in edits
        )
        middle[f"a rename of {size}"] = statistics.median(
            renamed(connection, f"{base}/{slug}", cookie, f"{size} values, {number}")
            for number in range(FEW)
        )
    for name, milliseconds in middle.items():
        print(f"{name:<32}{milliseconds:8.2f} ms")

    tell_ratios(middle)
    for size, slug in charts.items():
        for width in (400, 1000, 8000):
            kilobytes = len(ask(connection, f"{base}/{slug}/analysis?width={width}", cookie)) / 1000
            print(f"answer for {size:>9} points at {width:>5}{kilobytes:8.0f} kB   (at most 120)")


def tell_ratios(middle: dict[str, float]) -> None:
    def ratio(what: str, over: str, most: str) -> None:
        print(f"{what + ' / ' + over:<62}{middle[what] / middle[over]:6.2f}   {most}")

    ratio("500 points, first", "bare endpoint, one query", "(at most 5)")
    ratio("500 points, again", "bare endpoint, one query", "(at most 3)")
    ratio("preview of 500 points", "500 points, analysed", "(at most 1.5)")
    ratio("list of KPIs", "bare endpoint, one query", "")
    ratio("1,000,000 points, again", "500 points, first", "(at most 4)")
    ratio("1,000,000 points, again", "500 points, again", "")
    ratio("1,000,000 points, first", "500 points, first", "(at most 4)")
    ratio("1,000,000 points, analysed", "500 points, analysed", "")
    ratio("one value added to 1,000,000", "one value added to 500", "(at most 5)")
    ratio("a rename of 1,000,000", "a rename of 500", "(at most 1.2)")
    ratio("levels of 50,000 points", "50,000 points, analysed", "")


if __name__ == "__main__":
    main()
