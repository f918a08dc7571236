"""How long answers take over HTTP, beside a bare endpoint with one query.

One run against one server with one worker; the addresses are asked in turn, so
that all meet the same machine. Shows also that queries and answers of the
chart do not grow with the number of points.
"""

import json
import statistics
import time
from http.client import HTTPConnection

from bench.served import PORT, served

ROUNDS = 100


def ask(connection: HTTPConnection, path: str, cookie: str, body: bytes | None = None) -> bytes:
    headers = {"Cookie": cookie}
    if body is not None:
        headers |= {
            "Content-Type": "application/json", "X-CSRFToken": "b" * 32,
            "Cookie": f"{cookie}; csrftoken={'b' * 32}",
        }  # fmt: skip
    connection.request("GET" if body is None else "POST", path, body, headers)
    answer = connection.getresponse()
    content = answer.read()
    if answer.status != 200:
        raise SystemExit(f"{path} answered {answer.status}: {content[:300]!r}")
    return content


def main() -> None:
    with served() as (name, value):
        measure(f"{name}={value}")


def measure(cookie: str) -> None:
    connection = HTTPConnection("127.0.0.1", PORT)
    base = "/api/v1/workspaces/bench/kpis"
    change = json.dumps(
        {"segments": [{"start": None}, {"start": "2026-03-02", "name": "Moved"}]}
    ).encode()
    jobs: dict[str, tuple[str, bytes | None]] = {
        "bare endpoint, one query": ("/bare", None),
        "analysis of 500 points": (f"{base}/half-a-thousand/analysis", None),
        "preview of 500 points": (f"{base}/half-a-thousand/preview", change),
        "list of KPIs": (base, None),
        "analysis of 50,000 points": (f"{base}/fifty-thousand/analysis", None),
        "CSV of 50,000 points": (f"{base}/fifty-thousand/analysis.csv", None),
        "levels of 50,000 points": (f"{base}/fifty-thousand/preview/levels", change),
    }
    times: dict[str, list[float]] = {name: [] for name in jobs}
    for _ in range(ROUNDS):
        for name, (path, body) in jobs.items():
            start = time.perf_counter()
            ask(connection, path, cookie, body)
            times[name].append((time.perf_counter() - start) * 1000)
    middle = {name: statistics.median(samples[20:]) for name, samples in times.items()}
    for name, milliseconds in middle.items():
        print(f"{name:<32}{milliseconds:8.2f} ms")
    bare, analysis, preview, rail, long, _, levels = middle.values()
    print(f"analysis / bare        {analysis / bare:6.2f}   (at most 5)")
    print(f"preview / analysis     {preview / analysis:6.2f}   (at most 1.5)")
    print(f"list of KPIs / bare    {rail / bare:6.2f}")
    print(f"50,000 / 500 points    {long / analysis:6.2f}")
    print(f"levels / analysis      {levels / long:6.2f}   (of 50,000 points)")
    for name, slug in (("500 points", "half-a-thousand"), ("50,000 points", "fifty-thousand")):
        for width in (400, 1000, 8000):
            size = len(ask(connection, f"{base}/{slug}/analysis?width={width}", cookie))
            print(f"answer for {name:<14} at {width:>5}{size / 1000:8.0f} kB   (at most 120)")


if __name__ == "__main__":
    main()
