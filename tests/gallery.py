"""A gallery of shapes: made-up KPIs that a chart has to hold for, whatever people bring."""

import math
import random
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import UTC, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

import numpy as np

from fluctus.accounts.models import Workspace
from fluctus.kpis.actor import Actor
from fluctus.kpis.calendar import Calendar, Grain, to_text
from fluctus.kpis.chart.services import create_kpi
from fluctus.kpis.models import Event, Kpi
from fluctus.kpis.observations.frame import frame_of
from fluctus.kpis.state import ChartState, SegmentState

ZONE = ZoneInfo("Europe/London")
START = datetime(2024, 1, 1, tzinfo=UTC)
DRAWN = random.Random(1876)  # noqa: S311 - the same values every time


def noise(count: int, centre: float = 20.0, spread: float = 1.0) -> list[float]:
    """Steady values, the same ones every time."""
    drawn = random.Random(count)  # noqa: S311 - no secret
    return [round(centre + drawn.gauss(0, spread), 4) for _ in range(count)]


@dataclass(frozen=True, slots=True)
class Shape:
    """A KPI of the gallery. ``missing`` are places without a value, ``aside`` set-aside ones.

    ``cuts`` are the places of shifts, ``events`` how many there are on one day.
    """

    name: str
    values: Sequence[float]
    grain: Grain = Grain.WEEK
    settings: dict[str, Any] = field(default_factory=dict)
    missing: frozenset[int] = frozenset()
    aside: frozenset[int] = frozenset()
    cuts: tuple[int, ...] = ()
    events: int = 0
    start: datetime = START


def _season(count: int) -> list[float]:
    return [
        round(1200 + 600 * math.sin(n / 365.25 * 2 * math.pi) + 200 * (n % 7 > 4) + e, 0)
        for n, e in enumerate(noise(count, 0, 40))
    ]


