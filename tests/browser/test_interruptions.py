"""What comes between: a session that ends, a dropped network, a change of mind; and the focus."""

import re
from collections.abc import Callable

import pytest
from django.contrib.sessions.models import Session
from playwright.sync_api import Locator, Page, Route, expect

from fluctus.kpis.models import Event
from tests.browser.conftest import choose, open_kpi, revision_of, tag
from tests.conftest import csv_of, golden


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
    expect(demo.get_by_label("Why it is set aside")).to_be_focused()
    demo.keyboard.press("Control+z")
    expect(aside).to_have_count(0)
    expect(demo.get_by_text("Taken back: what was to be set aside.").first).to_be_attached()
    assert revision_of("turnaround-at-quay") == kept


Stays = Callable[[str], None]


@pytest.fixture
def stays(demo: Page) -> Stays:
    """Asserts that something has the focus, after what was done last."""

    def check(after: str) -> None:
        # What closes gives the focus back a moment later.
        expect(demo.locator(":focus"), f"the focus after {after}").to_have_count(1)

    return check


def test_the_focus_is_never_lost_on_the_way_of_the_tour(demo: Page, stays: Stays) -> None:
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


def test_the_focus_is_kept_through_windows_and_a_review(demo: Page, stays: Stays) -> None:
    dialog = demo.get_by_role("dialog")
    for item in ("Report, slides, workbook…", "Link for people without an account…"):
        demo.get_by_role("button", name="Hand over", exact=True).press("Enter")
        demo.get_by_role("menuitem", name=item).press("Enter")
        expect(dialog).to_be_visible()
        expect(dialog.locator(":focus")).to_have_count(1)
        demo.keyboard.press("Escape")
        expect(dialog).to_have_count(0)
        stays(item)

    open_kpi(demo, "Unplanned stops")
    demo.get_by_role("button", name="Show Run of 9 above average").press("Enter")
    stays("showing a run")
    demo.get_by_role("button", name="Put a shift at this point").press("Enter")
    form = demo.get_by_role("form", name="Process shift")
    expect(form).to_be_visible()
    stays("opening a review")
    form.get_by_role("group").first.get_by_role("button", name="Yes").press("Enter")
    stays("an answer")
    form.get_by_label("What changed").press_sequentially("Two posts not filled.")
    form.get_by_role("button", name="Recalculate from 14 Sep").press("Enter")
    expect(form).to_have_count(0)
    stays("new limits")
    demo.keyboard.press("Control+z")
    expect(demo.get_by_text("Something changed around 14 Sep.")).to_be_visible()
    stays("undo")


def test_the_focus_is_kept_while_a_page_is_arranged(demo: Page, stays: Stays) -> None:
    demo.goto("/marrowick/pages")
    demo.get_by_role("link", name="Monday at the quays").press("Enter")
    demo.get_by_role("button", name="Arrange", exact=True).press("Enter")
    stays("beginning to arrange")
    panel = demo.get_by_role("region", name="Unplanned stops")
    panel.focus()
    demo.keyboard.press("Alt+ArrowUp")
    expect(panel).to_be_focused()
    demo.get_by_role("button", name="Remove Unplanned stops").press("Enter")
    expect(panel).to_have_count(0)
    stays("removing a panel")
    demo.keyboard.press("Control+z")
    expect(panel).to_be_visible()
    stays("undo")
    demo.get_by_role("button", name="Done").press("Enter")
    stays("having arranged")


def test_the_focus_is_kept_from_a_table_to_its_chart(demo: Page, stays: Stays) -> None:
    demo.get_by_role("link", name="New KPI").press("Enter")
    stays("asking for a new KPI")
    demo.get_by_label("Paste the table here").fill(csv_of(golden("shift recalculated")["values"]))
    demo.get_by_role("button", name="Read this table").press("Enter")
    name = demo.get_by_label("Name", exact=True)
    expect(name).to_be_visible()
    stays("reading a table")
    save = demo.get_by_role("button", name="Save 24 values as a KPI")
    name.fill("Turnaround at quay")
    save.press("Enter")
    expect(demo.get_by_text("There is a KPI")).to_be_visible()
    expect(save).to_be_focused()
    name.fill("Bow door cycle")
    save.press("Enter")
    expect(demo.get_by_role("heading", name="Bow door cycle", level=1)).to_be_visible()
    stays("saving")


def test_what_is_typed_before_the_list_has_come_is_for_the_list(demo: Page) -> None:
    waiting: list[Route] = []

    def keep(route: Route) -> None:
        waiting.append(route)

    demo.route("**/Jump-*.js", keep)
    demo.keyboard.press("Control+k")
    demo.keyboard.type("stops")
    assert waiting
    # Lets go what waited.
    demo.unroute("**/Jump-*.js")
    expect(demo.get_by_role("textbox", name="Jump to")).to_have_value("stops")
    expect(demo.get_by_role("option", name="Unplanned stops")).to_be_visible()
    demo.keyboard.press("Enter")
    expect(demo.get_by_role("heading", name="Unplanned stops", level=1)).to_be_visible()
