"""Periods and grains: what is stored, written and read back, across clock changes."""

from dataclasses import asdict
from datetime import UTC, date, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

import numpy as np
import polars as pl
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fluctus.core import Aggregation
from fluctus.intake.understanding.proposals import common_weekday, propose_grain
from fluctus.kpis.calendar import (
    Calendar,
    Grain,
    from_text,
    is_time_zone,
    label,
    start_of_day,
    to_text,
)
from fluctus.kpis.observations.series import Shown, make_observations
from fluctus.kpis.observations.stored import Stored
from fluctus.kpis.record.description import describe
from fluctus.kpis.state import ChartState, SegmentState

ZONES = ["UTC", "Europe/London", "America/New_York", "Asia/Kolkata", "Pacific/Apia"]
LONDON = ZoneInfo("Europe/London")
INSTANTS = st.datetimes(datetime(1980, 1, 1), datetime(2060, 1, 1), timezones=st.just(UTC))


CALENDARS = st.builds(
    Calendar, st.sampled_from([*map(ZoneInfo, ZONES)]), st.integers(0, 6), st.integers(1, 12)
)


def period_of(moment: datetime, grain: Grain, calendar: Calendar) -> datetime:
    (start,) = calendar.starts(np.array([moment.timestamp()]), grain)
    return datetime.fromtimestamp(start, UTC)


def by_loop(moment: datetime, grain: Grain, calendar: Calendar) -> date:
    """The first day of a period, walked back to a day at a time."""
    day = moment.astimezone(calendar.zone).date()
    months = {Grain.MONTH: 1, Grain.QUARTER: 3, Grain.YEAR: 12}.get(grain)

    def begins(one: date) -> bool:
        if grain is Grain.WEEK:
            return one.weekday() == calendar.first_weekday
        if months is None:
            return True
        return one.day == 1 and (one.month - calendar.first_month) % months == 0

    while not begins(day):
        day -= timedelta(days=1)
    return day


@given(INSTANTS, CALENDARS, st.sampled_from(list(Grain)))
def test_a_period_starts_where_its_calendar_says_and_ends_where_the_next_begins(
    moment: datetime, calendar: Calendar, grain: Grain
) -> None:
    period = period_of(moment, grain, calendar)
    assert from_text(to_text(period, grain, calendar.zone), grain, calendar.zone) == period
    # A period is the start of itself, and starts no later than what falls in it.
    assert period_of(period, grain, calendar) == period
    assert period <= moment
    if grain is not Grain.HOUR:
        day = by_loop(moment, grain, calendar)
        assert period == start_of_day(day, calendar.zone)
    following = calendar.following(period, grain)
    # Apia skipped the whole of 30 December 2011: no moment is in that day.
    if calendar.zone.key != "Pacific/Apia":
        assert period < moment + timedelta(microseconds=1) <= following + timedelta(microseconds=1)
        assert period_of(following, grain, calendar) == following


@given(st.dates(date(1980, 1, 1), date(2060, 1, 1)), st.sampled_from(ZONES))
def test_days_start_at_their_own_midnight(day: date, zone: str) -> None:
    place = ZoneInfo(zone)
    local = start_of_day(day, place).astimezone(place)
    # Apia skipped the whole of 30 December 2011; no clock there ever showed it.
    if not (zone == "Pacific/Apia" and day == date(2011, 12, 30)):
        assert local.date() == day
        assert local.hour in (0, 1)


@pytest.mark.parametrize(
    ("grain", "wanted"),
    [
        (Grain.HOUR, "2026-05-19T14:00+01:00"),
        (Grain.DAY, "2026-05-19"),
        (Grain.WEEK, "2026-05-17"),
        (Grain.MONTH, "2026-05-01"),
        (Grain.QUARTER, "2026-04-01"),
        (Grain.YEAR, "2026-04-01"),
    ],
)
def test_a_moment_falls_in_the_period_of_its_grain(grain: Grain, wanted: str) -> None:
    moment = datetime(2026, 5, 19, 14, 35, tzinfo=LONDON)
    calendar = Calendar(LONDON, first_weekday=6, first_month=4)
    assert to_text(period_of(moment, grain, calendar), grain, LONDON) == wanted


