"""Findings, candidates, baselines, comparisons, trials and the history, in use."""

import re
from collections.abc import Callable
from pathlib import Path

import pytest
from django.db.models import F
from playwright.sync_api import Locator, Page, expect

from fluctus.findings.models import Finding
from fluctus.kpis.models import Kpi, Observation, Segment
from tests.browser.conftest import choose, open_kpi, revision_of, tag, tag_value

Accessible = Callable[[Page], None]


def begin_trial(page: Page) -> Locator:
    page.get_by_role("button", name="More").click()
    page.get_by_role("menuitem", name="What if").click()
    return page.get_by_role("form", name="Trial")


# --- findings -----------------------------------------------------------------------


def test_a_finding_gets_its_cause_beside_its_chart(demo: Page, accessible: Accessible) -> None:
    card = demo.get_by_role("article").filter(has_text="Above the upper limit")
    card.hover()
    # The point beyond the limit, and the one after it, whose range is.
    expect(demo.locator('[data-part="lit"] circle')).to_have_count(2)
    card.get_by_role("button", name="Open the finding").click()
    panel = demo.get_by_role("complementary", name="Finding")
    expect(panel).to_contain_text("5.4 sigma above the central line")
    expect(panel).to_contain_text("this rule alone would show a signal once in some")
    near = panel.get_by_role("region", name="What else was going on")
    expect(near).to_contain_text("Relief crew on Sandpiper")
    expect(near).to_contain_text("Summer timetable")
    accessible(demo)
    near.get_by_label("Periods before and after").fill("8")
    expect(near).to_contain_text("Gale warning")
    # An explained finding has a cause.
    panel.get_by_text("Explained", exact=True).click()
    expect(panel.get_by_role("button", name="Save")).to_be_disabled()
    panel.get_by_role("textbox", name="Cause").fill("Relief crew new to the ramp")
    panel.get_by_role("combobox", name="Person").click()
    demo.get_by_role("option", name="Isla Corrie").click()
    panel.get_by_role("button", name="Save").click()
    expect(panel.get_by_text("Now explained; Cause: Relief crew")).to_be_visible()
    expect(demo.get_by_text("One finding, its cause on record;")).to_be_visible()
    expect(card).to_contain_text("Explained")
    panel.get_by_role("textbox", name="Remark").fill("Trained on 7 September")
    panel.get_by_role("button", name="Add").click()
    expect(panel.get_by_text("Trained on 7 September")).to_be_visible()
    kept = Finding.objects.get(
        kpi__slug="turnaround-at-quay", title="Above the upper limit", label="31 Aug"
    )
    assert (kept.state, kept.cause) == ("explained", "Relief crew new to the ramp")


def test_what_is_decided_stands_beside_a_wide_chart_and_under_a_narrow_one(
    demo: Page, accessible: Accessible
) -> None:
    chart = demo.get_by_role("application")
    card = demo.get_by_role("article").filter(has_text="2 ranges above limit")
    card.get_by_role("button", name="Open the finding").click()
    panel = demo.get_by_role("complementary", name="Finding")
    expect(panel.get_by_role("button", name="Save")).to_be_in_viewport()
    expect(panel).to_contain_text("Moved by 4.8 to 6.3 min")
    beside, plot = panel.bounding_box(), chart.bounding_box()
    assert beside
    assert plot
    assert beside["x"] >= plot["x"] + plot["width"]
    # It stays in sight while what is under the chart is read.
    demo.get_by_text("Points as a table").scroll_into_view_if_needed()
    expect(panel.get_by_role("heading", name="Above the upper limit")).to_be_in_viewport()
    demo.set_viewport_size({"width": 390, "height": 844})
    # It moves there as a new one, which has to come first.
    expect(panel.get_by_role("heading", name="Above the upper limit")).to_be_visible()
    expect(demo.locator("html")).to_have_js_property("scrollWidth", 390)
    under, plot, cards = (one.bounding_box() for one in (panel, chart, card))
    assert under
    assert plot
    assert cards
    assert plot["y"] < under["y"] < cards["y"]
    accessible(demo)
    panel.get_by_role("button", name="Close").click()
    expect(panel).to_have_count(0)
    expect(demo).to_have_url(re.compile("turnaround-at-quay$"))


