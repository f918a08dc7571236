"""Values by hand in the browser: typed, pasted, set aside, taken back; and other grains."""

from collections.abc import Callable
from datetime import date
from zoneinfo import ZoneInfo

import pytest
from playwright.sync_api import Browser, Locator, Page, expect
from pytest_django.live_server_helper import LiveServer

from fluctus.kpis.calendar import start_of_day
from fluctus.kpis.models import Observation
from tests.browser.conftest import another_window, tag_value

SLUG = "turnaround-at-quay"


@pytest.fixture
def ledger(demo: Page) -> Page:
    demo.get_by_role("link", name="Values").click()
    expect(demo.get_by_role("heading", name="Values of Turnaround at quay")).to_be_visible()
    expect(cell(demo, "16 Nov 2026")).to_be_visible()
    return demo


def cell(page: Page, day: str, column: str = "Value") -> Locator:
    return page.get_by_role("gridcell", name=f"{column} of Week of {day}: ")


def stored(day: str) -> Observation:
    start = start_of_day(date.fromisoformat(day), ZoneInfo("Europe/London"))
    return Observation.objects.get(kpi__slug=SLUG, period=start)


def test_values_are_typed_and_taken_back(ledger: Page, accessible: Callable[[Page], None]) -> None:
    accessible(ledger)
    cell(ledger, "9 Nov 2026").click()
    ledger.keyboard.press("ArrowDown")
    ledger.keyboard.type("19,x")
    expect(ledger.get_by_role("alert")).to_contain_text("Not a number")
    ledger.keyboard.press("Enter")
    assert not Observation.objects.filter(kpi__slug=SLUG, period__date="2026-11-16").exists()
    ledger.keyboard.press("Backspace")
    ledger.keyboard.type("7")
    ledger.keyboard.press("Enter")
    expect(cell(ledger, "16 Nov 2026")).to_contain_text("19.7")
    expect(cell(ledger, "23 Nov 2026")).to_be_visible()
    assert stored("2026-11-16").value == 19.7
    cell(ledger, "9 Nov 2026", "Note").dblclick()
    ledger.keyboard.type("new crew")
    ledger.keyboard.press("Enter")
    expect(cell(ledger, "9 Nov 2026", "Note")).to_contain_text("new crew")
    cell(ledger, "2 Nov 2026").focus()
    ledger.keyboard.press("Delete")
    expect(ledger.get_by_text("deleted. Ctrl Z brings it back.")).to_be_visible()
    expect(cell(ledger, "2 Nov 2026")).to_have_count(0)
    ledger.keyboard.press("Control+z")
    expect(cell(ledger, "2 Nov 2026")).to_contain_text("21.1")


def test_a_block_is_pasted_past_the_end_or_not_at_all(ledger: Page) -> None:
    def paste(text: str) -> None:
        ledger.evaluate(
            """text => {
                const data = new DataTransfer()
                data.setData('text/plain', text)
                document.activeElement.dispatchEvent(
                    new ClipboardEvent('paste', { clipboardData: data, bubbles: true }))
            }""",
            text,
        )

    cell(ledger, "9 Nov 2026").click()
    paste("18.5\nsoon\n19")
    expect(ledger.get_by_text("Nothing was pasted.")).to_be_visible()
    assert stored("2026-11-09").value == 20
    cell(ledger, "9 Nov 2026").click()
    paste("18.5\twindy\n18,9\n19.1\n")
    expect(ledger.get_by_text("3 values saved.")).to_be_visible()
    expect(cell(ledger, "23 Nov 2026")).to_contain_text("19.1")
    assert (stored("2026-11-09").value, stored("2026-11-09").note) == (18.5, "windy")
    assert stored("2026-11-16").value == 18.9