@pytest.mark.parametrize(
    ("moment", "grain", "wanted"),
    [
        ("2024-02-29", Grain.MONTH, "2024-02-01"),
        ("2021-01-01", Grain.WEEK, "2020-12-28"),  # week 53 of 2020
        ("2026-03-29", Grain.DAY, "2026-03-29"),  # 23 hours long
        ("2026-10-25", Grain.DAY, "2026-10-25"),  # 25 hours long
        ("2026-03-31", Grain.YEAR, "2026-01-01"),
    ],
)
def test_odd_days_are_right(moment: str, grain: Grain, wanted: str) -> None:
    calendar = Calendar(LONDON)
    start = from_text(moment, Grain.DAY, LONDON)
    assert to_text(period_of(start, grain, calendar), grain, LONDON) == wanted
    if grain is Grain.DAY:
        hours = (calendar.following(start, grain) - start) / timedelta(hours=1)
        assert hours == {"2026-03-29": 23, "2026-10-25": 25}[moment]


def stored(
    days: list[str],
    values: list[float],
    aside: dict[int, str] | None = None,
    targets: list[float] | None = None,
) -> Stored:
    aside = aside or {}
    count = len(values)
    instants = np.array([start_of_day(date.fromisoformat(d), LONDON).timestamp() for d in days])
    nothing = np.full(count, np.nan)
    return Stored(
        instants,
        np.array(values),
        nothing,
        nothing,
        nothing if targets is None else np.array(targets),
        nothing,
        np.ones(count, np.intp),
        np.array([n in aside for n in range(count)]),
        np.zeros(count, np.bool_),
        np.zeros(count, np.intp),
        ("",),
        {float(instants[n]): reason for n, reason in aside.items()},
        {},
    )


def by_month(data: Stored, how: Aggregation, now: str = "2027-01-01") -> Any:
    moment = from_text(now, Grain.DAY, LONDON)
    return make_observations(data, Shown(Grain.DAY, Grain.MONTH, Calendar(LONDON), how, now=moment))


def test_a_value_set_aside_is_left_out_of_a_mean_and_spoils_a_sum() -> None:
    data = stored(
        ["2026-01-30", "2026-01-31", "2026-02-27", "2026-02-28", "2026-03-31"],
        [10, 40, 12, 14, 13],
        {1: "Gale", 4: "Strike"},
        [9, 9, 8, 7, 7],
    )
    mean = by_month(data, Aggregation.MEAN)
    assert mean.values.tolist() == [10, 13, 13]
    assert mean.set_aside.tolist() == [False, False, True]
    assert mean.reasons == {2: "Strike"}
    assert mean.targets.tolist() == [9, 7, 7]
    total = by_month(data, Aggregation.SUM)
    assert total.values.tolist() == [50, 26, 13]
    assert total.set_aside.tolist() == [True, False, True]
    assert total.reasons[0] == "1 of its 2 values set aside: Gale"
    assert total.targets.tolist() == [18, 15, 7]
    assert total.basis == "monthly sum of 5 daily values"


def test_the_last_period_is_incomplete_while_it_runs_or_its_values_stop_early() -> None:
    days = ["2026-01-31", "2026-02-27", "2026-02-28"]
    whole = stored(days, [1, 2, 3])
    assert not by_month(whole, Aggregation.MEAN, "2026-03-05").incomplete
    assert by_month(whole, Aggregation.MEAN, "2026-02-28").incomplete
    short = by_month(stored(days[:2], [1, 2]), Aggregation.MEAN, "2026-03-05")
    assert short.incomplete
    assert short.no_part.tolist() == [False, True]


@pytest.mark.parametrize("text", ["", "soon", "2026-02-30", "18/05/2026", "2026-05-18T25:00"])
def test_what_is_no_period_is_refused(text: str) -> None:
    for grain in (Grain.DAY, Grain.HOUR):
        with pytest.raises(ValueError, match=r".*"):
            from_text(text, grain, LONDON)


def days(*numbers: int) -> list[datetime]:
    return [datetime(2026, 1, 5) + timedelta(days=n) for n in numbers]


@pytest.mark.parametrize(
    ("moments", "grain"),
    [
        (days(0, 1, 2, 5), Grain.DAY),
        (days(0, 7, 14, 35), Grain.WEEK),
        (days(0, 7, 15), Grain.DAY),
        ([datetime(2026, month, 1) for month in (1, 2, 3, 5)], Grain.MONTH),
        ([datetime(2026, month, 28) for month in (1, 2, 3)], Grain.MONTH),
        ([datetime(2026, month, 1) for month in (1, 4, 7)], Grain.QUARTER),
        ([datetime(year, 1, 1) for year in (2023, 2024, 2025)], Grain.YEAR),
        ([datetime(2026, 1, 5, hour) for hour in (5, 6, 9)], Grain.HOUR),
        (days(0), Grain.DAY),
        ([], Grain.DAY),
    ],
)
def test_the_grain_is_proposed_from_the_distances(moments: list[datetime], grain: Grain) -> None:
    assert propose_grain(pl.Series(moments, dtype=pl.Datetime)) is grain