def test_the_log_is_worked_through_by_keyboard(demo: Page, accessible: Accessible) -> None:
    demo.get_by_role("link", name=re.compile("^Findings")).click()
    rows = demo.get_by_role("list", name="Findings").get_by_role("button")
    expect(rows).to_have_count(65)
    demo.get_by_role("combobox", name="KPI").fill("Ramp")
    demo.get_by_role("option", name="Ramp cycle").click()
    expect(rows).to_have_count(2)
    accessible(demo)
    rows.first.focus()
    demo.keyboard.press("ArrowDown")
    demo.keyboard.press("l")
    expect(rows.nth(1)).to_contain_text("Being looked into")
    demo.keyboard.press("a")
    expect(rows.nth(1)).to_contain_text("Isla Corrie")
    demo.keyboard.press("ArrowUp")
    demo.keyboard.press("c")
    panel = demo.get_by_role("complementary", name="Finding")
    cause = panel.get_by_role("textbox", name="Cause")
    expect(cause).to_be_focused()
    expect(panel.get_by_role("application", name=re.compile("^Ramp cycle"))).to_be_visible()
    demo.keyboard.type("Seal weeps")
    demo.keyboard.press("Enter")
    # It stays under the hand, and the next one is at hand.
    expect(rows.first).to_contain_text("Explained")
    expect(rows.nth(1)).to_be_focused()
    accessible(demo)
    saved = demo.get_by_role("alert").filter(has_text="The finding is saved.").last
    saved.get_by_role("button", name="Undo").click()
    expect(rows.first).to_contain_text("No cause yet")
    expect(rows.first).not_to_contain_text("Seal weeps")
    rows.nth(1).press("Enter")
    expect(panel).to_contain_text("Given to Isla Corrie")
    demo.get_by_role("button", name="Being looked into 1").click()
    expect(rows).to_have_count(1)
    demo.get_by_role("button", name="Being looked into 1").click()
    expect(rows).to_have_count(2)
    with demo.expect_download() as download:
        demo.get_by_role("link", name="Export as CSV").click()
    lines = Path(download.value.path()).read_text("utf-8-sig").splitlines()
    assert len(lines) == 3
    assert lines[0].startswith("kpi,finding,rule")
    # From the log to the chart, with the finding open.
    rows.nth(1).click()
    panel.get_by_role("link", name="see it on its chart").click()
    expect(demo.get_by_role("heading", name="Ramp cycle", level=1)).to_be_visible()
    expect(demo.get_by_role("complementary", name="Finding")).to_contain_text("Being looked into")


def test_a_cause_takes_eight_keys_and_others_fewer(demo: Page) -> None:
    demo.goto("/marrowick/findings?order=kpi")
    rows = demo.get_by_role("list", name="Findings").get_by_role("button")
    expect(rows).to_have_count(65)
    headings = demo.get_by_role("list", name="Findings").get_by_role("heading")
    names = headings.all_inner_texts()
    assert names == sorted(names)
    assert len(names) > 3
    for key in ("ArrowDown", "c"):
        demo.keyboard.press(key)
    expect(demo.get_by_role("textbox", name="Cause")).to_be_focused()
    for key in ("g", "a", "l", "e", "Enter"):
        demo.keyboard.press(key)
    expect(rows.first).to_contain_text("gale")
    expect(rows.nth(1)).to_be_focused()
    demo.keyboard.press("n")
    expect(rows.nth(1)).to_contain_text("Not a signal for us")
    assert demo.get_by_role("alert").get_by_role("button", name="Undo").count() >= 1
    # Asked for anew they are where they belong.
    demo.reload()
    demo.get_by_role("button", name="Explained 4").click()
    expect(rows).to_have_count(4)


# --- shifts, baselines, comparisons, patterns -----------------------------------------


def test_a_candidate_is_reviewed_or_dismissed_with_a_reason(
    demo: Page, accessible: Accessible
) -> None:
    open_kpi(demo, "Unplanned stops")
    mark = demo.get_by_role("button", name="Perhaps a shift from 14 Sep. Open.")
    mark.press("Enter")
    card = demo.get_by_role("dialog", name="Candidate")
    expect(card).to_contain_text("It likely began between 7 Sep and 21 Sep.")
    accessible(demo)
    card.get_by_role("button", name="Review this shift").click()
    review = demo.get_by_role("form", name="Process shift")
    expect(review).to_contain_text("9 weeks so far")
    review.get_by_role("button", name="Decide later").click()
    mark.click()
    card.get_by_label("If it is none, say why").fill("Two engineers on leave")
    card.get_by_role("button", name="Not a shift").click()
    expect(mark).to_have_count(0)
    expect(demo.get_by_role("heading", name="Limits kept at 14 Sep")).to_be_visible()
    assert Kpi.objects.get(slug="unplanned-stops").kept_limits[0]["reason"] == (
        "Two engineers on leave"
    )


