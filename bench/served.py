"""A server with two long KPIs to measure, for as long as a block lasts."""

import os
import subprocess
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from typing import Any
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
from django.db import connection  # noqa: E402
from django.test import Client  # noqa: E402

from fluctus.accounts.models import Membership, Role, Workspace  # noqa: E402
from fluctus.findings.models import Finding  # noqa: E402
from fluctus.http import clock  # noqa: E402
from fluctus.kpis.actor import Actor  # noqa: E402
from fluctus.kpis.calendar import Grain, start_of_day  # noqa: E402
from fluctus.kpis.chart.services import create_kpi  # noqa: E402
from fluctus.kpis.lines import BandState, LineSource, LineState  # noqa: E402
from fluctus.kpis.models import (  # noqa: E402
    DataChange,
    Kpi,
    Observation,
    Raises,
    Segment,
)
from fluctus.kpis.observations.frame import frame_of  # noqa: E402
from fluctus.kpis.state import ChartState, SegmentState  # noqa: E402
from fluctus.overview.models import KpiSummary  # noqa: E402
from fluctus.overview.pages.services import create_page  # noqa: E402

LINES = (
    LineState("average", LineSource.MOVING_AVERAGE.value, length=7),
    *(LineState(f"p{n}", LineSource.PERCENTILE.value, number=n * 10.0) for n in range(1, 11)),
)
BANDS = tuple(BandState(f"b{n}", f"p{n}", f"p{n + 5}") for n in (1, 3, 5))
"""A moving average, ten lines and three bands."""
PORT = int(os.environ.get("BENCH_PORT", "8493"))


