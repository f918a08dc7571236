"""Periods and grains: what is stored, written and read back, across clock changes."""

from dataclasses import asdict
from datetime import UTC, date, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fluctus.intake.grains import period_of, propose_grain, second_time_round
from fluctus.kpis.history import describe
from fluctus.kpis.periods import Grain, from_text, is_time_zone, label, start_of_day, to_text
from fluctus.kpis.state import ChartState, SegmentState

ZONES = ["UTC", "Europe/London", "America/New_York", "Asia/Kolkata", "Pacific/Apia"]
LONDON = ZoneInfo("Europe/London")
INSTANTS = st.datetimes(datetime(1980, 1, 1), datetime(2060, 1, 1), timezones=st.just(UTC))


@given(INSTANTS, st.sampled_from(ZONES), st.sampled_from(list(Grain)))
def test_a_period_written_is_the_period_read(moment: datetime, zone: str, grain: Grain) -> None:
    place = ZoneInfo(zone)
    period = period_of(moment, grain, place)
    assert from_text(to_text(period, grain, place), grain, place) == period
    # A period is the start of itself, and starts no later than what falls in it.
    assert period_of(period, grain, place) == period
    assert period <= moment


@given(st.dates(date(1980, 1, 1), date(2060, 1, 1)), st.sampled_from(ZONES))
def test_days_start_at_their_own_midnight(day: date, zone: str) -> None:
    place = ZoneInfo(zone)
    local = start_of_day(day, place).astimezone(place)
    # Apia skipped the whole of 30 December 2011; no clock there ever showed it.
    if not (zone == "Pacific/Apia" and day == date(2011, 12, 30)):
        assert local.date() == day
        assert local.hour in (0, 1)


def test_both_hours_of_an_autumn_night_are_periods_of_their_own() -> None:
    clock = datetime(2026, 10, 25, 1, 30)
    first = period_of(clock, Grain.HOUR, LONDON)
    second = second_time_round(clock, Grain.HOUR, LONDON)
    assert second is not None
    assert second - first == timedelta(hours=1)
    texts = [to_text(period, Grain.HOUR, LONDON) for period in (first, second)]
    assert texts == ["2026-10-25T01:00+01:00", "2026-10-25T01:00+00:00"]
    assert second_time_round(datetime(2026, 10, 25, 3), Grain.HOUR, LONDON) is None
    # The hour that the clock skips in spring is no hour twice.
    assert second_time_round(datetime(2026, 3, 29, 1, 30), Grain.HOUR, LONDON) is None
    assert second_time_round(clock, Grain.DAY, LONDON) is None


@pytest.mark.parametrize(
    ("grain", "wanted"),
    [
        (Grain.HOUR, "2026-05-19T14:00+01:00"),
        (Grain.DAY, "2026-05-19"),
        (Grain.WEEK, "2026-05-19"),
        (Grain.MONTH, "2026-05-01"),
        (Grain.QUARTER, "2026-04-01"),
        (Grain.YEAR, "2026-01-01"),
    ],
)
def test_a_moment_falls_in_the_period_of_its_grain(grain: Grain, wanted: str) -> None:
    moment = datetime(2026, 5, 19, 14, 35)
    assert to_text(period_of(moment, grain, LONDON), grain, LONDON) == wanted


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
    assert propose_grain(moments) is grain


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
    assert label(moment, grain, LONDON, beside) == same_year
    assert label(moment.replace(year=2025), grain, LONDON, beside) == other_year


def test_time_zones_are_known_by_name() -> None:
    assert is_time_zone("Europe/London")
    assert not is_time_zone("Mars/Olympus")
    assert not is_time_zone("../etc/passwd")


BEFORE = ChartState(
    "Ramp cycle", segments=(SegmentState(), SegmentState("2026-05-18", "New ramp drill"))
)
SHIFT = BEFORE.segments[1]


@pytest.mark.parametrize(
    ("changes", "said"),
    [
        ({"segments": [SegmentState(), SHIFT, SegmentState("2026-06-01")]},
         "Put a shift at 2026-06-01"),
        ({"segments": [SegmentState()]}, "Removed the shift at 2026-05-18"),
        ({"segments": [SegmentState(), SegmentState("2026-05-25", "New ramp drill")]},
         "Moved the shift from 2026-05-18 to 2026-05-25"),
        ({"segments": [SegmentState(), SegmentState("2026-05-18", "Drill")]},
         "Named a segment Drill"),
        ({"segments": [SegmentState(), SegmentState("2026-05-18")]}, "Removed a segment's name"),
        ({"segments": [SegmentState(), SegmentState("2026-05-18", "New ramp drill", "Two hands")]},
         "Changed the segment New ramp drill"),
        ({"segments": [SegmentState(centre="median"), SHIFT]}, "Changed the segment at the start"),
        ({"segments": [SegmentState(), SegmentState("2026-06-01"), SegmentState("2026-07-06")]},
         "Rearranged the segments"),
        ({"target": 20.0}, "Changed the target"),
        ({"floor": 0.0, "unit": "s"}, "Changed the unit and the floor"),
        ({"rules": ["run"]}, "Changed the rules"),
        ({"run_length": 7}, "Changed the run length"),
    ],
)  # fmt: skip
def test_changes_are_described(changes: dict[str, Any], said: str) -> None:
    given = dict(changes)
    if "segments" in changes:
        # As they come from a browser: plain data.
        given["segments"] = [asdict(segment) for segment in changes["segments"]]
    assert describe(BEFORE, BEFORE.with_changes(given)) == said


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
