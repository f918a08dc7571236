"""The overview of 10 to 10,000 KPIs, a write among so many, a page of 12 charts beside one chart.

Answers over HTTP, first (nothing in memory) and again; and in the browser, from the opening of
the address to painted. All in one run against one server with one worker, in turn.
"""

import json
import statistics
from datetime import date, timedelta
from http.client import HTTPConnection

from playwright.sync_api import Page, ViewportSize, sync_playwright

from bench.dragging import ARGUMENTS, CHROMIUM
from bench.drawing import PAINTED
from bench.served import PORT, copy, fill, make_sheet, served
from bench.serving import ask, first, timed

SIZES = (10, 100, 1_000, 10_000)
COPIED = 1_000
"""KPIs that are made one by one; of more, the others are copies of these."""
CHARTS = 12
WEEKS = 104
ROUNDS = 12
OPENED = f"""({{ what, count }}) => new Promise((done) => {{
  {PAINTED}
  const look = () => document.querySelectorAll(what).length >= count
    ? painted().then(done) : requestAnimationFrame(look)
  look()
}})"""
"""Resolves with the milliseconds since the address was opened, when so many are painted."""


def opened(page: Page, path: str, what: str, count: int = 1) -> float:
    """Open an address; returns the milliseconds to when so many elements are painted."""
    page.goto(f"http://127.0.0.1:{PORT}{path}", wait_until="commit")
    return float(page.evaluate(OPENED, {"what": what, "count": count}))


def main() -> None:
    with served() as (name, value):
        places = {size: f"bench-{size}" for size in SIZES}
        kpis = {size: fill(slug, min(size, COPIED), WEEKS) for size, slug in places.items()}
        for size, slug in places.items():
            if size > COPIED:
                copy(slug, size // COPIED - 1)
        chosen = kpis[100][:CHARTS]
        sheet = make_sheet(places[100], chosen)
        answers(places, f"{name}={value}")
        writes({size: own[0] for size, own in kpis.items()}, places, f"{name}={value}")
        drawn(places, chosen[0], sheet, name, value)


def answers(places: dict[int, str], cookie: str) -> None:
    """Ask for the overview of each size in turn."""
    connection = HTTPConnection("127.0.0.1", PORT)
    paths = {size: f"/api/v1/workspaces/{slug}/overview?weeks=52" for size, slug in places.items()}
    times: dict[str, dict[int, list[float]]] = {
        "first": {size: [] for size in SIZES},
        "again": {size: [] for size in SIZES},
    }
    for _ in range(ROUNDS):
        for size, path in paths.items():
            times["first"][size].append(first(connection, path, cookie))
            times["again"][size].append(timed(connection, path, cookie))
    for when, samples in times.items():
        middle = {size: statistics.median(own[2:]) for size, own in samples.items()}
        for size in SIZES:
            size_of = len(ask(connection, paths[size], cookie)) / 1000
            print(f"overview of {size:>5,} KPIs, {when:<6}{middle[size]:8.1f} ms{size_of:8.0f} kB")
        for size in SIZES[2:]:
            ratio = middle[size] / middle[10]
            print(f"{size:>6,} KPIs / 10, {when:<6}          {ratio:8.2f}   (at most 3)")


def writes(kpis: dict[int, str], places: dict[int, str], cookie: str) -> None:
    """Add values to a KPI among so many, in turn."""
    connection = HTTPConnection("127.0.0.1", PORT)
    times: dict[int, list[float]] = {size: [] for size in SIZES}
    for week in range(ROUNDS):
        day = (date(2026, 11, 2) + timedelta(weeks=week)).isoformat()
        body = json.dumps({"edits": [{"period": day, "value": 21.0, "seen": None}]}).encode()
        for size, slug in places.items():
            path = f"/api/v1/workspaces/{slug}/kpis/{kpis[size]}/values"
            times[size].append(timed(connection, path, cookie, body))
    middle = {size: statistics.median(own[2:]) for size, own in times.items()}
    ratio = middle[10_000] / middle[10]
    print(f"a value among 10,000 KPIs {middle[10_000]:.1f} ms, / 10   {ratio:8.2f}   (at most 1.3)")


def drawn(places: dict[int, str], kpi: str, sheet: int, name: str, value: str) -> None:
    """Open overviews, a chart and a page in the browser, in turn."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
        context = browser.new_context(
            viewport=ViewportSize(width=1280, height=800), bypass_csp=True
        )
        context.add_cookies([{"name": name, "value": value, "domain": "127.0.0.1", "path": "/"}])
        page = context.new_page()
        jobs = {
            **{
                f"overview of {size:,} KPIs": (f"/{slug}", "[data-row]", 8)
                for size, slug in places.items()
            },
            "one chart": (f"/{places[100]}/charts/{kpi}", "[data-part=points]", 1),
            f"a page of {CHARTS} charts": (
                f"/{places[100]}/pages/{sheet}",
                "[data-part=points]",
                CHARTS,
            ),
        }
        times: dict[str, list[float]] = {job: [] for job in jobs}
        for _ in range(ROUNDS):
            for job, (path, what, count) in jobs.items():
                times[job].append(opened(page, path, what, count))
        browser.close()
    middle = {job: statistics.median(samples[2:]) for job, samples in times.items()}
    for job, milliseconds in middle.items():
        print(f"{job:<24} opened to painted {milliseconds:8.1f} ms")
    many = middle["overview of 1,000 KPIs"] / middle["overview of 10 KPIs"]
    print(f"overview of 1,000 KPIs / 10, painted     {many:8.2f}   (at most 3)")
    ratio = middle[f"a page of {CHARTS} charts"] / middle["one chart"]
    print(f"a page of {CHARTS} charts / one chart          {ratio:8.2f}")


if __name__ == "__main__":
    main()
