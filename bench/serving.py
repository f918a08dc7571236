"""How long answers take over HTTP, beside a bare endpoint with one query.

One run against one server with one worker; the addresses are asked in turn, so
that all meet the same machine. Shows also that queries and answers of the
chart do not grow with the number of points.
"""

import json
import os
import statistics
import subprocess
import sys
import time
from datetime import date, timedelta
from http.client import HTTPConnection
from urllib.request import urlopen
from zoneinfo import ZoneInfo

import django
import numpy as np

os.environ["DJANGO_SETTINGS_MODULE"] = "bench.settings"
django.setup()

# Models can be imported only once Django knows its settings.
from django.conf import settings  # noqa: E402
from django.contrib.auth.models import User  # noqa: E402
from django.core.management import call_command  # noqa: E402
from django.test import Client  # noqa: E402

from fluctus.accounts.models import Membership, Workspace  # noqa: E402
from fluctus.kpis.periods import Grain, start_of_day  # noqa: E402
from fluctus.kpis.services import create_kpi  # noqa: E402
from fluctus.kpis.state import ChartState, SegmentState  # noqa: E402
from fluctus.kpis.stored import frame_of  # noqa: E402

ROUNDS = 400
PORT = int(os.environ.get("BENCH_PORT", "8493"))


def prepare() -> str:
    """Make a person, a workspace and KPIs of 500 and 50,000 points; returns the cookie."""

    call_command("migrate", verbosity=0)
    person = User.objects.create_user("bench")
    workspace = Workspace.objects.create(slug="bench", name="Bench")
    Membership.objects.create(workspace=workspace, person=person)
    zone = ZoneInfo("Europe/London")
    random = np.random.default_rng(7)
    for name, count in (("Half a thousand", 500), ("Fifty thousand", 50_000)):
        first = date(2026, 11, 1) - timedelta(days=count)
        periods = [start_of_day(first + timedelta(days=n), zone) for n in range(count)]
        shift = SegmentState((first + timedelta(days=count // 2)).isoformat(), "Second half")
        state = ChartState(name, unit="min", direction="lower", target=20.0, time_zone=zone.key,
                           segments=(SegmentState(), shift))  # fmt: skip
        values = random.normal(20, 1.5, count).tolist()
        rows = [{"period": period.timestamp(), "value": value}
                for period, value in zip(periods, values, strict=True)]  # fmt: skip
        create_kpi(workspace, state, Grain.DAY, frame_of(rows), person)
    client = Client()
    client.force_login(person)
    return f"{settings.SESSION_COOKIE_NAME}={client.cookies[settings.SESSION_COOKIE_NAME].value}"


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
    cookie = prepare()
    server = subprocess.Popen(  # noqa: S603 - our own words
        [sys.executable, "-m", "gunicorn", "fluctus.site.asgi:application", "--workers", "1",
         "--worker-class", "uvicorn_worker.UvicornWorker", "--bind", f"127.0.0.1:{PORT}",
         "--log-level", "warning"]
    )  # fmt: skip
    try:
        for _ in range(100):
            try:
                urlopen(f"http://127.0.0.1:{PORT}/bare", timeout=2)
                break
            except OSError:
                time.sleep(0.1)
        measure(cookie)
    finally:
        server.terminate()
        server.wait()


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
    }
    times: dict[str, list[float]] = {name: [] for name in jobs}
    for _ in range(ROUNDS):
        for name, (path, body) in jobs.items():
            start = time.perf_counter()
            ask(connection, path, cookie, body)
            times[name].append((time.perf_counter() - start) * 1000)
    middle = {name: statistics.median(own[20:]) for name, own in times.items()}
    for name, milliseconds in middle.items():
        print(f"{name:<32}{milliseconds:8.2f} ms")
    bare, analysis, preview, rail = middle.values()
    print(f"analysis / bare        {analysis / bare:6.2f}   (at most 5)")
    print(f"preview / analysis     {preview / analysis:6.2f}")
    print(f"list of KPIs / bare    {rail / bare:6.2f}")
    sizes = {
        name: len(ask(connection, f"{base}/{slug}/analysis?width=1000", cookie))
        for name, slug in (("500 points", "half-a-thousand"), ("50,000 points", "fifty-thousand"))
    }
    for name, size in sizes.items():
        print(f"answer for {name:<16}{size / 1024:10.0f} kB")


if __name__ == "__main__":
    main()