SHAPES = [
    Shape("One value", [12.5]),
    Shape("Two values", [12.5, 13.1]),
    Shape("Four values", [12.5, 13.1, 11.9, 12.2]),
    Shape("All equal", [4.5] * 30, settings={"decimals": 2, "unit": "£"}),
    Shape("All zero", [0.0] * 30, settings={"decimals": 0}),
    Shape("Mostly zero", [0, 0, 0, 1, 0, 0, 0, 0, 2, 0, 0, 0] * 4, settings={"decimals": 0}),
    Shape("A fee that holds", [182.0] * 15 + [189.5] * 12 + [196.0] * 7, Grain.MONTH),
    Shape(
        "Steps drawn as steps",
        [182.0] * 15 + [189.5] * 12 + [196.0] * 7,
        Grain.MONTH,
        {"drawn_as": "steps", "unit": "€"},
    ),
    Shape("Negative", noise(40, -300, 12), settings={"unit": "°C"}),
    Shape("About zero", noise(40, 0, 3)),
    Shape("Very small", [n * 1e-7 for n in noise(40, 3, 0.5)], settings={"decimals": 9}),
    Shape("Very large", [n * 1e13 for n in noise(40, 2, 0.1)], settings={"decimals": 0}),
    Shape(
        "Money in millions",
        [round(n) for n in noise(60, 1_930_000, 42_000)],
        Grain.MONTH,
        {"decimals": 0, "unit": "€", "target": 2_000_000, "direction": "higher"},
    ),
    Shape(
        "Passengers in thousands",
        [round(n) for n in noise(60, 412_500, 9_000)],
        Grain.MONTH,
        {"decimals": 0, "shown_in": "thousands"},
    ),
    Shape(
        "Close together",
        [round(n, 6) for n in noise(40, 1000, 0.002)],
        settings={"decimals": 6, "unit": "mm"},
    ),
    Shape(
        "Percent at the ceiling",
        [min(100.0, n) for n in noise(50, 99.4, 0.6)],
        settings={"unit": "%", "ceiling": 100, "floor": 0, "target": 99, "direction": "higher"},
    ),
    Shape("At the floor", [max(0.0, n) for n in noise(50, 1, 1.2)], settings={"floor": 0}),
    Shape("A huge outlier", [*noise(30, 5, 1), 9_000_000, *noise(20, 5, 1)]),
    Shape("A long gap", noise(60), missing=frozenset(range(20, 44))),
    Shape("Many small gaps", noise(60), missing=frozenset(range(3, 60, 5))),
    Shape(
        "Irregular dates",
        noise(160),
        Grain.DAY,
        missing=frozenset(n for n in range(160) if DRAWN.random() < 0.7),
    ),
    Shape(
        "Years",
        noise(30, 4100, 90),
        Grain.YEAR,
        {"decimals": 0},
        start=datetime(1996, 1, 1, tzinfo=UTC),
    ),
    Shape("Quarters", noise(24, 4100, 90), Grain.QUARTER, {"decimals": 0}),
    Shape("One month", [41.2], Grain.MONTH),
    Shape(
        "Hours over a clock change",
        noise(60, 15, 2),
        Grain.HOUR,
        start=datetime(2026, 3, 28, 0, tzinfo=UTC),
    ),
    Shape("Five years of days", _season(1826), Grain.DAY, {"decimals": 0}),
    Shape(
        "Fifty thousand hours",
        noise(50_000, 15, 2),
        Grain.HOUR,
        {"unit": "s", "raises": "beyond_limits"},
    ),
    Shape(
        "A name of a hundred and twenty characters, which goes on and on and never "
        "minds what it does to a page, and ends here",
        noise(30),
        settings={"unit": "min"},
    ),
    Shape("Long unit", noise(30), settings={"unit": "crossings of a boat a full day"}),
    Shape("زمن الدوران عند الرصيف", noise(30), settings={"unit": "دقيقة"}),
    Shape("埠頭での折り返し時間", noise(30), settings={"unit": "分"}),
    Shape("Twelve segments", noise(120), cuts=(12, 24, 26, 40, 42, 55, 57, 70, 84, 96, 108)),
    Shape(
        "Shifts of level",
        [*noise(30, 20), *noise(30, 26), *noise(30, 17)],
        cuts=(30, 60),
        settings={"target": 18, "direction": "lower"},
    ),
    Shape("Events on one day", noise(40), events=40),
    Shape("Signals at both ends", [40.0, *noise(50), 2.0]),
    Shape(
        "Everything flagged",
        [(5.0, 35.0)[k // 20 % 2] + n for k, n in enumerate(noise(120, 0, 0.1))],
    ),
    Shape("Not predictable", [n + 14 * ((k // 5) % 4 == 0) for k, n in enumerate(noise(90))]),
    Shape("A drift", [n + 0.4 * k for k, n in enumerate(noise(60))]),
    Shape("Everything set aside", noise(20), aside=frozenset(range(20))),
    Shape("Half set aside", noise(40), aside=frozenset(range(0, 40, 2))),
    Shape("A target far away", noise(40), settings={"target": 400, "direction": "lower"}),
]


LINES = [
    {
        "key": "a",
        "made": "mean",
        "name": "A quarter above the average of what is shown",
        "factor": 1.25,
    },
    {"key": "b", "made": "moving_average", "length": 4, "dash": "solid", "color": "clay"},
    {"key": "c", "made": "percentile", "number": 10, "color": "ochre", "shaded": True},
    {"key": "d", "made": "rolling_band", "length": 5, "color": "slate"},
    {"key": "e", "made": "trend", "in_front": True, "color": "ink"},
    {"key": "f", "made": "maximum", "factor": 40},
]
CONTEXT: dict[str, Any] = {
    "lines": LINES,
    "bands": [{"key": "z", "bottom": "c", "top": "a", "name": "Between"}],
    "value_labels": "all",
}
"""Lines and bands that a chart of any shape has to have room for."""
WITH_CONTEXT = [
    replace(shape, settings=shape.settings | CONTEXT | form)
    for name, form in (
        ("One value", {}),
        ("All zero", {"drawn_as": "columns"}),
        ("Negative", {}),
        ("About zero", {"drawn_as": "columns"}),
        ("Money in millions", {}),
        ("A huge outlier", {}),
        ("A long gap", {"faint": True}),
        ("Five years of days", {}),
        ("Shifts of level", {"target_high": 24}),
        ("Everything flagged", {"axis_low": 10, "axis_high": 30}),
        ("Long unit", {"dots": False}),
        (
            "Twelve segments",
            {"lines": [{"key": str(n), "made": "percentile", "number": 4 * n} for n in range(24)]},
        ),
    )
    for shape in SHAPES
    if shape.name == name
]


def periods_of(shape: Shape, calendar: Calendar) -> list[datetime]:
    """The periods of a shape, missing ones and all."""
    first = calendar.starts(np.array([shape.start.timestamp()]), shape.grain)[0]
    period = datetime.fromtimestamp(float(first), UTC)
    periods = [period]
    while len(periods) < len(shape.values):
        period = calendar.following(period, shape.grain)
        periods.append(period)
    return periods


def hang(workspace: Workspace, shape: Shape) -> Kpi:
    """Save a KPI of the gallery."""
    calendar = Calendar(ZONE)
    periods = periods_of(shape, calendar)
    rows = [
        {
            "period": period.timestamp(),
            "value": float(value),
            "set_aside": n in shape.aside,
            "reason": "Gale" if n in shape.aside else "",
        }
        for n, (period, value) in enumerate(zip(periods, shape.values, strict=True))
        if n not in shape.missing
    ]
    segments = (
        SegmentState(),
        *(
            SegmentState(to_text(periods[cut], shape.grain, ZONE), f"Shift {n}")
            for n, cut in enumerate(shape.cuts, 1)
        ),
    )
    state = ChartState(name=shape.name, time_zone=ZONE.key, segments=segments)
    state = state.with_changes(shape.settings)
    now = calendar.following(periods[-1], shape.grain) + timedelta(days=1)
    kpi, _ = create_kpi(workspace, state, shape.grain, frame_of(rows), Actor(None, now))
    middle = periods[len(periods) // 2].date()
    for number in range(shape.events):
        event = Event.objects.create(
            workspace=workspace,
            uid=f"{kpi.slug}-{number}",
            title=f"Crew change {number}",
            first=middle,
            last=middle,
        )
        event.kpis.add(kpi)
    return kpi