def test_a_baseline_is_dragged_and_moved_by_keys(demo: Page, accessible: Accessible) -> None:
    before = tag_value(demo, "upper")
    demo.get_by_role("button", name="Segment New ramp drill").click()
    demo.get_by_role("button", name="Choose a baseline").click()
    bar = demo.get_by_role("form", name="Baseline")
    expect(bar).to_contain_text("26 weeks")
    last = demo.get_by_role("slider", name="Last point of the baseline")
    for _ in range(22):
        last.press("ArrowLeft")
    expect(bar).to_contain_text("A baseline needs 5 values; this one has 4.")
    expect(bar.get_by_role("button", name="Take limits from these")).to_be_disabled()
    for _ in range(6):
        last.press("ArrowRight")
    expect(bar).to_contain_text("10 weeks")
    expect(bar).to_contain_text("provisional")
    accessible(demo)
    # Or the window is drawn anew with the mouse.
    plot = demo.locator('[data-part="baseline"] > rect').first
    box = plot.bounding_box()
    assert box is not None
    left, y = box["x"] + box["width"] * 0.6, box["y"] + 60
    demo.mouse.move(left, y)
    demo.mouse.down()
    demo.mouse.move(left + box["width"] * 0.2, y, steps=8)
    demo.mouse.up()
    expect(bar).to_contain_text(re.compile("1[123] weeks"))
    bar.get_by_role("button", name="Take limits from these").click()
    expect(bar).to_have_count(0)
    kept = Segment.objects.get(name="New ramp drill")
    assert kept.window_first is not None
    assert tag_value(demo, "upper") != before
    # What is there by now is enough for firmer limits, and the card says what would change.
    demo.get_by_role("button", name="Segment New ramp drill").click()
    card = demo.get_by_role("dialog", name="Segment")
    expect(card).to_contain_text("26 weeks are there now, enough for firm limits")
    card.get_by_role("button", name="Use all values").click()
    expect(card).to_have_count(0)
    assert tag_value(demo, "upper") == before
    demo.get_by_role("button", name="Segment New ramp drill").click()
    card.get_by_role("button", name="Hold as they are").click()
    expect(card).to_have_count(0)
    held = Segment.objects.get(name="New ramp drill")
    assert held.window_last is not None


def test_segments_and_any_date_are_compared_in_a_sentence(demo: Page) -> None:
    card = demo.get_by_role("article").filter(has_text="Before and after")
    expect(card).to_contain_text("Turnaround at quay went from 21.5 to 19.4")
    card.get_by_label("Any date to compare before and after").fill("2026-08-03")
    expect(card.get_by_role("columnheader", name="New ramp drill, before")).to_be_visible()
    demo.context.grant_permissions(["clipboard-read", "clipboard-write"])
    card.get_by_role("button", name="Copy the sentence").click()
    expect(demo.get_by_text("The sentence is copied.")).to_be_visible()
    copied = demo.evaluate("navigator.clipboard.readText()")
    assert copied.startswith("Turnaround at quay went from 19.0")
    card.get_by_role("button", name="The last shift").click()
    expect(card).to_contain_text("went from 21.5 to 19.4")


def test_limits_follow_a_season_where_the_evidence_is_shown(demo: Page) -> None:
    open_kpi(demo, "Passengers a day")
    card = demo.get_by_role("article").filter(
        has_text="A season by day of the week within the month"
    )
    expect(card).to_contain_text("most Sat in Jul 1.4")
    card.get_by_role("button", name="Let the limits follow it").click()
    expect(demo.get_by_text("In season, expect the next day between")).to_be_visible()
    expect(demo.locator('[data-part="centre"]')).to_have_count(1)
    expect(tag(demo, "average")).to_contain_text("In season")
    demo.get_by_role("button", name="Segment All so far").click()
    form = demo.get_by_role("dialog", name="Segment")
    expect(form).to_contain_text(
        "divided by the seasonal relative of their day of the week within the month"
    )
    form.get_by_role("combobox", name="Limits follow").click()
    form.get_by_role("option", name="Nothing: one level").click()
    form.get_by_role("button", name="Save segment").click()
    expect(demo.locator('[data-part="centre"]')).to_have_count(0)


def test_a_review_is_not_reopened_where_its_place_has_gone(demo: Page) -> None:
    open_kpi(demo, "Unplanned stops")
    demo.get_by_role("button", name="Perhaps a shift from 14 Sep. Open.").click()
    card = demo.get_by_role("dialog", name="Candidate")
    card.get_by_label("If it is none, say why").fill("On leave")
    card.get_by_role("button", name="Not a shift").click()
    expect(demo.get_by_role("heading", name="Limits kept at 14 Sep")).to_be_visible()
    kpi = Kpi.objects.get(slug="unplanned-stops")
    Observation.objects.filter(kpi=kpi, period__gte="2026-09-01T00:00Z").delete()
    # Behind the back of whoever holds its chart, or is reading it just now.
    Kpi.objects.filter(pk=kpi.pk).update(revision=F("revision") + 1)
    demo.reload()
    demo.get_by_role("button", name="Reopen the review").click()
    expect(
        demo.get_by_text("There is no room for a shift at this period any more.")
    ).to_be_visible()
    expect(demo.get_by_role("form", name="Process shift")).to_have_count(0)


