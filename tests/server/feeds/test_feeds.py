"""Feeds against the booking office: what comes, what does not fit, and what goes wrong."""

from datetime import datetime, timedelta
from typing import Any

import pytest
from django.utils import timezone

from demo.booking_office.office import Office
from fluctus.feeds import running
from fluctus.feeds.models import Feed, FeedState, Fetch, FetchOutcome
from fluctus.intake.models import Import, Upload
from fluctus.kpis.models import Kpi
from tests.conftest import Api, join, ok
from tests.server.feeds.conftest import LONDON, WEEKLY, Feeds, problem_of

Place = tuple[Office, str]


def test_a_feed_brings_what_is_new_each_time_it_fetches(office: Place, feeds: Feeds) -> None:
    it, address = office
    number = feeds.set_up(feeds.of_address(f"{address}/weekly.csv"))
    said = feeds.get(number)["feed"]
    assert said["says"].startswith(
        "Every Monday at 06:10 from weekly.csv at 127.0.0.1, 7 KPIs, last "
    )
    assert {kpi["name"] for kpi in said["kpis"]} >= {"Turnaround", "Stops", "Waste"}
    before = feeds.values("turnaround")
    assert feeds.fetch(number).outcome == FetchOutcome.SAME
    it.set_clock(0, it.now() + timedelta(weeks=2))
    fetch = feeds.fetch(number)
    assert (fetch.outcome, fetch.counts["new"]) == (FetchOutcome.BROUGHT, 14)
    after = feeds.values("turnaround")
    assert after.items() > before.items()
    assert len(after) == len(before) + 2
    # It is an import like any other, and goes back like one.
    assert fetch.brought is not None
    ok(feeds.api.send("POST", f"/imports/{fetch.brought.pk}/undo", {}))
    assert feeds.values("turnaround") == before


def test_every_format_and_pages_give_the_same(office: Place, feeds: Feeds) -> None:
    _, address = office
    wheres = [
        feeds.of_address(f"{address}/passengers.csv"),
        feeds.of_address(f"{address}/passengers.xlsx"),
        feeds.of_address(f"{address}/passengers.json", pages="link"),
        feeds.of_address(f"{address}/passengers.json", pages="number"),
    ]
    told = []
    for n, where in enumerate(wheres):
        seen = ok(feeds.look(where))["uploaded"]["id"]
        details = {"kpis": {"Passengers": {"details": {"name": f"Passengers {n}"}}}}
        read = ok(feeds.api.send("POST", f"/uploads/{seen}/import", {"mapping": details}))
        told.append(feeds.values(read["parts"][0]["slug"]))
    assert len(told[0]) > 100
    assert all(values == told[0] for values in told)


def test_rows_that_are_corrected_late_or_twice(office: Place, feeds: Feeds) -> None:
    it, address = office
    number = feeds.set_up(feeds.of_address(f"{address}/weekly.csv"))
    before = feeds.values("engines")
    it.faults.switch({"corrected": True})
    assert feeds.fetch(number).counts["changed"] == 3
    now = feeds.values("engines")
    changed = [week for week in before if now[week] != before[week]]
    assert changed == sorted(before)[-3:]
    it.faults.switch({"corrected": False, "fewer": True})
    fetch = feeds.fetch(number)
    assert fetch.remarks[0] == "1 value is no longer in the table, and stays in Turnaround"
    assert feeds.values("engines") == before


def test_what_a_person_has_typed_wins_until_they_say_otherwise(office: Place, feeds: Feeds) -> None:
    it, address = office
    number = feeds.set_up(feeds.of_address(f"{address}/weekly.csv"))
    value = ok(feeds.api.get("/kpis/engines/values"))["values"][-1]
    edit = {"period": value["period"], "value": 77.0, "seen": value["version"]}
    ok(feeds.api.send("POST", "/kpis/engines/values", {"edits": [edit]}))
    it.faults.switch({"corrected": True})
    assert feeds.fetch(number).counts == {"new": 0, "changed": 2, "same": 15 * 7 - 3, "typed": 1}
    row = ok(feeds.api.get("/kpis/engines/values"))
    assert (row["values"][-1]["value"], row["values"][-1]["typed"], row["fed"]) == (
        77.0,
        True,
        True,
    )
    release = {"period": value["period"], "value": 77.0, "release": True}
    release["seen"] = row["values"][-1]["version"]
    ok(feeds.api.send("POST", "/kpis/engines/values", {"edits": [release]}))
    assert feeds.fetch(number).counts["changed"] == 1
    assert feeds.values("engines")[value["period"]] == pytest.approx(
        value["value"] * 1.02, rel=0.01
    )


