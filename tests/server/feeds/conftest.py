"""The booking office as feeds meet it, and a person who sets them up."""

import threading
from collections.abc import Iterator
from datetime import datetime
from pathlib import Path
from typing import Any
from zoneinfo import ZoneInfo

import pytest
from django.utils import timezone

from demo.booking_office.office import Office, server_of
from fluctus.feeds import jobs
from fluctus.feeds.models import Feed, Fetch
from fluctus.feeds.running import begin_fetch
from tests.conftest import Api, ok

LONDON = ZoneInfo("Europe/London")
WEEKLY = {"every": "week", "minute": 370, "weekday": 0}


@pytest.fixture(autouse=True)
def uploads(settings: Any, tmp_path: Path) -> None:
    settings.UPLOADS = tmp_path / "uploads"


@pytest.fixture
def office(settings: Any) -> Iterator[tuple[Office, str]]:
    """An office on a port of its own, in the spring of 2027, which feeds may reach."""
    office = Office()
    office.set_clock(0, datetime(2027, 3, 3, 9, tzinfo=LONDON))
    server = server_of(office, 0)
    threading.Thread(target=server.serve_forever, args=(0.05,), daemon=True).start()
    address = f"127.0.0.1:{server.server_address[1]}"
    settings.FEEDS_MAY_REACH = [address]
    yield office, f"http://{address}"
    server.shutdown()
    server.server_close()


class Feeds:
    """A person who sets feeds up, and a worker that fetches when it is told to."""

    def __init__(self, api: Api) -> None:
        self.api = api

    def look(self, where: dict[str, Any], feed: int | None = None) -> Any:
        return self.api.send("POST", "/feeds/look", {"where": where, "feed": feed})

    def set_up(self, where: dict[str, Any], name: str = "Office", **asked: Any) -> int:
        """Look at a source, set a feed of it up, and return its number."""
        seen = ok(self.look(where))
        form = {
            "name": name,
            "schedule": WEEKLY,
            "time_zone": "Europe/London",
            "upload": seen["uploaded"]["id"],
            "mapping": {"time_zone": "Europe/London"},
        }
        return int(
            ok(self.api.send("POST", f"/feeds/{seen['draft']}/set-up", form | asked))["feed"]
        )

    def of_address(self, address: str, **more: Any) -> dict[str, Any]:
        return {"address": {"address": address, **more}}

    def fetch(self, number: int) -> Fetch:
        """Let a feed fetch now, as a worker does; returns what came of it."""
        feed = Feed.objects.get(pk=number)
        begun: list[Fetch] = []
        begin_fetch(feed, timezone.now(), begun.append, by_hand=True)
        jobs.fetch_feed(job_id=begun[0].pk)
        begun[0].refresh_from_db()
        return begun[0]

    def get(self, number: int) -> Any:
        return ok(self.api.get(f"/feeds/{number}"))

    def change(self, number: int, **changes: Any) -> Any:
        seen = self.get(number)["feed"]["revision"]
        return self.api.send("PATCH", f"/feeds/{number}", changes, seen)

    def values(self, slug: str) -> dict[str, float]:
        rows = ok(self.api.get(f"/kpis/{slug}/values"))["values"]
        return {row["period"]: row["value"] for row in rows}


@pytest.fixture
def feeds(api: Api) -> Feeds:
    return Feeds(api)


def problem_of(fetch: Fetch) -> dict[str, Any]:
    assert fetch.problem is not None
    return dict(fetch.problem)
