"""What one hears of and how, read before it is sent; a webhook; screens that renew themselves."""

from datetime import date
from typing import Any

from django.utils import timezone
from playwright.sync_api import Page, expect

from fluctus.kpis.actor import Actor
from fluctus.kpis.models import Kpi
from fluctus.kpis.values.services import Edit, edit_values
from fluctus.messages import outbox
from fluctus.messages.models import Wish
from fluctus.reports.asked import Asked
from fluctus.reports.models import Report, Scope
from tests.server.feeds.conftest import office

__all__ = ["office"]


def write(slug: str, period: str, value: float) -> None:
    """Let somebody else write a value, over the one that is there."""
    kpi = Kpi.objects.get(slug=slug)
    there = kpi.observations.filter(period__date=date.fromisoformat(period)).first()
    seen = there.written_by_id if there else None
    edit_values(kpi, [Edit(period, value=value, seen=seen)], Actor(None, timezone.now()))


def test_a_person_says_what_they_hear_of(demo: Page, office: Any, accessible: Any) -> None:
    it, address = office
    demo.get_by_role("button", name="More", exact=True).click()
    demo.get_by_role("menuitem", name="What you hear of it").click()
    expect(demo.get_by_role("heading", name="What you hear of")).to_be_in_viewport()
    accessible(demo)
    of = demo.get_by_role("combobox", name="Of", exact=True)
    expect(of).to_have_value("Turnaround at quay")
    beyond = demo.get_by_role("combobox", name="Beyond the limits")
    expect(beyond).to_have_value("As around it: in the digest")
    beyond.click()
    demo.get_by_role("option", name="At once, by mail").click()
    expect(demo.get_by_text("You have said something of Turnaround at quay.")).to_be_visible()
    assert Wish.objects.get().how == {"beyond_limits": "at_once"}
    demo.get_by_role("button", name="Quiet for a week").click()
    expect(demo.get_by_role("button", name="end that")).to_be_visible()
    demo.get_by_role("button", name="end that").click()
    expect(demo.get_by_role("button", name="Quiet for a week")).to_be_visible()

    # What happens is told first to who is further down, and is in the digest as it would be.
    write("galley-waste", "2026-11-16", 400.0)
    demo.get_by_role("button", name="Something new is there").click()
    told = demo.get_by_role("region", name="What has happened")
    expect(told.get_by_role("link", name="Galley waste").first).to_be_visible()
    demo.get_by_role("button", name="Read it as it would be now").click()
    letter = demo.get_by_role("dialog")
    expect(letter).to_contain_text("Beyond the limits")
    expect(letter).to_contain_text("Galley waste")
    accessible(demo)
    demo.keyboard.press("Escape")

    demo.get_by_role("button", name="Make a webhook").click()
    demo.get_by_label("Name").fill("Duty desk")
    demo.get_by_label("Address").fill(f"{address}/hook")
    demo.get_by_role("button", name="Make it").click()
    expect(demo.get_by_text("which is shown only now")).to_be_visible()
    demo.get_by_role("button", name="Done").click()
    demo.get_by_role("button", name="Try it").click()
    expect(demo.get_by_text("A test of the webhook Duty desk.")).to_be_visible()
    outbox.send_due(timezone.now())
    expect(demo.get_by_text("It answered 200.")).to_be_visible()
    assert len(it.received) == 1
    accessible(demo)


def test_what_is_open_renews_itself_and_pulls_nothing_away(demo: Page) -> None:
    head = demo.get_by_role("main")
    write("turnaround-at-quay", "2026-11-16", 33.3)
    expect(head.get_by_text("33.3").first).to_be_visible()
    # A card that is open stays as it is until it is closed.
    demo.get_by_role("application").focus()
    demo.keyboard.press("End")
    demo.keyboard.press("e")
    title = demo.get_by_label("What happened")
    title.fill("Fog on the sound")
    with demo.expect_response(lambda answer: "/changes" in answer.url):
        write("turnaround-at-quay", "2026-11-16", 44.4)
    with demo.expect_response(lambda answer: "/changes" in answer.url):
        pass
    expect(title).to_have_value("Fog on the sound")
    demo.keyboard.press("Escape")
    expect(head.get_by_text("44.4").first).to_be_visible()


def test_a_page_hangs_on_a_wall(demo: Page, accessible: Any) -> None:
    demo.goto("/marrowick/wall?kpi=turnaround-at-quay&kpi=ramp-cycle&every=5")
    wall = demo.get_by_role("main", name="Wall")
    expect(wall.get_by_text("Turnaround at quay", exact=True)).to_be_visible()
    expect(wall.get_by_text("1 of 2.")).to_be_visible()
    accessible(demo)
    # It steps by itself, is held by a key, and says since when nothing answers.
    expect(wall.get_by_text("Ramp cycle", exact=True)).to_be_visible()
    demo.keyboard.press(" ")
    expect(wall.get_by_text("Held.")).to_be_visible()
    write("ramp-cycle", "2026-11-16", 77.7)
    expect(wall.get_by_text("77.7").first).to_be_visible()
    demo.context.set_offline(True)
    expect(wall.get_by_text("No connection since")).to_be_visible()
    expect(wall.get_by_text("77.7").first).to_be_visible()
    demo.context.set_offline(False)
    expect(wall.get_by_text("As of")).to_be_visible()
    demo.keyboard.press("Escape")
    expect(demo.get_by_role("heading", name="Overview")).to_be_visible()


def test_a_report_is_made_by_itself(demo: Page, accessible: Any) -> None:
    kpi = Kpi.objects.get(slug="turnaround-at-quay")
    report = Report.objects.create(
        workspace=kpi.workspace,
        person=kpi.workspace.members.order_by("pk").first(),
        at=timezone.now(),
        title="Monday charts",
        format="workbook",
        status="done",
        asked=Asked(scope=Scope.KPIS, kpis=(kpi.slug,)).to_json(),
    )
    demo.goto(f"/marrowick/reports/{report.pk}")
    demo.get_by_role("button", name="Make it by itself…").click()
    expect(demo.get_by_text("Every Monday at 06:10. Next: ")).to_be_visible()
    demo.get_by_role("combobox", name="Mail it to").focus()
    demo.keyboard.press("ArrowDown")
    demo.get_by_role("option", name="Rhona Baird").click()
    demo.keyboard.press("Tab")
    accessible(demo)
    demo.get_by_role("button", name="Make it by itself", exact=True).click()
    expect(demo.get_by_text("Every Monday at 06:10, to Rhona Baird, next")).to_be_visible()
    demo.get_by_role("button", name="Make Monday charts by itself no more").click()
    expect(demo.get_by_text("Made by themselves")).to_be_hidden()
