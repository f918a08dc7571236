"""Whole journeys besides reading one chart: getting about, faults, two people, settings."""

import json
import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Browser, Page, Response, Route, expect
from pytest_django.live_server_helper import LiveServer

from fluctus.kpis.models import ChartChange, Kpi
from tests.browser.conftest import another_window, revision_of, set_up, tag, tag_value

ANALYSIS = "**/kpis/*/analysis?*"


def test_the_demo_is_entered_in_one_click(filled_with_demo: None, page: Page) -> None:
    page.goto("/")
    page.get_by_role("button", name="Look around as Marrowick Ferries").click()
    expect(page.get_by_role("heading", name="Overview")).to_be_visible()
    expect(page.locator("[data-row]")).to_have_count(12)


def test_a_chart_is_there_with_at_most_200_kilobytes_of_script(demo: Page) -> None:
    sizes: dict[str, int] = {}
    demo.on("response", lambda answer: _note_script(answer, sizes))
    demo.reload()
    expect(tag(demo, "average")).to_be_visible()
    demo.wait_for_load_state("networkidle")
    assert sizes
    assert sum(sizes.values()) <= 200_000, sizes


def _note_script(answer: Response, sizes: dict[str, int]) -> None:
    """Note the size of a script as it is sent, compressed."""
    if "/assets/" in answer.url and answer.url.endswith(".js"):
        sizes[answer.url] = int(answer.headers["content-length"])


def test_of_two_windows_the_second_to_act_is_told_and_can_act_again(
    demo: Page, browser: Browser, live_server: LiveServer
) -> None:
    with another_window(browser, live_server, demo) as other:
        other.goto("/marrowick/charts/turnaround-at-quay")
        tag(other, "target").click()
        other.get_by_role("dialog").get_by_label("Target").fill("19.5")
        other.get_by_role("button", name="Save target").click()
        expect(tag(other, "target")).to_contain_text("19.5")

        # The first window still shows what it saw. Its act is refused and changes nothing.
        expect(tag(demo, "target")).to_contain_text("20.0")
        demo.get_by_role("slider").focus()
        demo.keyboard.press("ArrowLeft")
        expect(demo.get_by_text("since New ramp drill on 11 May")).to_be_visible()
        demo.keyboard.press("Enter")
        refusal = demo.get_by_role("alert").filter(has_text="This chart has changed")
        expect(refusal).to_contain_text("Meanwhile: Isla Corrie: Changed the target to 19.5 min.")
        expect(tag(demo, "target")).to_contain_text("19.5")
        expect(demo.get_by_text("since New ramp drill on 18 May")).to_be_visible()

        # Done again on top of what is there now, it is kept, and so is the other's target.
        refusal.get_by_role("button", name="Do it again on top").click()
        expect(demo.get_by_text("since New ramp drill on 11 May")).to_be_visible()
        expect(demo.get_by_text("Done, on top of what was there.")).to_be_visible()
        expect(tag(demo, "target")).to_contain_text("19.5")
    summaries = ChartChange.objects.order_by("id").values_list("summary", flat=True)
    assert list(summaries)[-2:] == [
        "Changed the target to 19.5 min",
        "Moved the shift from 18 May 2026 to 11 May 2026",
    ]


def test_a_server_that_cannot_be_reached_is_said_and_tried_again(demo: Page) -> None:
    def unreachable(route: Route) -> None:
        route.abort()

    demo.route(ANALYSIS, unreachable)
    demo.get_by_role("link", name="Galley waste").click()
    expect(demo.get_by_role("status", name="Loading the chart")).to_be_visible()
    alert = demo.get_by_role("alert")
    expect(alert).to_contain_text("Fluctus cannot be reached", timeout=20_000)
    demo.unroute(ANALYSIS)
    alert.get_by_role("button", name="Try again").click()
    expect(demo.get_by_role("heading", name="Galley waste")).to_be_visible()


def test_a_failure_of_the_server_is_said_and_keeps_what_was_there(demo: Page) -> None:
    def broken(route: Route) -> None:
        if route.request.method != "PATCH":
            route.fallback()
            return
        body = {"type": "about:blank", "title": "Something went wrong in Fluctus.", "issues": []}
        route.fulfill(status=500, content_type="application/problem+json", body=json.dumps(body))

    demo.route("**/kpis/turnaround-at-quay?*", broken)
    average = tag_value(demo, "average")
    demo.get_by_role("slider").focus()
    demo.keyboard.press("ArrowLeft")
    expect(demo.get_by_text("since New ramp drill on 11 May")).to_be_visible()
    demo.keyboard.press("Enter")
    expect(demo.get_by_text("Something went wrong in Fluctus.")).to_be_visible()
    expect(demo.get_by_text("since New ramp drill on 18 May")).to_be_visible()
    assert tag_value(demo, "average") == average


