"""What limits rest on, changed in use: held while zoomed in, a trend, and what a history brings."""

import re
from collections.abc import Callable
from typing import Any

from playwright.sync_api import Page, expect

from fluctus.kpis.models import Kpi, Observation, Segment
from tests.browser.conftest import choose, open_kpi, tag, tag_value
from tests.conftest import csv_of

Accessible = Callable[[Page], None]


def analysis(page: Page, kpi: str) -> Any:
    return page.request.get(f"/api/v1/workspaces/marrowick/kpis/{kpi}/analysis").json()


def show(page: Page, choice: str) -> None:
    page.get_by_role("button", name=re.compile(r"^by week, ")).click()
    page.get_by_role("menuitemradio", name=choice).click()
    expect(page.get_by_role("button", name="Later dates")).to_be_visible()


def test_limits_are_held_from_all_of_a_segment_though_a_part_is_shown(demo: Page) -> None:
    upper = tag_value(demo, "upper")
    show(demo, "Last 13 weeks")
    expect(demo.locator("svg text", has_text="Jun")).to_have_count(0)
    demo.get_by_role("button", name="Segment New ramp drill").click()
    demo.get_by_role("button", name="Hold as they are").click()
    expect(demo.get_by_role("button", name=re.compile("^Undo: Took the limits"))).to_be_enabled()
    segment = analysis(demo, "turnaround-at-quay")["segments"][1]
    assert segment["window"] == ["2026-05-18", "2026-11-09"]
    assert tag_value(demo, "upper") == upper
    # A baseline keeps the end that is out of sight, until that end is moved.
    demo.get_by_role("button", name="Segment New ramp drill").click()
    demo.get_by_role("button", name="Choose a baseline").click()
    bar = demo.get_by_role("form", name="Baseline")
    expect(bar).to_contain_text("Limits from 18 May to 9 Nov, 26 weeks")
    demo.get_by_role("slider", name="Last point of the baseline").press("ArrowLeft")
    expect(bar).to_contain_text("Limits from 18 May to 2 Nov, 25 weeks")
    first = demo.get_by_role("slider", name="First point of the baseline")
    expect(first).to_have_attribute("aria-valuetext", "not in the dates shown")
    first.press("ArrowRight")
    expect(bar).to_contain_text("Limits from 17 Aug to 2 Nov, 12 weeks")
    bar.get_by_role("button", name="Leave as it is").click()
    demo.keyboard.press("Control+z")
    expect(demo.get_by_role("button", name=re.compile("^Redo: Took the limits"))).to_be_enabled()
    assert Segment.objects.get(name="New ramp drill").window_first is None


def test_what_is_kept_stays_in_sight_under_a_preview(demo: Page) -> None:
    kept = demo.locator('[data-part="kept"] line')
    expect(kept).to_have_count(0)
    choose(demo, "End", *["ArrowLeft"] * 8, "r")
    # Five levels of each kept segment, cut to where others are previewed.
    expect(kept).to_have_count(10)
    demo.keyboard.press("Escape")
    expect(kept).to_have_count(0)
    demo.get_by_role("button", name="More").click()
    demo.get_by_role("menuitem", name="What if").click()
    demo.get_by_role("button", name="Segment New ramp drill").click()
    demo.get_by_role("button", name="Remove shift").click()
    expect(kept).to_have_count(10)
    demo.get_by_role("button", name="Show the real chart").click()
    expect(kept).to_have_count(0)