@pytest.mark.parametrize(
    ("fault", "told"),
    [
        ("renamed", "Column Turnaround (min) is not there any more; Turnaround now is new"),
        ("seconds", "Turnaround is about 60 times what it was"),
    ],
)
def test_what_does_not_fit_stops_the_feed_and_saves_nothing(
    office: Place, feeds: Feeds, fault: str, told: str
) -> None:
    it, address = office
    number = feeds.set_up(feeds.of_address(f"{address}/weekly.csv"))
    before, imports = feeds.values("turnaround"), Import.objects.count()
    it.set_clock(0, it.now() + timedelta(weeks=2))
    it.faults.switch({fault: True})
    assert feeds.fetch(number).outcome == FetchOutcome.STOPPED
    feed = feeds.get(number)["feed"]
    assert feed["state"] == "stopped"
    assert feed["waits"]
    assert told in feed["differs"][0]
    assert (feeds.values("turnaround"), Import.objects.count()) == (before, imports)
    assert feeds.api.send("POST", f"/feeds/{number}/fetch").status_code == 409
    # Left out, it goes on with the next table.
    ok(feeds.api.send("POST", f"/feeds/{number}/decide", {"act": "leave_out"}))
    assert not Upload.objects.exists()
    it.faults.switch({fault: False})
    assert feeds.fetch(number).counts["new"] == 14


def test_a_web_page_in_place_of_a_table_is_a_failure_that_passes(
    office: Place, feeds: Feeds
) -> None:
    it, address = office
    number = feeds.set_up(feeds.of_address(f"{address}/weekly.csv"))
    it.set_clock(0, it.now() + timedelta(weeks=1))
    it.faults.switch({"page": True})
    fetch = feeds.fetch(number)
    assert fetch.outcome == FetchOutcome.FAILED
    assert "no table on this page" in problem_of(fetch)["issues"][0]["detail"]
    assert feeds.get(number)["feed"]["state"] == "on"
    assert not Upload.objects.exists()
    it.faults.switch({"page": False})
    assert feeds.fetch(number).counts["new"] == 7


def test_another_shape_is_learnt(office: Place, feeds: Feeds) -> None:
    it, address = office
    number = feeds.set_up(feeds.of_address(f"{address}/weekly.csv"))
    it.faults.switch({"renamed": True})
    it.set_clock(0, it.now() + timedelta(weeks=1))
    feeds.fetch(number)
    held = ok(feeds.api.send("POST", f"/feeds/{number}/held"))
    body = {"upload": held["id"], "mapping": {"time_zone": "Europe/London"}}
    after = ok(feeds.api.send("POST", f"/feeds/{number}/learn", body))
    assert after["state"] == "on"
    assert after["last"]["says"] == "7 new values"
    assert Kpi.objects.filter(workspace__slug="marrowick").count() == 7
    it.set_clock(0, it.now() + timedelta(weeks=1))
    assert feeds.fetch(number).counts["new"] == 7


def test_a_jump_can_be_taken_as_it_is(office: Place, feeds: Feeds) -> None:
    it, address = office
    number = feeds.set_up(feeds.of_address(f"{address}/weekly.csv"))
    it.faults.switch({"seconds": True})
    it.set_clock(0, it.now() + timedelta(weeks=1))
    feeds.fetch(number)
    ok(feeds.api.send("POST", f"/feeds/{number}/decide", {"act": "as_before"}))
    assert max(feeds.values("turnaround").values()) > 1000
    it.set_clock(0, it.now() + timedelta(weeks=1))
    assert feeds.fetch(number).outcome == FetchOutcome.BROUGHT


def test_failures_pause_longer_are_told_once_and_end(
    office: Place, feeds: Feeds, monkeypatch: Any
) -> None:
    it, address = office
    told: list[str] = []
    monkeypatch.setattr("fluctus.feeds.hooks.tellers", [lambda feed, text, now: told.append(text)])
    number = feeds.set_up(feeds.of_address(f"{address}/weekly.csv"))
    it.faults.switch({"error": True})
    waits = []
    for _ in range(5):
        assert feeds.fetch(number).outcome == FetchOutcome.FAILED
        feed = Feed.objects.get(pk=number)
        assert feed.next_at is not None
        waits.append((feed.next_at - timezone.now()).total_seconds())
    assert waits == sorted(waits)
    assert waits[0] < 130
    assert told == ["The feed Office has failed 3 times: It has failed itself (answer 500)."]
    it.faults.switch({"error": False, "busy": True})
    feeds.fetch(number)
    it.faults.switch({"busy": False, "outage": True})
    fetch = feeds.fetch(number)
    assert problem_of(fetch)["issues"][0]["detail"] == "The connection broke off."
    it.faults.switch({"outage": False})
    feeds.fetch(number)
    feeds.fetch(number)
    assert told[1:] == ["The feed Office is well again."]
    assert Feed.objects.get(pk=number).failures == 0


