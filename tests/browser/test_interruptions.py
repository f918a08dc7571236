"""What comes between: a session that ends, a dropped network, a change of mind; and the focus."""

import re

from django.contrib.sessions.models import Session
from playwright.sync_api import Locator, Page, expect

from fluctus.kpis.models import Event
from tests.browser.conftest import choose, open_kpi, revision_of, tag


def event_in_hand(page: Page) -> Locator:
    choose(page, "End", "e")
    form = page.get_by_role("dialog", name="Event")
    form.get_by_label("What happened").fill("Tide gauge moved")
    return form


def test_a_session_that_ends_asks_over_the_page_and_what_was_typed_goes_on(demo: Page) -> None:
    form = event_in_hand(demo)
    Session.objects.all().delete()
    form.get_by_role("button", name="Add event").click()
    door = demo.get_by_role("dialog", name="Sign in again")
    expect(door).to_be_visible()
    # Refused, it is all still there.
    door.get_by_role("button", name="Not now").click()
    expect(form.get_by_label("What happened")).to_have_value("Tide gauge moved")
    form.get_by_role("button", name="Add event").click()
    door.get_by_role("button", name="Look around as Marrowick Ferries").click()
    expect(demo.get_by_role("button", name=re.compile("Tide gauge moved, .* Open"))).to_be_visible()
    assert Event.objects.filter(title="Tide gauge moved").count() == 1


def test_a_network_that_drops_loses_nothing_that_was_typed(demo: Page) -> None:
    form = event_in_hand(demo)
    demo.context.set_offline(True)
    expect(demo.get_by_role("alert").filter(has_text="No connection")).to_be_visible()
    form.get_by_role("button", name="Add event").click()
    again = demo.get_by_role("button", name="Try again").first
    expect(again).to_be_visible()
    expect(form.get_by_label("What happened")).to_have_value("Tide gauge moved")
    demo.context.set_offline(False)
    expect(demo.get_by_role("alert").filter(has_text="No connection")).to_have_count(0)
    again.click()
    expect(demo.get_by_role("button", name=re.compile("Tide gauge moved, .* Open"))).to_be_visible()
    assert Event.objects.filter(title="Tide gauge moved").count() == 1


def test_undo_takes_back_what_is_in_hand_before_what_is_kept(demo: Page) -> None:
    kept = revision_of("turnaround-at-quay")
    choose(demo, "End", *["ArrowLeft"] * 9, "x")
    aside = demo.get_by_role("button", name="Undo: what was to be set aside")
    expect(aside).to_be_visible()
    demo.get_by_role("application").focus()
    demo.keyboard.press("Control+z")
    expect(aside).to_have_count(0)
    expect(demo.get_by_text("Taken back: what was to be set aside.").first).to_be_attached()
    assert revision_of("turnaround-at-quay") == kept


def test_the_focus_is_never_lost_on_the_way_of_the_tour(demo: Page) -> None:
    def stays(after: str) -> None:
        # What closes gives the focus back a moment later.
        expect(demo.locator(":focus"), f"the focus after {after}").to_have_count(1)

    dialog = demo.get_by_role("dialog")
    tag(demo, "average").press("Enter")
    expect(dialog).to_be_visible()
    demo.keyboard.press("Escape")
    expect(dialog).to_have_count(0)
    stays("an explanation")

    event_in_hand(demo)
    demo.keyboard.press("Control+Enter")
    demo.keyboard.press("Escape")
    expect(dialog).to_have_count(0)
    stays("an event in hand")

    choose(demo, "End", "ArrowLeft", "x")
    held = demo.get_by_role("button", name="Undo: what was to be set aside")
    expect(held).to_be_visible()
    demo.keyboard.press("Escape")
    expect(held).to_have_count(0)
    stays("a point that was not set aside")

    demo.keyboard.press("Control+k")
    expect(demo.get_by_role("dialog").get_by_role("textbox")).to_be_focused()
    demo.keyboard.type("unplanned")
    demo.keyboard.press("Enter")
    expect(demo.get_by_role("heading", name="Unplanned stops", level=1)).to_be_visible()
    stays("a jump")

    open_kpi(demo, "Turnaround at quay")
    for name in ("Views", "Add", "Hand over", "More"):
        button = demo.get_by_role("button", name=name, exact=True).first
        button.press("Enter")
        demo.keyboard.press("Escape")
        stays(name)