def test_limits_follow_a_trend_that_stands_out_and_level_again(
    demo: Page, accessible: Accessible
) -> None:
    noise = [0.4, -0.3, 0.1, -0.5, 0.3, 0.0, -0.2, 0.5, -0.4, 0.1]
    table = csv_of([round(40 + 0.5 * n + noise[n % 10], 1) for n in range(40)])
    demo.goto("/marrowick/new")
    demo.get_by_label("Paste the table here").fill(table.replace("Ramp cycle", "Rope wear"))
    demo.get_by_role("button", name="Read this table").click()
    demo.get_by_role("button", name="as a KPI").click()
    expect(demo.get_by_role("heading", name="Rope wear", level=1)).to_be_visible()
    card = demo.get_by_role("article").filter(has_text="A trend?")
    expect(card).to_contain_text(
        "A line explains over 99% of the variance (R² over 0.99), 6 steps of level 98%."
    )
    card.get_by_role("button", name="Let the limits follow it").click()
    expect(
        demo.get_by_text(re.compile(r"It rises by 0\.50\ss a week; next, expect"))
    ).to_be_visible()
    for part in ("centre", "upper", "lower"):
        expect(demo.locator(f'path[data-part="{part}"]')).to_have_count(1)
    accessible(demo)
    kpi = Kpi.objects.get(slug="rope-wear")
    assert kpi.segments.get().follows == "trend"
    demo.keyboard.press("Control+z")
    expect(demo.locator('path[data-part="centre"]')).to_have_count(0)
    assert kpi.segments.get().follows == "level"


def test_the_history_brings_back_what_was_set_aside(demo: Page) -> None:
    choose(demo, "End", ",")
    demo.get_by_role("button", name="Set this point aside").click()
    form = demo.get_by_role("form", name=re.compile("^Set "))
    form.get_by_label("Why it is set aside").fill("Relief crew")
    form.get_by_role("button", name="Set aside").click()
    expect(demo.get_by_role("button", name="Undo: Set 31 Aug 2026 aside")).to_be_enabled()
    demo.get_by_role("button", name="More").click()
    demo.get_by_role("menuitem", name="History").click()
    acts = demo.get_by_role("main").get_by_role("listitem")
    expect(acts.filter(has_text="Set 31 Aug 2026 aside: Relief crew")).to_be_visible()
    acts.filter(has_text="As it came").get_by_role("button", name="Bring").click()
    expect(demo.get_by_text("The chart is as it was then.")).to_be_visible()
    expect(acts.first).to_contain_text("Brought the chart back as it came")
    kpi = Kpi.objects.get(slug="turnaround-at-quay")
    assert not Observation.objects.filter(kpi=kpi, set_aside=True).exists()
    assert kpi.segments.count() == 1
    demo.get_by_role("link", name="Back to the chart").click()
    expect(tag(demo, "average")).to_be_visible()
    demo.keyboard.press("Control+z")
    expect(demo.get_by_role("button", name="Segment New ramp drill")).to_be_visible()
    aside = Observation.objects.filter(kpi=kpi, set_aside=True).order_by("period")
    assert list(aside.values_list("reason", flat=True)) == ["Gale, ramp closed", "Relief crew"]


def test_a_review_of_long_ago_is_read_with_its_answers(demo: Page) -> None:
    open_kpi(demo, "Fuel per crossing")
    demo.get_by_role("button", name="Segment Hull cleaned").click()
    card = demo.get_by_role("dialog", name="Segment")
    expect(card.get_by_label("What changed")).to_have_value(
        "Petrel docked; hull and propellers cleaned."
    )
    card.get_by_text("The review of this shift").click()
    yes = card.get_by_role("button", name="Yes")
    expect(yes).to_have_count(4)
    for answer in yes.all():
        expect(answer).to_have_attribute("aria-pressed", "true")
    expect(card.get_by_text("All four speak for recalculating from here.")).to_be_visible()


def test_limits_that_a_few_ranges_widen_are_taken_from_the_median(demo: Page) -> None:
    fit = demo.get_by_role("article").filter(has_text="Fit for a chart?")
    expect(fit).to_contain_text("Limits inflated by a few large ranges.")
    wide = tag_value(demo, "upper")
    fit.get_by_role("button", name="Take the limits from the median moving range").click()
    expect(tag(demo, "average_range")).to_contain_text("Median mR")
    expect(fit).to_have_count(0)
    assert tag_value(demo, "upper") < wide
    assert analysis(demo, "turnaround-at-quay")["segments"][1]["spread"] == "median_range"
    demo.keyboard.press("Control+z")
    expect(fit).to_be_visible()