def test_weeks_begin_on_the_day_that_all_share() -> None:
    assert common_weekday(pl.Series(days(6, 13, 27))) == 6
    assert common_weekday(pl.Series(days(0, 1))) == 0


@pytest.mark.parametrize(
    ("grain", "same_year", "other_year"),
    [
        (Grain.HOUR, "18 May 14:00", "18 May 2025 14:00"),
        (Grain.DAY, "18 May", "18 May 2025"),
        (Grain.WEEK, "18 May", "18 May 2025"),
        (Grain.MONTH, "May 2026", "May 2025"),
        (Grain.QUARTER, "Q2 2026", "Q2 2025"),
        (Grain.YEAR, "2026", "2025"),
    ],
)
def test_labels_name_the_year_only_where_it_tells(
    grain: Grain, same_year: str, other_year: str
) -> None:
    beside = datetime(2026, 11, 9, tzinfo=LONDON)
    moment = datetime(2026, 5, 18, 14, tzinfo=LONDON)
    if grain in (Grain.QUARTER, Grain.YEAR):
        moment = moment.replace(month=4 if grain is Grain.QUARTER else 1, day=1)
    assert label(moment, grain, LONDON, beside) == same_year
    assert label(moment.replace(year=2025), grain, LONDON, beside) == other_year


def test_years_and_quarters_of_their_own_are_named_by_their_ends() -> None:
    start = datetime(2026, 4, 1, tzinfo=LONDON)
    assert label(start, Grain.YEAR, LONDON, start) == "2026/27"
    assert label(start.replace(month=11), Grain.QUARTER, LONDON, start) == "Nov\u2013Jan 2026"
    assert label(start, Grain.QUARTER, LONDON, start) == "Q2 2026"


def test_time_zones_are_known_by_name() -> None:
    assert is_time_zone("Europe/London")
    assert not is_time_zone("Mars/Olympus")
    assert not is_time_zone("../etc/passwd")


BEFORE = ChartState(
    "Ramp cycle",
    unit="s",
    target=19,
    segments=(SegmentState(), SegmentState("2026-05-18", "New ramp drill")),
)
SHIFT = BEFORE.segments[1]


@pytest.mark.parametrize(
    ("changes", "said"),
    [
        (
            {"segments": [SegmentState(), SHIFT, SegmentState("2026-06-01")]},
            "Put a shift at 1 Jun 2026",
        ),
        ({"segments": [SegmentState()]}, "Removed the shift at 18 May 2026"),
        (
            {"segments": [SegmentState(), SegmentState("2026-05-25", "New ramp drill")]},
            "Moved the shift from 18 May 2026 to 25 May 2026",
        ),
        (
            {"segments": [SegmentState(), SegmentState("2026-05-18", "Drill")]},
            "Named a segment Drill",
        ),
        ({"segments": [SegmentState(), SegmentState("2026-05-18")]}, "Removed a segment's name"),
        (
            {
                "segments": [
                    SegmentState(),
                    SegmentState("2026-05-18", "New ramp drill", "Two hands"),
                ]
            },
            "Changed New ramp drill",
        ),
        ({"segments": [SegmentState(centre="median"), SHIFT]}, "Changed the first segment"),
        (
            {"segments": [SegmentState(), SegmentState("2026-06-01"), SegmentState("2026-07-06")]},
            "Rearranged the segments",
        ),
        ({"target": 1250.0}, "Changed the target to 1,250.0 s"),
        ({"target": None}, "Removed the target"),
        ({"floor": 0.0, "unit": "sec"}, "Changed the unit and the floor"),
        ({"rules": ["run"]}, "Changed the rules"),
        ({"run_length": 7}, "Changed the run length"),
        ({"first_month": 4}, "Changed the first month of the year"),
    ],
)
def test_changes_are_described(changes: dict[str, Any], said: str) -> None:
    given = dict(changes)
    if "segments" in changes:
        # As they come from a browser: plain data.
        given["segments"] = [asdict(segment) for segment in changes["segments"]]
    assert describe(BEFORE, BEFORE.with_changes(given), Grain.WEEK) == said


@given(st.data())
def test_a_state_survives_json(data: st.DataObject) -> None:
    state = ChartState(
        name=data.draw(st.text(min_size=1, max_size=20)),
        decimals=data.draw(st.integers(0, 6)),
        target=data.draw(st.one_of(st.none(), st.floats(-1e9, 1e9))),
        rules=("run", "near_limit"),
        segments=(
            SegmentState(name=data.draw(st.text(max_size=10))),
            SegmentState("2026-05-18", window=("2026-05-18", "2026-06-01")),
        ),
    )
    assert ChartState.from_json(state.to_json()) == state.with_changes(
        {"rules": ["near_limit", "run"]}
    )