def prepare(short: int = 0, long: int = 0) -> tuple[str, str]:
    """Make a person, a workspace and KPIs of 500 and 50,000 points; returns the cookie.

    With ``short`` there are so many of 100 points besides, with ``long`` one of so many hours.
    """
    call_command("migrate", verbosity=0)
    # Of the benchmark before, where one database serves both.
    Workspace.objects.filter(slug="bench").delete()
    User.objects.filter(username="bench").delete()
    person = User.objects.create_user("bench")
    workspace = Workspace.objects.create(slug="bench", name="Bench")
    Membership.objects.create(workspace=workspace, person=person, role=Role.OWNER)
    zone = ZoneInfo("Europe/London")
    random = np.random.default_rng(7)
    kpis = [("Half a thousand", 500), ("Fifty thousand", 50_000), ("With lines", 500)]
    for name, count in [*kpis, *((f"Short {n}", 100) for n in range(short))]:
        first = date(2026, 11, 1) - timedelta(days=count)
        periods = [start_of_day(first + timedelta(days=n), zone) for n in range(count)]
        shift = SegmentState((first + timedelta(days=count // 2)).isoformat(), "Second half")
        state = ChartState(
            name,
            unit="min",
            direction="lower",
            target=20.0,
            time_zone=zone.key,
            segments=(SegmentState(), shift),
        )
        if name == "With lines":
            state = replace(state, lines=LINES, bands=BANDS)
        values = random.normal(20, 1.5, count).tolist()
        rows = [
            {"period": period.timestamp(), "value": value}
            for period, value in zip(periods, values, strict=True)
        ]
        create_kpi(workspace, state, Grain.DAY, frame_of(rows), Actor(person, clock.now()))
    if long:
        hours = datetime(2026, 11, 1, tzinfo=UTC).timestamp() - 3600.0 * np.arange(long, 0, -1)
        values = random.normal(20, 1.5, long)
        rows = [{"period": hour, "value": value} for hour, value in zip(hours, values, strict=True)]
        state = ChartState("Long", unit="min", raises=Raises.BEYOND_LIMITS.value)
        create_kpi(workspace, state, Grain.HOUR, frame_of(rows), Actor(person, clock.now()))
    return session_of(person)


def session_of(person: User) -> tuple[str, str]:
    """Sign a person in; returns the name and value of the cookie."""
    client = Client()
    client.force_login(person)
    name = settings.SESSION_COOKIE_NAME
    return name, str(client.cookies[name].value)


def fill(slug: str, count: int, weeks: int) -> list[str]:
    """Make a workspace of so many weekly KPIs, in eight groups; returns their slugs."""
    person = User.objects.get(username="bench")
    Workspace.objects.filter(slug=slug).delete()
    workspace = Workspace.objects.create(slug=slug, name=slug)
    Membership.objects.create(workspace=workspace, person=person, role=Role.OWNER)
    zone = ZoneInfo("Europe/London")
    random = np.random.default_rng(count)
    first = date(2024, 11, 4)
    periods = [start_of_day(first + timedelta(weeks=n), zone).timestamp() for n in range(weeks)]
    for number in range(count):
        values = random.normal(20, 1.5, weeks).tolist()
        rows = [
            {"period": period, "value": value}
            for period, value in zip(periods, values, strict=True)
        ]
        state = ChartState(
            f"KPI {number}",
            group=f"Group {number % 8}",
            direction="lower",
            target=22.0,
            time_zone=zone.key,
        )
        create_kpi(workspace, state, Grain.WEEK, frame_of(rows), Actor(person, clock.now()))
    return list(workspace.kpis.order_by("pk").values_list("slug", flat=True))


def copy(slug: str, times: int) -> None:
    """Put so many copies of each KPI of a workspace beside it, with all that is kept of it."""
    own = Kpi.objects.filter(workspace__slug=slug).values("pk")
    tables = ((Kpi, "pk"), *((model, "kpi") for model in (Segment, Observation, KpiSummary)))
    for model, of in (*tables, (DataChange, "kpi"), (Finding, "kpi")):
        rows = model._default_manager.filter(**{f"{of}__in": own})
        columns = {field.name: f'"{field.column}"' for field in model._meta.concrete_fields}
        values = {name: f"old.{column}" for name, column in columns.items()}
        for name in ("id", "kpi"):
            if name in values:
                # Far from any key that is given out.
                values[name] += " + n::bigint * 1000000000"
        if model is Kpi:
            values |= {name: f"old.{name} || '-' || n" for name in ("slug", "name")}
        into, taken = ", ".join(columns.values()), ", ".join(values.values())
        select, parameters = rows.query.sql_with_params()
        with connection.cursor() as cursor:
            cursor.execute(
                f"INSERT INTO {model._meta.db_table} ({into}) SELECT {taken} "  # noqa: S608
                f"FROM ({select}) AS old, generate_series(1, %s) AS n",
                [*parameters, times],
            )


def make_sheet(workspace: str, kpis: list[str]) -> int:
    """Make a page with a chart of each of some KPIs; returns its number."""
    nothing: dict[str, Any] = {"view": "", "group": "", "text": "", "options": {}, "dates": None}
    panels = [{"kind": "chart", "kpis": (kpi,), **nothing} for kpi in kpis]
    return create_page(Workspace.objects.get(slug=workspace), "Charts", panels).pk


@contextmanager
def worker() -> Iterator[None]:
    """Run the worker of background jobs for as long as a block lasts."""
    process = subprocess.Popen([sys.executable, "-m", "django", "run_jobs"])
    try:
        yield
    finally:
        process.terminate()
        process.wait()


@contextmanager
def served(short: int = 0, long: int = 0, workers: int = 1) -> Iterator[tuple[str, str]]:
    """Serve them; gives the name and value of the session's cookie."""
    session = prepare(short, long)
    server = subprocess.Popen(  # noqa: S603 - our own words
        [
            sys.executable,
            "-m",
            "gunicorn",
            "-c",
            "python:fluctus.site.server",
            "fluctus.site.asgi:application",
            "--workers",
            str(workers),
            "--bind",
            f"127.0.0.1:{PORT}",
        ]
    )
    try:
        for _ in range(100):
            try:
                urlopen(f"http://127.0.0.1:{PORT}/bare", timeout=2)
                break
            except OSError:
                time.sleep(0.1)
        yield session
    finally:
        server.terminate()
        server.wait()
