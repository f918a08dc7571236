"""Many charts made together: each as it is alone, and no more asked for many than for few."""

from collections.abc import Iterator
from dataclasses import fields
from datetime import UTC, datetime, timedelta
from typing import Any

import numpy as np
import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext

from fluctus.accounts.models import Workspace
from fluctus.core import Rule
from fluctus.http.rendering import as_json
from fluctus.kpis.actor import Actor
from fluctus.kpis.calendar import Grain
from fluctus.kpis.chart.analysis.chart import Chart, make_chart, make_charts
from fluctus.kpis.chart.answers.chart import Window, chart_answer
from fluctus.kpis.chart.queries import View, chart_of, charts_of_parts, forget, observations_in
from fluctus.kpis.chart.responses import shown_kpi
from fluctus.kpis.chart.services import create_kpi
from fluctus.kpis.models import Kpi
from fluctus.kpis.observations.frame import frame_of
from fluctus.kpis.observations.reading import parts_of, read_stored
from fluctus.kpis.state import ChartState, SegmentState
from tests.conftest import Api

NOW = datetime(2026, 11, 2, 12, tzinfo=UTC)
PARTS = ("", "Ainsey", "Corran", "Quay \N{LATIN SMALL LETTER E WITH ACUTE}", "Ölmsand")


@pytest.fixture(autouse=True)
def nothing_in_memory() -> Iterator[None]:
    forget()
    yield
    forget()


def made(random: np.random.Generator, name: str, parts: tuple[str, ...], **state: Any) -> Kpi:
    """Make a KPI whose parts have holes, notes and values that are set aside."""
    rows = []
    for day in range(60):
        for number, part in enumerate(parts):
            if random.random() < 0.1 and day:
                continue
            period = datetime(2026, 6, 1, tzinfo=UTC) + timedelta(days=day)
            aside = bool(random.random() < 0.1)
            rows.append(
                {
                    "period": period.timestamp(),
                    "breakdown": part,
                    "value": round(float(random.normal(20 + number, 2)), 2),
                    "note": "Fog" if random.random() < 0.1 else "",
                    "set_aside": aside,
                    "reason": f"Counted twice on day {day}" if aside else "",
                }
            )
    workspace = Workspace.objects.get(slug="marrowick")
    kpi, _ = create_kpi(
        workspace, ChartState(name, **state), Grain.DAY, frame_of(rows), Actor(None, NOW)
    )
    return Kpi.objects.get(pk=kpi.pk)


def said(kpi: Kpi, chart: Chart) -> bytes:
    """Return all that a chart draws and says."""
    return as_json(chart_answer(shown_kpi(kpi, chart), chart, Window(220)))


def test_parts_taken_from_the_whole_are_those_read_alone(api: Api) -> None:
    kpi = made(np.random.default_rng(5), "Ramp cycle", PARTS)
    whole = read_stored(kpi)
    for name, taken in parts_of(kpi, whole, kpi.breakdowns).items():
        alone = read_stored(kpi, name)
        for field in fields(alone):
            mine, theirs = getattr(taken, field.name), getattr(alone, field.name)
            if isinstance(theirs, np.ndarray):
                np.testing.assert_array_equal(mine, theirs, err_msg=field.name)
            else:
                assert mine == theirs, field.name


def test_charts_of_parts_are_those_made_alone_in_as_many_queries_for_many(api: Api) -> None:
    shifted = (SegmentState(), SegmentState("2026-07-01", "New ramp"))
    kpi = made(np.random.default_rng(6), "Ramp cycle", PARTS, segments=shifted)
    counts = []
    for names in (kpi.breakdowns[:1], kpi.breakdowns):
        forget()
        with CaptureQueriesContext(connection) as queries:
            charts = charts_of_parts(kpi, NOW, names)
        counts.append(len(queries))
    assert counts[0] == counts[1]
    by_week = charts_of_parts(kpi, NOW, kpi.breakdowns, Grain.WEEK)
    forget()
    for name in kpi.breakdowns:
        assert said(kpi, charts[name]) == said(kpi, chart_of(kpi, NOW, View(breakdown=name)))
        alone = chart_of(kpi, NOW, View(Grain.WEEK, name))
        assert said(kpi, by_week[name]) == said(kpi, alone)


def test_charts_of_other_rules_and_patterns_are_made_together(api: Api) -> None:
    random = np.random.default_rng(7)
    every = tuple(rule.value for rule in Rule)
    states: list[dict[str, Any]] = [
        {},
        {"rules": every},
        {"run_length": 7},
        {"segments": (SegmentState(follows="weekday"),)},
        {"segments": (SegmentState(follows="trend"), SegmentState("2026-07-01", follows="trend"))},
        {"floor": 18.0, "ceiling": 22.0},
        # A segment too short for a pattern at a coarser grain.
        {"segments": (SegmentState(follows="weekday"), SegmentState("2026-07-20"))},
    ]
    kpis = [made(random, f"Ramp {n}", ("",), **state) for n, state in enumerate(states)]
    for view in (View(), View(Grain.WEEK)):
        each = []
        for kpi, settings in zip(kpis, states, strict=True):
            state = ChartState(kpi.name, **settings)
            each.append((observations_in(read_stored(kpi), kpi, state, NOW, view), state))
        for kpi, one, together in zip(kpis, each, make_charts(each), strict=True):
            assert said(kpi, together) == said(kpi, make_chart(*one))
