"""1,000 feeds due at one moment on one worker, while others look at charts.

Each has a table of its own at an address, of 104 weeks, of which one is new and one corrected:
the worst of an hour in which 1,000 are due. In one run beside so many that have nothing new.
"""

import json
import os
import threading
from datetime import date, timedelta
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any

SOURCE = ("127.0.0.1", 8497)
os.environ["FEEDS_MAY_REACH"] = f"{SOURCE[0]}:{SOURCE[1]}"


from bench.renewing import BETWEEN, answers, when_calm  # noqa: E402 - settings come first
from bench.served import copy, served, worker  # noqa: E402
from bench.writing import Person  # noqa: E402
from fluctus.accounts.models import Membership, Role, Workspace  # noqa: E402
from fluctus.feeds.models import Feed, FeedKpi, Fetch, FetchOutcome  # noqa: E402
from fluctus.http import clock  # noqa: E402
from fluctus.kpis.models import Kpi  # noqa: E402

FEEDS, WEEKS = 1_000, 104
LONGEST = 3_600.0


class Tables(BaseHTTPRequestHandler):
    """Tables at any address, which grow by a week."""

    weeks = WEEKS
    protocol_version = "HTTP/1.1"

    def do_GET(self) -> None:
        """Answer with a table, or that there is nothing new."""
        mark = f'"{self.weeks}"'
        same = self.headers.get("If-None-Match") == mark
        first = date(2024, 1, 1)
        values = [20 + n * 7 % 11 for n in range(self.weeks)]
        values[9] += self.weeks - WEEKS
        rows = [f"{first + timedelta(weeks=n)},{value}" for n, value in enumerate(values)]
        body = b"" if same else "\n".join(["Week,Minutes late", *rows]).encode()
        self.send_response(304 if same else 200)
        self.send_header("ETag", mark)
        self.send_header("Content-Type", "text/csv")
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)

    def log_message(self, format: str, *arguments: Any) -> None:
        """Say nothing."""


def prepare(cookie: str) -> None:
    """Set a feed up as a person does, and put copies of it beside it."""
    owner = Membership.objects.get(workspace__slug="bench").person
    # Of the run before, where one database serves both.
    Workspace.objects.filter(slug="bench-fed").delete()
    workspace = Workspace.objects.create(slug="bench-fed", name="Fed")
    Membership.objects.create(workspace=workspace, person=owner, role=Role.OWNER)
    person, address = Person(cookie, "bench-fed"), f"http://{SOURCE[0]}:{SOURCE[1]}"
    seen = asked(person, "/feeds/look", {"where": {"address": {"address": f"{address}/1.csv"}}})
    form = {"name": "Feed 1", "schedule": {"every": "hour"}, "time_zone": "Europe/London"}
    form |= {"upload": seen["uploaded"]["id"], "mapping": {"time_zone": "Europe/London"}}
    feed = Feed.objects.get(pk=asked(person, f"/feeds/{seen['draft']}/set-up", form)["feed"])
    key, own = feed.kpis.values_list("key", "kpi")[0]
    copy("bench-fed", FEEDS - 1)
    for number, kpi in enumerate(Kpi.objects.filter(workspace=workspace).exclude(pk=own), 2):
        feed.pk, feed.name, feed.first = None, f"Feed {number}", None
        feed.options = {**feed.options, "address": f"{address}/{number}.csv"}
        feed.save()
        FeedKpi.objects.create(feed=feed, key=key, kpi=kpi)


def asked(person: Person, path: str, form: object) -> Any:
    """Return what comes of a form."""
    status, content = person.ask("POST", path, form)
    if status != 201:
        raise SystemExit(f"{path} answered {status}: {content[:300]!r}")
    return json.loads(content)


def fetched(cookie: str) -> tuple[float, float]:
    """Let all be due, and look at charts until all have fetched; returns seconds, and ms of one."""
    Feed.objects.update(next_at=clock.now())
    last = Fetch.objects.order_by("-pk").values_list("pk", flat=True)[0]
    ended = Fetch.objects.filter(pk__gt=last, ended__isnull=False)
    seconds, middle, _ = answers(
        cookie, lambda since: ended.count() < FEEDS and since < LONGEST, BETWEEN * 5
    )
    return seconds, middle


def main() -> None:
    source = ThreadingHTTPServer(SOURCE, Tables)
    threading.Thread(target=source.serve_forever, daemon=True).start()
    with served() as (name, value):
        cookie = f"{name}={value}"
        prepare(cookie)
        with worker():
            calm, _ = when_calm(cookie)
            Tables.weeks += 1
            new, meanwhile = fetched(cookie)
            same, _ = fetched(cookie)
    brought = Fetch.objects.filter(outcome=FetchOutcome.BROUGHT, by_hand=False)
    unlike = brought.exclude(counts__contains={"new": 1, "changed": 1, "same": WEEKS - 1}).count()
    if brought.count() != FEEDS or unlike:
        raise SystemExit(f"{brought.count()} brought something in, {unlike} of them unlike it.")
    print(f"{FEEDS:,} feeds due at once, each with a new week {new:7.1f} s   (at most 3600)")
    print(f"as many with nothing new                    {same:7.1f} s")
    print(f"a chart of 500 meanwhile, middle            {meanwhile:7.1f} ms")
    print(f"the same when nothing is due                {calm:7.1f} ms")
    print(f"meanwhile / nothing due, middle             {meanwhile / calm:7.2f}")


if __name__ == "__main__":
    main()