def test_a_value_is_set_aside_with_its_reason_and_its_history_is_kept(ledger: Page) -> None:
    ledger.get_by_role("button", name="More for Week of 2 Nov 2026").click()
    ledger.get_by_role("menuitem", name="Set aside…").click()
    dialog = ledger.get_by_role("dialog")
    expect(dialog.get_by_role("button", name="Set aside")).to_be_disabled()
    dialog.get_by_label("Why").fill("Gale, ramp closed")
    dialog.get_by_role("button", name="Set aside").click()
    expect(ledger.get_by_role("gridcell", name="Gale, ramp closed")).to_be_visible()
    ledger.get_by_role("button", name="More for Week of 2 Nov 2026").click()
    ledger.get_by_role("menuitem", name="History").click()
    history = ledger.get_by_role("dialog")
    expect(history.get_by_role("listitem")).to_have_count(2)
    expect(history).to_contain_text("Set 2 Nov 2026 aside: Gale, ramp closed")


def test_a_stale_value_is_refused_and_the_new_one_comes_in(ledger: Page) -> None:
    other = ledger.context.new_page()
    other.goto(ledger.url)
    expect(cell(other, "9 Nov 2026")).to_be_visible()
    cell(ledger, "9 Nov 2026").click()
    ledger.keyboard.type("30")
    ledger.keyboard.press("Enter")
    expect(cell(ledger, "9 Nov 2026")).to_contain_text("30.0")
    cell(other, "9 Nov 2026").click()
    other.keyboard.type("10")
    other.keyboard.press("Enter")
    expect(other.get_by_text("Somebody else has changed this meanwhile")).to_be_visible()
    expect(cell(other, "9 Nov 2026")).to_contain_text("30.0")
    assert stored("2026-11-09").value == 30


def test_this_weeks_value_from_the_chart_and_another_grain(
    demo: Page, accessible: Callable[[Page], None]
) -> None:
    before = tag_value(demo, "average")
    demo.get_by_label("Week of 16 Nov 2026").fill("24")
    demo.get_by_role("button", name="Add value").click()
    expect(demo.get_by_label("Week of 23 Nov 2026")).to_be_visible()
    assert tag_value(demo, "average") > before
    demo.get_by_role("button", name="Undo").click()
    expect(demo.get_by_label("Week of 16 Nov 2026")).to_be_visible()
    demo.get_by_role("button", name="by week, all dates").click()
    demo.get_by_role("menuitemradio", name="month", exact=True).click()
    expect(demo.get_by_text("monthly mean of 58 weekly values")).to_be_visible()
    expect(demo.locator("[data-part=incomplete]")).to_have_count(1)
    expect(demo.get_by_text("A week counts in the month that it starts in.")).to_be_visible()
    accessible(demo)
    # Shifts are put at the grain that is stored.
    demo.get_by_role("application").focus()
    demo.keyboard.press("End")
    demo.keyboard.press("r")
    expect(demo.get_by_text("Shifts are put on the whole by week.")).to_be_visible()
    demo.reload()
    expect(demo.get_by_text("monthly mean of 58 weekly values")).to_be_visible()


def test_a_point_is_set_aside_by_keyboard_and_put_back(
    demo: Page, accessible: Callable[[Page], None]
) -> None:
    before = tag_value(demo, "average")
    demo.get_by_role("application").focus()
    demo.keyboard.press("End")
    for _ in range(2):
        demo.keyboard.press(",")
    demo.keyboard.press("x")
    form = demo.get_by_role("form", name="Set the week of 31 Aug 2026 aside?")
    expect(form).to_contain_text("Average 19.4 → 19.2, limits 16.3 to 22.5 → 17.0 to 21.3")
    expect(form.get_by_role("button", name="Set aside")).to_be_disabled()
    accessible(demo)
    demo.keyboard.press("Escape")
    expect(form).to_have_count(0)
    assert not stored("2026-08-31").set_aside
    demo.get_by_role("application").focus()
    demo.keyboard.press("x")
    demo.keyboard.type("Crane on the quay")
    demo.keyboard.press("Enter")
    expect(form).to_have_count(0)
    expect(demo.get_by_role("button", name="Undo: Set 31 Aug 2026 aside")).to_be_visible()
    assert tag_value(demo, "average") < before
    assert stored("2026-08-31").reason == "Crane on the quay"
    demo.get_by_role("button", name="Put this point back").click()
    demo.get_by_role("button", name="Put it back").click()
    expect(demo.get_by_role("button", name="Undo: Put 31 Aug 2026 back")).to_be_visible()
    assert tag_value(demo, "average") == before


