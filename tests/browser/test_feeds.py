"""A feed from an address to its KPIs: set up, stopped by a fault, resolved, and gone."""

from datetime import timedelta
from typing import Any

from django.utils import timezone
from playwright.sync_api import Page, expect

from fluctus.feeds import jobs, running
from fluctus.feeds.models import Feed, Fetch
from fluctus.kpis.models import Kpi
from tests.server.feeds.conftest import office

__all__ = ["office"]


def work() -> None:
    """Carry out what waits, as a worker does."""
    for fetch in Fetch.objects.filter(status="waiting"):
        jobs.fetch_feed(job_id=fetch.pk)


def test_a_feed_is_set_up_stopped_and_goes_on(demo: Page, office: Any, accessible: Any) -> None:
    it, address = office
    demo.goto("/marrowick/new")
    demo.get_by_role("button", name="Fetch it from an address").click()
    demo.get_by_label("Address of the table").fill("not one")
    demo.get_by_role("button", name="Look at the table").click()
    expect(demo.get_by_role("alert").first).to_contain_text("begins with https://")
    demo.get_by_label("Address of the table").fill(f"{address}/left-behind.csv")
    demo.get_by_role("button", name="Look at the table").click()
    expect(demo.get_by_role("group", name="Fetch it by itself")).to_be_visible()
    accessible(demo)
    demo.get_by_label("Name of the feed").fill("Left at the quays")
    demo.get_by_label("Name", exact=True).fill("Left at the quays")
    expect(demo.get_by_text("Every weekday at 06:10. Next: ")).to_be_visible()
    demo.get_by_role("button", name="Save, and fetch by itself").click()
    expect(demo.get_by_role("heading", name="Left at the quays")).to_be_visible()
    expect(
        demo.get_by_text("Every weekday at 06:10 from left-behind.csv at 127.0.0.1, 1 KPI, last")
    ).to_be_visible()
    accessible(demo)

    # Another column comes: the feed stops, says why, and nothing is saved.
    it.faults.switch({"renamed": True})
    it.set_clock(0, it.now() + timedelta(weeks=1))
    before = Kpi.objects.get(name="Left at the quays").observations.count()
    demo.get_by_role("button", name="Fetch now").click()
    expect(demo.get_by_role("button", name="Stop fetching")).to_be_visible()
    work()
    stopped = demo.get_by_role("alert").filter(has_text="Stopped")
    expect(stopped).to_contain_text("Column Quay is not there any more; Quay now is new")
    accessible(demo)
    stopped.get_by_role("link", name="Learn the new shape").click()
    expect(demo.get_by_role("heading", name="Learn the new shape")).to_be_visible()
    demo.get_by_role("button", name="Read it afresh").click()
    demo.get_by_role("button", name="Read it so from now on").click()
    expect(demo.get_by_role("heading", name="Left at the quays")).to_be_visible()
    expect(demo.get_by_text("3 new values").first).to_be_visible()
    assert Kpi.objects.get(name="Left at the quays").observations.count() == before + 3

    # Its times are changed, it rests, and goes.
    demo.get_by_role("button", name="Name and times").click()
    demo.get_by_role("combobox", name="How often").click()
    demo.get_by_role("option", name="By a cron line").click()
    demo.get_by_label("Cron line").fill("* * * * *")
    expect(demo.get_by_text("oftener than every five minutes")).to_be_visible()
    demo.get_by_label("Cron line").fill("*/30 6-22 * * *")
    demo.get_by_role("button", name="Save", exact=True).click()
    expect(demo.get_by_role("dialog")).to_be_hidden()
    demo.get_by_role("button", name="Pause").click()
    expect(demo.get_by_role("button", name="Go on")).to_be_visible()
    assert running.begin_due(timezone.now() + timedelta(days=1), lambda fetch: None) == 0
    demo.get_by_role("button", name="Remove").click()
    demo.get_by_role("button", name="Remove this feed").click()
    expect(demo.get_by_text("No table fetches itself yet.")).to_be_visible()
    assert not Feed.objects.exists()
    assert Kpi.objects.get(name="Left at the quays").observations.count() == before + 3


def test_what_is_typed_over_a_feed_says_so(demo: Page, office: Any) -> None:
    _, address = office
    demo.goto("/marrowick/new")
    demo.get_by_role("button", name="Fetch it from an address").click()
    demo.get_by_label("Address of the table").fill(f"{address}/fees.csv")
    demo.get_by_role("button", name="Look at the table").click()
    demo.get_by_label("Name", exact=True).fill("Fees")
    demo.get_by_role("button", name="Save, and fetch by itself").click()
    expect(demo.get_by_role("button", name="Fetch now")).to_be_visible()
    demo.goto("/marrowick/charts/fees/values")
    cell = demo.get_by_role("gridcell", name="Value of Feb 2027")
    cell.click()
    cell.press("Enter")
    demo.keyboard.type("250")
    demo.keyboard.press("Enter")
    told = demo.get_by_text("typed: the feed leaves it")
    expect(told).to_be_visible()
    demo.get_by_role("button", name="More for Feb 2027").click()
    demo.get_by_role("menuitem", name="Let the feed replace it").click()
    expect(told).to_be_hidden()
