"""Seasons by the calendar of a KPI, against plain dates; and what is proposed, in words."""

from datetime import UTC, date, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fluctus.kpis.calendar import Calendar, Grain, start_of_day
from fluctus.kpis.seasons import PLACES, SEASONS, Follows, seasons_of
from tests.conftest import Api

ZONES = st.sampled_from(["Europe/London", "Pacific/Auckland", "America/New_York", "UTC"])


@given(ZONES, st.integers(0, 6), st.dates(date(2020, 1, 1), date(2030, 1, 1)), st.integers(1, 900))
def test_days_are_in_the_season_that_a_calendar_on_the_wall_says(
    zone: str, first_weekday: int, first: date, count: int
) -> None:
    calendar = Calendar(ZoneInfo(zone), first_weekday)
    days = [first + timedelta(days=n) for n in range(count + 1)]
    instants = np.array([start_of_day(day, calendar.zone).timestamp() for day in days])
    for kind in SEASONS[Grain.DAY]:
        season = seasons_of([kind], instants[:-1], float(instants[-1]), calendar, Grain.DAY).get(
            kind
        )
        assert season is not None
        assert season.length == PLACES[kind]
        wall = {
            Follows.WEEKDAY: [day.weekday() for day in days],
            Follows.MONTH: [day.month - 1 for day in days],
            Follows.QUARTER: [(day.month - 1) // 3 for day in days],
            Follows.WEEKDAY_AND_MONTH: [(day.month - 1) * 7 + day.weekday() for day in days],
        }[kind]
        assert season.places.tolist() == wall[:-1]
        assert season.following == wall[-1]
        # A cycle begins with the KPI's week, or with the year, and nowhere else.
        begins = [
            day.weekday() == first_weekday
            if kind is Follows.WEEKDAY
            else (day.month, day.day) == (1, 1)
            for day in days[1:-1]
        ]
        assert (np.diff(season.cycles) > 0).tolist() == begins


@given(ZONES, st.integers(0, 3000))
def test_hours_are_in_the_day_that_the_clock_shows(zone: str, first: int) -> None:
    calendar = Calendar(ZoneInfo(zone))
    start = datetime(2026, 3, 1, tzinfo=UTC) + timedelta(hours=first)
    moments = [start + timedelta(hours=n) for n in range(60)]
    instants = np.array([moment.timestamp() for moment in moments])
    season = seasons_of(
        [Follows.WEEKDAY], instants[:-1], float(instants[-1]), calendar, Grain.HOUR
    ).get(Follows.WEEKDAY)
    assert season is not None
    shown = [moment.astimezone(calendar.zone).weekday() for moment in moments]
    assert season.places.tolist() == shown[:-1]
    assert season.following == shown[-1]


@pytest.mark.parametrize(
    ("grain", "kinds"),
    [
        (Grain.WEEK, {Follows.MONTH, Follows.QUARTER}),
        (Grain.MONTH, {Follows.MONTH, Follows.QUARTER}),
        (Grain.QUARTER, {Follows.QUARTER}),
        (Grain.YEAR, set()),
    ],
)
def test_longer_periods_have_only_longer_seasons(grain: Grain, kinds: set[Follows]) -> None:
    calendar = Calendar(ZoneInfo("Europe/London"))
    instants = np.array([start_of_day(date(2026, 1, 1), calendar.zone).timestamp()])
    later = float(instants[0]) + 400 * 86_400
    known = set(seasons_of(PLACES, instants, later, calendar, grain))
    assert known == kinds


def daily(api: Api, values: list[float], start: date = date(2025, 1, 6)) -> str:
    rows = "\n".join(f"{start + timedelta(days=n)},{v}" for n, v in enumerate(values))
    answer = api.bring_in(f"Day,Cars\n{rows}", {"name": "Cars", "unit": "cars"}, grain="day")
    assert answer.status_code == 201, answer.content
    return f"/kpis/{answer.json()['parts'][0]['slug']}"


def patterns(api: Api, path: str) -> dict[str, Any]:
    return {one["follows"]: one for one in api.get(f"{path}/patterns").json()}


def test_a_week_is_proposed_with_the_relative_of_each_day(api: Api) -> None:
    week = [100.0, 102, 98, 101, 99, 160, 140]
    noise = (3, -2, 1, 0, -3, 2, -1, 4, -4)
    path = daily(api, [week[n % 7] + noise[n % 9] for n in range(84)])
    found = patterns(api, path)["weekday"]
    assert found["proposed"] is True
    assert found["title"] == "A season by day of the week"
    assert found["text"].startswith("Relatives: Mon 0.88, Tue 0.89, Wed 0.86")
    assert "with a chance of under 0.1%" in found["text"]
    (proposed,) = api.get(f"{path}/analysis").json()["patterns"]
    assert proposed == found
    api.send("PATCH", path, {"first_weekday": 6}, 1)
    follow = {"segments": [{"start": None, "follows": "weekday"}]}
    body = api.send("PATCH", path, follow, 2).json()
    centre = body["points"]["centre"]
    assert centre[:7] == pytest.approx(centre[7:14])
    assert max(centre[:7]) == centre[5] == pytest.approx(160, abs=3)
    assert body["patterns"] == []


def test_what_does_not_stand_out_is_weighed_and_not_proposed(api: Api) -> None:
    noise = (3, -2, 1, 0, -3, 2, -1, 4, -4, 1, 5)
    path = daily(api, [100.0 + noise[n % 11] for n in range(77)])
    found = patterns(api, path)
    assert {name: one["proposed"] for name, one in found.items()} == {
        "trend": False,
        "weekday": False,
    }
    assert "steps of level" in found["trend"]["text"]
    assert api.get(f"{path}/analysis").json()["patterns"] == []


def test_relatives_are_named_by_the_day_whatever_the_week_begins_with(api: Api) -> None:
    week = [100.0, 102, 98, 101, 99, 160, 140]
    path = daily(api, [week[n % 7] + (n % 5) for n in range(84)])
    monday = patterns(api, path)["weekday"]["text"]
    api.send("PATCH", path, {"first_weekday": 6}, 1)
    sunday = patterns(api, path)["weekday"]["text"]

    def relatives(text: str) -> dict[str, str]:
        listed = text.removeprefix("Relatives: ").split(". They")[0].split(", ")
        return dict(one.split(" ") for one in listed)

    assert relatives(monday) == relatives(sunday)
    assert relatives(monday)["Sat"] == max(relatives(monday).values())