def test_the_choice_of_rules_says_what_it_costs(demo: Page) -> None:
    demo.get_by_role("button", name="4 rules").click()
    cost = demo.get_by_text("a process with no change would show a signal")
    expect(cost).to_contain_text("In 58 weeks")
    core = cost.inner_text()
    demo.get_by_label("Fifteen within one sigma").check()
    demo.get_by_label("Two of three beyond two sigma").check()
    expect(cost).not_to_have_text(core)


def test_what_the_chart_marks_is_looked_for_and_leads_to_its_point(
    ledger: Page, accessible: Callable[[Page], None]
) -> None:
    ledger.get_by_role("button", name="Marked by the chart").click()
    outside = ledger.get_by_role("row").filter(has_text="Above the upper limit")
    expect(outside.first).to_be_visible()
    expect(ledger.get_by_role("gridcell", name="next value")).to_have_count(0)
    accessible(ledger)
    ledger.get_by_role("link", name="Above the upper limit").last.click()
    expect(ledger.get_by_role("heading", name="Turnaround at quay", exact=True)).to_be_visible()
    expect(ledger.get_by_role("button", name="Compare before and after")).to_be_visible()
    assert "point=" not in ledger.url
    ledger.go_back()
    ledger.get_by_role("button", name="Set aside").click()
    expect(ledger.get_by_role("button", name="Set aside 1")).to_be_visible()
    expect(ledger.get_by_role("row").filter(has_text="Set aside: ")).to_have_count(1)
    ledger.get_by_role("button", name="All", exact=True).click()
    expect(cell(ledger, "16 Nov 2026")).to_be_visible()


def test_missing_weeks_are_filled_one_after_the_other(ledger: Page) -> None:
    for day in ("2 Nov 2026", "19 Oct 2026"):
        cell(ledger, day).focus()
        ledger.keyboard.press("Delete")
        expect(cell(ledger, day)).to_have_count(0)
    ledger.get_by_role("button", name="Missing").click()
    expect(ledger.get_by_role("button", name="Missing 2")).to_be_visible()
    cell(ledger, "19 Oct 2026").click()
    ledger.keyboard.type("17.5")
    ledger.keyboard.press("Enter")
    expect(cell(ledger, "19 Oct 2026")).to_have_count(0)
    expect(cell(ledger, "2 Nov 2026")).to_be_focused()
    ledger.keyboard.type("21.1")
    ledger.keyboard.press("Enter")
    expect(ledger.get_by_text("No period between the first and the last")).to_be_visible()
    ledger.get_by_role("link", name="Show all values").click()
    expect(cell(ledger, "2 Nov 2026")).to_contain_text("21.1")
    assert (stored("2026-10-19").value, stored("2026-11-02").value) == (17.5, 21.1)


def test_on_a_phone_a_row_is_a_card_that_is_written_by_a_tap(
    ledger: Page, browser: Browser, live_server: LiveServer
) -> None:
    with another_window(browser, live_server, ledger, 390) as phone:
        phone.goto(f"/marrowick/charts/{SLUG}/values")
        cell(phone, "9 Nov 2026").tap()
        phone.keyboard.press("Control+a")
        phone.keyboard.type("19.2")
        phone.keyboard.press("Enter")
        expect(cell(phone, "9 Nov 2026")).to_contain_text("19.2")
        assert phone.evaluate("document.documentElement.scrollWidth") <= 390