def test_a_source_that_asks_to_wait_is_waited_for(office: Place, feeds: Feeds) -> None:
    it, address = office
    number = feeds.set_up(feeds.of_address(f"{address}/weekly.csv"))
    it.faults.switch({"busy": True})
    ok(feeds.change(number, schedule={"every": "cron", "cron": "*/5 * * * *"}))
    feeds.fetch(number)
    wait = Feed.objects.get(pk=number).next_at - timezone.now()  # type: ignore[operator]
    assert wait > timedelta(seconds=110)


def test_only_editors_of_the_workspace_set_feeds_up(office: Place, feeds: Feeds) -> None:
    _, address = office
    number = feeds.set_up(feeds.of_address(f"{address}/weekly.csv"))
    stranger = Api(join("eve", "elsewhere"), "elsewhere")
    assert stranger.get(f"/feeds/{number}").status_code == 404
    assert stranger.send("POST", f"/feeds/{number}/fetch").status_code == 404
    assert stranger.send("DELETE", f"/feeds/{number}").status_code == 404
    assert ok(stranger.get("/feeds")) == []


def test_a_feed_whose_owner_leaves_stops_and_can_be_taken_over(office: Place, feeds: Feeds) -> None:
    _, address = office
    number = feeds.set_up(feeds.of_address(f"{address}/weekly.csv"))
    other = Api(join("rhona", "marrowick"), "marrowick")
    Feed.objects.get(pk=number).person.delete()  # type: ignore[union-attr]
    them = Feeds(other)
    assert them.fetch(number).outcome == FetchOutcome.STOPPED
    assert them.get(number)["feed"]["differs"] == [running.GONE_OWNER]
    ok(them.change(number, take_over=True, paused=False))
    assert them.fetch(number).outcome == FetchOutcome.SAME


def test_a_feed_without_kpis_stops(office: Place, feeds: Feeds) -> None:
    _, address = office
    number = feeds.set_up(feeds.of_address(f"{address}/fees.csv"))
    Kpi.objects.all().delete()
    assert feeds.fetch(number).outcome == FetchOutcome.STOPPED
    assert feeds.get(number)["feed"]["differs"] == [running.NO_KPIS]


def test_what_is_due_begins_once_however_many_look(office: Place, feeds: Feeds) -> None:
    _, address = office
    number = feeds.set_up(feeds.of_address(f"{address}/weekly.csv"))
    due = Feed.objects.get(pk=number).next_at
    assert due is not None
    assert due.astimezone(LONDON).strftime("%A %H:%M") == "Monday 06:10"
    begun: list[Fetch] = []
    assert running.begin_due(due - timedelta(seconds=1), begun.append) == 0
    # A machine that slept for a month makes it up once.
    late = due + timedelta(days=31)
    assert [running.begin_due(late, begun.append) for _ in range(3)] == [1, 0, 0]
    ok(feeds.change(number, paused=True))
    assert feeds.get(number)["feed"]["state"] == FeedState.PAUSED


def test_a_feed_after_each_period_follows_how_values_come(office: Place, feeds: Feeds) -> None:
    it, address = office
    number = feeds.set_up(
        feeds.of_address(f"{address}/weekly.csv"), schedule=WEEKLY | {"every": "arrival"}
    )
    feed = Feed.objects.get(pk=number)
    assert feed.next_at is not None
    # Its newest week is long ahead of this one: it is looked for when the next one is over.
    assert feed.next_at >= datetime(2027, 3, 7, 23, tzinfo=LONDON)
    it.set_clock(0, it.now() + timedelta(weeks=1))
    assert feeds.fetch(number).outcome == FetchOutcome.BROUGHT


def test_schedules_are_said_and_refused(feeds: Feeds) -> None:
    def when(**schedule: Any) -> Any:
        return feeds.api.send(
            "POST", "/feeds/when", {"schedule": schedule, "time_zone": "Europe/Berlin"}
        )

    assert ok(when(every="weekday", minute=370))["says"] == "Every weekday at 06:10"
    assert len(ok(when(every="month", day=31, minute=0))["next_times"]) == 3
    for cron in ("* * * * * *", "* * * * *", "*/4 * * * *", "61 * * * *", "nonsense", "0 0 30 2 *"):
        refused = when(every="cron", cron=cron)
        assert refused.status_code == 422, cron
        assert refused.json()["issues"][0]["field"] == "cron"