def test_a_kpi_is_set_up_where_things_stand(demo: Page) -> None:
    demo.get_by_role("link", name="Ramp cycle").click()
    expect(demo.get_by_role("heading", name="Ramp cycle")).to_be_visible()
    expect(tag(demo, "average")).to_be_visible()
    runs = demo.get_by_role("article").filter(has_text="Run of")
    expect(runs).to_have_count(2)
    set_up(demo, "Rules and findings")
    card = demo.get_by_role("dialog", name="Rules")
    card.get_by_label("Range outside its limit").uncheck()
    # What it makes of the chart shows before it is kept, and goes when it is not.
    card.get_by_label("Run on one side of the average").uncheck()
    expect(runs).to_have_count(0)
    demo.keyboard.press("Escape")
    expect(runs).to_have_count(2)
    set_up(demo, "Rules and findings")
    card.get_by_label("Range outside its limit").uncheck()
    card.get_by_label("Run on one side of the average").uncheck()
    card.get_by_role("button", name="Save").click()
    expect(card).to_have_count(0)
    expect(runs).to_have_count(0)
    edit(demo, "s", "Unit", "sec")
    expect(demo.get_by_role("link", name="Ramp cycle")).to_contain_text("sec")
    demo.get_by_role("button", name="no target").click()
    demo.get_by_role("dialog", name="Target").get_by_label("Target", exact=False).first.fill("38")
    demo.get_by_role("button", name="Save target").click()
    expect(tag(demo, "target")).to_contain_text("38.0")
    demo.get_by_role("button", name="lower is better").click()
    demo.get_by_role("menuitemradio", name="Higher is better").click()
    expect(demo.get_by_role("button", name="higher is better")).to_be_visible()
    undo = demo.get_by_role("button", name=re.compile("^Undo"))
    for _ in range(4):
        does = undo.get_attribute("aria-label") or ""
        undo.click()
        expect(undo).not_to_have_attribute("aria-label", does)
    expect(demo.get_by_role("button", name="s", exact=True)).to_be_visible()
    expect(tag(demo, "target")).to_have_count(0)
    expect(runs).to_have_count(2)


def edit(page: Page, words: str, label: str, to: str) -> None:
    """Change words of the head where they stand, by keys."""
    page.get_by_role("button", name=words, exact=True).click()
    field = page.get_by_role("textbox", name=label, exact=True)
    expect(field).to_be_focused()
    field.fill(to)
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name=to, exact=True)).to_be_focused()


def test_settings_that_do_not_fit_say_why_and_stay_open(demo: Page) -> None:
    seen = revision_of("turnaround-at-quay")
    set_up(demo, "How values are drawn")
    card = demo.get_by_role("dialog", name="How values are drawn")
    card.get_by_label("Never above").fill("-5")
    card.get_by_role("button", name="Save").click()
    expect(card.get_by_role("alert")).to_contain_text("The floor is not below the ceiling.")
    demo.keyboard.press("Escape")
    demo.get_by_role("heading", name="Turnaround at quay").get_by_role("button").click()
    field = demo.get_by_role("textbox", name="Name", exact=True)
    field.fill("ramp CYCLE")
    demo.get_by_role("button", name="Keep", exact=True).click()
    expect(demo.get_by_text("already").first).to_be_visible()
    expect(field).to_have_value("ramp CYCLE")
    field.press("Escape")
    expect(demo.get_by_role("heading", name="Turnaround at quay")).to_be_visible()
    assert revision_of("turnaround-at-quay") == seen


def test_a_kpi_is_deleted_only_with_its_name(demo: Page) -> None:
    demo.get_by_role("link", name="Berth fee").click()
    set_up(demo, "Delete it")
    delete = demo.get_by_role("button", name="Delete KPI")
    expect(delete).to_be_disabled()
    demo.get_by_label("Type Berth fee to delete it").fill("Berth fee")
    delete.click()
    expect(demo.get_by_role("link", name="Berth fee")).to_have_count(0)
    expect(demo.get_by_role("heading", name="Overview")).to_be_visible()
    assert not Kpi.objects.filter(slug="berth-fee").exists()


