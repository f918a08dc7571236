"""Schedules through years and clock changes, and feeds through a year of them."""

from datetime import UTC, datetime, timedelta
from itertools import pairwise
from typing import Any
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fluctus.accounts.models import Workspace
from fluctus.feeds import running
from fluctus.feeds.models import Feed, FeedState, Fetch, FetchOutcome
from fluctus.feeds.timing import next_fetch
from fluctus.jobs.models import JobStatus
from fluctus.jobs.schedule import Every, Schedule, in_words, next_times

ZONES = ("Europe/London", "America/Santiago", "Australia/Lord_Howe", "Asia/Kolkata", "UTC")
moments = st.datetimes(datetime(2024, 1, 1), datetime(2030, 1, 1), timezones=st.just(UTC))
minutes = st.integers(0, 1439)


@given(st.sampled_from(ZONES), moments, minutes, st.sampled_from([Every.DAY, Every.WEEKDAY]))
def test_a_day_has_its_time_once_whatever_the_clock_does(
    name: str, after: datetime, minute: int, every: Every
) -> None:
    zone = ZoneInfo(name)
    times = next_times(Schedule(every, minute), after, zone, 400)
    local = [time.astimezone(zone) for time in times]
    assert all(later > sooner for sooner, later in pairwise(times))
    assert times[0] > after
    days = [moment.date() for moment in local]
    assert len(set(days)) == len(days)
    for moment in local:
        asked = moment.replace(hour=minute // 60, minute=minute % 60)
        was_skipped = asked.astimezone(UTC).astimezone(zone).replace(fold=0) != asked.replace(
            fold=0
        )
        assert was_skipped or (moment.hour, moment.minute) == divmod(minute, 60)
    if every is Every.DAY:
        assert all(later - sooner == timedelta(days=1) for sooner, later in pairwise(days))
    else:
        assert all(day.weekday() < 5 for day in days)


@given(st.sampled_from(ZONES), moments, st.integers(0, 59))
def test_every_hour_is_every_hour_that_passes(name: str, after: datetime, minute: int) -> None:
    times = next_times(Schedule(Every.HOUR, minute), after, ZoneInfo(name), 24 * 14)
    assert all(later - sooner <= timedelta(hours=2) for sooner, later in pairwise(times))
    assert all(later > sooner for sooner, later in pairwise(times))


@given(moments, st.integers(1, 31), minutes)
def test_a_month_has_its_day(after: datetime, day: int, minute: int) -> None:
    times = next_times(Schedule(Every.MONTH, minute, day=day), after, ZoneInfo("UTC"), 24)
    for time in times:
        last = (time.replace(day=28) + timedelta(days=4)).replace(day=1) - timedelta(days=1)
        assert time.day == (last.day if day == 31 else day)


@pytest.mark.parametrize(
    ("schedule", "said"),
    [
        (Schedule(Every.HOUR), "Every hour"),
        (Schedule(Every.HOUR, 5), "Every hour at 5 past"),
        (Schedule(Every.DAY, 0), "Every day at 00:00"),
        (Schedule(Every.WEEK, 61, 6), "Every Sunday at 01:01"),
        (Schedule(Every.MONTH, 390, day=31), "On the last day of every month at 06:30"),
        (Schedule(Every.ARRIVAL), "After each period, when its values usually come"),
    ],
)
def test_schedules_in_words(schedule: Schedule, said: str) -> None:
    assert in_words(schedule) == said


@pytest.mark.parametrize("name", ["Europe/London", "America/Santiago", "Australia/Lord_Howe"])
def test_a_feed_through_a_year_fetches_once_a_day_also_after_an_outage(db: None, name: str) -> None:
    """The clock is moved by hand, two hours at a time; for a week nothing looks."""
    zone = ZoneInfo(name)
    start = datetime(2027, 1, 1, 12, tzinfo=zone).astimezone(UTC)
    feed = Feed.objects.create(
        workspace=Workspace.objects.create(slug="x", name="X"),
        name="Daily",
        source="address",
        state=FeedState.ON,
        made_at=start,
        schedule=Schedule(Every.DAY, 2 * 60 + 10).to_json(),
        time_zone=name,
    )
    feed.next_at = next_fetch(feed, start)
    feed.save()
    fetched: list[Any] = []
    outage = (start + timedelta(days=200), start + timedelta(days=207))

    def fetch(row: Fetch) -> None:
        """Carry it out as a worker would: at once."""
        Fetch.objects.filter(pk=row.pk).update(
            status=JobStatus.DONE, outcome=FetchOutcome.SAME, ended=row.began
        )
        fetched.append(row.began.astimezone(zone).date())
        Feed.objects.filter(pk=feed.pk).update(next_at=next_fetch(feed, row.began))

    now = start
    while now < start + timedelta(days=365):
        if not outage[0] <= now < outage[1]:
            running.begin_due(now, fetch)
        now += timedelta(hours=2)
    assert len(set(fetched)) == len(fetched)
    assert len(fetched) in (358, 359, 360)
    missed = [later - sooner for sooner, later in pairwise(fetched) if (later - sooner).days > 1]
    assert len(missed) == 1
