"""Clock changes and changes of time zone: no value moves to another day, no hour is two or none."""

from datetime import UTC, date, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fluctus.core import Aggregation
from fluctus.findings.models import Entry, Finding
from fluctus.kpis.calendar import Calendar, Grain, from_text, label, start_of_day, to_text
from fluctus.kpis.models import Observation
from fluctus.kpis.observations.series import Shown, make_observations
from fluctus.kpis.observations.stored import Stored
from tests.conftest import Api, ok

# With clocks changed at midnight, by half an hour, in both halves of the year, and not at all.
ZONES = [
    "Africa/Cairo",
    "America/Havana",
    "America/New_York",
    "Atlantic/Azores",
    "Australia/Lord_Howe",
    "Europe/London",
    "Asia/Kolkata",
    "UTC",
]
CALENDARS = st.builds(
    Calendar, st.sampled_from([*map(ZoneInfo, ZONES)]), st.integers(0, 6), st.integers(1, 12)
)
MOMENTS = st.datetimes(datetime(1990, 1, 1), datetime(2040, 1, 1), timezones=st.just(UTC))


@given(MOMENTS, CALENDARS, st.sampled_from(list(Grain)), st.integers(0, 40))
def test_so_many_periods_on_are_so_many_steps(
    moment: datetime, calendar: Calendar, grain: Grain, count: int
) -> None:
    (start,) = calendar.starts(np.array([moment.timestamp()]), grain)
    first = stepped = datetime.fromtimestamp(float(start), UTC)
    for _ in range(count):
        following = calendar.following(stepped, grain)
        assert following > stepped
        if grain is Grain.HOUR:
            assert following - stepped == timedelta(hours=1)
        else:
            # What ends where the next begins has no moment of its own after it.
            (own,) = calendar.starts(np.array([following.timestamp() - 1]), grain)
            assert own == stepped.timestamp()
        stepped = following
    assert calendar.following(first, grain, count) == stepped
    assert from_text(to_text(stepped, grain, calendar.zone), grain, calendar.zone) == stepped


@given(
    st.lists(st.dates(date(1990, 1, 1), date(2040, 1, 1)), min_size=1, max_size=30, unique=True),
    st.sampled_from(ZONES),
    st.sampled_from(ZONES),
)
def test_days_keep_their_dates_from_zone_to_zone_and_back(
    days: list[date], one_zone: str, other_zone: str
) -> None:
    old, new = (Calendar(ZoneInfo(name)) for name in (one_zone, other_zone))
    begins = np.array([start_of_day(day, old.zone).timestamp() for day in days])
    moved = old.moved_to(new, begins)
    assert moved.tolist() == [start_of_day(day, new.zone).timestamp() for day in days]
    assert new.moved_to(old, moved).tolist() == begins.tolist()


def hourly(first: datetime, count: int, zone: str, leave_out: set[int] = frozenset()) -> Any:  # type: ignore[assignment]
    """Hours without a gap but for those that are left out, as a chart has them."""
    return charted([first.timestamp() + 3600 * n for n in range(count) if n not in leave_out], zone)


def by_the_wall(first: datetime, count: int, zone: str) -> Any:
    """Hours as a clock on the wall shows them, one after the other, each that there is once."""
    walls = [first.replace(tzinfo=None) + timedelta(hours=n) for n in range(count)]
    instants = {wall.replace(tzinfo=ZoneInfo(zone)).timestamp() for wall in walls}
    return charted(sorted(instants), zone)


def charted(times: list[float], zone: str) -> Any:
    """Values at some hours, as a chart has them."""
    instants, count = np.array(times), len(times)
    nothing = np.full(count, np.nan)
    stored = Stored(
        instants,
        np.ones(count),
        nothing,
        nothing,
        nothing,
        nothing,
        np.ones(count, np.intp),
        np.zeros(count, np.bool_),
        np.zeros(count, np.bool_),
        np.zeros(count, np.intp),
        ("",),
        {},
        {},
    )
    calendar = Calendar(ZoneInfo(zone))
    return make_observations(stored, Shown(Grain.HOUR, Grain.HOUR, calendar, Aggregation.MEAN))