# --- trials and history -------------------------------------------------------------


def test_a_trial_is_compared_stepped_back_and_discarded(demo: Page, accessible: Accessible) -> None:
    real, seen = tag_value(demo, "average"), revision_of("turnaround-at-quay")
    bar = begin_trial(demo)
    expect(bar).to_contain_text("nothing here is kept")
    choose(demo, "End", ",")
    demo.get_by_role("button", name="Try another value").click()
    demo.get_by_label("Value, min").fill("19.5")
    demo.get_by_role("button", name="Try this value").click()
    expect(bar).to_contain_text("Average 19.4 → 19.2")
    assert tag_value(demo, "average") == 19.2
    tag(demo, "target").click()
    demo.get_by_role("dialog").get_by_label("Target").fill("18")
    demo.get_by_role("button", name="Save target").click()
    expect(tag(demo, "target")).to_contain_text("18.0")
    accessible(demo)
    bar.get_by_role("button", name="Show the real chart").click()
    expect(tag(demo, "target")).to_contain_text("20.0")
    bar.get_by_role("button", name="Show the trial").click()
    expect(tag(demo, "target")).to_contain_text("18.0")
    demo.keyboard.press("Control+z")
    expect(tag(demo, "target")).to_contain_text("20.0")
    demo.keyboard.press("Control+Shift+z")
    expect(tag(demo, "target")).to_contain_text("18.0")
    bar.get_by_role("button", name="Discard").click()
    expect(bar).to_have_count(0)
    expect(tag(demo, "target")).to_contain_text("20.0")
    assert tag_value(demo, "average") == real
    assert revision_of("turnaround-at-quay") == seen


def test_a_trial_with_a_shift_and_a_point_aside_is_kept_at_once(demo: Page) -> None:
    open_kpi(demo, "Unplanned stops")
    bar = begin_trial(demo)
    choose(demo, "End", ",", "r")
    review = demo.get_by_role("form", name="Process shift")
    review.get_by_label("Name of the new segment").fill("Fewer engineers")
    review.get_by_role("button", name="Recalculate from 14 Sep").click()
    expect(demo.get_by_role("button", name=re.compile("Segment Fewer engineers"))).to_be_visible()
    assert Segment.objects.filter(name="Fewer engineers").count() == 0
    choose(demo, "End", ",", "x")
    demo.get_by_label("Why it is set aside").fill("Engine room flooded")
    demo.get_by_role("button", name="Set aside", exact=True).click()
    bar.get_by_role("button", name="Keep all of it").click()
    expect(bar).to_have_count(0)
    kpi = Kpi.objects.get(slug="unplanned-stops")
    assert kpi.revision == 2
    assert kpi.segments.filter(name="Fewer engineers").exists()
    assert kpi.observations.filter(reason="Engine room flooded").count() == 1
    demo.keyboard.press("Control+z")
    expect(demo.get_by_role("button", name=re.compile("Segment Fewer engineers"))).to_have_count(0)
    assert kpi.observations.filter(set_aside=True).count() == 0


def test_the_history_brings_an_earlier_state_back(demo: Page, accessible: Accessible) -> None:
    for target in ("19", "18"):
        tag(demo, "target").click()
        demo.get_by_role("dialog").get_by_label("Target").fill(target)
        demo.get_by_role("button", name="Save target").click()
        expect(tag(demo, "target")).to_contain_text(f"{target}.0")
    demo.get_by_role("button", name="More").click()
    demo.get_by_role("menuitem", name="History").click()
    rows = demo.get_by_role("listitem").filter(has_text="Changed the target")
    expect(rows).to_have_count(2)
    accessible(demo)
    rows.nth(1).get_by_role("button", name="Bring the chart back").click()
    expect(demo.get_by_text("The chart is as it was then.")).to_be_visible()
    demo.get_by_role("link", name="Back to the chart").click()
    expect(tag(demo, "target")).to_contain_text("19.0")
    demo.keyboard.press("Control+z")
    expect(tag(demo, "target")).to_contain_text("18.0")


@pytest.mark.parametrize("page_name", ["Findings", "Events"])
def test_the_lists_hold_at_a_narrow_width_and_in_the_dark(
    demo: Page, accessible: Accessible, page_name: str
) -> None:
    demo.get_by_role("link", name=re.compile(f"^{page_name}")).click()
    expect(demo.get_by_role("heading", name=page_name, level=1)).to_be_visible()
    demo.emulate_media(color_scheme="dark")
    accessible(demo)
    demo.set_viewport_size({"width": 390, "height": 800})
    expect(demo.get_by_role("heading", name=page_name, level=1)).to_be_visible()
    expect(demo.locator("html")).to_have_js_property("scrollWidth", 390)