def test_getting_about_by_keyboard(demo: Page, accessible: Callable[[Page], None]) -> None:
    demo.keyboard.press("Control+k")
    jump = demo.get_by_role("textbox", name="Jump to")
    expect(jump).to_be_focused()
    accessible(demo)
    demo.keyboard.type("vessels fuel")
    expect(demo.get_by_role("dialog").get_by_role("option")).to_have_count(1)
    demo.keyboard.press("Enter")
    expect(demo.get_by_role("heading", name="Fuel per crossing")).to_be_visible()
    demo.keyboard.press("Control+k")
    expect(jump).to_be_focused()
    demo.keyboard.type("no such thing")
    expect(demo.get_by_text("Nothing has “no such thing” in its name")).to_be_visible()
    demo.keyboard.press("Escape")
    expect(jump).to_have_count(0)
    demo.keyboard.press("?")
    expect(demo.get_by_role("dialog")).to_contain_text("Walk the points of the chart")
    accessible(demo)
    demo.keyboard.press("Escape")
    # The first thing that Tab reaches is the way past the rail.
    demo.reload()
    expect(tag(demo, "average")).to_be_visible()
    demo.keyboard.press("Tab")
    expect(demo.get_by_role("link", name="Skip to the chart")).to_be_focused()


def test_a_shift_is_put_by_double_click_and_refused_where_it_cannot_be(demo: Page) -> None:
    demo.get_by_role("link", name="Departures on time").click()
    expect(demo.get_by_role("heading", name="Departures on time")).to_be_visible()
    bar = demo.get_by_role("button", name="Segment All so far")
    box = bar.bounding_box()
    assert box
    bar.dblclick(position={"x": box["width"] / 2, "y": box["height"] / 2})
    form = demo.get_by_role("form", name="Process shift")
    expect(form).to_contain_text("Process shift from the week of")
    form.get_by_role("button", name="Decide later").click()
    expect(form).to_have_count(0)
    demo.get_by_role("application").focus()
    demo.keyboard.press("Home")
    demo.keyboard.press("r")
    expect(demo.get_by_text("The first value has nothing before it")).to_be_visible()
    assert Kpi.objects.get(slug="departures-on-time").revision == 1


def test_a_shift_dropped_on_another_goes_back(demo: Page) -> None:
    seen = revision_of("turnaround-at-quay")
    demo.get_by_role("application").focus()
    demo.keyboard.press("Home")
    for _ in range(20):
        demo.keyboard.press("ArrowRight")
    demo.keyboard.press("r")
    demo.get_by_role("button", name="Recalculate from").click()
    # The chart has its whole width again only once the review has closed.
    expect(demo.get_by_role("form", name="Process shift")).to_have_count(0)
    expect(demo.get_by_role("slider")).to_have_count(2)
    first, second = (demo.locator(f'[data-shift="{number}"]').bounding_box() for number in (1, 2))
    lane = demo.get_by_role("button", name="Segment ").first.bounding_box()
    assert first
    assert second
    assert lane
    y = lane["y"] + lane["height"] / 2
    # The border lies half a week before its first value: aim at that value.
    demo.mouse.move(first["x"] + first["width"] / 2, y)
    demo.mouse.down()
    demo.mouse.move(second["x"] + second["width"] / 2 + 7, y, steps=8)
    demo.mouse.up()
    expect(demo.get_by_text("There is a shift at this point already.")).to_be_visible()
    expect(demo.get_by_role("slider")).to_have_count(2)
    assert revision_of("turnaround-at-quay") == seen + 1


def test_the_appearance_chosen_stays(demo: Page) -> None:
    ground = "getComputedStyle(document.querySelector('main')).backgroundColor"
    light = demo.evaluate(ground)
    demo.get_by_role("button", name="Account").click()
    demo.get_by_role("menuitem", name="Dark appearance").click()
    demo.wait_for_function(f"{ground} !== '{light}'")
    demo.reload()
    expect(tag(demo, "average")).to_be_visible()
    assert demo.evaluate(ground) != light


@pytest.mark.parametrize("address", ["/marrowick/nothing/here", "/nowhere"])
def test_an_address_with_nothing_at_it_says_so(demo: Page, address: str) -> None:
    demo.goto(address)
    gone = demo.get_by_role("heading", name="There is nothing at this address")
    expect(gone.or_(demo.get_by_role("alert")).first).to_be_visible()


def test_the_previews_of_a_drag_are_few_and_late_ones_do_not_win(demo: Page) -> None:
    """Holding the key asks for many previews; the last one is what is shown and kept."""
    asked: list[str] = []
    demo.on(
        "request", lambda request: asked.append(request.url) if "preview" in request.url else None
    )
    demo.get_by_role("slider").focus()
    for _ in range(6):
        demo.keyboard.press("ArrowLeft")
    expect(demo.get_by_role("form", name="Process shift")).to_contain_text("6 Apr 2026")
    expect(demo.get_by_text("since New ramp drill on 6 Apr")).to_be_visible()
    assert 1 <= len(asked) <= 6
    demo.keyboard.press("Enter")
    expect(demo.get_by_text("Limits recalculated from the week of 6 Apr 2026")).to_be_visible()