@given(MOMENTS, st.sampled_from(ZONES), st.integers(2, 400), st.sets(st.integers(1, 398)))
def test_gapless_hours_miss_none_and_others_no_more_than_there_are(
    moment: datetime, zone: str, count: int, leave_out: set[int]
) -> None:
    first = moment.replace(minute=0, second=0, microsecond=0)
    assert hourly(first, count, zone).missing_before.sum() == 0
    gaps = {n for n in leave_out if n < count - 1}
    assert hourly(first, count, zone, gaps).missing_before.sum() <= len(gaps)


@given(MOMENTS, st.sampled_from(ZONES), st.integers(2, 60), st.integers(1, 58))
def test_hours_by_the_wall_miss_what_is_shown_twice_and_no_more(
    moment: datetime, zone: str, count: int, leave_out: int
) -> None:
    first = moment.replace(minute=0, second=0, microsecond=0)
    seen = by_the_wall(first, count, zone)
    passed = (seen.instants[-1] - seen.instants[0]) / 3600
    # What a clock shows twice has one value; half an hour more or less is no hour.
    assert seen.missing_before.sum() == max(0, int(passed + 0.25) + 1 - len(seen))
    if leave_out < len(seen) - 1:
        kept = np.delete(seen.instants, leave_out).tolist()
        assert charted(kept, zone).missing_before.sum() <= seen.missing_before.sum() + 1


@pytest.mark.parametrize("evening", ["2026-04-04T20:00", "2026-10-03T20:00"])
def test_a_clock_that_changes_by_half_an_hour_has_no_hour_too_few(evening: str) -> None:
    seen = by_the_wall(datetime.fromisoformat(evening), 14, "Australia/Lord_Howe")
    assert (len(seen), seen.missing_before.sum()) == (14, 0)


def test_hours_that_are_missing_are_counted_across_a_clock_change() -> None:
    # 48 hours and the one that the clock shows twice; three in the second night are missing.
    evening = datetime(2024, 10, 26, 20, tzinfo=UTC)
    assert hourly(evening, 48, "Europe/London", {30, 31, 32}).missing_before.sum() == 3


def test_the_hour_that_a_clock_shows_twice_is_two_of_one_name_each() -> None:
    london = ZoneInfo("Europe/London")
    first = datetime(2024, 10, 27, 0, tzinfo=UTC)
    calendar = Calendar(london)
    second = calendar.following(first, Grain.HOUR)
    assert [to_text(moment, Grain.HOUR, london) for moment in (first, second)] == [
        "2024-10-27T01:00+01:00",
        "2024-10-27T01:00+00:00",
    ]
    assert label(first, Grain.HOUR, london) == "27 Oct 2024 01:00 BST"
    assert label(second, Grain.HOUR, london) == "27 Oct 2024 01:00 GMT"
    following = calendar.following(second, Grain.HOUR)
    assert label(following, Grain.HOUR, london) == "27 Oct 2024 02:00"


def bring_in_hours(api: Api, zone: str = "Europe/London") -> str:
    start = datetime(2024, 10, 26, 12, tzinfo=UTC)
    moments = [start + timedelta(hours=n) for n in range(24)]
    rows = "\n".join(f"{moment:%Y-%m-%dT%H:%M}Z,{20 + n % 3}" for n, moment in enumerate(moments))
    answer = api.bring_in(
        f"Hour,Ramp cycle (s)\n{rows}\n", {"name": "Ramp cycle"}, grain="hour", time_zone=zone
    )
    assert answer.status_code == 201, answer.content
    return str(answer.json()["parts"][0]["slug"])


def test_the_second_hour_of_one_name_is_compared_edited_and_shifted_at(api: Api) -> None:
    path = f"/kpis/{bring_in_hours(api)}"
    second = "2024-10-27T01:00+00:00"
    chart = ok(api.get(f"{path}/analysis"))
    assert chart["points"]["period"][12:14] == ["2024-10-27T01:00+01:00", second]
    assert chart["next"]["period"] == "2024-10-27T12:00+00:00"
    compared = ok(api.get(f"{path}/comparison", at=second))
    assert compared["numbers"] == [0, 1]
    shift = {"segments": [{"start": None}, {"start": second}]}
    shifted = ok(api.send("PATCH", path, shift, 1))
    assert [segment["first"] for segment in shifted["segments"]] == [0, 13]
    (value,) = (v for v in ok(api.get(f"{path}/values"))["values"] if v["period"] == second)
    edit = {"period": second, "value": 31.0, "seen": value["version"]}
    ok(api.send("POST", f"{path}/values", {"edits": [edit]}))
    assert (
        Observation.objects.filter(period=datetime(2024, 10, 27, 1, tzinfo=UTC)).get().value == 31
    )
    assert Observation.objects.count() == 24


def bring_in_days(api: Api, first: date, count: int, zone: str) -> str:
    rows = "\n".join(
        f"{first + timedelta(days=n)},{45 if n == 7 else 20 + n % 3}" for n in range(count)
    )
    answer = api.bring_in(
        f"Day,Ramp cycle (s)\n{rows}\n", {"name": "Ramp cycle"}, grain="day", time_zone=zone
    )
    assert answer.status_code == 201, answer.content
    return str(answer.json()["parts"][0]["slug"])


@pytest.mark.parametrize("zone", ["Africa/Cairo", "America/Havana", "Australia/Lord_Howe"])
def test_another_time_zone_keeps_dates_findings_and_shifts(api: Api, zone: str) -> None:
    # 26 April 2024 began at 01:00 in Cairo; in Havana midnight came twice on 3 November.
    first = date(2024, 4, 19) if zone == "Africa/Cairo" else date(2024, 10, 27)
    path = f"/kpis/{bring_in_days(api, first, 15, zone)}"
    flagged = Finding.objects.get(rule="outside_limits")
    ok(api.send("POST", f"/findings/{flagged.pk}/remarks", {"text": "Asked the crew"}))
    days = [str(first + timedelta(days=n)) for n in range(15)]
    shift = {"segments": [{"start": None}, {"start": days[8]}]}
    ok(api.send("PATCH", path, shift, 1))
    remarks = Entry.objects.count()
    findings = Finding.objects.count()

    revision = 2
    for other in ("Asia/Kolkata", "America/New_York", zone):
        chart = ok(api.send("PATCH", path, {"time_zone": other}, revision))
        revision = chart["kpi"]["revision"]
        assert chart["points"]["period"] == days
        assert chart["segments"][1]["start"] == days[8]
        # Every day begins where a new value of that day would.
        begins = [start_of_day(date.fromisoformat(day), ZoneInfo(other)) for day in days]
        assert (
            list(Observation.objects.order_by("period").values_list("period", flat=True)) == begins
        )
        assert Finding.objects.count() == findings
    assert Entry.objects.count() == remarks
    value = ok(api.get(f"{path}/values"))["values"][7]
    edit = {"period": days[7], "value": 44.0, "seen": value["version"]}
    ok(api.send("POST", f"{path}/values", {"edits": [edit]}))
    assert Observation.objects.count() == 15
    undone = ok(api.send("POST", f"{path}/undo", revision=revision + 1))
    assert undone["points"]["value"][7] == 45


def test_a_zone_that_skipped_a_day_is_refused_where_there_is_a_value_of_it(api: Api) -> None:
    path = f"/kpis/{bring_in_days(api, date(2011, 12, 22), 15, 'Pacific/Auckland')}"
    answer = api.send("PATCH", path, {"time_zone": "Pacific/Apia"}, 1)
    assert answer.status_code == 422
    assert "no 30 December 2011 in Pacific/Apia" in answer.json()["issues"][0]["detail"]
    assert ok(api.get(f"{path}/analysis"))["kpi"]["time_zone"] == "Pacific/Auckland"
